"""What changed since the look before: told once, kept until it is seen, and after."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from datetime import timedelta
from typing import Any

import numpy as np

from driftfield.core.market import Kind
from driftfield.core.market.watch import Change, Changes, Side, compare
from driftfield.core.sentences import change_sentence
from driftfield.core.sieve import Condition
from driftfield.desk.models import Look, Told
from driftfield.readings.columns import columns_of
from driftfield.readings.models import Run

from .looks import (
    ids_of,
    read_look_columns,
    side_of,
    sieve_mark,
    sieves_watched,
    standing_looks,
)
from .watched import watched

AGAIN_WEEKS = 26  # After which the same change of a subject counts as another one.
SHOWN = 200  # Subjects named of those that newly pass or fail a sieve.
SIEVE, SIEVE_WEIGHT = "sieve", 100


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
    here, lately = _keys(look, 0), _keys(look, AGAIN_WEEKS)
    rows = [
        told_of(one, look)
        for one in found.changes
        # What went far beyond what was told is told again, once with each import.
        if (key := told_key(one, look)) not in here and (one.further or key not in lately)
    ]
    rows += [one for one in sieve_news(before, look, run) if one.key not in here]
    return Told.objects.bulk_create(rows, batch_size=200)


def _keys(look: Look, weeks: int) -> set[str]:
    """Keys of what was told with a look, or so many weeks up to it, and still stands."""
    if not weeks:
        return set(look.told.values_list("key", flat=True))
    since = look.as_of - timedelta(weeks=weeks)
    standing = [one.pk for one in standing_looks(look.market_id) if one.as_of >= since]
    return set(Told.objects.filter(look__in=standing).values_list("key", flat=True))


def told_key(change: Change, look: Look) -> str:
    """What tells a change from others: a fact by its day or its look, one beyond noise by its direction."""
    if change.chance is not None:
        return change.key
    day = change.since if change.aspect.dated else None
    return f"{change.key}:{day or look.as_of}"


def told_of(change: Change, look: Look) -> Told:
    """A change as it is told with a look; not kept yet."""
    figures = {
        "then": change.then, "now": change.now, "low": change.low, "high": change.high,
        "chance": change.chance, "since": None if change.since is None else change.since.isoformat(),
        "up": change.up, "words": change.words,
    }  # fmt: skip
    return Told(
        market_id=look.market_id, look=look, kind=change.kind.key, subject=change.id, name=change.name,
        aspect=change.aspect.key, key=told_key(change, look), weight=change.aspect.weight,
        sentence=change_sentence(change), figures=figures,
    )  # fmt: skip


def sieve_news(before: Look, after: Look, run: Run) -> list[Told]:
    """For each named sieve what newly passes it and what no longer does, with the conditions that decided."""
    by_kind: dict[Kind, list[tuple[str, list[Condition]]]] = {}
    for name, kind, conditions in sieves_watched():
        by_kind.setdefault(kind, []).append((name, conditions))
    return [
        one
        for kind, sieves in by_kind.items()
        for one in _news_of(kind, sieves, before, after, run)
    ]


def _news_of(
    kind: Kind, sieves: Sequence[tuple[str, list[Condition]]], before: Look, after: Look, run: Run
) -> Iterator[Told]:
    marks = [sieve_mark(conditions) for _, conditions in sieves]
    own = ids_of(kind)
    then, now = (read_look_columns(look, kind, [own, *marks]) for look in (before, after))
    if own not in then or own not in now:
        return
    ids = now[own].to_list()
    place = {one: at for at, one in enumerate(then[own].to_list())}
    at = np.array([place.get(one, -1) for one in ids], dtype=np.int64)
    columns = columns_of(run, kind)

    def name_of(row: int) -> str:
        found = columns.places.get(ids[row])
        return ids[row] if found is None else columns.names[found]

    for (name, conditions), mark in zip(sieves, marks, strict=True):
        if mark not in then or mark not in now:
            continue  # Its conditions were changed since: it is told from the next import on.
        failed = np.where(at >= 0, then[mark].to_numpy()[at], np.uint64(0))
        fails = now[mark].to_numpy()
        known = at >= 0
        came = np.flatnonzero((fails == 0) & ((failed != 0) | ~known))
        went = np.flatnonzero((fails != 0) & (failed == 0) & known)
        if len(came) or len(went):
            yield Told(
                market_id=after.market_id, look=after, kind=kind.key, subject=name, name=name,
                aspect=SIEVE, key=f"{SIEVE}:{name}:{after.pk}", weight=SIEVE_WEIGHT,
                sentence=_sieve_sentence(len(came), len(went)),
                figures={
                    "came": _named(came, ids, name_of, failed, conditions, known),
                    "went": _named(went, ids, name_of, fails, conditions, known),
                    "came_count": len(came), "went_count": len(went),
                },
            )  # fmt: skip


def _named(
    places: np.ndarray, ids: Sequence[str], name_of: Callable[[int], str], failed: np.ndarray,
    conditions: Sequence[Condition], known: np.ndarray,
) -> list[dict[str, Any]]:  # fmt: skip
    """Who they are, and which conditions decided; of what is new in the figures none did."""
    return [
        {
            "id": ids[row], "name": name_of(row),
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
