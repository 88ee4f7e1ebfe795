"""Words of demand and growth."""

from __future__ import annotations

from .word import Word

DEMAND = (
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
        key="protected-word",
        word="Protected word",
        short="Whether a word of the list of protected words is held: a name one must not sell under.",
        more="A hint, no legal advice. Searches that hold one are counted apart, like those with brand words.",
        figures=("protected", "protected_share"),
    ),
    Word(
        key="misspelt",
        word="Likely mistyped",
        short="One slip of the keys from a term of its niche that is typed at least four times as often.",
        more=(
            "Buyers who mistype want the same thing; in the total of a list its searches are not added where "
            "the right form is in it."
        ),
        figures=("misspelt",),
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
)
