"""Keep terms as named lists: save, add to one, take terms out, remove, and bring back."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.desk.models import WordList
from driftfield.desk.write_queue import writing

MOST = 100_000  # Terms of a list.
LONGEST = 120  # Letters of a list's name.


def save_list(
    market_id: str, name: str, terms: Sequence[str], *, replace: bool = False
) -> WordList:
    """Add terms to the list of a name, which is made where there is none; a removed one comes back.

    ``replace``: the list holds these terms and no others. Terms come once, in their order; one that the market
    does not have is kept as well. Raises CoreError for no or a long name, for no term, and for too many.
    """
    name = " ".join(name.split())
    if not name:
        raise CoreError("A list needs a name.")
    if len(name) > LONGEST:
        raise CoreError(f"A list's name has up to {LONGEST} letters; this one has {len(name)}.")
    wanted = [one for term in terms if (one := " ".join(term.split()))]
    if not wanted and not replace:
        raise CoreError("There is no term to keep; choose some first.")
    with writing():
        found = WordList.objects.filter(market_id=market_id, name=name).first()
        had = found.terms if found and not replace else []
        kept = list(dict.fromkeys([*had, *wanted]))
        if len(kept) > MOST:
            raise CoreError(
                f"A list takes up to {MOST:,} terms; this one would have {len(kept):,}."
            )
        made, _ = WordList.objects.update_or_create(
            market_id=market_id, name=name, defaults={"terms": kept, "removed_at": None}
        )
    return made


def drop_terms(market_id: str, name: str, terms: Sequence[str]) -> WordList:
    """Take terms out of a list. Raises CoreError for no such list, and where it has none of them."""
    gone = set(terms)
    with writing():
        found = _list(market_id, name)
        kept = [term for term in found.terms if term not in gone]
        if len(kept) == len(found.terms):
            raise CoreError(f"“{name}” has none of these terms.")
        found.terms = kept
        found.save(update_fields=["terms", "changed_at"])
    return found


def remove_list(market_id: str, name: str) -> None:
    """Remove a list; adding to it brings it back, with what it held. Raises CoreError for no such list."""
    with writing():
        found = _list(market_id, name)
        found.removed_at = timezone.now()
        found.save(update_fields=["removed_at", "changed_at"])


def bring_back(market_id: str, name: str) -> WordList:
    """Bring a removed list back. Raises CoreError where there is none of that name."""
    with writing():
        found = WordList.objects.filter(market_id=market_id, name=name).first()
        if found is None:
            raise CoreError(f"There is no list “{name}”.")
        found.removed_at = None
        found.save(update_fields=["removed_at", "changed_at"])
    return found


def _list(market_id: str, name: str) -> WordList:
    found = WordList.objects.filter(market_id=market_id, name=name, removed_at=None).first()
    if found is None:
        raise CoreError(f"There is no list “{name}”.")
    return found
