"""Which subjects of several markets are the same: by their ids, or by matches that were confirmed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass

from django.db.models import Q, QuerySet

from driftfield.core.market import (
    BY_ID,
    CONFIRMED,
    NICHE,
    TERM,
    Kind,
    Matches,
    Named,
    Proposed,
    propose_matches,
)
from driftfield.market.models import Market
from driftfield.readings.chosen import chosen_for
from driftfield.readings.columns import RunColumns, columns_of

from .models import Match

# Terms of a market beyond which niches are no longer proposed by the terms they share.
MOST_TERMS = 200_000


@dataclass(frozen=True, slots=True)
class Member:
    """A subject in one market. how: see ``core.market.matching``."""

    market: Market
    place: int
    id: str
    name: str
    how: str


@dataclass(frozen=True, slots=True)
class Pair:
    """Places of two subjects of two markets that are the same, and how that is known."""

    first: int
    second: int
    how: str


def matches_of(kind: Kind, subject: str | None = None) -> Matches:
    """Confirmed and rejected matches of a kind; of one subject, its own and those they lead on to."""
    decided = Match.objects.filter(kind=kind.key, current=True)
    found = Matches()
    for one in decided if subject is None else _reached(decided, subject):
        found.record(
            (one.market_id, one.subject), (one.other_market_id, one.other_subject), same=one.same
        )
    return found


def _reached(decided: QuerySet[Match], subject: str) -> Iterable[Match]:
    """Decisions on a subject's id in any market, and on all they lead on to."""
    found: dict[int, Match] = {}
    asked: set[str] = set()
    wanted = {subject}
    while wanted:
        asked |= wanted
        named = Q(subject__in=wanted) | Q(other_subject__in=wanted)
        step = {one.pk: one for one in decided.filter(named)}
        found |= step
        wanted = {
            name for one in step.values() for name in (one.subject, one.other_subject)
        } - asked
    return found.values()


@dataclass(frozen=True, slots=True)
class Decided:
    """A confirmed or rejected match: its key and the ids in both markets."""

    key: int
    first: str
    second: str
    same: bool


def decided_between(kind: Kind, market_id: str, other_id: str) -> list[Decided]:
    """The matches of two markets that were confirmed or rejected, ids of the first one named first."""
    low, high = sorted([market_id, other_id])
    found = Match.objects.filter(
        kind=kind.key, current=True, market_id=low, other_market_id=high
    ).order_by("pk")
    turned = low != market_id
    return [
        Decided(one.pk, one.other_subject, one.subject, one.same)
        if turned
        else Decided(one.pk, one.subject, one.other_subject, one.same)
        for one in found
    ]


def analysed_markets() -> list[Market]:
    """All markets that have readings, in the order in which they were loaded."""
    return list(Market.objects.filter(run__isnull=False).select_related("run").order_by("pk"))


def members_of(kind: Kind, market: Market, subject: str) -> list[Member]:
    """A subject in every market that has it, the one that was asked for first."""
    markets = {one.market_id: one for one in analysed_markets()}
    columns = {key: columns_of(one.run, kind) for key, one in markets.items()}
    held = {key: one.places for key, one in columns.items()}
    found = matches_of(kind, subject).everywhere(market.market_id, subject, held)
    return [
        Member(markets[key], held[key][same], same, columns[key].names[held[key][same]], how)
        for key, same, how in found
    ]


def matched_pairs(kind: Kind, market: Market, other: Market) -> list[Pair]:
    """All subjects that two markets have both, in the order of the first one's run."""
    first, second = columns_of(market.run, kind), columns_of(other.run, kind)
    alike: list[tuple[int, int]] = first.kept(
        ("same ids", other.market_id, other.run.pk, other.run.made_at),
        lambda: [
            (at, second.places[subject])
            for at, subject in enumerate(first.ids)
            if subject in second.places
        ],
    )
    decided = decided_between(kind, market.market_id, other.market_id)
    # A decision goes before an id; few are decided on, of many.
    mine = {one.first for one in decided if one.same} | {
        one.first for one in decided if one.first == one.second
    }
    theirs = {one.second for one in decided if one.same}
    by_id = [
        Pair(one, two, BY_ID)
        for one, two in alike
        if first.ids[one] not in mine and second.ids[two] not in theirs
    ]
    confirmed = [
        Pair(first.places[one.first], second.places[one.second], CONFIRMED)
        for one in decided
        if one.same and one.first in first.places and one.second in second.places
    ]
    return sorted([*by_id, *confirmed], key=lambda pair: pair.first) if confirmed else by_id


def proposed_pairs(kind: Kind, market: Market, other: Market) -> list[Proposed]:
    """Possible matches of two markets that are not decided on, surest first.

    Held in memory until either market is analysed anew or is given another language.
    """
    first, second = (columns_of(one.run, kind) for one in (market, other))
    languages = tuple(chosen_for(one.market_id).language for one in (market, other))
    assert len(languages) == 2
    key = ("proposed", other.market_id, other.run.pk, other.run.made_at, languages)
    every = first.kept(
        key,
        lambda: propose_matches(
            _named(first, market), _named(second, other), (languages[0], languages[1])
        ),
    )
    matched = matched_pairs(kind, market, other)
    matches = matches_of(kind)
    taken = ({one.first for one in matched}, {one.second for one in matched})
    return [
        one
        for one in every
        if one.first not in taken[0]
        and one.second not in taken[1]
        and not matches.rejected(
            (market.market_id, first.ids[one.first]), (other.market_id, second.ids[one.second])
        )
    ]


def _named(columns: RunColumns, market: Market) -> list[Named]:
    terms: defaultdict[str, list[str]] = defaultdict(list)
    if columns.kind == NICHE:
        held = columns_of(market.run, TERM)
        if held.count <= MOST_TERMS:
            for term, niche in zip(held.ids, held.owners, strict=True):
                terms[niche].append(term)
    above = [_above(columns, at) for at in range(columns.count)]
    return [
        Named(subject, name, above[at], tuple(terms[subject]))
        for at, (subject, name) in enumerate(zip(columns.ids, columns.names, strict=True))
    ]


def _above(columns: RunColumns, place: int) -> tuple[str, ...]:
    if columns.kind == TERM:
        return ()
    path = columns.category_path(place) if columns.kind == NICHE else columns.path_above(place)
    return tuple(part for part in path.split(" › ") if part)
