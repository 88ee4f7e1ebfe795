"""Words of the track record."""

from __future__ import annotations

from .word import Word

PROOF = (
    Word(
        key="track-record",
        word="Track record",
        short=(
            "How far what would have been said on past days held: each day is analysed with only "
            "what was known on it, and held against what came."
        ),
        more=(
            "Days lie a quarter apart, with two years of figures before each. What no table dates, such as "
            "ratings, counts as unknown on past days. A record of the past is no promise."
        ),
    ),
    Word(
        key="track-cases",
        word="Cases",
        short=(
            "How many pairs of a day and what is judged were counted. Intervals take into account that "
            "cases of one niche, and of one day, share their luck."
        ),
    ),
    Word(
        key="eight-in-ten",
        word="Eight in ten within",
        short=(
            "How far from the forecast total eight of ten totals came, at most, in either direction."
        ),
    ),
    Word(
        key="last-years-figures",
        word="Last year’s figures",
        short=(
            "The obvious alternative to a forecast: the same weeks of the year before, as they were."
        ),
        more="Called the seasonal naive forecast.",
    ),
    Word(
        key="missed-by",
        word="Missed by",
        short=(
            "How much larger the forecast's error a week was than that of last year's figures, on "
            "average over logarithms. Below 0 the forecast did better."
        ),
        more=(
            "Of equal accuracy where the interval holds 0; the test is Diebold and Mariano's, with errors of "
            "one niche and of one day taken together."
        ),
    ),
    Word(
        key="in-interval",
        word="In their interval",
        short="Share of totals that fell within the interval given with their forecast.",
        more="More than it is meant to hold means that intervals are wider than they need to be.",
    ),
    Word(
        key="pairs-told",
        word="Pairs told right",
        short=(
            "Of pairs of a launch that worked and one that did not: in how many the one that worked "
            "was where there was more of it. 50% is chance."
        ),
        more="The area under the ROC curve. Intervals of several categories hold all at once.",
    ),
    Word(
        key="top-tenth",
        word="Top tenth",
        short=(
            "How many times as often launches worked in the tenth with the most of it as launches "
            "did in all."
        ),
        more="Called lift.",
    ),
    Word(
        key="launched-where",
        word="Launched where there was",
        short=(
            "By what a launch might have been decided: the headroom of its niche on the day, either "
            "side of it alone, or searches alone."
        ),
    ),
    Word(
        key="weights-proposed",
        word="Weights proposed",
        short=(
            "Fitted to launches of which it was known by each day whether they worked, and judged on "
            "those that came later. Shares of their side."
        ),
        more=(
            "Logistic regression with weights of 0 and more, drawn to the default's; proposed only where "
            "the whole interval of the gain lies above 0."
        ),
    ),
    Word(
        key="worked",
        word="Worked",
        short=(
            "A launch within half a year after the day that, a year after it, sold as much in "
            "season as the middle of the established listings."
        ),
        more="Or as much as the settings ask of a launch.",
    ),
    Word(
        key="after-signal",
        word="Demand a year later",
        short=(
            "How demand changed in the year after the signal was raised, compared with niches of "
            "the same shape and size in which it was not."
        ),
    ),
    Word(
        key="beyond-chance",
        word="Beyond chance",
        short=(
            "Whether the change holds given how many signals were tried: of those marked “yes” few "
            "are expected to be chance."
        ),
        more="The false discovery rate is that of the watch.",
    ),
)
