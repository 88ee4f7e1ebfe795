"""Changes of a market's niches by the researcher, each kept with what it takes to undo it.

A change is two tables of natural keys. places: the niche of terms, None where the files have them. niches:
name and category of those that were made or renamed, None as the files have them.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.market.models import Market, Niche, NicheChange, OwnNiche, Placement
from driftfield.market.own_niches import follow_own, niches_mark, slices
from driftfield.readings.actions import name_niches
from driftfield.readings.grouping import niches_of
from driftfield.readings.linked import check_not_linked

from .write_queue import writing

ALONE = ""  # The niche of a term that stands alone.


@dataclass(slots=True)
class Changed:
    """What is to hold. places: by term, niche and whether by hand. niches: by id, name and category."""

    places: dict[str, tuple[str, bool] | None] = field(default_factory=dict)
    niches: dict[str, tuple[str, str] | None] = field(default_factory=dict)


def change_niches(market: Market, sentence: str, wanted: Changed) -> NicheChange:
    """Let a change hold, and keep what was before. Raises CoreError where it changes nothing."""
    check_not_linked(market)
    with writing():
        before = _held(market.market_id, wanted)
        if before == wanted:
            raise CoreError("That is how it is already. Nothing was changed.")
        homes = niches_of(market, list(wanted.places))
        mark = niches_mark(market.market_id)
        _hold(market.market_id, wanted)
        follow_own(market.market_id)
        made = NicheChange.objects.create(
            market_id=market.market_id,
            sentence=sentence[:1000],
            before=_as_json(before),
            after=_as_json(wanted),
            into=_gone_into(market, homes),
        )
        if not wanted.places:
            name_niches(market, mark, niches_mark(market.market_id))
    return made


def latest_change(market_id: str) -> NicheChange | None:
    """The latest change that stands."""
    return NicheChange.objects.filter(market_id=market_id, undone_at=None).first()


def undo_change(market: Market, key: int | None = None) -> NicheChange:
    """Undo the latest change; ``key`` says which one it is thought to be.

    Raises CoreError where there is none, or where another one was made since.
    """
    with writing():
        last = latest_change(market.market_id)
        if last is None:
            raise CoreError(f"No change of the niches of {market.name} is left to undo.")
        if key is not None and last.pk != key:
            raise CoreError(
                "The niches were changed since, in another window. Nothing was undone; load the page again."
            )
        mark = niches_mark(market.market_id)
        _hold(market.market_id, _from_json(last.before))
        follow_own(market.market_id)
        last.undone_at = timezone.now()
        last.save(update_fields=["undone_at"])
        if not last.before["places"]:
            name_niches(market, mark, niches_mark(market.market_id))
    return last


def part_of(market_id: str, niches: list[str]) -> dict[str, str]:
    """Of niches that lost their terms to another one: the one they are part of now, by their ids."""
    if not niches:
        return {}
    found = _gone(market_id)
    ends = {niche: _end(found, niche) for niche in set(niches)}
    return {niche: end for niche, end in ends.items() if end != niche}


def parts_of(market_id: str, niche: str) -> list[str]:
    """A niche and those that are part of it now, by their ids: what was decided on them holds for it."""
    found = _gone(market_id)
    return [niche, *sorted(one for one in found if one != niche and _end(found, one) == niche)]


def _gone(market_id: str) -> dict[str, str]:
    """Of every niche that lost its terms to another one: which it was."""
    found: dict[str, str] = {}
    changes = NicheChange.objects.filter(market_id=market_id, undone_at=None).exclude(into={})
    for into in changes.order_by("pk").values_list("into", flat=True):
        found |= into
    return found


def _end(found: Mapping[str, str], niche: str) -> str:
    """What a niche has become a part of, itself where that is none."""
    seen, at = {niche}, niche
    while at in found and found[at] not in seen:
        at = found[at]
        seen.add(at)
    return at


def _held(market_id: str, wanted: Changed) -> Changed:
    """What holds now of that which ``wanted`` names."""
    places, niches = {}, {}
    for some in slices(list(wanted.places)):
        for one in Placement.objects.filter(market_id=market_id, term__in=some):
            places[one.term] = (one.niche_id, one.by_hand)
    for some in slices(list(wanted.niches)):
        for own in OwnNiche.objects.filter(market_id=market_id, niche_id__in=some):
            niches[own.niche_id] = (own.name, own.category_id)
    return Changed(
        {term: places.get(term) for term in wanted.places},
        {niche: niches.get(niche) for niche in wanted.niches},
    )


def _hold(market_id: str, wanted: Changed) -> None:
    old = Placement.objects.filter(market_id=market_id)
    for some in slices(list(wanted.places)):
        old.filter(term__in=some).delete()
    Placement.objects.bulk_create(
        (
            Placement(market_id=market_id, term=term, niche_id=place[0], by_hand=place[1])
            for term, place in wanted.places.items()
            if place is not None
        ),
        batch_size=5000,
    )
    for some in slices(list(wanted.niches)):
        OwnNiche.objects.filter(market_id=market_id, niche_id__in=some).delete()
    OwnNiche.objects.bulk_create(
        (
            OwnNiche(market_id=market_id, niche_id=key, name=own[0], category_id=own[1])
            for key, own in wanted.niches.items()
            if own is not None
        ),
        batch_size=5000,
    )


def _gone_into(market: Market, homes: Mapping[str, str]) -> dict[str, str]:
    """Of the niches that terms were in before and that have none now, where most of the terms went."""
    now = niches_of(market, list(homes))
    full = set()
    for some in slices(list(set(homes.values()))):
        found = Niche.objects.filter(market=market, niche_id__in=some, terms__isnull=False)
        full |= set(found.values_list("niche_id", flat=True))
    went: dict[str, Counter[str]] = {}
    for term, old in homes.items():
        if old not in full and term in now:
            went.setdefault(old, Counter())[now[term]] += 1
    return {old: counts.most_common(1)[0][0] for old, counts in went.items()}


def _as_json(changed: Changed) -> dict[str, Any]:
    return {"places": changed.places, "niches": changed.niches}


def _from_json(stored: dict[str, Any]) -> Changed:
    return Changed(
        {t: None if one is None else (one[0], one[1]) for t, one in stored["places"].items()},
        {n: None if one is None else (one[0], one[1]) for n, one in stored["niches"].items()},
    )
