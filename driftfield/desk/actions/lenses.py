"""Keep lenses by name, for niches and for categories."""

from __future__ import annotations

from django.utils import timezone

from driftfield.core.base import DEFAULTS, CoreError
from driftfield.core.market import NICHE, Kind, default_lens, lens_kind
from driftfield.desk.models import SavedLens
from driftfield.desk.write_queue import writing


def save_lens(
    name: str, weights: dict[str, float], kind: Kind = NICHE, purpose: str = ""
) -> SavedLens:
    """Save weights under a name, replacing what stood there. Raises CoreError for what is no lens."""
    name, usual = " ".join(name.split()), default_lens(kind, DEFAULTS)
    if not name or name.lower() == usual.name.lower():
        raise CoreError("A lens needs a name of its own.")
    lens = usual.with_weights(weights)
    with writing():
        made, _ = SavedLens.objects.update_or_create(
            kind=lens_kind(kind).key,
            name=name,
            defaults={"weights": lens.as_dict(), "purpose": purpose, "removed_at": None},
        )
    return made


def remove_lens(name: str, kind: Kind = NICHE) -> None:
    """Remove a lens; saving it again brings it back. Raises CoreError for no such lens."""
    with writing():
        found = SavedLens.objects.filter(kind=lens_kind(kind).key, name=name, removed_at=None)
        many = found.update(removed_at=timezone.now())
    if not many:
        raise CoreError(f"There is no lens “{name}” of your own.")
