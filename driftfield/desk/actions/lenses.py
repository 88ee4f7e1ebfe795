"""Keep lenses by name."""

from __future__ import annotations

from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.core.ranking import DEFAULT_LENS
from driftfield.desk.models import SavedLens
from driftfield.desk.write_queue import writing


def save_lens(name: str, weights: dict[str, float]) -> SavedLens:
    """Save weights under a name, replacing what stood there. Raises CoreError for what is no lens."""
    name = " ".join(name.split())
    if not name or name.lower() == DEFAULT_LENS.name.lower():
        raise CoreError("A lens needs a name of its own.")
    lens = DEFAULT_LENS.with_weights(weights)
    with writing():
        made, _ = SavedLens.objects.update_or_create(
            name=name, defaults={"weights": lens.as_dict(), "removed_at": None}
        )
    return made


def remove_lens(name: str) -> None:
    """Remove a lens; saving it again brings it back. Raises CoreError for no such lens."""
    with writing():
        found = SavedLens.objects.filter(name=name, removed_at=None)
        many = found.update(removed_at=timezone.now())
    if not many:
        raise CoreError(f"There is no lens “{name}” of your own.")
