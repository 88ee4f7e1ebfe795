"""Words of the catalogue."""

from __future__ import annotations

from .word import Word

CATALOGUE = (
    Word(
        key="openness",
        word="Openness",
        short="How easily newcomers have got in, 0 to 100, against the market’s other categories.",
        more=(
            "From whether launches work, what listings that came within a year sell, what is left by the five "
            "most clicked, and the reviews of the ten most clicked. Its weights are settings; a lens tries "
            "others."
        ),
        figures=("openness",),
    ),
    Word(
        key="settledness",
        word="Settledness",
        short="How old and entrenched what sells is, 0 to 100, against the market’s other categories.",
        more=(
            "From what listings over two years old sell, the age of what is sold, and the reviews of the ten "
            "most clicked. A category can be settled and open: old leaders, and room beside them."
        ),
        figures=("settledness",),
    ),
    Word(
        key="lorenz-curve",
        word="Lorenz curve",
        short="How few listings make how much of the revenue, most first; the straight line: all alike.",
        more=(
            "Common practice, no source: where 15% of the goods make 90% of the sales, the distribution is "
            "steep; a flat line leaves room for many."
        ),
        figures=("lorenz.gini", "lorenz.share_for_80", "lorenz.share_for_90"),
    ),
    Word(
        key="wanted-value",
        word="Wanted, oversupplied",
        short="A colour, size or material that sells clearly more, or less, than its share of the listings.",
        more=(
            "Named only where the 90% interval of the difference leaves out none. One listing that sells well "
            "proves nothing of its colour, so the interval counts listings and not units."
        ),
    ),
    Word(
        key="range-of-niches",
        word="Range of its niches",
        short="Lowest, quartiles and highest of a figure over the category’s niches, and how they are spread.",
        more="What is dragged across the bars becomes a condition on the Field, with the category.",
    ),
    Word(
        key="across-markets",
        word="Across markets",
        short="The same niche, term or category in several markets: by its id, or because you said so.",
        more=(
            "What is ranked or weighed against the rest of its market, as headroom is, is shown and not "
            "compared. Amounts are compared only at a rate that you set, with its day."
        ),
    ),
    Word(
        key="season-shift",
        word="Shift of the season",
        short="By how many weeks the year in one market comes after that in another, with its interval.",
        more=(
            "Where the two years lie best on one another; its interval says how far single years disagree. "
            "No shift is told where the years have different forms. Weeks only, from three whole years on."
        ),
    ),
    Word(
        key="lead",
        word="Moves first",
        short="Which market rose and fell before the other once both seasons are taken out, and by how much.",
        more=(
            "Told only where the two move more alike than chance has it (1 in 100) and the interval leaves out "
            "none. It tells of the past: one step in each market within half a year of the other, by chance, "
            "looks like a lead as well."
        ),
    ),
)
