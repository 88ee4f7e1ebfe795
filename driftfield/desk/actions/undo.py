"""Undo a decision that has not been undone: the one that is named, or the latest."""

from __future__ import annotations

from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.desk.models import Choice, Decision
from driftfield.desk.write_queue import writing


def latest() -> list[Decision]:
    """The latest decision that stands, with those made in one go with it; none where there is none."""
    last = Decision.objects.filter(undone_at=None).order_by("pk").last()
    return [] if last is None else _together(last)


def undo(decision: int | None = None) -> list[Decision]:
    """Undo a decision, with those made in one go with it; what held before holds again.

    ``decision`` is its key; by default the latest. Two windows that both undo would otherwise undo two.
    Returns the decisions that were undone. Raises CoreError when there is none, when it is undone
    already, and when one of its subjects was decided on anew since.
    """
    with writing():
        undone = latest() if decision is None else _standing(decision)
        if not undone:
            raise CoreError("There is no decision to undo.")
        now = timezone.now()
        for one in undone:
            one.current, one.undone_at = False, now
        Decision.objects.bulk_update(undone, ["current", "undone_at"])
        for one in undone:
            _restore(one)
    return undone


def _together(one: Decision) -> list[Decision]:
    if not one.batch:
        return [one]
    return list(Decision.objects.filter(undone_at=None, batch=one.batch).order_by("pk"))


def _standing(key: int) -> list[Decision]:
    """The decisions of one go, which must be the last ones on their subjects."""
    found = Decision.objects.filter(pk=key).first()
    if found is None:
        raise CoreError("There is no such decision. Load the page again.")
    if found.undone_at is not None:
        raise CoreError(f"“{found.name or found.subject}” was undone already, in another window.")
    together = _together(found)
    later = Decision.objects.filter(undone_at=None, pk__gt=max(one.pk for one in together))
    for one in together:
        if later.filter(market_id=one.market_id, kind=one.kind, subject=one.subject).exists():
            name = one.name or one.subject
            raise CoreError(
                f"“{name}” was decided on anew since, in another window. Nothing was undone."
            )
    return together


def _restore(undone: Decision) -> None:
    """What held before a decision that is undone holds again."""
    before = (
        Decision.objects.filter(
            market_id=undone.market_id,
            kind=undone.kind,
            subject=undone.subject,
            undone_at=None,
            pk__lt=undone.pk,
        )
        .order_by("pk")
        .last()
    )
    if before is not None and before.choice != Choice.OPEN:
        before.current = True
        before.save(update_fields=["current"])
