"""Own part as records, on files and for the application: one for each niche in which one sells."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import timedelta
from typing import Any

import numpy as np

from driftfield.core.base import CoreError, Floats, Period, RateRatio, Settings, Timeline
from driftfield.core.market import Workings, takers_of
from driftfield.core.sentences import (
    comparison_sentence,
    own_part_sentences,
    own_total_sentence,
)
from driftfield.core.supply import Comparison, OwnNiche, OwnPart, Takers, own_total

from .analysed import read_niches
from .market_data import MarketInput

YEARS_SHOWN = 3
MOST_NAMED = 12  # Terms and listings named of each niche.
COLUMNS = (
    "market_id", "niche_id", "name", "verdict", "weeks", "against", "by", "own_then", "own_now", "own",
    "own_low", "own_high", "season", "market", "market_low", "market_high", "share_then", "share_now", "share",
    "share_low", "share_high", "revenue_then", "revenue_now", "from", "to", "periods", "sentence",
)  # fmt: skip
# Names of the terms at some places, and ids with names of listings.
Terms = Callable[[Sequence[int]], list[str]]
Listed = Callable[[Sequence[int]], list[tuple[str, str]]]


def plain(value: float) -> float | None:
    """A number as JSON has it; None for unknown or without end."""
    return float(value) if np.isfinite(value) else None


def own_records(work: Workings, terms: Terms, listings: Listed) -> list[dict[str, Any]]:
    """All that is told of own part, a record each niche, in the order of ``work.own``."""
    part = work.own
    if part is None:
        return []
    headlines = part.headline()
    records = []
    for at, (niche, place) in enumerate(zip(part.niches, headlines, strict=True)):
        record: dict[str, Any] = {
            "niche_id": work.data.subjects[niche.subject],
            "by": "units" if niche.by_units else "searches",
            "added": niche.added,
            "silent": niche.silent,
            "period": part.timeline.period.value,
            "until": part.timeline.end.isoformat(),
            "curve": _curve(niche, part.timeline),
            "dispersion": plain(part.dispersion[at]),
            "headline": place,
            "comparisons": [_comparison(one, part.timeline, niche, at) for one in part.comparisons],
            "reported": _reported(part, at),
            "lost": None
            if place is None
            else _lost(takers_of(work, at), work.timeline, terms, listings),
        }
        record["sentences"] = own_part_sentences(record)
        records.append(record)
    return records


def _curve(niche: OwnNiche, timeline: Timeline) -> dict[str, Any]:
    """The last three years, period by period."""
    start = max(timeline.length - YEARS_SHOWN * timeline.period.per_year, 0)

    def tail(values: Floats) -> list[float | None]:
        return [plain(value) for value in values[start:]]

    return {
        "first": timeline.start(start).isoformat(), "units": tail(niche.units), "revenue": tail(niche.revenue),
        "market": tail(niche.market),
    }  # fmt: skip


def _ratio(name: str, ratio: RateRatio, at: int) -> dict[str, float | None]:
    ends = (("", ratio.value), ("_low", ratio.low), ("_high", ratio.high))
    return {f"{name}{end}": plain(values[at] - 1) for end, values in ends}


def _comparison(one: Comparison, timeline: Timeline, niche: OwnNiche, at: int) -> dict[str, Any]:
    """One comparison; growth as fractions: (1 + own) = (1 + season) × (1 + market) × (1 + share) exactly."""
    verdict = one.verdict()[at]

    def days(columns: tuple[int, int]) -> tuple[str | None, str | None]:
        if columns[0] < 0:
            return None, None
        last = timeline.start(columns[1]) - timedelta(days=1)
        return timeline.start(columns[0]).isoformat(), last.isoformat()

    def share(own: Floats, market: Floats) -> float | None:
        return plain(own[at] / market[at]) if niche.by_units and market[at] > 0 else None

    then, now = days(one.then), days(one.now)
    record = {
        "weeks": one.weeks, "length": _length(one.weeks, timeline.period), "against": str(one.against),
        "then_from": then[0], "then_to": then[1],
        "from": now[0], "to": now[1], "periods": plain(one.used[at]),
        "own_then": plain(one.own_then[at]), "own_now": plain(one.own_now[at]),
        "revenue_then": plain(one.revenue_then[at]), "revenue_now": plain(one.revenue_now[at]),
        "market_then": plain(one.market_then[at]), "market_now": plain(one.market_now[at]),
        "share_then": share(one.own_then, one.market_then), "share_now": share(one.own_now, one.market_now),
        "season": plain(one.season[at] - 1),
        **_ratio("own", one.own, at), **_ratio("market", one.drift, at), **_ratio("share", one.share, at),
        "whole_market": plain(one.market.value[at] - 1),
        "verdict": None if verdict is None else str(verdict),
    }  # fmt: skip
    return {**record, "sentence": comparison_sentence(record) if one.known[at] else None}


def _length(weeks: int, period: Period) -> str:
    """How long a time is, in words."""
    if period is Period.WEEK:
        return f"{weeks} weeks"
    months = period.span(weeks)
    return f"{months} {'month' if months == 1 else 'months'}"


def _reported(part: OwnPart, at: int) -> dict[str, Any] | None:
    """What market figures say of own listings, beside what was sold; None where nothing has both."""
    told = part.told
    if not told.listings[at] > 0 or not told.told[at] > 0:
        return None
    return {
        "listings": int(told.listings[at]), "own": plain(told.own[at]), "told": plain(told.told[at]),
        "ratio": plain(told.ratio[at]),
    }  # fmt: skip


def _lost(
    found: Takers | None, timeline: Timeline, terms: Terms, listings: Listed
) -> dict[str, Any] | None:
    """Where clicks went: own share of them, the terms by what was lost there, the listings that gained."""
    if found is None:
        return None
    order = np.argsort(-np.abs(np.nan_to_num(found.lost)), kind="stable")[:MOST_NAMED].tolist()
    gained = found.share_now - found.share_then
    pages = np.argsort(-np.abs(gained), kind="stable")
    own = [page for page in pages.tolist() if found.mine[page]]
    chosen = [*own, *(page for page in pages.tolist() if not found.mine[page])][:MOST_NAMED]
    named = listings([int(found.listing[page]) for page in chosen])
    whole = found.whole
    return {
        "share_then": whole[0], "share_now": whole[1], "counted": found.counted,
        "from": timeline.start(found.now[0]).isoformat(),
        "to": (timeline.start(found.now[1]) - timedelta(days=1)).isoformat(),
        "terms": [
            {
                "term": term, "clicks_then": plain(found.clicks_then[at]),
                "clicks_now": plain(found.clicks_now[at]),
                "share_then": plain(found.mine_then[at]), "share_now": plain(found.mine_now[at]),
                "lost": plain(found.lost[at]),
                "ratio_low": plain(found.ratio.low[at] - 1), "ratio_high": plain(found.ratio.high[at] - 1),
            }
            for at, term in zip(order, terms([int(found.term[at]) for at in order]), strict=True)
        ],
        "listings": [
            {
                "listing_id": listing, "name": name, "mine": bool(found.mine[page]),
                "share_then": float(found.share_then[page]), "share_now": float(found.share_now[page]),
                "gained": float(gained[page]),
            }
            for page, (listing, name) in zip(chosen, named, strict=True)
        ],
    }  # fmt: skip


def headline_row(record: Mapping[str, Any], market: str, name: str) -> dict[str, Any]:
    """A record of COLUMNS: the comparison that is told first."""
    place = record["headline"]
    one = {} if place is None else record["comparisons"][place]
    row = {key: one.get(key) for key in COLUMNS}
    row |= {"market_id": market, "niche_id": record["niche_id"], "name": name, "by": record["by"]}
    row["sentence"] = record["sentences"][0]
    return row


def total_of(part: OwnPart, settings: Settings) -> dict[str, Any] | None:
    """All niches of which the first comparison is the same, together; None where there are none."""
    places = [place for place in part.headline() if place is not None]
    if not places:
        return None
    place = max(set(places), key=places.count)
    rows = np.array([one == place for one in part.headline()])
    one = part.comparisons[place]
    found = own_total(part, one, rows, settings.interval)
    if found is None:
        return None
    record = {
        "niches": found.niches, "of": len(part.niches), "weeks": one.weeks,
        "length": _length(one.weeks, part.timeline.period), "against": str(one.against),
        "own_then": found.own_then, "own_now": found.own_now, **_ratio("own", found.own, 0),
        **_ratio("market", found.market, 0), **_ratio("share", found.share, 0),
    }  # fmt: skip
    record["sentence"] = own_total_sentence(record)
    return record


def find_own_part(
    markets: Iterable[MarketInput], settings: Settings, niche: str = ""
) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    """Records of all markets with market_id and name, and the totals; of one niche where it is named.

    Raises CoreError where no own sales are known, or none of that niche.
    """
    records, totals = [], []
    for market in markets:
        work = read_niches(market, settings)
        if work.own is None:
            continue
        names = dict(zip(market.data.subjects, market.niche_names, strict=True))
        pages = market.pages

        def terms(places: Sequence[int], market: MarketInput = market) -> list[str]:
            return [market.terms[at] for at in places]

        def listed(
            places: Sequence[int], ids: list[str] = market.listing_ids, pages: Any = pages
        ) -> list[tuple[str, str]]:
            titles = pages["title"].to_list()
            return [(ids[at], titles[at] or ids[at]) for at in places]

        made = own_records(work, terms, listed)
        for record in made:
            records.append(
                {"market_id": market.market_id, "name": names[record["niche_id"]], **record}
            )
        total = total_of(work.own, settings)
        if total is not None:
            totals.append({"market_id": market.market_id, **total})
    if niche:
        records = [one for one in records if one["niche_id"] == niche]
    if not records:
        raise CoreError(
            f"No own sales are known of the niche “{niche}”."
            if niche
            else "No own sales are known that belong to a niche. Give an own_sales table with a niche_id, or "
            "with a listing_id and clicks on these listings in term_clicks."
        )
    return records, totals
