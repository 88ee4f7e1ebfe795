"""The almanac: what is to be done for the seasons of subjects, and when, over fifteen months."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache
from itertools import pairwise
from typing import Literal

import numpy as np

from driftfield.core.base import Ints
from driftfield.core.curves import FEASTS, feast_dates, season_calendar, weekly_levels

from .planning import SeasonInputs
from .workings import Workings

MONTHS = 15
LEVEL_DECIMALS = 3
# What can happen for a season, in the order in which it does.
What = Literal["order", "order_half", "rise", "peak", "wind_down"]
WHATS: tuple[What, ...] = ("order", "order_half", "rise", "peak", "wind_down")
_DAYS = (
    "order_by",
    "open_until",
    "start",
    "rise",
    "peak_start",
    "peak_end",
    "wind_down",
    "end",
)
DEADLINES: tuple[What, ...] = WHATS[:2]


@dataclass(frozen=True, slots=True)
class Window:
    """The days that an almanac shows: whole months."""

    first: date
    last: date

    @classmethod
    def from_month_of(cls, day: date, months: int = MONTHS) -> Window:
        first = day.replace(day=1)
        after = first.month - 1 + months
        return cls(first, date(first.year + after // 12, after % 12 + 1, 1) - timedelta(days=1))

    @property
    def weeks(self) -> int:
        """Weeks from its first day on that touch it."""
        return -(-((self.last - self.first).days + 1) // 7)


@dataclass(frozen=True, slots=True)
class ShownSeason:
    """One season of a subject. Last days are those of ``SeasonCalendar``.

    caught: when ordering on the planning date. level: what its profile has on the planning date as a share of
    its highest; None where that is not known. number: its place among the subject's seasons that peak in that
    year, from 1.
    """

    order_by: date
    open_until: date
    start: date
    rise: date
    peak_start: date
    peak_end: date
    wind_down: date
    end: date
    share: float
    caught: float
    level: float | None
    year: int
    number: int


@dataclass(frozen=True, slots=True)
class Happening:
    """Something that is to be done, or happens, for a season. until: the last day of what takes several."""

    what: What
    day: date
    season: ShownSeason
    until: date | None = None


@dataclass(frozen=True, slots=True)
class AlmanacRow:
    """A subject's seasons in a window, by their peaks.

    levels: its profile by week of the window, 1 for the year's mean; empty where none is known.
    """

    lead_days: int
    seasons: list[ShownSeason]
    levels: list[float]

    def next(self, planning: date) -> Happening | None:
        """The next deadline: for all of the first season that is still open, or else for half of it."""
        for season in self.seasons:
            if season.open_until >= planning:
                whole = season.order_by >= planning
                what: What = "order" if whole else "order_half"
                return Happening(what, season.order_by if whole else season.open_until, season)
        return None

    def happenings(self, planning: date, last: date) -> list[Happening]:
        """All that is to be done or happens from the planning date to a last day, by day."""
        found = [one for season in self.seasons for one in _of_season(season)]
        inside = [one for one in found if planning <= one.day <= last]
        return sorted(inside, key=lambda one: (one.day, WHATS.index(one.what)))


def _of_season(season: ShownSeason) -> list[Happening]:
    return [
        Happening("order", season.order_by, season),
        Happening("order_half", season.open_until, season),
        Happening("rise", season.rise, season),
        Happening("peak", season.peak_start, season, season.peak_end),
        Happening("wind_down", season.wind_down, season, season.end),
    ]


def almanac_rows(
    inputs: SeasonInputs, lead_days: Ints, planning: date, window: Window
) -> list[AlmanacRow]:
    """What a window holds of the seasons of subjects.

    Parameters
    ----------
    inputs : SeasonInputs
        What was read of their seasons.
    lead_days : int array (subjects,)
        Days from ordering to being on sale.
    planning : date
        The day of ordering.
    window : Window
        The days that are shown.

    Returns
    -------
    list of AlmanacRow
        One a subject.
    """
    told = inputs.told()
    n = len(lead_days)
    found = season_calendar(
        **told, planning=planning, lead_days=lead_days, first=min(window.first, planning),
        last=window.last,
    )  # fmt: skip
    levels = np.round(weekly_levels(**told, first=window.first, weeks=window.weeks), LEVEL_DECIMALS)
    now = weekly_levels(**told, first=planning - timedelta(days=3), weeks=1)[:, 0]
    highest = told["factors"].max(axis=1)
    part = np.round(now / np.where(highest > 0, highest, np.nan), 4)
    first_of = np.searchsorted(found.subject, np.arange(n + 1)).tolist()
    rows = []
    for at, (begin, end) in enumerate(pairwise(first_of)):
        seasons: list[ShownSeason] = []
        for one in range(begin, end):
            day = {name: date.fromordinal(int(getattr(found, name)[one])) for name in _DAYS}
            year = date.fromordinal(int(found.top[one])).year
            before = sum(season.year == year for season in seasons)
            seasons.append(
                ShownSeason(
                    **day, share=round(float(found.share[one]), 6),
                    caught=round(float(found.caught[one]), 6), level=_known(part[at]), year=year,
                    number=before + 1,
                )
            )  # fmt: skip
        known = not np.isnan(levels[at]).any()
        rows.append(AlmanacRow(int(lead_days[at]), seasons, levels[at].tolist() if known else []))
    return rows


def run_almanac(
    niches: Workings, work: Workings, lead_days: int, planning: date, window: Window
) -> list[AlmanacRow]:
    """What a window holds of the seasons of what was read, all with one lead time.

    A listing whose niche tells its season has that one's; see ``sleepers.seasons_of``.
    """

    def of(one: Workings) -> list[AlmanacRow]:
        inputs = SeasonInputs.of_curves(one.curves, one.timeline)
        return almanac_rows(inputs, np.full(one.count, lead_days), planning, window)

    rows = of(work)
    if work.listing is not None:
        lent, niche = of(niches), np.asarray(work.data.niche)
        for at in np.flatnonzero(work.listing.by_niche).tolist():
            rows[at] = lent[niche[at]]
    return rows


def _known(value: float) -> float | None:
    return None if np.isnan(value) else float(value)


@dataclass(frozen=True, slots=True)
class FeastDay:
    """A feast, or a public holiday of a country; ``moving`` for a feast that curves may keep time with."""

    name: str
    day: date
    moving: bool


def knows_holidays(country: str) -> bool:
    """Whether the public holidays of a country (ISO 3166-1) are known."""
    from holidays import list_supported_countries  # tables of many countries

    return country in list_supported_countries()


def feasts_in(window: Window, country: str = "") -> list[FeastDay]:
    """The moving feasts of a window, and the public holidays of a country where they are known, by day."""
    first, last = window.first, window.last
    found = [
        FeastDay(feast.name, day, True)
        for feast in FEASTS
        for day in feast_dates(feast, first.year, last.year)
    ]
    taken = {one.day for one in found}
    found += [
        FeastDay(name, day, False)
        for day, name in _holidays(country, first.year, last.year)
        if day not in taken
    ]
    return sorted((one for one in found if first <= one.day <= last), key=lambda one: one.day)


@lru_cache(maxsize=64)
def _holidays(country: str, first: int, last: int) -> Sequence[tuple[date, str]]:
    if not country or not knows_holidays(country):
        return ()
    from holidays import country_holidays  # tables of many countries

    years = range(first, last + 1)
    try:
        known = country_holidays(country, years=years, language="en_US", observed=False)
    except NotImplementedError:  # Not told in English.
        known = country_holidays(country, years=years, observed=False)
    return sorted(known.items())
