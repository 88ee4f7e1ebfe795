"""One subject in several markets: their seasons against one another, and which of them moves first."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from driftfield.core.base import Floats, Settings, Timeline
from driftfield.core.curves import Lead, SeasonsBeside, curve_detail, read_lead, read_seasons_beside

from .kinds import Kind
from .side_by_side import Beside, Line, side_by_side


@dataclass(frozen=True, slots=True)
class Demand:
    """The curve of a subject in one market, (length,) on ``timeline``, NaN where absent.

    counts: whether it counts searches; else it is a relative curve. without: the curve without its season;
    None where none is claimed.
    """

    values: Floats
    timeline: Timeline
    counts: bool
    without: Floats | None

    @property
    def seasonal(self) -> bool:
        return self.without is not None

    @classmethod
    def read(cls, values: Floats, timeline: Timeline, counts: bool, settings: Settings) -> Demand:
        """A curve, with and without its season."""
        found = curve_detail(values, timeline, settings, counts=counts)
        return cls(values, timeline, counts, found.without)


@dataclass(frozen=True, slots=True)
class Apart:
    """What lies between two markets. periods: that both have. seasons, lead: of the second against the
    first; None where they cannot be read, for ``one_period`` one has weeks and the other months."""

    periods: int
    one_period: bool
    seasons: SeasonsBeside | None
    lead: Lead | None


def lay_apart(first: Demand, second: Demand, settings: Settings) -> Apart:
    """Lay the demand in one market against that in another, over the periods that both have."""
    if first.timeline.period is not second.timeline.period:
        return Apart(0, False, None, None)
    begin = max(one.timeline.first_number for one in (first, second))
    end = min(one.timeline.first_number + one.timeline.length for one in (first, second))
    if end <= begin:
        return Apart(0, True, None, None)
    period = first.timeline.period
    common = Timeline(period, period.start(begin), end - begin)
    one, other = (
        d.values[begin - d.timeline.first_number : end - d.timeline.first_number]
        for d in (first, second)
    )
    seasons = (
        read_seasons_beside(one, other, common, settings)
        if first.seasonal and second.seasonal
        else None
    )
    lead = read_lead(one, other, common, settings, counts=first.counts and second.counts)
    return Apart(common.length, True, seasons, lead)


@dataclass(frozen=True, slots=True)
class InMarket:
    """A subject as one market has it.

    market: the market's name. how: how it is known to be the same (``itself`` is the one looked at). rate:
    what a unit of its ``currency`` is in the money shown; None for not known. figures: by key, None for
    unknown. demand: None where no curve is known.
    """

    market_id: str
    market: str
    id: str
    name: str
    how: str
    currency: str
    rate: float | None
    figures: Mapping[str, Any]
    demand: Demand | None


@dataclass(frozen=True, slots=True)
class Across:
    """A subject in several markets, the one looked at first. into: the money shown. apart: of each other
    one against the first; None where the curve of either is not known."""

    kind: Kind
    into: str
    markets: Sequence[InMarket]
    lines: Sequence[Line]
    apart: Sequence[Apart | None]


def lay_across(kind: Kind, markets: Sequence[InMarket], into: str, settings: Settings) -> Across:
    """Lay one subject in several markets side by side, all against the first."""
    lines = side_by_side(kind, [Beside(m.market_id, m.rate, m.figures) for m in markets])
    first = markets[0].demand
    apart = [
        None if first is None or one.demand is None else lay_apart(first, one.demand, settings)
        for one in markets[1:]
    ]
    return Across(kind, into, markets, lines, apart)
