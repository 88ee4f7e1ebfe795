"""What a planning date and a lead time make of the seasons of a market's subjects."""

from __future__ import annotations

from datetime import date

import numpy as np

from driftfield.core.base import Bools, CoreError, Floats, Period, Settings
from driftfield.core.curves import (
    FEAST_NAMES,
    NO_FEAST,
    SeasonPlan,
    Shape,
    plan_seasons,
)

FACTOR_DECIMALS = 4  # A factor's own error is in the second.
LONGEST_BACK, LONGEST_AHEAD = 31, 731  # Days of the planning date before and after the as-of.
# Shapes of which no calendar is known that the coming year could be told by.
_WITHOUT = (Shape.FAD.value, Shape.UNSETTLED.value)


def within_reach(planning: date, as_of: date) -> bool:
    """Whether anything is known of the seasons to come on a day, from figures up to ``as_of``."""
    return -LONGEST_BACK <= (planning - as_of).days <= LONGEST_AHEAD


def check_planning(planning: date, as_of: date) -> None:
    """Refuse, with a CoreError, a planning date of which nothing is known."""
    if not within_reach(planning, as_of):
        raise CoreError(
            f"The planning date may lie from {LONGEST_BACK} days before the figures end, on {as_of}, to two "
            f"years after; got {planning}. Read the figures up to an earlier day with --as-of, or import "
            "newer ones."
        )


def plan_subjects(
    shape: np.ndarray,
    feast: np.ndarray,
    factors: Floats,
    starts: Bools,
    period: Period,
    settings: Settings,
    *,
    as_of: date,
    planning: date | None = None,
) -> SeasonPlan:
    """Plan the seasons of subjects from what was read of them.

    Parameters
    ----------
    shape, feast : array (subjects,)
        Words as the figures of these keys have them, None for none.
    factors : array (subjects, slots)
        Season profiles with mean 1, NaN where there is none.
    starts : bool array (subjects, slots)
        The slots in which seasons start.
    period : Period
        The step of the profiles.
    settings : Settings
        For the lead time.
    as_of : date
        Last day of the figures.
    planning : date, optional
        The day dates are planned from; the as-of by default, and where it lies so far from the
        figures that nothing is known of it.

    Returns
    -------
    SeasonPlan
        The same from figures just computed and from stored ones, for profiles are taken to the
        digits that are kept.
    """
    if planning is None or not within_reach(planning, as_of):
        planning = as_of
    words = np.array([None if word is None else str(word) for word in shape], dtype=object)
    places = {name: place for place, name in enumerate(FEAST_NAMES)}
    known = ~np.isin(words, _WITHOUT)
    return plan_seasons(
        np.where(known[:, None], np.round(factors, FACTOR_DECIMALS), np.nan),
        starts & known[:, None],
        np.where(words == Shape.OCCASION.value, period.span(4), period.span(13)),
        np.array([places.get(word, NO_FEAST) for word in feast], dtype=np.int64),
        period,
        as_of=as_of,
        planning=planning,
        lead_days=int(settings.lead_days),
    )
