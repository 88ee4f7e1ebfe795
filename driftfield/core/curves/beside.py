"""The seasons of two curves against one another: alike or not, and which comes first."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Floats, Period, Settings, Timeline, fold_week53

from .align import bridge
from .season_lag import ROUND, YEAR, season_lag

LEAST_YEARS, MOST_YEARS = 3, 8
WIDEST = 6.0  # half width of an interval, in weeks, beyond which a shift is not known
ALIKE = 0.6  # correlation of two profiles, shifted, from which on they are one form


@dataclass(frozen=True, slots=True)
class SeasonsBeside:
    """Two seasons of whole years that both curves have.

    correlation: of the mean profiles as they stand, week by week. alike: the same, the second one shifted
    to where it lies best. weeks, low, high: by how many weeks the second comes later, with its interval;
    None where their forms differ or the years do not agree on it. years: how many were read.
    """

    correlation: float
    alike: float
    weeks: float | None
    low: float | None
    high: float | None
    years: int

    @property
    def one_form(self) -> bool:
        """Whether both rise and fall alike, be it at another time."""
        return self.alike >= ALIKE


def read_seasons_beside(
    first: Floats, second: Floats, timeline: Timeline, settings: Settings
) -> SeasonsBeside | None:
    """Lay the season of a curve (length,) against that of another on one timeline, NaN where absent.

    Both have a season. Returns None for months, which are too coarse, and for under three whole years
    that both have without a gap that cannot be bridged.
    """
    if timeline.period is not Period.WEEK:
        return None
    both = [
        fold_week53(bridge(v[None], int(settings.bridge_periods), YEAR).values, timeline)[0]
        for v in (first, second)
    ]
    absent = np.isnan(both[0]) | np.isnan(both[1])
    whole = len(absent) if not absent.any() else int(absent[::-1].argmax())
    years = min(whole // YEAR, MOST_YEARS)
    if years < LEAST_YEARS:
        return None
    blocks = [v[-years * YEAR :].reshape(1, years, YEAR) for v in both]
    if min(block.sum(axis=2).min() for block in blocks) <= 0:
        return None  # A year without any has no calendar.
    lag, margin = (float(v[0]) for v in season_lag(blocks[0], blocks[1], ROUND, settings.interval))
    profiles = [(b / b.sum(axis=2, keepdims=True)).mean(axis=1)[0] for b in blocks]
    if min(profile.std() for profile in profiles) < 1e-9:
        return None
    moved = np.roll(profiles[1], -round(lag))
    correlation, alike = (
        float(np.corrcoef(profiles[0], one)[0, 1]) for one in (profiles[1], moved)
    )
    told = alike >= ALIKE and margin <= WIDEST
    return SeasonsBeside(
        correlation, alike, lag if told else None, lag - margin if told else None,
        lag + margin if told else None, years,
    )  # fmt: skip
