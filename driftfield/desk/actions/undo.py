"""Undo the latest decision that has not been undone."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone

from driftfield.core.errors import CoreError
from driftfield.desk.models import Choice, Decision


def undo() -> Decision:
    """Undo the latest decision; what held for the niche before it holds again.

    Returns the decision that was undone. Raises CoreError when there is none.
    """
    with transaction.atomic():
        last = Decision.objects.filter(undone_at=None).order_by("pk").last()
        if last is None:
            raise CoreError("There is no decision to undo.")
        last.current, last.undone_at = False, timezone.now()
        last.save(update_fields=["current", "undone_at"])
        before = (
            Decision.objects.filter(
                market_id=last.market_id, niche_id=last.niche_id, undone_at=None, pk__lt=last.pk
            )
            .order_by("pk")
            .last()
        )
        if before is not None and before.choice != Choice.OPEN:
            before.current = True
            before.save(update_fields=["current"])
    return last
