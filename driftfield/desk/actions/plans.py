"""Keep plans of orders: as they were each time, so that each change can be undone."""

from __future__ import annotations

import json
from typing import Any
from uuid import UUID, uuid4

from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.desk.models import Plan
from driftfield.desk.plans import make_plan
from driftfield.desk.write_queue import writing
from driftfield.readings.reading import Reading

LONGEST_NAME, LARGEST, MOST_PLANS = 120, 40_000, 200


def keep_plan(
    reading: Reading, document: dict[str, Any], key: UUID | None = None, state: str = "drafted",
    version: int | None = None,
) -> Plan:  # fmt: skip
    """Keep a plan of a niche, a new one or a change of one there is; ``version``: the one that was changed.

    Raises CoreError for inputs that make no plan, for a plan there is not, and for too many; then nothing is
    kept.
    """
    name = str(document.get("name") or "Plan").strip()[:LONGEST_NAME]
    if state not in Plan.State.values:
        raise CoreError(f"A plan is {', '.join(Plan.State.values)}; got “{state}”.")
    if len(json.dumps(document)) > LARGEST:
        raise CoreError(f"A plan holds at most {LARGEST:,} letters.")
    if state != Plan.State.DROPPED:
        make_plan(reading, document)
    market_id, niche_id = reading.market.market_id, reading.niche.niche_id
    with writing():
        if key is None:
            kept = Plan.objects.filter(market_id=market_id, niche_id=niche_id, current=True)
            if kept.exclude(state=Plan.State.DROPPED).count() >= MOST_PLANS:
                raise CoreError(f"At most {MOST_PLANS} plans are kept of a niche. Drop some.")
        else:
            found = Plan.objects.filter(key=key, current=True).first()
            if found is None or (found.market_id, found.niche_id) != (market_id, niche_id):
                raise CoreError("This plan is not there any more. Reload the page.")
            if version is not None and found.pk != version:
                raise CoreError(
                    "This plan was changed in another window meanwhile. Copy what you typed and reload."
                )
            found.current = False
            found.save(update_fields=["current"])
        return Plan.objects.create(
            market_id=market_id, niche_id=niche_id, key=key or uuid4(), name=name, document=document,
            state=state,
        )  # fmt: skip


def undo_plan(key: UUID) -> Plan | None:
    """Undo the latest change of a plan; the plan as it was before, None where it was not there.

    Raises CoreError where there is nothing to undo.
    """
    with writing():
        now = Plan.objects.filter(key=key, current=True).first()
        if now is None:
            raise CoreError("There is nothing to undo of this plan. Reload the page.")
        now.current, now.undone_at = False, timezone.now()
        now.save(update_fields=["current", "undone_at"])
        before = Plan.objects.filter(key=key, undone_at=None, pk__lt=now.pk).order_by("pk").last()
        if before is not None:
            before.current = True
            before.save(update_fields=["current"])
        return before
