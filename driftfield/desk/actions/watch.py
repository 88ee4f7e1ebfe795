"""Mark what the watch told as seen, or as not seen after all."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.desk.models import Told
from driftfield.desk.write_queue import writing


def mark_seen(market_id: str, ids: Sequence[int], seen: bool = True) -> int:
    """Mark changes by their keys; how many were changed.

    Raises CoreError, and marks none, where one of them is not of this market.
    """
    with writing():
        found = Told.objects.filter(market_id=market_id, pk__in=ids)
        if found.count() != len(set(ids)):
            raise CoreError("One of these changes is no longer there. Load the page again.")
        other = found.filter(seen_at__isnull=seen)
        now = timezone.now()
        return other.update(seen_at=now if seen else None, changed_at=now)
