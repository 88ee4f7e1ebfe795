"""A niche's demand close up: what its reading was made from, and what may come."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import Period
from driftfield.core.curves import (
    FEASTS,
    CurveDetail,
    curve_detail,
    feast_dates,
    mean_curves,
)
from driftfield.core.supply import at_period, price_moves, rate_changes
from driftfield.market.curves import matrix, spanning
from driftfield.market.models import TermCurve

from .curves import ShownCurve
from .load import terms_of
from .niche_data import NicheData, load_niche_data
from .plain import plain, plain_list
from .reading import Reading


@dataclass(frozen=True, slots=True)
class Ahead:
    """A forecast with its interval, a value a period from ``first``."""

    first: date
    values: list[float | None]
    low: list[float | None]
    high: list[float | None]


@dataclass(frozen=True, slots=True)
class Profile:
    """The season profile with its interval, a factor a slot of the year, mean 1."""

    values: list[float | None]
    low: list[float | None]
    high: list[float | None]


@dataclass(frozen=True, slots=True)
class FeastDay:
    """A moving feast in the year after the as-of; for Ramadan its first day."""

    name: str
    day: date


@dataclass(frozen=True, slots=True)
class PriceStep:
    """Changes from one period to the one that begins on ``first``, as fractions: price and
    purchase rate."""

    first: date
    price: float
    rate: float


@dataclass(frozen=True, slots=True)
class DemandDetail:
    """absent, outliers: first days of periods without a figure and of wild ones. ahead, profile: None
    where none can be read. interest: the relative curve beside the counts, None where none is loaded.
    price_steps: what ``price_answer`` was read from."""

    absent: list[date]
    outliers: list[date]
    ahead: Ahead | None
    profile: Profile | None
    feasts: list[FeastDay]
    interest: ShownCurve | None
    price_steps: list[PriceStep]


def read_demand_detail(reading: Reading) -> DemandDetail:
    """What is behind the demand figures of one niche."""
    loaded = load_niche_data(reading)
    feasts = feasts_ahead(reading.run.as_of)
    if loaded is None:
        return DemandDetail([], [], None, None, feasts, _interest(reading), [])
    timeline = loaded.data.timeline
    figures = reading.figures
    borrowed = figures["season_profile"] if figures["borrowed"] else None
    seen = curve_detail(
        loaded.together(loaded.data.searches), timeline, loaded.settings,
        profile=None if borrowed is None else np.array(borrowed),
    )  # fmt: skip
    absent, outliers = (
        [timeline.start(int(at)) for at in np.flatnonzero(marks)]
        for marks in (seen.absent, seen.outliers)
    )
    return DemandDetail(
        absent, outliers, _ahead(seen, timeline.start(timeline.length)), _profile(seen), feasts,
        _interest(reading), _price_steps(loaded),
    )  # fmt: skip


def feasts_ahead(as_of: date) -> list[FeastDay]:
    """The moving feasts of the year after ``as_of``, in order."""
    until = as_of + timedelta(days=365)
    found = [
        FeastDay(feast.name, day)
        for feast in FEASTS
        for day in feast_dates(feast, as_of.year, until.year)
        if as_of < day <= until
    ]
    return sorted(found, key=lambda one: one.day)


def _ahead(seen: CurveDetail, first: date) -> Ahead | None:
    values, low, high = (plain_list(v, 2) for v in (seen.ahead, seen.ahead_low, seen.ahead_high))
    return (
        None if values is None or low is None or high is None else Ahead(first, values, low, high)
    )


def _profile(seen: CurveDetail) -> Profile | None:
    values, low, high = (plain_list(v, 4) for v in (seen.factors, seen.low, seen.high))
    return None if values is None or low is None or high is None else Profile(values, low, high)


def _interest(reading: Reading) -> ShownCurve | None:
    """The relative curve of a niche's terms, each over its own mean, highest 100."""
    found = list(
        TermCurve.objects.filter(measure="index", subject__in=terms_of(reading.niche)).values_list(
            "first", "values", "period"
        )
    )
    if not found:
        return None
    period = Period(found[0][2])
    timeline = spanning(period, [(first, len(v) // 4) for first, v, _ in found])
    timeline = timeline.upto(reading.run.as_of)
    rows = ((i, first, bytes(v)) for i, (first, v, _) in enumerate(found))
    terms = matrix(rows, len(found), timeline)
    curve = mean_curves(terms, np.zeros(len(found), dtype=np.int64), 1)[0]
    return ShownCurve(
        "interest", "Relative interest", "highest 100", period.value, timeline.start(0),
        [plain(value, 2) for value in curve],
    )  # fmt: skip


def _price_steps(loaded: NicheData) -> list[PriceStep]:
    """Each step of the listings' price and of the purchase rate, where both are known."""
    history, data = loaded.listings.history, loaded.data
    if history is None or loaded.members is None or data.purchases is None:
        return []
    if "price" not in history.measures:
        return []
    looked, bought = (
        at_period(loaded.together(v)[None], data.timeline, history.timeline)
        for v in (data.searches, data.purchases)
    )
    rate, price = rate_changes(looked, bought)[0], price_moves(loaded.members, history)[0]
    return [
        PriceStep(history.timeline.start(int(at) + 1), float(np.expm1(price[at])), float(np.expm1(rate[at])))
        for at in np.flatnonzero(~np.isnan(rate) & ~np.isnan(price))
    ]  # fmt: skip
