"""Keep, park or pass a niche, or several at once."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any
from uuid import uuid4

from driftfield.core.base import CoreError
from driftfield.desk.in_order import writing
from driftfield.desk.models import Choice, Decision
from driftfield.desk.remembered import remember
from driftfield.market.models import Niche
from driftfield.readings.models import Reading


def decide(market_id: str, niche_id: str, choice: Choice, reason: str = "") -> Decision:
    """Record a decision with what is known now; the one before it stays in the record.

    Raises CoreError for no such niche.
    """
    return decide_all(market_id, [niche_id], choice, reason)[0]


def decide_all(
    market_id: str, niche_ids: Sequence[str], choice: Choice, reason: str = ""
) -> list[Decision]:
    """Record the same decision for several niches: all of them, or none.

    One undo takes all of them back. Raises CoreError for no such niche.
    """
    wanted = list(dict.fromkeys(niche_ids))
    found = Niche.objects.filter(market__market_id=market_id, niche_id__in=wanted)
    niches = {niche.niche_id: niche for niche in found.select_related("category__parent")}
    for niche_id in wanted:
        if niche_id not in niches:
            raise CoreError(f"There is no niche “{niche_id}” in market “{market_id}”.")
    found_readings = Reading.objects.filter(niche__in=niches.values())
    readings = {reading.pk: reading for reading in found_readings}
    with writing():
        mine = Decision.objects.filter(market_id=market_id, niche_id__in=wanted)
        mine.filter(current=True).update(current=False)
        batch = uuid4()
        return Decision.objects.bulk_create(
            Decision(
                market_id=market_id,
                niche_id=niche_id,
                choice=choice,
                reason=reason,
                batch=batch,
                **_what_is_known(niches[niche_id], readings),
            )
            for niche_id in wanted
        )


def _what_is_known(niche: Niche, readings: dict[int, Reading]) -> dict[str, Any]:
    reading = readings.get(niche.pk)
    return {
        "name": niche.name,
        "category": niche.category.path if niche.category else "",
        "as_of": reading and getattr(reading, "as_of", None),
        "figures": remember(reading) if reading else {},
    }
