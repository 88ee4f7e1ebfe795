"""Say why a niche was decided on as it was."""

from __future__ import annotations

from driftfield.core.base import CoreError
from driftfield.desk.in_order import writing
from driftfield.desk.models import Choice, Decision


def explain(market_id: str, niche_id: str, reason: str) -> Decision:
    """Write the reason of the decision that holds; its date and figures stay.

    Raises CoreError where none holds.
    """
    held = Decision.objects.filter(market_id=market_id, niche_id=niche_id, current=True)
    decision = held.exclude(choice=Choice.OPEN).first()
    if decision is None:
        raise CoreError(f"No decision holds for “{niche_id}”; keep, park or pass it first.")
    decision.reason = reason.strip()
    with writing():
        decision.save(update_fields=["reason"])
    return decision
