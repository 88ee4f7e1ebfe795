"""Keep sieves by name: save, remove, and bring back."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.core.market import NICHE
from driftfield.core.sieve import Condition, kind_of_sieve, parse_sieve
from driftfield.desk.models import Sieve
from driftfield.desk.starting import STARTING
from driftfield.desk.watch import note_sieve
from driftfield.desk.write_queue import writing
from driftfield.readings.models import Run


def save_sieve(name: str, conditions: Sequence[str]) -> Sieve:
    """Save conditions under a name; what stood under it is replaced, a removed one comes back.

    Raises CoreError for a name of nothing or of a starting sieve, for no condition, and for a
    condition that is none.
    """
    name = " ".join(name.split())
    if not name:
        raise CoreError("A sieve needs a name.")
    if name.lower() in {one.name.lower() for one in STARTING}:
        raise CoreError(f"“{name}” comes with Driftfield and stays as it is; choose another name.")
    if not conditions:
        raise CoreError("There is no condition to save; put one into the sentence first.")
    texts = [condition.text for condition in _read(conditions)]
    with writing():
        made, _ = Sieve.objects.update_or_create(
            name=name, defaults={"conditions": texts, "removed_at": None}
        )
        # Who passes now is what the watch compares the next import with.
        if (kind := kind_of_sieve(texts)) is not None:
            for run in Run.objects.select_related("market"):
                note_sieve(run, kind, parse_sieve(texts, kind))
    return made


def _read(conditions: Sequence[str]) -> list[Condition]:
    """Conditions of any kind that has them all; those of niches where no kind has. Raises CoreError."""
    return parse_sieve(conditions, kind_of_sieve(conditions) or NICHE)


def save_sieves(sieves: Sequence[tuple[str, Sequence[str]]]) -> list[Sieve]:
    """Save several, all of them or none; raises CoreError that names the sieve."""
    made = []
    with writing():
        for name, conditions in sieves:
            try:
                made.append(save_sieve(name, conditions))
            except CoreError as error:
                raise CoreError(f"Sieve “{name}”: {error} None was saved.") from None
    return made


def remove_sieve(name: str) -> None:
    """Remove a sieve; saving it again brings it back. Raises CoreError for no such sieve."""
    found = Sieve.objects.filter(name=name, removed_at=None)
    with writing():
        many = found.update(removed_at=timezone.now())
    if not many:
        raise CoreError(f"There is no sieve “{name}” of your own.")
