"""The shortlist: what was kept and parked, what was known then, and what has changed since."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

from driftfield.core.market import FIGURES_BY_KEY, FigureType
from driftfield.market.models import Niche
from driftfield.readings.models import Reading

from .models import Choice, Decision, Remark
from .remembered import REMEMBERED, remember

# Below this part of the figure then, a number counts as unchanged; the week's noise is no news.
NOISE = 0.01


@dataclass(frozen=True, slots=True)
class Change:
    """A figure that is another now than when the decision was made; JSON values, None for unknown."""

    figure: str
    then: Any
    now: Any


@dataclass(frozen=True, slots=True)
class Entry:
    """A niche of the shortlist. name, category: as they are now, or were when it left the market.

    present: whether the market's latest figures know it. now: its remembered figures today, empty
    where it is not present. renamed: what it was called at the decision, where that has changed.
    """

    niche_id: str
    name: str
    renamed: str
    category: str
    choice: str
    reason: str
    decided_at: datetime
    decided_as_of: date | None
    as_of: date | None
    present: bool
    note: str
    tags: list[str]
    then: dict[str, Any]
    now: dict[str, Any]
    changes: list[Change]
    profile: list[float] | None = field(repr=False)


@dataclass(frozen=True, slots=True)
class Standing:
    """What the researcher made of one niche; decision is None where it is open."""

    decision: str | None
    reason: str
    note: str
    tags: list[str]


def standing(market_id: str, niche_id: str) -> Standing:
    """Decision, note and tags of one niche."""
    mine = {"market_id": market_id, "niche_id": niche_id}
    held = Decision.objects.filter(current=True, **mine).exclude(choice=Choice.OPEN).first()
    remark = Remark.objects.filter(**mine).first()
    return Standing(
        decision=held.choice if held else None,
        reason=held.reason if held else "",
        note=remark.note if remark else "",
        tags=remark.tags if remark else [],
    )


def read_shortlist(
    market_id: str, choices: Iterable[str] = (Choice.KEEP, Choice.PARK)
) -> list[Entry]:
    """The niches a market's decisions hold for, by hand-given place, then the latest decision first."""
    found = Decision.objects.filter(market_id=market_id, current=True, choice__in=list(choices))
    decisions = list(found.order_by("-pk"))
    ids = [one.niche_id for one in decisions]
    remarks = {one.niche_id: one for one in Remark.objects.filter(market_id=market_id)}
    # By the niches' own keys: a condition on both would read every reading of the market.
    known = Niche.objects.filter(market__market_id=market_id, niche_id__in=ids)
    keys = list(known.values_list("pk", flat=True))
    readings = {
        reading.niche.niche_id: reading
        for reading in Reading.objects.filter(pk__in=keys).select_related("niche__category__parent")
    }
    entries = [
        _entry(one, readings.get(one.niche_id), remarks.get(one.niche_id)) for one in decisions
    ]
    place = {niche: remark.place for niche, remark in remarks.items() if remark.place is not None}
    return sorted(entries, key=lambda entry: place.get(entry.niche_id, len(remarks)))


def _entry(decision: Decision, reading: Reading | None, remark: Remark | None) -> Entry:
    now = remember(reading) if reading else {}
    name, category = decision.name or decision.niche_id, decision.category
    if reading:
        niche = reading.niche
        name, category = niche.name, niche.category.path if niche.category else ""
    return Entry(
        niche_id=decision.niche_id,
        name=name,
        renamed=decision.name if decision.name and decision.name != name else "",
        category=category,
        choice=decision.choice,
        reason=decision.reason,
        decided_at=decision.made_at,
        decided_as_of=decision.as_of,
        as_of=getattr(reading, "as_of", None),
        present=reading is not None,
        note=remark.note if remark else "",
        tags=remark.tags if remark else [],
        then=decision.figures,
        now=now,
        changes=changes(decision.figures, now),
        profile=getattr(reading, "season_profile", None),
    )


def changes(then: dict[str, Any], now: dict[str, Any]) -> list[Change]:
    """What is another now than then, in the order of ``REMEMBERED``; nothing where either is empty."""
    if not then or not now:
        return []
    return [
        Change(key, then.get(key), now.get(key))
        for key in REMEMBERED
        if key in then and _differs(key, then[key], now.get(key))
    ]


def _differs(key: str, then: Any, now: Any) -> bool:
    numbers = isinstance(then, int | float) and isinstance(now, int | float)
    if not numbers or FIGURES_BY_KEY[key].type is FigureType.COUNT:
        return bool(then != now)
    if FIGURES_BY_KEY[key].type is FigureType.CHANGE:
        return bool(abs(now - then) > NOISE)
    return bool(abs(now - then) > NOISE * max(abs(then), abs(now)))
