"""Words of complaints and money, as the dossier has them."""

from __future__ import annotations

from .word import Word

DOSSIER = (
    # Complaints.
    Word(
        key="newcomers-path",
        word="Newcomer’s path",
        short=(
            "The share of a niche’s units that launches there reached, by months since launch, "
            "with those of its "
            "category where the niche has few."
        ),
        more=(
            "Launches that were given up count as 0 since. Those of the category count together "
            "as eight at most. "
            "A month that fewer than five launches are known of is unknown."
        ),
    ),
    Word(
        key="cash-path",
        word="Cash path",
        short=(
            "The balance of a plan week by week from the order on: deposit, balance, freight, "
            "duty, storage, tax, and "
            "payouts with their delay."
        ),
        more=(
            "Drawn 10,000 times over how much the niche sells, where the listing stands among "
            "newcomers, chance and "
            "the price. At the end leftovers count at their worth."
        ),
    ),
    Word(
        key="internal-rate",
        word="Internal rate",
        short=(
            "The rate a year at which all that goes out and comes in, on average, is worth nothing now: what "
            "the money earns while it is bound."
        ),
        more="An order earns it for its own time only: it says little where it cannot be repeated at once.",
    ),
    Word(
        key="orders",
        word="Orders",
        short=(
            "All plans of a market that are kept, on one cash path: what they bind together, which of them "
            "fit the cash at hand, and what sells month by month."
        ),
        more=(
            "Of an order that is placed what was paid before today is behind. Niches are drawn "
            "independently of one another, plans of one niche alike."
        ),
    ),
    Word(
        key="own-part",
        word="Own part",
        short=(
            "How much of the growth of your own sales of a niche was its season, how much the market, and how "
            "much a change of your share. The three multiply to your growth exactly."
        ),
        more=(
            "Your sales come from own_sales, the market from what the listings there sold; where that is not "
            "known, from searches, and that is said. Weeks that are not known of both are left out of both "
            "times. The intervals say how far share and market move by chance: only what lies beyond is called "
            "gained, lost or grown."
        ),
        figures=("own.growth", "own.season", "own.market", "own.share_change", "own.verdict"),
    ),
    Word(
        key="watch",
        word="Watch",
        short=(
            "What changed beyond noise since the last import, of what you keep, park, plan, sell or put "
            "on a list, and what newly passes or fails your named sieves. Each is told once, until you have "
            "seen it."
        ),
        more=(
            "A change counts when it goes beyond what a figure does by itself: the latest weeks against the "
            "curve’s own course and noise. Over everything compared, the false discovery rate is held: of what "
            "is told, at most 5% is chance. Dates, launches and stock are facts and are not tested. What the "
            "figures could tell at the import before is not told again."
        ),
    ),
    Word(
        key="quiet-months",
        word="Quiet months",
        short=(
            "Months in which less than a third of the mean month is expected to sell, of the "
            "twelve from the one in which goods ordered now are on sale."
        ),
    ),
    Word(
        key="theme",
        word="Theme",
        short="What reviews, questions or returns are about, from the feedback table.",
    ),
    Word(
        key="theme-share",
        word="Share",
        short=(
            "Share of what was said or returned that is about this theme, with its 90% interval."
            " The tick is what is usual in the category."
        ),
    ),
    Word(
        key="usual",
        word="Usual",
        short="The same share over the whole category.",
    ),
    Word(
        key="mentions",
        word="Mentions",
        short="How often it was mentioned.",
    ),
    Word(
        key="complaints",
        word="Complaints",
        short="How many complaints and returns of this listing were counted.",
    ),
    Word(
        key="most-often",
        word="Most often",
        short="The theme that stands out most among the listing’s complaints.",
    ),
    Word(
        key="in-the-niche",
        word="In the niche",
        short="The same theme’s share over all listings of the niche.",
    ),
    # What buyers write.
    Word(
        key="voice-theme",
        word="Theme of what buyers write",
        short=(
            "What several texts say in the same words and the same tone. Its name is the phrase said most,"
            " until you rename it."
        ),
    ),
    Word(
        key="voice-share",
        word="Share of texts",
        short=(
            "Share of the reviews, comments and notes on returns that say it in words that were recognised,"
            " with its 90% interval: who says it in quite other words is another theme, until you merge them."
            " A text and its copies count once; questions do not count."
        ),
    ),
    Word(
        key="voice-year",
        word="52 weeks, before",
        short=(
            "Share of the texts of the last 52 weeks that say it, and of the 52 weeks before. A mark says"
            " where the two are told from chance."
        ),
    ),
    Word(
        key="voice-stars",
        word="Stars",
        short=(
            "By how many stars a rating is lower or higher where a text says it, all other themes held."
            " It goes with the rating; it need not be its cause."
        ),
    ),
    Word(
        key="voice-leaders",
        word="Leaders with it",
        short=(
            "How many of the ten most clicked listings at least two texts say it of. One that is said of"
            " less than half as often, for sure, lacks it; of the others it is not known."
        ),
    ),
    Word(
        key="voice-returns",
        word="Of returns",
        short="Share of the notes on returns that say it; those who return without a word are not known.",
    ),
    Word(
        key="voice-spared",
        word="Returns it would spare",
        short=(
            "The share of notes on returns that say it, times the niche’s return rate: taken that those who"
            " wrote no note had the same reasons, and would have kept it."
        ),
    ),
    Word(
        key="voice-better",
        word="A better product",
        short="What would answer the complaint: word it, and it stands in the brief with its evidence.",
    ),
    Word(
        key="voice-phrase",
        word="Phrase that sets texts apart",
        short=(
            "Up to three words in a row that a larger share of one group of texts has, surely: log-odds with a"
            " prior, of all that is told at most 5% by chance. The words the niche is called by are left out."
        ),
    ),
    Word(
        key="voice-beside",
        word="Others of the niche",
        short=(
            "The same share among the texts about other listings of the niche. A mark says where the two"
            " intervals, widened for the number of themes, lie apart."
        ),
    ),
    Word(
        key="voice-promise",
        word="Not as promised",
        short=(
            "What notes on returns say was smaller, of another colour or material, incomplete or not as"
            " shown, found by how such notes are worded; some are missed."
        ),
    ),
    Word(
        key="voice-promised",
        word="What pages promise",
        short="Attributes of the listings that were returned for it.",
    ),
    # Money.
    Word(
        key="size-class",
        word="Class",
        short="A size class of the marketplace’s handling fees; the fees are yours to enter.",
    ),
    Word(
        key="class-weight",
        word="Up to g",
        short="The heaviest a product of this class may be.",
    ),
    Word(
        key="class-size",
        word="Up to mm",
        short="The longest side a product of this class may have.",
    ),
    Word(
        key="class-fee",
        word="Fee",
        short="What the marketplace charges for handling one of this class.",
    ),
    Word(
        key="at-the-price",
        word="At the price",
        short="What one unit earns and costs at the price you would ask.",
    ),
    Word(
        key="at-the-lowest",
        word="At the lowest of 52 weeks",
        short="The same at the lowest price that occurred within a year.",
    ),
    Word(
        key="waterfall",
        word="Per unit",
        short="From the price, cost by cost, down to what is left of one unit.",
    ),
    Word(
        key="assumed",
        word="Assumed",
        short="Not known and not entered: a usual value stands in. Enter your own to replace it.",
    ),
)
