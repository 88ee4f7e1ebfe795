"""Words of dates and seasons."""

from __future__ import annotations

from .word import Word

DATES = (
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
        key="almanac",
        word="Almanac",
        short=(
            "The calendar of what passes a sieve: until when to order for each season, when it rises, "
            "peaks and winds down, over fifteen months."
        ),
        more=(
            "Dates come from the usual year of each row and its lead time. The line of the planning date "
            "can be dragged to look from another day."
        ),
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
)
