"""Taking an import back."""

from __future__ import annotations

from collections.abc import Callable

from django.db import transaction
from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.exchange.progress import untold
from driftfield.intake.models import Batch, FeedState

from .import_folder import import_turn
from .journal import take_back


def undo_batch(keep: Callable[[], object], pk: int | None = None) -> Batch:
    """Undo the latest batch that is not undone; ``keep`` is called first, to save what there is now.

    Figures, niches and listings are as they were before it. Decisions, notes and sieves stay: they hang
    on names. Readings of markets that lose niches are dropped and must be made anew. Raises CoreError
    where there is none, or where ``pk`` is another than the latest: what came later builds on it.
    """
    with import_turn(untold):
        return _undo(keep, pk)


def _undo(keep: Callable[[], object], pk: int | None) -> Batch:
    latest = Batch.objects.filter(undone_at=None).first()
    if latest is None:
        raise CoreError("There is no import to undo.")
    if pk is not None and pk != latest.pk:
        raise CoreError(
            f"{latest.source} of {latest.made_at:%d %b %Y} came later and builds on it; undo that first."
        )
    keep()
    with transaction.atomic():
        take_back(latest)
        for notes in (latest.made, latest.rows_before, latest.curves_before):
            notes.all().delete()
        if latest.feed:
            # What is gone is to be told again.
            FeedState.objects.filter(
                address=latest.feed["address"], market_id=latest.feed["market"]
            ).update(position=latest.feed["position"])
        latest.undone_at = timezone.now()
        latest.save(update_fields=["undone_at"])
    return latest
