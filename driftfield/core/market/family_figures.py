"""What the niches of one family come to together."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Period, Settings
from driftfield.core.curves import slot_date
from driftfield.core.ranking import OPENNESS, read_index

MONTHS = 12
QUIET = 0.5  # Share of an even month under which a month is called quiet. Our choice.
# What listings sell that came within a year is told of categories, not of niches.
OPEN_PARTS = tuple(part for part in OPENNESS if part.column != "newcomers")
TOLD = 0.5  # Share of the searches whose niches' openness must be known to tell the family's. Our choice.
_YEAR = 2026  # Any ISO year of 52 weeks: it says which month a week of the year lies in.


@dataclass(frozen=True, slots=True)
class FamilyFigures:
    """Figures of one family; niches are in the order they came in.

    monthly: (niches,) searches a month in the mean of a year, of a Fad what lasts of them; NaN for unknown.
    wanted: (niches,) whether they lie in the band of brand_searches. searches, unowned: of a year, of all
    niches known, the latter without brand or protected words; NaN where none is known. year: (12,) share of
    the family's searches by month, all niches stacked. quiet: (12,) months with less than QUIET of an even
    one. enough: whether enough of its goods are wanted to make a brand; None where too little is known to
    say. start: place of the niche to begin with, that with most headroom of those wanted, or of all; None
    where none is known. opened: (niches,) how open each is, 0–100; openness: their mean weighed by searches;
    NaN where under TOLD of these are known.
    """

    monthly: Floats
    wanted: Bools
    searches: float
    unowned: float
    year: Floats
    quiet: Bools
    enough: bool | None
    start: int | None
    opened: Floats
    openness: float


def openness_of_niches(figures: Mapping[str, Floats], settings: Settings) -> Floats:
    """How open each of a market's niches is to newcomers, (niches,), 0–100, NaN where too little is known.

    As the openness of categories (`read_index`), among niches and of the parts that are told of them:
    ``figures`` has those of OPEN_PARTS by key, each (niches,).
    """
    return read_index(figures, OPEN_PARTS, settings, bands=False).value


def read_family(
    searches: Floats,
    lasting: Floats,
    unowned: Floats,
    profiles: Floats,
    headroom: Floats,
    opened: Floats,
    period: Period,
    settings: Settings,
) -> FamilyFigures:
    """Figures of a family of niches.

    ``searches``, ``unowned`` (niches,) of a year; ``lasting`` (niches,) the share of them that lasts, under 1
    for a Fad; ``profiles`` (niches, slots) with mean 1, NaN rows where no season is claimed, which count as
    level; ``headroom`` and ``opened`` (niches,). NaN for unknown.
    """
    monthly = searches * lasting / MONTHS
    with np.errstate(invalid="ignore"):
        wanted = (monthly >= settings.brand_searches_low) & (
            monthly <= settings.brand_searches_high
        )
    unknown = int(np.isnan(monthly).sum())
    enough: bool | None = int(wanted.sum()) >= settings.brand_goods
    if not enough and int(wanted.sum()) + unknown >= settings.brand_goods:
        enough = None
    year = _by_month(stacked_year(profiles, searches), period)
    with np.errstate(invalid="ignore"):
        quiet = year < QUIET / MONTHS
    among = wanted if wanted.any() else np.ones(len(monthly), dtype=bool)
    rooms = np.where(among, headroom, np.nan)
    start = None if np.isnan(rooms).all() else int(np.nanargmax(rooms))
    return FamilyFigures(
        monthly, wanted, _total(searches), _total(unowned), year, quiet, enough, start, opened,
        _openness(opened, searches),
    )  # fmt: skip


def _openness(opened: Floats, searches: Floats) -> float:
    weight = np.nan_to_num(searches)
    known = ~np.isnan(opened)
    held = weight[known].sum()
    if not held > 0 or held < TOLD * weight.sum():
        return float("nan")
    return float((weight[known] * opened[known]).sum() / held)


def stacked_year(profiles: Floats, searches: Floats) -> Floats:
    """Shares of a year by slot, (slots,), of all niches together; NaN where no searches are known."""
    level = np.where(np.isnan(profiles), 1.0, profiles)
    stacked = (level * np.nan_to_num(searches)[:, None]).sum(axis=0)
    whole = stacked.sum()
    shares: Floats = stacked / whole if whole > 0 else np.full(profiles.shape[1], np.nan)
    return shares


def _by_month(slots: Floats, period: Period) -> Floats:
    """Shares by month; a week belongs to the month of its Thursday, as in ISO 8601."""
    months: Ints = np.array(
        [slot_date(at, period, _YEAR).month - 1 for at in range(len(slots))]
        if period is Period.MONTH
        else [_thursday(at).month - 1 for at in range(len(slots))],
        dtype=np.int64,
    )
    shares: Floats = np.bincount(months, weights=slots, minlength=MONTHS).astype(np.float64)
    return shares


def _thursday(slot: int) -> date:
    return slot_date(slot, Period.WEEK, _YEAR) + timedelta(days=3)


def _total(values: Floats) -> float:
    return float(np.nansum(values)) if not np.isnan(values).all() else float("nan")
