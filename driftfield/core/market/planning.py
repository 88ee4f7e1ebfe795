"""What a planning date and a lead time make of the seasons of a market's subjects."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np

from driftfield.core.base import Bools, CoreError, Floats, Period, Settings, Timeline
from driftfield.core.curves import (
    FEAST_NAMES,
    NO_FEAST,
    CurveReadings,
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


@dataclass(frozen=True, slots=True)
class SeasonInputs:
    """What was read of the seasons of subjects that end on one day, as dates are made from it.

    shape, feast: (subjects,) words as the figures of these keys have them, None for none. factors:
    (subjects, slots) season profiles with mean 1, NaN where there is none. starts: (subjects, slots) the slots
    in which seasons start. as_of: last day of the figures.
    """

    shape: np.ndarray
    feast: np.ndarray
    factors: Floats
    starts: Bools
    period: Period
    as_of: date

    @classmethod
    def of_curves(cls, curves: CurveReadings, timeline: Timeline) -> SeasonInputs:
        """From figures just computed."""
        feasts = np.array([*FEAST_NAMES, None], dtype=object)[curves.feast]
        return cls(
            curves.shape.shape, feasts, curves.factors, curves.season.starts, timeline.period,
            timeline.end,
        )  # fmt: skip

    def told(self) -> dict[str, Any]:
        """The same as ``plan_seasons`` takes it: from figures just computed and from stored ones alike, for
        profiles are taken to the digits that are kept."""
        words = np.array([None if word is None else str(word) for word in self.shape], dtype=object)
        places = {name: place for place, name in enumerate(FEAST_NAMES)}
        known = ~np.isin(words, _WITHOUT)
        return {
            "factors": np.where(known[:, None], np.round(self.factors, FACTOR_DECIMALS), np.nan),
            "starts": self.starts & known[:, None],
            "peak_length": np.where(
                words == Shape.OCCASION.value, self.period.span(4), self.period.span(13)
            ),
            "feast": np.array([places.get(word, NO_FEAST) for word in self.feast], dtype=np.int64),
            "period": self.period,
            "as_of": self.as_of,
        }


def plan_subjects(
    inputs: SeasonInputs, settings: Settings, planning: date | None = None
) -> SeasonPlan:
    """Plan the seasons of subjects with the lead time of ``settings``.

    ``planning`` is the day dates are planned from; the as-of by default, and where it lies so far from the
    figures that nothing is known of it.
    """
    if planning is None or not within_reach(planning, inputs.as_of):
        planning = inputs.as_of
    return plan_seasons(**inputs.told(), planning=planning, lead_days=int(settings.lead_days))
