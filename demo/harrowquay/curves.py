"""Weekly demand of a niche: calendar, drift, shocks, and noise that remembers last week."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import numpy as np

from .catalogue import Niche, seeded

FIRST = date(2021, 5, 17)  # a Monday
WEEKS = 262  # five years and two weeks; the last week is still running
PARTIAL = 0.37  # how much of the last week had passed when the figures were taken
CREATED = "2026-05-20T06:00:00+00:00"
# Western Easter Sundays, as in the published ecclesiastical tables.
EASTER = [date(2021, 4, 4), date(2022, 4, 17), date(2023, 4, 9), date(2024, 3, 31),
          date(2025, 4, 20), date(2026, 4, 5), date(2027, 3, 28)]  # fmt: skip

MONDAYS = [FIRST + timedelta(weeks=i) for i in range(WEEKS)]
# Position in the solar year, in weeks from 1 January, so that seasons drift across ISO weeks a little.
SOLAR = np.array([(m + timedelta(days=3)).timetuple().tm_yday / 7.0 for m in MONDAYS])


def _round(week: float) -> np.ndarray:
    gap = np.abs(SOLAR - week)
    return np.minimum(gap, 52.18 - gap)


def _hump(week: float, spread: float, timing: np.ndarray) -> np.ndarray:
    return np.exp(-0.5 * ((_round(week) + timing) / spread) ** 2)


def calendar(niche: Niche, rng: np.random.Generator) -> np.ndarray:
    """What the calendar does, mean about 1, each year's season a little early or late."""
    kind, *numbers = niche.pattern
    at = [float(n) for n in numbers]
    years = np.array([m.year for m in MONDAYS])
    early = {y: rng.normal(0, 0.35) for y in np.unique(years)}
    timing = np.array([early[y] for y in years])
    if kind == "le":
        curve = 1 + at[1] * np.cos(2 * np.pi * (SOLAR - at[0]) / 52.18)
    elif kind == "se":
        curve = 0.14 + 52 / (at[1] * 2.507) * 0.86 * _hump(at[0], at[1], timing)
    elif kind == "oc":
        curve = 0.02 + 52 / (at[1] * 2.507) * 0.98 * _hump(at[0], at[1], timing * 0.3)
    elif kind == "hu":
        curve = 0.2 + 10 * (
            _hump(at[0], at[1], timing) / at[1] + _hump(at[2], at[3], timing) / at[3]
        )
    elif kind == "ea":
        days = np.array(
            [min(((m - e).days + 3 - 7 * at[0] for e in EASTER), key=abs) for m in MONDAYS]
        )
        curve = 0.05 + 52 / (at[1] * 2.507) * 0.95 * np.exp(-0.5 * (days / 7 / at[1]) ** 2)
    elif kind == "fa":
        peak = WEEKS - 2 - at[0]
        gap = np.arange(WEEKS) - peak
        curve = 0.03 + 9 * np.exp(-0.5 * (gap / np.where(gap < 0, 3.0, 7.0)) ** 2)
    else:
        curve = np.ones(WEEKS)
    return np.asarray(curve)


def _wander(rng: np.random.Generator) -> np.ndarray:
    """Noise that remembers last week, as logarithms."""
    wander = np.zeros(WEEKS)
    for i in range(1, WEEKS):
        wander[i] = 0.75 * wander[i - 1] + rng.normal(0, 0.035)
    return wander


def _followed(niche: Niche) -> np.ndarray:
    """What a niche of another market does beside its season, so many weeks later; nothing where none is named."""
    if "like" not in niche.options:
        return np.zeros(WEEKS)
    name, weeks = niche.options["like"].split(":")
    first = replace(
        niche, name=name.replace("-", " "), market=replace(niche.market, market_id="north")
    )
    rng = seeded(first.niche_id)
    rng.normal(0, 0.55)  # Its level.
    for _ in {monday.year for monday in MONDAYS}:
        rng.normal(0, 0.35)  # Its calendar's years.
    return np.roll(_wander(rng), int(weeks))


def weekly_demand(niche: Niche, rng: np.random.Generator) -> np.ndarray:
    """Expected searches a week, (WEEKS,); NaN in planted gaps, 0 before a young niche began."""
    level = 1700 * niche.size * np.exp(rng.normal(0, 0.55))
    if "tiny" in niche.options:
        level = 24.0
    ahead = np.arange(WEEKS) - (WEEKS - 1)
    curve = level * calendar(niche, rng) * (1 + niche.rate) ** (ahead / 52.0)
    if "step" in niche.options:
        size, back = niche.options["step"].split("@")
        curve[: WEEKS - int(back)] /= 1 + int(size) / 100
    curve = curve * np.exp(_wander(rng) + _followed(niche))
    if "bot" in niche.options:
        curve[WEEKS - int(niche.options["bot"])] *= 14
    if "young" in niche.options:
        start = WEEKS - int(niche.options["young"])
        curve[:start] = 0
        curve[start:] *= 1 - np.exp(-np.arange(WEEKS - start) / 9.0)
    curve[-1] *= PARTIAL
    return np.asarray(curve)


def price_path(niche: Niche, rng: np.random.Generator) -> np.ndarray:
    """Price of a niche by week over its list price, (WEEKS,): discounts by the month, a price war."""
    months = np.array([m.year * 12 + m.month for m in MONDAYS])
    path = np.ones(WEEKS)
    if "waits" in niche.options:
        off = {month: rng.choice([0.0, 0.0, 0.15, 0.3]) for month in np.unique(months)}
        path = 1 - np.array([off[month] for month in months])
    if "pricewar" in niche.options:
        left = months[-1] - months
        path = 1 - 0.045 * np.maximum(0, 9 - left)
    return np.asarray(path)
