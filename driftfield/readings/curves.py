"""The curves of one niche, demand and supply, worked out when asked for."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

import numpy as np

from driftfield.core.periods import Floats, Period
from driftfield.market.curves import matrix, spanning
from driftfield.market.models import ListingCurve

from .load import Part, load_niche
from .models import Reading


@dataclass(frozen=True, slots=True)
class NicheCurve:
    """values: one a period from ``first``, None where unknown."""

    key: str
    label: str
    unit: str
    period: str
    first: date
    values: list[float | None]


def _sum(rows: Floats) -> Floats:
    known = ~np.isnan(rows)
    return np.where(known.any(axis=0), np.nansum(rows, axis=0), np.nan)


def _middle(rows: Floats) -> Floats:
    out = np.full(rows.shape[1], np.nan)
    some = ~np.isnan(rows).all(axis=0)
    out[some] = np.nanmedian(rows[:, some], axis=0)
    return out


def _mean(rows: Floats) -> Floats:
    many = (~np.isnan(rows)).sum(axis=0)
    return np.where(many > 0, np.nansum(rows, axis=0) / np.maximum(many, 1), np.nan)


def _many(rows: Floats) -> Floats:
    many = (~np.isnan(rows)).sum(axis=0).astype(np.float64)
    return np.where(many > 0, many, np.nan)


# Measure of a listing, key, label, unit, and how the niche's listings are taken together.
SUPPLY: tuple[tuple[str, str, str, str, Callable[[Floats], Floats]], ...] = (
    ("price", "price", "Price", "currency, median", _middle),
    ("units", "units", "Units", "units", _sum),
    ("offers", "offers", "Offers", "offers", _sum),
    ("in_stock", "in_stock", "Time in stock", "fraction, mean", _mean),
    ("price", "listings", "Listings on sale", "listings", _many),
    ("reviews", "reviews", "Reviews", "reviews, median", _middle),
)


def niche_curves(reading: Reading) -> list[NicheCurve]:
    """Searches, clicks, purchases and their rate; then what is known of the niche's listings."""
    part = load_niche(reading.niche, reading.market.run.as_of)
    if part is None:
        return []
    return [*_demand(part), *_supply(part, reading.market.run.as_of)]


def _demand(part: Part) -> list[NicheCurve]:
    data = part.data
    period, first = data.timeline.period.value, data.timeline.start(0)
    searches = _sum(data.searches)
    found = [("searches", "Searches", "searches", searches)]
    if data.clicks is not None:
        found.append(("clicks", "Clicks", "clicks", _sum(data.clicks)))
    if data.purchases is not None:
        purchases = _sum(data.purchases)
        with np.errstate(divide="ignore", invalid="ignore"):
            rate = np.where(searches > 0, purchases / searches, np.nan)
        found.append(("purchases", "Purchases", "purchases", purchases))
        found.append(("purchase_rate", "Purchase rate", "purchases a search", rate))
    return [
        NicheCurve(key, label, unit, period, first, _plain(values))
        for key, label, unit, values in found
    ]


def _supply(part: Part, as_of: date) -> list[NicheCurve]:
    """What the niche's listings did, period by period; a listing counts wholly where it is clicked."""
    measures = {measure for measure, *_ in SUPPLY}
    rows = ListingCurve.objects.filter(measure__in=measures, subject__in=part.listings)
    found = list(rows.values_list("measure", "subject_id", "first", "values", "period"))
    if not found:
        return []
    period = Period.WEEK if any(row[4] == "week" for row in found) else Period.MONTH
    found = [row for row in found if row[4] == period.value]
    timeline = spanning(period, [(first, len(v) // 4) for _, _, first, v, _ in found]).upto(as_of)
    place = {pk: i for i, pk in enumerate(part.listings)}
    curves = []
    for measure, key, label, unit, together in SUPPLY:
        own = [(place[s], first, bytes(v)) for m, s, first, v, _ in found if m == measure]
        if own:
            values = together(matrix(own, len(place), timeline))
            curves.append(
                NicheCurve(key, label, unit, period.value, timeline.start(0), _plain(values))
            )
    return curves


def _plain(values: Floats) -> list[float | None]:
    return [None if np.isnan(v) else round(float(v), 6) for v in values]
