"""Figures of the seasons to come: what they rest on besides the curve is the planning date and the lead time.

They are made from a ``SeasonPlan`` alone, so that they can be made anew when either is changed.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from itertools import pairwise

import numpy as np

from driftfield.core.base import Floats
from driftfield.core.curves import SeasonPlan

from .figure import Figure, FigureType

OfPlan = Callable[[SeasonPlan], np.ndarray]


def iso_days(ordinals: Floats) -> np.ndarray:
    """Days as ISO 8601, None for unknown; there are few of them."""
    days, place = np.unique(ordinals, return_inverse=True)
    texts = [None if np.isnan(day) else date.fromordinal(int(day)).isoformat() for day in days]
    found: np.ndarray = np.array([*texts, None], dtype=object)[place]
    return found


def _seasons(plan: SeasonPlan) -> np.ndarray:
    out = np.empty(len(plan.caught), dtype=object)
    out[:] = [()] * len(out)
    each = plan.planned
    columns = {
        name: iso_days(getattr(each, name).astype(np.float64)).tolist()
        for name in ("rise", "peak_start", "peak_end", "wind_down", "end")
    } | {name: np.round(getattr(each, name), 6).tolist() for name in ("share", "caught")}
    rows = [dict(zip(columns, row, strict=True)) for row in zip(*columns.values(), strict=True)]
    first = np.flatnonzero(np.diff(each.subject, prepend=-1) > 0).tolist()
    for begin, end in pairwise([*first, len(rows)]):
        out[each.subject[begin]] = rows[begin:end]
    return out


def _dated(
    key: str, label: str, type: FigureType, of: OfPlan, formula: str, unit: str = "", direction: int = 0
) -> Figure:  # fmt: skip
    return Figure(
        key=key, label=label, type=type, unit=unit, direction=direction, formula=formula,
        compute=lambda work: of(work.plan), of_plan=of,
    )  # fmt: skip


DATES: tuple[Figure, ...] = (
    _dated("planning_date", "Planning date", FigureType.DATE, lambda p: iso_days(p.planning),
           "the day dates are planned from: the as-of unless another is set", "date"),
    _dated("seasons", "Seasons to come", FigureType.SEASONS, _seasons,
           "each hump of the profile, from the lowest week before its peak to the lowest after it, as often "
           "as it peaks within 78 weeks of the planning date and is not over on arrival: its dates, share of a "
           "year's demand, and share of its own demand after arrival"),
    _dated("act.order_by", "Order by, season to act on", FigureType.DATE, lambda p: iso_days(p.order_by),
           "start of its rise − lead_days; the season to act on is the first to come of which at least half "
           "falls after arrival", "date"),
    _dated("act.order_in_days", "Days to its order-by date", FigureType.SIGNED,
           lambda p: p.order_by - p.planning,
           "order-by date of the season to act on − planning date; below 0 it has passed", "days"),
    _dated("act.open_until", "Open until", FigureType.DATE, lambda p: iso_days(p.open_until),
           "last day on which ordering still catches half of the season to act on", "date"),
    _dated("act.open_days", "Days left to catch half", FigureType.COUNT,
           lambda p: p.open_until - p.planning, "open until − planning date", "days"),
    _dated("act.caught", "Season caught", FigureType.SHARE, lambda p: p.caught,
           "share of the demand of the season to act on that falls after arrival, planning date + lead_days",
           "share of the season", 1),
    _dated("act.running_left", "Left of the running season", FigureType.SHARE, lambda p: p.running_left,
           "share of the demand of the season before it that falls after arrival; under half", "share "
           "of the season"),
    _dated("act.after_arrival_13w", "Demand in the quarter after arrival", FigureType.SHARE,
           lambda p: p.after_arrival,
           "share of the coming 52 weeks' demand that the profile gives the 13 weeks (3 months) after "
           "arrival; a level year: 25%", "share of a year", 1),
    _dated("order_by", "Order by, next full season", FigureType.DATE, lambda p: iso_days(p.next_full),
           "start of the next rise, of any season, that ordering from the planning date on meets − lead_days",
           "date"),
    _dated("order_in_days", "Days to the next full season's order-by date", FigureType.COUNT,
           lambda p: p.next_full - p.planning, "that date − planning date", "days"),
)  # fmt: skip
