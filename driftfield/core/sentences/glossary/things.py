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
