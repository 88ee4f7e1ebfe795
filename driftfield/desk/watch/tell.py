"""What changed since the look before: told once, kept until it is seen, and after."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from typing import Any

import numpy as np

from driftfield.core.market import NICHE, Kind
from driftfield.core.market.watch import Change, Changes, Side, compare
from driftfield.core.sentences import change_sentence
from driftfield.core.sieve import Condition
from driftfield.desk.models import Look, Told
from driftfield.readings.models import Run

from .looks import (
    IDS,
    OF_NAMES,
    read_look_columns,
    side_of,
    sieve_mark,
    sieves_watched,
    standing_looks,
)
from .watched import watched

AGAIN = timedelta(weeks=26)  # After which the same change of a subject counts as another one.
SHOWN = 200  # Subjects named of those that newly pass or fail a sieve.
SIEVE, SIEVE_WEIGHT = "sieve", 18


def look_before(look: Look) -> Look | None:
    """The latest earlier look, of an import that stands, at figures that end no later; None for none."""
    for one in standing_looks(look.market_id):
        if one.pk != look.pk and one.as_of <= look.as_of and one.batch < look.batch:
            return one
    return None


def changes_since(before: Look, after: Look, rate: float, run: Run) -> Changes:
    """What changed from one look to another of what is watched."""
    pairs: list[tuple[Side, Side]] = []
    for kind, ids in watched(after.market_id).items():
        sides = [side_of(one, kind, ids) for one in (before, after)] if ids else []
        if len(sides) == 2 and sides[0] is not None and sides[1] is not None:
            pairs.append((sides[0], sides[1]))
    return compare(pairs, rate, run.made_with)


def tell(run: Run, look: Look) -> list[Told]:
    """Tell what changed with a look, and keep it; what was told of it before and not seen is told anew."""
    before = look_before(look)
    look.told.filter(seen_at=None).delete()
    if before is None:
        return []
    rate = float(run.made_with.watch_rate)
    found = changes_since(before, look, rate, run)
    look.tested = found.tested
    look.save(update_fields=["tested"])
    rows = [_told(one, before, look) for one in found.changes]
    rows += sieve_news(before, look)
    known = _known(look)
    return Told.objects.bulk_create([one for one in rows if one.key not in known], batch_size=200)


def _known(look: Look) -> set[str]:
    """Keys of what was told lately and still stands."""
    since = look.as_of - AGAIN
    standing = [one.pk for one in standing_looks(look.market_id) if one.as_of >= since]
    return set(Told.objects.filter(look__in=standing).values_list("key", flat=True))


def told_key(change: Change) -> str:
    """A fact is another one with another day, a change beyond noise with another direction."""
    day = change.since if change.chance is None else None
    return change.key if day is None else f"{change.key}:{day.isoformat()}"


def figures_of_change(change: Change) -> dict[str, Any]:
    """What belongs to a change, as JSON has it."""
    return {
        "then": change.then, "now": change.now, "low": change.low, "high": change.high,
        "chance": change.chance, "since": None if change.since is None else change.since.isoformat(),
        "up": change.up, "words": change.words,
    }  # fmt: skip


def _told(change: Change, before: Look, after: Look) -> Told:
    return Told(
        market_id=after.market_id, look=after, since_look=before, kind=change.kind.key, subject=change.id,
        name=change.name, aspect=change.aspect.key, key=told_key(change), weight=change.aspect.weight,
        sentence=change_sentence(change), figures=figures_of_change(change),
    )  # fmt: skip


def sieve_news(before: Look, after: Look, kind: Kind = NICHE) -> list[Told]:
    """For each named sieve what newly passes it and what no longer does, with the conditions that decided."""
    sieves = sieves_watched(kind)
    marks = [sieve_mark(conditions) for _, conditions in sieves]
    then = read_look_columns(before, kind, [IDS, *marks])
    now = read_look_columns(after, kind, [IDS, OF_NAMES, *marks])
    if IDS not in then or IDS not in now:
        return []
    ids, names = now[IDS].to_list(), now[OF_NAMES].to_list()
    place = {one: at for at, one in enumerate(then[IDS].to_list())}
    at = np.array([place.get(one, -1) for one in ids], dtype=np.int64)
    rows = []
    for (name, conditions), mark in zip(sieves, marks, strict=True):
        if mark not in then or mark not in now:
            continue  # Its conditions were changed since: it is told from the next import on.
        failed = np.where(at >= 0, then[mark].to_numpy()[at], np.uint64(0))
        fails = now[mark].to_numpy()
        known = at >= 0
        came = np.flatnonzero((fails == 0) & ((failed != 0) | ~known))
        went = np.flatnonzero((fails != 0) & (failed == 0) & known)
        if len(came) or len(went):
            rows.append(
                Told(
                    market_id=after.market_id, look=after, since_look=before, kind="", subject=name, name=name,
                    aspect=SIEVE, key=f"{SIEVE}:{name}:{after.pk}", weight=SIEVE_WEIGHT,
                    sentence=_sieve_sentence(len(came), len(went)),
                    figures={
                        "came": _named(came, ids, names, failed, conditions, known),
                        "went": _named(went, ids, names, fails, conditions, known),
                        "came_count": len(came), "went_count": len(went),
                    },
                )
            )  # fmt: skip
    return rows


def _named(
    places: np.ndarray, ids: Sequence[str], names: Sequence[str], failed: np.ndarray,
    conditions: Sequence[Condition], known: np.ndarray,
) -> list[dict[str, Any]]:  # fmt: skip
    """Who they are, and which conditions decided; of what is new in the figures none did."""
    return [
        {
            "id": ids[row], "name": names[row],
            "why": [
                one.clause.sentence() for bit, one in enumerate(conditions) if int(failed[row]) >> bit & 1
            ] if known[row] else [],
            "new": not known[row],
        }
        for row in places[:SHOWN].tolist()
    ]  # fmt: skip


def _sieve_sentence(came: int, went: int) -> str:
    parts = [f"{came:,} newly {'pass' if came != 1 else 'passes'}"] if came else []
    if went:
        parts.append(f"{went:,} no longer {'pass' if went != 1 else 'passes'}")
    return f"{' and '.join(parts)}."
