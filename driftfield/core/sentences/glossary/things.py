"""What things are."""

from __future__ import annotations

from .word import Word

THINGS = (
    Word(
        key="niche",
        word="Niche",
        short="One buyer’s need: a set of search terms and the listings clicked after them.",
        more=(
            "A file of bare terms makes every term a niche of its own until a niches or terms "
            "table groups them."
        ),
    ),
    Word(
        key="term",
        word="Search term",
        short="A phrase buyers type.",
        more="Also called a keyword or a query elsewhere.",
    ),
    Word(
        key="listing",
        word="Listing",
        short="One product page, with a brand, a price and one or more sellers.",
    ),
    Word(
        key="brand",
        word="Brand",
        short="The name a listing is sold under; several sellers may offer it.",
        more="What a brand sells is the sum of its listings. One that is gone sells nothing any more.",
    ),
    Word(
        key="seller",
        word="Seller",
        short="Who offers listings, of one brand or of many.",
        more=(
            "Files say what a listing sells, not which of its sellers sold it. The units of a week are told "
            "to be those of the seller who held the lead offer then, or of the one whom the listing names "
            "where that is not known: an assumption."
        ),
    ),
    Word(
        key="lead-offer",
        word="Lead offer",
        short="The seller whose offer the order button takes by default.",
    ),
    Word(
        key="storefront",
        word="Storefront",
        short="All listings that a seller offers, now or ever.",
        more="What stood in it last year and stands there no more shows what was stocked for a season.",
    ),
    Word(
        key="together",
        word="Carried together",
        short="Listings that at least so many of some sellers carry.",
        more=(
            "A brand or a category recurs among them where more of them have it than if each had drawn as "
            "many listings as it has at random from all that are offered (hypergeometric). Of those told, "
            "at most 5% are false discoveries (Benjamini & Hochberg 1995)."
        ),
    ),
    Word(
        key="sleeper",
        word="Sleeper",
        short="A listing that sold well in its last season, is quiet now, and will be wanted again.",
        more=(
            "It is quiet for the time of the year, or out of stock, without its sales rank, or dearer. "
            "One that merely lost its buyers is none. Its season is told by the searches of its niche, "
            "where what it sells moves with them, else by its own sales."
        ),
    ),
    Word(
        key="market",
        word="Market",
        short="One marketplace in one region with one currency.",
    ),
    Word(
        key="category",
        word="Category",
        short="A node of the market’s category tree; what is asked of it holds for all below it.",
    ),
    Word(
        key="curve",
        word="Curve",
        short="A value per week or month over time, such as searches, purchases or price.",
    ),
    Word(
        key="signal",
        word="Signal",
        short="A rule that fired on this niche, with its evidence: a chance or a caution.",
        more=(
            "Every rule, its thresholds and what it reads are in docs/method.md; thresholds are "
            "settings."
        ),
        figures=("signals",),
    ),
    Word(
        key="verdict",
        word="Verdict",
        short=(
            "The figures in sentences: when it sells, what changed lately, where it is heading, "
            "and by when to act."
        ),
        more="A verdict never says more than the interval beside it allows.",
    ),
    Word(
        key="dossier",
        word="Dossier",
        short="The page of one niche: six questions, each answered first and then shown.",
    ),
    Word(
        key="note",
        word="Note",
        short="Your own words on it. Kept in this browser until the server has them.",
    ),
)
