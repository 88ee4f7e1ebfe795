"""The shortlist: what was kept and parked, what was known then, and what has changed since."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

from driftfield.core.market import FIGURES_BY_KEY, NICHE, FigureType, Kind

from .models import Choice, Decision, Remark
from .niche_changes import part_of
from .remembered import REMEMBERED, remember, remembered_figures
from .subjects import Subject, figures_of_subjects, subjects_of

# Below this part of the figure then, a number counts as unchanged; the week's noise is no news.
NOISE = 0.01


@dataclass(frozen=True, slots=True)
class Change:
    """A figure that is another now than when the decision was made; JSON values, None for unknown."""

    figure: str
    then: Any
    now: Any


@dataclass(frozen=True, slots=True)
class PartOf:
    """The niche that most terms of one that is gone are in now."""

    id: str
    name: str


@dataclass(frozen=True, slots=True)
class Entry:
    """A subject of the shortlist. name, category: as they are now, or were when it left the market.

    present: whether the market's latest figures know it. part_of: the niche that it was merged into,
    where it was. now: its remembered figures today, empty
    where it is not present. renamed: what it was called at the decision, where that has changed.
    """

    id: str
    name: str
    renamed: str
    category: str
    choice: str
    reason: str
    decided_at: datetime
    decided_as_of: date | None
    as_of: date | None
    present: bool
    part_of: PartOf | None
    note: str
    tags: list[str]
    then: dict[str, Any]
    now: dict[str, Any]
    changes: list[Change]
    profile: list[float] | None = field(repr=False)


@dataclass(frozen=True, slots=True)
class Standing:
    """What the researcher made of one subject; decision is None where it is open."""

    decision: str | None
    reason: str
    note: str
    tags: list[str]


def standing(market_id: str, subject: str, kind: Kind = NICHE) -> Standing:
    """Decision, note and tags of one subject."""
    mine = {"market_id": market_id, "kind": kind.key, "subject": subject}
    held = Decision.objects.filter(current=True, **mine).exclude(choice=Choice.OPEN).first()
    remark = Remark.objects.filter(**mine).first()
    return Standing(
        decision=held.choice if held else None,
        reason=held.reason if held else "",
        note=remark.note if remark else "",
        tags=remark.tags if remark else [],
    )


def read_shortlist(
    market_id: str, choices: Iterable[str] = (Choice.KEEP, Choice.PARK), kind: Kind = NICHE
) -> list[Entry]:
    """What a market's decisions of a kind hold for, by hand-given place, then the latest decision first."""
    mine = {"market_id": market_id, "kind": kind.key}
    found = Decision.objects.filter(current=True, choice__in=list(choices), **mine)
    decisions = list(found.order_by("-pk"))
    remarks = {one.subject: one for one in Remark.objects.filter(**mine)}
    known = subjects_of(market_id, kind, [one.subject for one in decisions])
    shown = (FIGURES_BY_KEY["as_of"], FIGURES_BY_KEY["season_profile"])
    figures = figures_of_subjects(market_id, kind, known, [*shown, *remembered_figures(kind)])
    gone = [one.subject for one in decisions if one.subject not in figures]
    merged = part_of(market_id, gone) if kind == NICHE else {}
    names = {
        subject: one.name for subject, one in subjects_of(market_id, kind, merged.values()).items()
    }
    entries = [
        _entry(
            kind, one, known.get(one.subject), figures.get(one.subject), remarks.get(one.subject),
            PartOf(into, names[into]) if (into := merged.get(one.subject)) in names else None,
        )
        for one in decisions
    ]  # fmt: skip
    place = {subject: one.place for subject, one in remarks.items() if one.place is not None}
    return sorted(entries, key=lambda entry: place.get(entry.id, len(remarks)))


def _entry(
    kind: Kind,
    decision: Decision,
    subject: Subject | None,
    figures: dict[str, Any] | None,
    remark: Remark | None,
    merged: PartOf | None,
) -> Entry:
    now = remember(kind, figures) if figures else {}
    name, category = decision.name or decision.subject, decision.category
    if subject and figures:
        name, category = subject.name, subject.category
    return Entry(
        id=decision.subject,
        name=name,
        renamed=decision.name if decision.name and decision.name != name else "",
        category=category,
        choice=decision.choice,
        reason=decision.reason,
        decided_at=decision.made_at,
        decided_as_of=decision.as_of,
        as_of=figures["as_of"] if figures else None,
        present=figures is not None,
        part_of=merged,
        note=remark.note if remark else "",
        tags=remark.tags if remark else [],
        then=decision.figures,
        now=now,
        changes=changes(decision.figures, now),
        profile=figures["season_profile"] if figures else None,
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
