"""Looks: the figures that each analysis leaves behind for the watch and the history.

Of niches and categories all are kept, of other kinds those that are watched. The latest ``RECENT`` looks of a
market stay, and of earlier ones the first of each quarter.
"""

from __future__ import annotations

import hashlib
from collections.abc import Collection, Iterable, Sequence
from datetime import date
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, Ints
from driftfield.core.market import (
    CATEGORY,
    FIGURES_BY_KEY,
    KINDS,
    NICHE,
    FigureType,
    Kind,
    figures_of,
)
from driftfield.core.market.watch import Side
from driftfield.core.sieve import Condition, kind_of_sieve, parse_sieve
from driftfield.desk.field import Field
from driftfield.desk.models import Look, LookColumn, Sieve
from driftfield.desk.remembered import REMEMBERED
from driftfield.exchange.changes import figures_compared, values_of
from driftfield.intake.models import Batch
from driftfield.readings.columns import columns_of
from driftfield.readings.models import Run
from driftfield.readings.store import pack, read_columns, unpack

from .watched import watched

RECENT = 104  # Looks of a market that are all kept: two years of weekly imports.
IDS, OF_NAMES = "#ids", "#names"
ALL_IDS = (
    "#all_ids"  # Ids of all of a kind of which only what is watched is kept, for sieves of it.
)
FAILING = (
    "#failing."  # Conditions that each subject fails, by a mark of the sieve's; see ``sieve_mark``.
)
_WHOLE = (NICHE, CATEGORY)
_LISTS = (
    FigureType.SIGNALS,
    FigureType.PROFILE,
    FigureType.SEASONS,
    FigureType.SHIFTS,
    FigureType.WEEKS,
)


def figures_kept(kind: Kind) -> list[str]:
    """Keys of the figures of a kind that a look keeps: what the watch compares and the shortlist shows."""
    wanted = {*figures_compared(kind), *REMEMBERED}
    return [f.key for f in figures_of(kind) if f.key in wanted and f.type not in _LISTS]


def latest_batch() -> int:
    """The latest import that was not undone; 0 for none."""
    found = Batch.objects.filter(undone_at=None).order_by("pk").values_list("pk", flat=True).last()
    return int(found or 0)


def keep_look(run: Run) -> Look:
    """Keep what a run found; it takes the place of what was kept of the same import."""
    market_id = run.market.market_id
    look, _ = Look.objects.update_or_create(
        market_id=market_id,
        batch=latest_batch(),
        defaults={"as_of": run.as_of, "planning": run.planning, "method": run.method},
    )
    look.columns.all().delete()
    mine = watched(market_id)
    kept: dict[str, int] = {}
    rows: list[LookColumn] = []
    for kind in KINDS:
        columns = columns_of(run, kind)
        places = (
            _places(columns.ids, mine[kind]) if kind not in _WHOLE else np.arange(columns.count)
        )
        if not len(places):
            continue
        kept[kind.key] = len(places)
        whole = len(places) == columns.count
        names = {IDS: columns.ids, OF_NAMES: columns.names}
        made = {name: pl.Series(values, dtype=pl.String) for name, values in names.items()}
        made |= dict(read_columns(run, kind, figures_kept(kind)))
        for name, column in made.items():
            part = column if whole else column.gather(places)
            rows.append(LookColumn(look=look, kind=kind.key, name=name, values=pack(_narrow(part))))
    rows += _sieve_columns(look, run)
    LookColumn.objects.bulk_create(rows, batch_size=200)
    look.kept = kept
    look.save(update_fields=["kept"])
    _thin_out(market_id)
    return look


def _places(ids: Sequence[str], wanted: Collection[str]) -> Ints:
    if not wanted:
        return np.empty(0, dtype=np.int64)
    return np.flatnonzero(np.array([one in wanted for one in ids], dtype=bool))


def _narrow(column: pl.Series) -> pl.Series:
    """Single precision has more digits than any of these figures means."""
    return (
        column.cast(pl.Float32)
        if column.dtype.is_numeric() and column.dtype != pl.UInt64
        else column
    )


def _thin_out(market_id: str) -> None:
    """Drop what the rule of this module does not keep."""
    looks = list(
        Look.objects.filter(market_id=market_id).order_by("-pk").values_list("pk", "as_of")
    )
    earlier = looks[RECENT:]
    first: dict[tuple[int, int], int] = {}
    for pk, day in reversed(earlier):
        first.setdefault((day.year, (day.month - 1) // 3), pk)
    stays = set(first.values())
    Look.objects.filter(pk__in=[pk for pk, _ in earlier if pk not in stays]).delete()


def sieves_watched() -> list[tuple[str, Kind, list[Condition]]]:
    """Named sieves with the kind they are of, the first that has all of their figures, and their conditions."""
    found = []
    for name, texts in Sieve.objects.filter(removed_at=None).values_list("name", "conditions"):
        kind = kind_of_sieve(texts)
        if kind is not None:
            found.append((name, kind, parse_sieve(texts, kind)))
    return found


def sieve_mark(conditions: Iterable[Condition]) -> str:
    """What tells the conditions of a sieve from others, whatever its name."""
    texts = "\n".join(one.text for one in conditions)
    return FAILING + hashlib.sha256(texts.encode()).hexdigest()[:24]


def ids_of(kind: Kind) -> str:
    """The column that holds the ids of all of a kind."""
    return IDS if kind in _WHOLE else ALL_IDS


def _sieve_columns(look: Look, run: Run) -> list[LookColumn]:
    made: dict[tuple[Kind, str], LookColumn] = {}
    for _, kind, conditions in sieves_watched():
        for column in _of_sieve(look, run, kind, conditions):
            made.setdefault((kind, column.name), column)
    return list(made.values())


def _of_sieve(
    look: Look, run: Run, kind: Kind, conditions: Sequence[Condition]
) -> list[LookColumn]:
    """What is kept for one sieve: which conditions each subject fails, and whose ids these are."""
    field = Field(run, kind)
    if not field.count:
        return []
    columns = {sieve_mark(conditions): pl.Series(failing(field, conditions), dtype=pl.UInt64)}
    if ids_of(kind) == ALL_IDS:
        columns[ALL_IDS] = pl.Series(field.columns.ids, dtype=pl.String)
    return [
        LookColumn(look=look, kind=kind.key, name=name, values=pack(column))
        for name, column in columns.items()
    ]


def failing(field: Field, conditions: Sequence[Condition]) -> np.ndarray:
    """The conditions that each subject fails, (subjects,), one bit each in their order."""
    found = np.zeros(field.count, dtype=np.uint64)
    for place, condition in enumerate(conditions):
        if condition.on:
            found |= (~condition.clause.passes(field)).astype(np.uint64) << np.uint64(place)
    return found


def note_sieve(run: Run, kind: Kind, conditions: Sequence[Condition]) -> None:
    """Keep with the latest look who passes conditions that were saved after it."""
    look = Look.objects.filter(market_id=run.market.market_id, batch=latest_batch()).first()
    if look is None:
        return
    had = set(look.columns.filter(kind=kind.key).values_list("name", flat=True))
    if sieve_mark(conditions) not in had:
        new = [one for one in _of_sieve(look, run, kind, conditions) if one.name not in had]
        LookColumn.objects.bulk_create(new)


def standing_looks(market_id: str) -> list[Look]:
    """Looks of imports that were not undone, the latest first."""
    undone = set(Batch.objects.exclude(undone_at=None).values_list("pk", flat=True))
    found = Look.objects.filter(market_id=market_id).order_by("-pk")
    return [one for one in found if one.batch not in undone]


def read_look_columns(look: Look, kind: Kind, names: Collection[str]) -> dict[str, pl.Series]:
    """Columns of a look by name; those it does not have are left out."""
    found = look.columns.filter(kind=kind.key, name__in=names).values_list("name", "values")
    return {name: unpack(bytes(packed)) for name, packed in found}


def side_of(look: Look, kind: Kind, wanted: Collection[str] | None = None) -> Side | None:
    """A look at a kind as the watch compares it, of some subjects or of all; None where nothing was kept."""
    keys = figures_compared(kind)
    found = read_look_columns(look, kind, [IDS, OF_NAMES, *keys])
    if IDS not in found:
        return None
    ids, names = found.pop(IDS).to_list(), found.pop(OF_NAMES).to_list()
    columns = {key: values_of(key, column) for key, column in found.items()}
    side = Side(
        kind, look.market_id, ids, names, look.as_of.toordinal(), look.planning.toordinal(), columns
    )
    return side if wanted is None else side.take(_places(ids, wanted))


def history_of(
    market_id: str, kind: Kind, subject: str, keys: Sequence[str]
) -> list[tuple[Look, dict[str, object]]]:
    """Figures of one subject over the looks that knew it, the earliest first.

    Raises CoreError for a figure that is not kept.
    """
    kept = figures_kept(kind)
    if unknown := [key for key in keys if key not in kept]:
        raise CoreError(f"No history is kept of {unknown[0]}. Kept are: {', '.join(kept)}.")
    rows: list[tuple[Look, dict[str, object]]] = []
    for look in reversed(standing_looks(market_id)):
        found = read_look_columns(look, kind, [IDS, *keys])
        ids = found.pop(IDS, pl.Series([], dtype=pl.String))
        place = ids.index_of(subject) if len(ids) else None
        if place is not None:
            rows.append((look, {key: _plain(key, column[place]) for key, column in found.items()}))
    return rows


def _plain(key: str, value: object) -> object:
    if isinstance(value, float):
        whole = FIGURES_BY_KEY[key].type is FigureType.COUNT
        return None if value != value else round(value) if whole else float(f"{value:.6g}")
    return value.isoformat() if isinstance(value, date) else value


def look_row(look: Look) -> dict[str, Any]:
    """A look, by the import that it followed."""
    return {"id": look.pk, "as_of": look.as_of, "made_at": look.made_at, "batch": look.batch}
