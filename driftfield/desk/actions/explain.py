"""Say why it was decided on as it was."""

from __future__ import annotations

from driftfield.core.base import CoreError
from driftfield.core.market import NICHE, Kind
from driftfield.desk.models import Choice, Decision
from driftfield.desk.write_queue import writing


def explain(market_id: str, subject: str, reason: str, *, kind: Kind = NICHE) -> Decision:
    """Write the reason of the decision that holds; its date and figures stay.

    Raises CoreError where none holds.
    """
    held = Decision.objects.filter(
        market_id=market_id, kind=kind.key, subject=subject, current=True
    )
    decision = held.exclude(choice=Choice.OPEN).first()
    if decision is None:
        raise CoreError(f"No decision holds for “{subject}”; keep, park or pass it first.")
    decision.reason = reason.strip()
    with writing():
        decision.save(update_fields=["reason"])
    return decision
