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
            "most clicked, and the reviews of the ten most clicked. Its weights are settings."
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
)
