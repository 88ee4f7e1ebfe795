"""Keep terms, listings, brands or sellers as named lists: save, add, take out, note, remove, and bring back."""

from __future__ import annotations

from collections.abc import Sequence

from django.db.models import QuerySet
from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.core.market import LISTING, TERM, Kind
from driftfield.desk.models import WordList
from driftfield.desk.write_queue import writing

MOST = 100_000  # Entries of a list.
LONGEST, LONGEST_NOTE = 120, 10_000  # Letters of a list's name, and of its note.


def save_list(
    market_id: str, name: str, entries: Sequence[str], *, kind: Kind = TERM, replace: bool = False
) -> WordList:
    """Add entries to the list of a name, which is made where there is none; a removed one comes back.

    ``entries`` are terms, or ids of the kind. ``replace``: the list holds these and no others. They come once,
    in their order; one that the market does not have is kept as well. Raises CoreError for no or a long name,
    for no entry, and for too many.
    """
    name = " ".join(name.split())
    if not name:
        raise CoreError("A list needs a name.")
    if len(name) > LONGEST:
        raise CoreError(f"A list's name has up to {LONGEST} letters; this one has {len(name)}.")
    wanted = [one for entry in entries if (one := _spelt(entry, kind))]
    if not wanted and not replace:
        raise CoreError(f"There is no {kind.name} to keep; choose some first.")
    with writing():
        found = _all(market_id, kind).filter(name=name).first()
        had = found.terms if found and not replace else []
        kept = list(dict.fromkeys([*had, *wanted]))
        if len(kept) > MOST:
            raise CoreError(
                f"A list takes up to {MOST:,} {kind.plural}; this one would have {len(kept):,}."
            )
        made, _ = WordList.objects.update_or_create(
            market_id=market_id, kind=kind.key, name=name, defaults={"terms": kept, "removed_at": None}
        )  # fmt: skip
    return made


def _spelt(entry: str, kind: Kind) -> str:
    """An entry as it is kept; an id may hold more than one space in a row."""
    return " ".join(entry.split()) if kind == TERM else entry.strip()


def drop_entries(
    market_id: str, name: str, entries: Sequence[str], *, kind: Kind = TERM
) -> WordList:
    """Take entries out of a list. Raises CoreError for no such list, and where it has none of them."""
    gone = set(entries)
    with writing():
        found = _list(market_id, name, kind)
        kept = [one for one in found.terms if one not in gone]
        if len(kept) == len(found.terms):
            raise CoreError(f"“{name}” has none of these {kind.plural}.")
        found.terms = kept
        found.save(update_fields=["terms", "changed_at"])
    return found


def note_list(market_id: str, name: str, note: str, *, kind: Kind = LISTING) -> WordList:
    """Note something on a list. Raises CoreError for no such list, and for a note that is too long."""
    if len(note) > LONGEST_NOTE:
        raise CoreError(
            f"A note has up to {LONGEST_NOTE:,} letters; this one has {len(note):,}: shorten it."
        )
    with writing():
        found = _list(market_id, name, kind)
        found.note = note.strip()
        found.save(update_fields=["note", "changed_at"])
    return found


def remove_list(market_id: str, name: str, *, kind: Kind = TERM) -> None:
    """Remove a list; adding to it brings it back, with what it held. Raises CoreError for no such list."""
    with writing():
        found = _list(market_id, name, kind)
        found.removed_at = timezone.now()
        found.save(update_fields=["removed_at", "changed_at"])


def bring_back(market_id: str, name: str, *, kind: Kind = TERM) -> WordList:
    """Bring a removed list back. Raises CoreError where there is none of that name."""
    with writing():
        found = _all(market_id, kind).filter(name=name).first()
        if found is None:
            raise CoreError(f"There is no list “{name}”.")
        found.removed_at = None
        found.save(update_fields=["removed_at", "changed_at"])
    return found


def _all(market_id: str, kind: Kind) -> QuerySet[WordList]:
    return WordList.objects.filter(market_id=market_id, kind=kind.key)


def _list(market_id: str, name: str, kind: Kind) -> WordList:
    found = _all(market_id, kind).filter(name=name, removed_at=None).first()
    if found is None:
        raise CoreError(f"There is no list “{name}”.")
    return found
