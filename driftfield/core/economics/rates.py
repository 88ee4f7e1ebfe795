"""What a unit of one currency is in another, by rates that were set in either direction."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date


@dataclass(frozen=True, slots=True)
class Rate:
    """One unit of ``currency`` was ``rate`` units of ``into`` on ``day``; rate, day: None for not known."""

    currency: str
    into: str
    rate: float | None
    day: date | None = None


def rate_between(currency: str, into: str, known: Iterable[Rate]) -> Rate:
    """The rate from one currency into another; a rate the other way round is inverted."""
    if currency == into:
        return Rate(currency, into, 1.0)
    turned = None
    for one in known:
        if (one.currency, one.into) == (currency, into):
            return one
        if (one.currency, one.into) == (into, currency) and one.rate:
            turned = Rate(currency, into, 1 / one.rate, one.day)
    return turned or Rate(currency, into, None)
