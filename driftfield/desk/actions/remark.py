"""Notes, tags and the order by hand of what one has an eye on."""

from __future__ import annotations

from collections.abc import Sequence

from django.db.models import QuerySet

from driftfield.core.base import CoreError
from driftfield.core.market import NICHE, Kind
from driftfield.desk.models import Decision, Remark
from driftfield.desk.subjects import no_such, subjects_of
from driftfield.desk.write_queue import writing

LONGEST_TAG, MOST_TAGS = 40, 12


class NoteChangedError(CoreError):
    """Another note is kept by now than the one that the new one was written from."""


def remark(
    market_id: str,
    subject: str,
    note: str | None = None,
    tags: Sequence[str] | None = None,
    *,
    kind: Kind = NICHE,
    was: str | None = None,
) -> Remark:
    """Write a subject's note or tags; None leaves what is there.

    ``was`` is the note that the new one was written from. Tags are told apart without regard to case.
    Raises CoreError for a subject that neither the market nor any decision knows and for tags that are
    none, NoteChangedError where another note than ``was`` is kept by now: then nothing is written.
    """
    if subject not in _known(market_id, kind, [subject]):
        raise no_such(kind, subject, market_id)
    wanted: dict[str, object] = {}
    if note is not None:
        wanted["note"] = note.strip()
    if tags is not None:
        wanted["tags"] = _tags(tags)
    with writing():
        if note is not None and was is not None:
            _check_note(
                Remark.objects.filter(market_id=market_id, kind=kind.key, subject=subject),
                note,
                was,
            )
        made, _ = Remark.objects.update_or_create(
            market_id=market_id, kind=kind.key, subject=subject, defaults=wanted
        )
    return made


def _check_note(remarks: QuerySet[Remark], note: str, was: str) -> None:
    kept = next(iter(remarks.values_list("note", flat=True)), "")
    if kept not in (was.strip(), note.strip()):
        raise NoteChangedError("The note was changed elsewhere meanwhile; nothing was overwritten.")


def _tags(tags: Sequence[str]) -> list[str]:
    plain = {" ".join(tag.split()).lower(): " ".join(tag.split()) for tag in tags}
    plain.pop("", None)
    if len(plain) > MOST_TAGS:
        raise CoreError(f"At most {MOST_TAGS} tags; got {len(plain)}. Remove some.")
    for tag in plain.values():
        if len(tag) > LONGEST_TAG or "," in tag:
            raise CoreError(f"A tag has up to {LONGEST_TAG} letters and no comma; got “{tag}”.")
    return list(plain.values())


def _known(market_id: str, kind: Kind, subjects: Sequence[str]) -> set[str]:
    """Those the market has or a decision knows: one may leave the figures, and keeps its note."""
    decided = Decision.objects.filter(market_id=market_id, kind=kind.key, subject__in=subjects)
    present = subjects_of(market_id, kind, subjects)
    return {*present, *decided.values_list("subject", flat=True)}


def arrange(market_id: str, subjects: Sequence[str], *, kind: Kind = NICHE) -> None:
    """Put a market's subjects of a kind in this order by hand; what is not named loses its place.

    Raises CoreError for one that neither the market nor any decision knows.
    """
    wanted = list(dict.fromkeys(subjects))
    with writing():
        known = _known(market_id, kind, wanted)
        if unknown := [one for one in wanted if one not in known]:
            raise no_such(kind, unknown[0], market_id)
        mine = Remark.objects.filter(market_id=market_id, kind=kind.key)
        mine.exclude(place=None).update(place=None)
        have = {one.subject: one for one in mine.filter(subject__in=wanted)}
        missing = [
            Remark(market_id=market_id, kind=kind.key, subject=subject, place=i)
            for i, subject in enumerate(wanted)
            if subject not in have
        ]
        for i, subject in enumerate(wanted):
            if subject in have:
                have[subject].place = i
        Remark.objects.bulk_update(have.values(), ["place"], batch_size=500)
        Remark.objects.bulk_create(missing)
