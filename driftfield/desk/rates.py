"""The exchange rates that the researcher set."""

from __future__ import annotations

from driftfield.core.economics import Rate

from .models import ExchangeRate


def current_rates() -> list[Rate]:
    """The rates that hold, one a pair of currencies."""
    return [
        Rate(one.currency, one.into, one.rate, one.day)
        for one in ExchangeRate.objects.filter(current=True).order_by("currency", "into")
    ]
