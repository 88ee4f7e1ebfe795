"""Keep plans of orders: as they were each time, so that each change can be undone."""

from __future__ import annotations

import json
from datetime import date
from typing import Any
from uuid import UUID, uuid4

from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.desk.models import Plan, Purse
from driftfield.desk.plans import make_plan
from driftfield.desk.write_queue import writing
from driftfield.exchange.plans_file import Several
from driftfield.market.models import Market, Niche
from driftfield.readings.reading import Reading, reading_of

from .money import save_fees

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
    made = None if state == Plan.State.DROPPED else make_plan(reading, document)
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
        before = found if key is not None else None
        return Plan.objects.create(
            market_id=market_id, niche_id=niche_id, key=key or uuid4(), name=name, document=document,
            state=state, planned=_planned(reading, state, made, before),
        )  # fmt: skip


def _planned(
    reading: Reading, state: str, made: dict[str, Any] | None, before: Plan | None
) -> dict[str, Any] | None:
    """What an order is to do, as it was known when it was placed: not changed once its goods are on sale."""
    if state != Plan.State.ORDERED or made is None:
        return before.planned if before is not None and state == Plan.State.DROPPED else None
    held: dict[str, Any] | None = None if before is None else before.planned
    if held and date.fromisoformat(held["sold_by"]["on_sale"]) <= reading.run.planning:
        return held
    cash = {name: made["cash"][name] for name in ("final", "lowest", "mean", "loss")}
    return {"as_of": reading.run.as_of.isoformat(), "sold_by": made["sold_by"], **cash}


def keep_purse(market_id: str, cash: float | None, most_loss: float | None) -> Purse:
    """Keep the cash at hand for a market's orders, and the chance of a loss that is borne."""
    with writing():
        kept, _ = Purse.objects.update_or_create(
            market_id=market_id, defaults={"cash": cash, "most_loss": most_loss}
        )
        return kept


def keep_several(market: Market, several: Several) -> list[Plan]:
    """Keep a file's plans and the cash at hand; one called as another of its niche changes that one.

    All of them or none. Raises CoreError, which names the plan that none can be made of.
    """
    found = []
    with writing():
        for at, one in enumerate(several.plans):
            niche = Niche.objects.filter(market=market, niche_id=one.niche)
            own = niche.select_related("category__parent").first()
            reading = None if own is None else reading_of(market.run, own)
            if reading is None:
                raise CoreError(f"plans[{at}]: there is no niche “{one.niche}” in {market.name}.")
            name = str(one.document.get("name") or "Plan").strip()[:LONGEST_NAME]
            mine = Plan.objects.filter(market_id=market.market_id, niche_id=one.niche, name=name)
            before = mine.filter(current=True).exclude(state=Plan.State.DROPPED).first()
            state = Plan.State.ORDERED if one.placed else Plan.State.DRAFTED
            if before is not None and (before.document, before.state) == (one.document, state):
                found.append(before)
                continue
            try:
                key = None if before is None else before.key
                found.append(keep_plan(reading, one.document, key, state))
            except CoreError as error:
                raise CoreError(f"plans[{at}], “{name}” of {one.niche}: {error}") from None
        keep_purse(market.market_id, several.cash, several.most_loss)
        if several.fees:
            save_fees(market.market_id, several.fees)
    return found


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
