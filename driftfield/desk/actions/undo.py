"""Undo what was decided last and has not been undone."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone

from driftfield.core.errors import CoreError
from driftfield.desk.models import Choice, Decision


def undo() -> list[Decision]:
    """Undo the latest decision, with those made in one go with it; what held before holds again.

    Returns the decisions that were undone. Raises CoreError when there is none.
    """
    with transaction.atomic():
        last = Decision.objects.filter(undone_at=None).order_by("pk").last()
        if last is None:
            raise CoreError("There is no decision to undo.")
        undone = [last]
        if last.batch:
            together = Decision.objects.filter(undone_at=None, batch=last.batch)
            undone = list(together.order_by("pk"))
        now = timezone.now()
        for one in undone:
            one.current, one.undone_at = False, now
        Decision.objects.bulk_update(undone, ["current", "undone_at"])
        for one in undone:
            _restore(one)
    return undone


def _restore(undone: Decision) -> None:
    """What held for the niche before a decision that is undone holds again."""
    before = (
        Decision.objects.filter(
            market_id=undone.market_id, niche_id=undone.niche_id, undone_at=None, pk__lt=undone.pk
        )
        .order_by("pk")
        .last()
    )
    if before is not None and before.choice != Choice.OPEN:
        before.current = True
        before.save(update_fields=["current"])
