"""Confirm or reject matches of two subjects of two markets, and undo that."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from django.db.models import Q, QuerySet
from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.core.market import Kind
from driftfield.desk.models import Match
from driftfield.desk.subjects import no_such, subjects_of
from driftfield.desk.write_queue import writing


@dataclass(frozen=True, slots=True)
class MatchDecision:
    """Two subjects by their markets and ids, and whether they are the same."""

    market_id: str
    subject: str
    other_market_id: str
    other_subject: str
    same: bool = True


def match(kind: Kind, decisions: Iterable[MatchDecision]) -> list[Match]:
    """Confirm or reject matches. An earlier decision on a pair is replaced, and so is an earlier match of a
    subject in that market.

    Raises CoreError for a subject that its market does not have, and for two of one market; then nothing
    is written.
    """
    made = []
    with writing():
        for one in decisions:
            _check(kind, one)
            made.append(_record(kind, one))
    return made


def undo_matches(keys: Iterable[int]) -> list[Match]:
    """Undo decisions on matches by their keys; what each one replaced holds again.

    Raises CoreError for a key there is not, one that was undone, and one that a later decision replaced;
    then nothing is undone.
    """
    undone = []
    with writing():
        # The latest first, so that what it replaced holds again before that is undone.
        for key in sorted(set(keys), reverse=True):
            found = Match.objects.filter(pk=key).first()
            if found is None:
                raise CoreError("There is no such match. Reload the page.")
            if found.undone_at is not None or not found.current:
                raise CoreError("This was undone already, or a later decision replaced it.")
            found.current, found.undone_at = False, timezone.now()
            found.save(update_fields=["current", "undone_at"])
            for was in found.ended.all():
                _restore(was)
            undone.append(found)
    return undone


def _check(kind: Kind, one: MatchDecision) -> None:
    if one.market_id == one.other_market_id:
        raise CoreError(
            f"“{one.subject}” and “{one.other_subject}” are of one market. Name two markets."
        )
    for market, subject in (
        (one.market_id, one.subject),
        (one.other_market_id, one.other_subject),
    ):
        if subject not in subjects_of(market, kind, [subject]):
            raise no_such(kind, subject, market)


def _record(kind: Kind, one: MatchDecision) -> Match:
    (market, subject), (other, other_subject) = sorted(
        [(one.market_id, one.subject), (one.other_market_id, one.other_subject)]
    )
    made = Match(
        kind=kind.key, market_id=market, subject=subject, other_market_id=other,
        other_subject=other_subject, same=one.same,
    )  # fmt: skip
    before = [was.pk for was in _against(made)]
    # One decision a pair may be current at any moment, so the earlier ones end first.
    Match.objects.filter(pk__in=before).update(current=False)
    made.save()
    Match.objects.filter(pk__in=before).update(ended_by=made)
    return made


def _against(one: Match) -> QuerySet[Match]:
    """Decisions that hold and cannot hold beside one: on the same pair, and matches of either of the two."""
    either = Q(subject=one.subject) | Q(other_subject=one.other_subject)
    pair = Q(subject=one.subject, other_subject=one.other_subject)
    return Match.objects.filter(
        pair | (Q(same=True) & either if one.same else pair), kind=one.kind, current=True,
        market_id=one.market_id, other_market_id=one.other_market_id,
    )  # fmt: skip


def _restore(was: Match) -> None:
    """A decision holds again, or waits for the undoing of one that was made against it meanwhile."""
    was.ended_by = _against(was).order_by("-pk").first()
    was.current = was.ended_by is None
    was.save(update_fields=["current", "ended_by"])
