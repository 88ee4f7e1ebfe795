"""What became of launches that came after a day, and what had been said of their niches."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Period
from driftfield.core.ranking import percentile
from driftfield.core.supply import History, Listings

from .replay import Then, later_by

WITHIN = 26  # Weeks after a day in which a launch counts as one that could have been decided on it.
JUDGED = 52  # Weeks after it at which it is judged.
EARNS = 26  # Weeks from its launch whose revenue is told.
# What launches are held against: the figure, and whether less of it is better.
SCORES = {"headroom": False, "demand": False, "competition": True, "searches_52w": False}


@dataclass(frozen=True, slots=True)
class Launched:
    """Launches after some days, (rows,) each, one for each day and niche it was launched in.

    subject, when: the niche, and the place of the day. listing: which. won: whether it worked, as judged a
    year after the day. scores: by key of SCORES, of the niche on the day as a share of all niches that rank
    below, the more the better. revenue: of its first EARNS weeks; alive: 1 where it sold anything in the
    last four weeks of its first year; both NaN for unknown.
    """

    subject: Ints
    when: Ints
    listing: Ints
    won: Bools
    scores: dict[str, Floats]
    revenue: Floats
    alive: Floats


def read_launched(thens: Sequence[Then], listings: Listings | None, period: Period) -> Launched:
    """Launches in the weeks after each day that has another JUDGED weeks later.

    ``thens`` are in order of their days; ``listings`` are as known now.
    """
    found: list[tuple[Ints, Ints, Ints, Bools]] = []
    scores: dict[str, list[Floats]] = {key: [] for key in SCORES}
    for when, then in enumerate(thens):
        later = later_by(thens, when, JUDGED, period)
        if later is None:
            continue
        made = later.launches
        age = made.launched - then.as_of.toordinal()
        rows = np.flatnonzero((age > 0) & (age <= 7 * WITHIN))
        subject = made.subject[rows]
        found.append((subject, np.full(len(rows), when), made.listing[rows], made.won[rows]))
        for key, inverse in SCORES.items():
            values = then.figures.get(key)
            told = np.full(len(then.scale), np.nan) if values is None else values.astype(np.float64)
            scores[key].append(percentile(-told if inverse else told)[subject])
    if not found:
        none = np.empty(0, dtype=np.int64)
        empty = np.empty(0)
        return Launched(
            none, none, none, np.empty(0, dtype=bool), dict.fromkeys(SCORES, empty), empty, empty
        )
    subject, at, listing, won = (np.concatenate(parts) for parts in zip(*found, strict=True))
    history = None if listings is None else listings.history
    launched = np.full(len(listing), np.nan) if listings is None else listings.launched[listing]
    return Launched(
        subject, at, listing, won, {key: np.concatenate(parts) for key, parts in scores.items()},
        _revenue(history, listing, launched), _alive(history, listing, launched),
    )  # fmt: skip


def _columns(history: History, launched: Floats, first: int, last: int) -> Ints:
    """Columns of the periods ``first`` to ``last`` after each launch, (rows, periods), −1 outside the
    history."""
    line = history.timeline
    starts = np.array([line.start(i).toordinal() for i in range(line.length + 1)])
    known = ~np.isnan(launched)
    begin = np.searchsorted(starts, np.where(known, launched, 0))
    at = begin[:, None] + np.arange(first, last)
    inside = known[:, None] & (launched >= starts[0])[:, None] & (at < line.length)
    return np.where(inside, at, -1)


def _revenue(history: History | None, listing: Ints, launched: Floats) -> Floats:
    """Revenue of the first EARNS weeks; NaN where units or prices of any of them are unknown."""
    if history is None or not {"units", "price"} <= set(history.measures):
        return np.full(len(listing), np.nan)
    at = _columns(history, launched, 0, history.timeline.period.span(EARNS))
    units, price = (
        history.measures[name][listing[:, None], at].astype(np.float64)
        for name in ("units", "price")
    )
    # What was not sold in a week brought nothing, whatever it would have cost.
    paid = np.where(units == 0, 0, units * price)
    return np.where((at >= 0).all(axis=1), paid.sum(axis=1), np.nan)


def _alive(history: History | None, listing: Ints, launched: Floats) -> Floats:
    """Whether anything was sold in weeks 49 to 52 after the launch.

    A history that ends sold nothing; of a listing whose sales were never known since its launch, nothing is.
    """
    if history is None or "units" not in history.measures:
        return np.full(len(listing), np.nan)
    period = history.timeline.period
    at = _columns(history, launched, period.span(48), period.span(52))
    units = np.nan_to_num(history.measures["units"][listing[:, None], at])
    since = _columns(history, launched, 0, period.span(52))
    told = ~np.isnan(history.measures["units"][listing[:, None], since]) & (since >= 0)
    known = (at >= 0).all(axis=1) & told.any(axis=1)
    return np.where(known, (units.sum(axis=1) > 0).astype(np.float64), np.nan)
