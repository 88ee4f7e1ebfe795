"""The glossary: what headings, marks and words of the screens mean, in a sentence and in full."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class Word:
    """A word that is explained where it stands.

    short: in a sentence, for hover, focus and touch. more: what else there is to know. figures: keys of
    figures that it is about.
    """

    key: str
    word: str
    short: str
    more: str = ""
    figures: tuple[str, ...] = ()


WORDS = (
    # What things are.
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
    # Dates.
    Word(
        key="as-of",
        word="As of",
        short=(
            "The end of the last complete week (month) in the figures; everything is computed up "
            "to it, never up to today."
        ),
        figures=("as_of",),
    ),
    Word(
        key="planning-date",
        word="Planning date",
        short=(
            "The day an order would be placed; dates are planned from it. It is the as-of unless "
            "you set another."
        ),
        figures=("planning_date",),
    ),
    Word(
        key="lead-time",
        word="Lead time",
        short=(
            "Days from ordering to being on sale. 80 days is common practice, no source; set your"
            " own in the bar, or for one niche in its dossier."
        ),
    ),
    Word(
        key="arrival",
        word="Arrival line",
        short="When goods ordered on the planning date are on sale: planning date and lead time.",
        more="The dashed line across year strips; the solid one is the as-of.",
    ),
    Word(
        key="figures-old",
        word="Figures … weeks old",
        short=(
            "The figures end that long before today. Dates are planned from their end unless you "
            "plan from another day."
        ),
    ),
    Word(
        key="season",
        word="Season",
        short=(
            "One hump of the year’s profile, from the lowest week before its peak to the lowest "
            "after it, with dates of its own."
        ),
        more="A niche may have several: one in spring and one in autumn are two seasons.",
        figures=("seasons",),
    ),
    Word(
        key="season-share",
        word="Of a year’s demand",
        short="The share of a year’s demand that falls in this season.",
    ),
    Word(
        key="season-caught",
        word="Season caught",
        short=(
            "The share of a season’s demand that comes after goods ordered on the planning date "
            "are on sale."
        ),
        figures=("act.caught",),
    ),
    Word(
        key="on-sale-by",
        word="On sale by",
        short="When the season starts to rise: the day goods should be on sale.",
    ),
    Word(
        key="peak",
        word="Peak",
        short="From when to when the season is at its height.",
        figures=("peak_weeks",),
    ),
    Word(
        key="wind-down",
        word="Wind down from",
        short="When to stop reordering: the season falls from then on.",
    ),
    Word(
        key="season-end",
        word="Over after",
        short="The lowest week after the peak; what sells later belongs to the next season.",
    ),
    Word(
        key="past",
        word="Past",
        short="The day lies before the planning date, or before today.",
    ),
    # Demand.
    Word(
        key="year-strip",
        word="Year strip",
        short=(
            "The share of each week in an average year, January to December; the darker, the "
            "more. Solid line: as of; dashed line: arrival."
        ),
        figures=("season_profile",),
    ),
    Word(
        key="shape",
        word="Shape",
        short=(
            "What the calendar does to the demand: Evergreen, Leaning, Seasonal, Occasion, Fad or"
            " Unsettled."
        ),
        more=(
            "Evergreen sells all year; Leaning sells all year with a stronger part; Seasonal and "
            "Occasion sell for months or weeks of it; a Fad came once; Unsettled means that it is"
            " not proven."
        ),
        figures=("shape",),
    ),
    Word(
        key="drift",
        word="Drift",
        short=(
            "What is left of a change when the calendar is taken out: the trend without the "
            "season, a year, with its 90% interval."
        ),
        more=(
            "Rising and Easing are said only where the interval leaves no doubt; Holding means no"
            " clear direction; Stepped up and Stepped down are lasting shifts of level."
        ),
        figures=(
            "drift",
            "drift_rate_year",
        ),
    ),
    Word(
        key="growth-split",
        word="Season · drift",
        short=(
            "How much of the change is the usual season and how much is drift: change = season "
            "part × drift part."
        ),
        more=(
            "The upper bar is the season’s part, the lower one what is left; to the right is up, "
            "to the left is down. 1.42 = 1.51 (season) × 0.94 (drift) is a rise of 42% that is "
            "all season."
        ),
        figures=(
            "growth_13w.raw",
            "growth_13w.season",
            "growth_13w.drift",
        ),
    ),
    Word(
        key="interval",
        word="90% interval",
        short="Where the true value lies in 90 of 100 such cases, given the noise in the figures.",
    ),
    Word(
        key="window",
        word="Window",
        short="Which weeks are compared with which; windows are 4, 13, 26 and 52 whole weeks.",
    ),
    Word(
        key="of-the-niche",
        word="Of the niche",
        short="The term’s share of all searches of the niche.",
    ),
    Word(
        key="brand-word",
        word="Brand word",
        short=(
            "Whether the term contains the name of a brand; such searches are rarely open to "
            "another brand."
        ),
        figures=("branded",),
    ),
    Word(
        key="recurring-word",
        word="Word",
        short="A word that recurs in the niche’s terms beyond those that name it.",
    ),
    Word(
        key="terms-with-word",
        word="Terms",
        short="How many of the niche’s terms contain the word.",
    ),
    Word(
        key="of-the-searches",
        word="Of the searches",
        short="The share of the niche’s searches whose terms contain the word.",
    ),
    Word(
        key="purchase-rate",
        word="Purchase rate",
        short="Purchases per search: how often a search ends in a purchase.",
        figures=("purchase_rate",),
    ),
    # Competition.
    Word(
        key="click-share",
        word="Clicks",
        short="Share of the clicks after the niche’s terms that go to it, in the latest weeks.",
    ),
    Word(
        key="a-year-ago",
        word="A year ago",
        short="The same share in the same weeks of the year before.",
    ),
    Word(
        key="together",
        word="Together",
        short="Its share and those of all above it, added up.",
    ),
    Word(
        key="purchase-share",
        word="Purchases",
        short="Share of the purchases after the term that are of this listing.",
    ),
    Word(
        key="units-curve",
        word="Units, 2 years",
        short="Units sold over the last two years, each listing on its own scale.",
    ),
    Word(
        key="attribute",
        word="Attribute",
        short="A property of listings, such as colour or size, from attr_ columns.",
    ),
    Word(
        key="attribute-listings",
        word="Listings",
        short="How many of the clicked listings have this value.",
    ),
    Word(
        key="attribute-units",
        word="Units a year",
        short="What the listings with this value sell in a year.",
    ),
    Word(
        key="launches-worked",
        word="Worked",
        short="The middle value of launches that reached the bar of success, in season.",
    ),
    Word(
        key="launches-others",
        word="Others",
        short="The middle value of launches that did not.",
    ),
    Word(
        key="breadth",
        word="Click breadth",
        short="The fewest listings that together take 80% of the clicks.",
        more="Few means that a handful of pages take nearly everything.",
        figures=("competition_parts.click_breadth",),
    ),
    Word(
        key="balance",
        word="Competition · demand",
        short=(
            "Two indices, 0 to 100: the bar to the left is competition, the one to the right "
            "demand."
        ),
        figures=(
            "competition",
            "demand",
        ),
    ),
    Word(
        key="headroom",
        word="Headroom",
        short=(
            "Demand relative to competition, 0 to 100, as the lens weighs them; it ranks the field."
        ),
        figures=("headroom",),
    ),
    Word(
        key="rank",
        word="Rank",
        short="Place by headroom under the lens that is named beside it.",
        figures=("rank",),
    ),
    Word(
        key="rank-band",
        word="Rank band",
        short=(
            "Where the rank lies in 90 of 100 cases when the lens’s weights are shaken: a wide "
            "band means that the rank hangs on the weights."
        ),
        figures=(
            "rank_low",
            "rank_high",
        ),
    ),
    Word(
        key="frontier",
        word="Diamond ◆",
        short="On the frontier: no other niche has both more demand and less competition.",
        figures=("frontier",),
    ),
    Word(
        key="high-under-all",
        word="Ring ◎",
        short="High under every ready lens: it ranks well whatever the purpose.",
        figures=("high_under_all",),
    ),
    Word(
        key="lens",
        word="Lens",
        short=(
            "A set of weights: what counts how much in headroom. Choose one for your purpose or "
            "set your own."
        ),
    ),
    # The ledger and its conditions.
    Word(
        key="sieve",
        word="Sieve",
        short="A set of conditions; what meets all of them passes. Saved sieves have a name.",
    ),
    Word(
        key="condition",
        word="Condition",
        short=(
            "What is asked of each niche, as in “price 15 to 40”. Click it to change it, switch "
            "it off or remove it."
        ),
        more="Conditions can be joined by “or” and denied with “not”. Unknown never passes.",
    ),
    Word(
        key="removes",
        word="−16",
        short="How many niches this condition alone removes: they meet all the others.",
    ),
    Word(
        key="near-miss",
        word="Near miss",
        short="Fails one condition only, and that by no more than a tenth of its bound.",
    ),
    Word(
        key="passes",
        word="… of … pass",
        short="How many niches meet all conditions that are switched on, of all in the market.",
    ),
    Word(
        key="decision",
        word="Keep, park, pass",
        short="Your decision: keep it, park it for later, or pass. Keys k, p and x; u undoes.",
    ),
    Word(
        key="marked",
        word="Marked",
        short="Chosen with Space, to decide on, export or set side by side together.",
    ),
    Word(
        key="working",
        word="Working",
        short="How each figure was worked out, step by step, with its source.",
    ),
    Word(
        key="chart-area",
        word="Equal headroom",
        short="Along a line headroom is the same; further up and to the left there is more.",
    ),
    # The shortlist.
    Word(
        key="place",
        word="Place",
        short="Your own order; drag a row or use Shift and the arrow keys.",
    ),
    Word(
        key="decided",
        word="Decided",
        short="When the decision was made, and up to when the figures went then.",
    ),
    Word(
        key="why",
        word="Why · note",
        short="The reason you gave with the decision, and your note.",
    ),
    Word(
        key="then",
        word="Then",
        short="As it was known when you decided.",
    ),
    Word(
        key="now",
        word="Now",
        short="As it is known today; what differs beyond noise is marked.",
    ),
    Word(
        key="figure",
        word="Figure",
        short="A value that was worked out for each niche; its working says how.",
    ),
    Word(
        key="here",
        word="Here",
        short="The value of this niche.",
    ),
    Word(
        key="how",
        word="How it is worked out",
        short="The formula, in words.",
    ),
    Word(
        key="source",
        word="Source",
        short="Who published the method, or that it is Driftfield’s own definition.",
    ),
    # Complaints.
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
        short="How often it was said.",
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
    # Intake.
    Word(
        key="table",
        word="Table",
        short=(
            "An exchange table: a kind of file with fixed columns; docs/exchange.md lists them all."
        ),
    ),
    Word(
        key="rows-curves",
        word="Rows and curves",
        short=(
            "Tables with weeks are counted in curves, one per subject and measure; all others in "
            "rows."
        ),
    ),
    Word(
        key="new",
        word="New",
        short="Was not there before.",
    ),
    Word(
        key="changed",
        word="Changed",
        short="Was there with other values.",
    ),
    Word(
        key="unchanged",
        word="Unchanged",
        short="Was there already, with the same values.",
    ),
    Word(
        key="batch",
        word="Import",
        short="What came in together, and can be undone together.",
    ),
    Word(
        key="imported-by",
        word="By",
        short="The account of this machine it was imported from.",
    ),
    Word(
        key="imported-at",
        word="When",
        short="When it was imported.",
    ),
    Word(
        key="checksum",
        word="Checksum",
        short="A fingerprint of the files (BLAKE2b): the same files have the same one.",
    ),
    Word(
        key="problem-place",
        word="Place of a problem",
        short="The file, line and column where something is wrong.",
    ),
    Word(
        key="problem",
        word="What is wrong",
        short="What was expected, what came, and what to do.",
    ),
    Word(
        key="subject",
        word="Whose",
        short="The term, niche or listing whose figure changed.",
    ),
    Word(
        key="period-from",
        word="From",
        short="The first day of the week (month) that the figure is of.",
    ),
    Word(
        key="coverage",
        word="Coverage",
        short="Share of the weeks of which there are figures.",
        figures=("coverage",),
    ),
    Word(
        key="file-column",
        word="Column",
        short="A column of the file; below it what it is taken for.",
    ),
)
WORDS_BY_KEY = {one.key: one for one in WORDS}
