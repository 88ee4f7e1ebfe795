"""Whole markets as the arrays the core reads, from packed curves."""

from __future__ import annotations

from typing import Any

import numpy as np

from driftfield.core.analysis import Clicks, MarketData
from driftfield.core.errors import CoreError
from driftfield.core.periods import Period, Timeline
from driftfield.market.curves import matrix, spanning, unpack
from driftfield.market.models import (
    ClickCurve,
    Listing,
    ListingCurve,
    Market,
    Niche,
    Term,
    TermCurve,
)


def load_market(market: Market) -> tuple[MarketData, list[int]]:
    """A market's arrays and the keys of its niches, in order. Raises CoreError without searches."""
    niches = list(Niche.objects.filter(market=market).order_by("pk").values_list("pk", "niche_id"))
    place = {pk: i for i, (pk, _) in enumerate(niches)}
    terms = list(
        Term.objects.filter(market=market).order_by("niche_id", "pk").values_list("pk", "niche_id")
    )
    rows = {pk: i for i, (pk, _) in enumerate(terms)}
    measures = {m: _rows(market, m) for m in ("searches", "clicks", "purchases")}
    if not measures["searches"]:
        raise CoreError(f"{market.name} has no searches to analyse.")
    timeline = _timeline(measures["searches"])

    def measure(name: str) -> np.ndarray | None:
        found = measures[name]
        if not found:
            return None
        packed = ((rows[s], first, v) for s, first, v, _ in found)
        return matrix(packed, len(terms), timeline)

    searches = measure("searches")
    assert searches is not None
    data = MarketData(
        timeline=timeline,
        niches=[niche_id for _, niche_id in niches],
        term_niche=np.array([place[n] for _, n in terms], dtype=np.int64),
        searches=searches,
        clicks=measure("clicks"),
        purchases=measure("purchases"),
        observed=_clicks(market, rows, timeline),
    )
    return data, [pk for pk, _ in niches]


def _rows(market: Market, measure: str) -> list[tuple[int, int, bytes, str]]:
    curves = TermCurve.objects.filter(measure=measure, subject__market=market)
    found = curves.values_list("subject_id", "first", "values", "period")
    return [(subject, first, bytes(values), period) for subject, first, values, period in found]


def _timeline(rows: list[tuple[int, int, bytes, str]]) -> Timeline:
    periods = {period for _, _, _, period in rows}
    if len(periods) > 1:
        raise CoreError("Weekly and monthly searches are mixed in one market; load them apart.")
    return spanning(Period(periods.pop()), [(first, len(v) // 4) for _, first, v, _ in rows])


def _clicks(market: Market, rows: dict[int, int], timeline: Timeline) -> Clicks | None:
    found = list(
        ClickCurve.objects.filter(measure="click_share", subject__market=market).values_list(
            "subject_id", "listing_id", "first", "values", "period"
        )
    )
    if not found:
        return None
    listings = {pk: i for i, pk in enumerate(dict.fromkeys(row[1] for row in found))}
    columns: list[tuple[np.ndarray, ...]] = []
    for subject, listing, first, values, period in found:
        share = unpack(bytes(values))
        seen = np.flatnonzero(~np.isnan(share))
        numbers = first + seen
        if period != timeline.period.value:
            own = Period(period)
            numbers = np.array([timeline.period.number(own.start(int(n))) for n in numbers])
        at = numbers - timeline.first_number
        same = np.ones_like(seen)
        columns.append((same * rows[subject], at, same * listings[listing], share[seen]))
    term, when, page, held = (np.concatenate(parts) for parts in zip(*columns, strict=True))
    inside = (when >= 0) & (when < timeline.length)
    brand, reviews = _listing_facts(listings)
    return Clicks(
        term[inside], when[inside], page[inside], held[inside].astype(float), brand, reviews
    )


def _listing_facts(listings: dict[int, int]) -> tuple[np.ndarray, np.ndarray]:
    brand = np.full(len(listings), -1, dtype=np.int64)
    reviews = np.full(len(listings), np.nan)
    codes: dict[str, int] = {}
    facts: Any = Listing.objects.values_list("pk", "brand", "reviews")
    for pk, name, count in facts:
        at = listings.get(pk)
        if at is None:
            continue
        if name is not None:
            brand[at] = codes.setdefault(name, len(codes))
        if count is not None:
            reviews[at] = count
    unknown = {pk for pk, at in listings.items() if np.isnan(reviews[at])}
    if unknown:
        history = ListingCurve.objects.filter(measure="reviews").values_list("subject_id", "values")
        for pk, values in history:
            if pk in unknown:
                curve = unpack(bytes(values))
                reviews[listings[pk]] = curve[~np.isnan(curve)][-1]
    return brand, reviews
