"""Set what a currency is worth in another one, with the day of the rate."""

from __future__ import annotations

import math
import re
from datetime import date

from driftfield.core.base import CoreError
from driftfield.desk.models import ExchangeRate
from driftfield.desk.write_queue import writing

HIGHEST = 1e9
EARLIEST = date(1990, 1, 1)
_CODE = re.compile("[A-Z]{3}")


def set_rate(currency: str, into: str, rate: float | None, day: date | None) -> ExchangeRate | None:
    """Keep that one unit of ``currency`` was ``rate`` units of ``into`` on ``day``; None takes the rate away.

    It holds for both directions, and takes the place of what was set before for either. Raises CoreError
    for what is no currency, no rate, or no day up to today.
    """
    for code in (currency, into):
        if not _CODE.fullmatch(code):
            raise CoreError(f"“{code}” is no currency. Write its code of three letters, as in EUR.")
    if currency == into:
        raise CoreError("A currency is worth itself. Name two currencies.")
    if rate is not None and day is None:
        raise CoreError("A rate has its day. Name it.")
    if rate is not None and day is not None:
        if not (math.isfinite(rate) and 1 / HIGHEST <= rate <= HIGHEST):
            raise CoreError("A rate is above 0, and at most a thousand million.")
        if not EARLIEST <= day <= date.today():
            raise CoreError(f"The day of a rate is from {EARLIEST} to today; got {day}.")
    with writing():
        for one, other in ((currency, into), (into, currency)):
            for was in ExchangeRate.objects.filter(currency=one, into=other, current=True):
                was.current = False
                was.save(update_fields=["current", "changed_at"])
        if rate is None or day is None:
            return None
        return ExchangeRate.objects.create(currency=currency, into=into, rate=rate, day=day)
