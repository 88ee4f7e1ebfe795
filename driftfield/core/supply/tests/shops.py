"""Small supply sides made by hand: who is clicked in a niche, and what is known of them."""

from dataclasses import replace
from datetime import date
from typing import Any

import numpy as np

from driftfield.core.base import Period, Timeline
from driftfield.core.supply.listings import History, Listings
from driftfield.core.supply.members import Clicks, Members, read_members

LENGTH = 120  # weeks; snapshots of clicks in the last one and 13 and 52 before it
LAST = LENGTH - 1
DAY = date(2026, 4, 30).toordinal()
MONTHS = Timeline(Period.MONTH, date(2024, 5, 1), 24)  # ends on DAY


def members_of(*niches: list[float], then: list[list[float]] | None = None) -> Members:
    """Niches of one term each with these click shares, most clicked first, now and a year ago.

    Listings are numbered through. Without ``then`` a year ago was as now.
    """
    rows = []
    listing = 0
    for niche, now in enumerate(niches):
        before = now if then is None else then[niche]
        for place in range(max(len(now), len(before))):
            for at, shares in ((LAST, now), (LAST - 13, now), (LAST - 52, before)):
                if place < len(shares) and shares[place] > 0:
                    rows.append((niche, at, listing, shares[place]))
            listing += 1
    term, when, page, share = (np.array(column) for column in zip(*rows, strict=True))
    seen = Clicks(term, when, page, share.astype(float))
    weight = np.full(len(rows), 100.0)
    return read_members(seen, weight, np.arange(len(niches)), len(niches), LENGTH, 13, Period.WEEK)


def listings(n: int, history: dict[str, Any] | None = None, **facts: Any) -> Listings:
    """``n`` listings with some facts; ``history``: measures, each (n, 24) or a value a listing."""
    given = {
        key: value if isinstance(value, dict) else np.array(value, dtype=float)
        for key, value in facts.items()
    }
    for key in ("brand", "seller"):
        if key in given:
            given[key] = given[key].astype(np.int64)
    made = replace(Listings.unknown(n), **given)
    if history is None:
        return made
    measures = {}
    for key, value in history.items():
        array = np.array(value, dtype=np.float32)
        measures[key] = array if array.ndim == 2 else np.repeat(array[:, None], 24, axis=1)
    return replace(made, history=History(MONTHS, measures))


def days_ago(*days: float) -> list[float]:
    """Ordinals of the days so many days before DAY."""
    return [DAY - d for d in days]
