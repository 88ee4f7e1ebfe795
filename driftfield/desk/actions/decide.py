"""Keep, park or pass a niche."""

from __future__ import annotations

from django.db import transaction

from driftfield.core.errors import CoreError
from driftfield.desk.models import Choice, Decision
from driftfield.market.models import Niche


def decide(market_id: str, niche_id: str, choice: Choice, reason: str = "") -> Decision:
    """Record a decision; the one before it stays in the record. Raises CoreError for no such niche."""
    if not Niche.objects.filter(market__market_id=market_id, niche_id=niche_id).exists():
        raise CoreError(f"There is no niche “{niche_id}” in market “{market_id}”.")
    with transaction.atomic():
        mine = Decision.objects.filter(market_id=market_id, niche_id=niche_id)
        mine.filter(current=True).update(current=False)
        return Decision.objects.create(
            market_id=market_id, niche_id=niche_id, choice=choice, reason=reason
        )
