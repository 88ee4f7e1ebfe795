"""Columns of a run: packed, written in blocks, read whole or for some subjects.

A column is cut into blocks so that one subject's figures cost a block of each column and not the
columns. Each block is an Arrow IPC stream, the open format that ``polars`` reads and writes.
"""

from __future__ import annotations

import io
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from itertools import groupby
from operator import itemgetter
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import Ints
from driftfield.core.market import FIGURES_BY_KEY, Figure, FigureType, Kind
from driftfield.core.signals import SIGNALS_BY_KEY
from driftfield.market.many_rows import insert_columns

from .linked_columns import linked_columns
from .models import Column, Run

BLOCK = 4096  # Subjects whose values lie in one block.
WIDE_BLOCK = 256  # The same for profiles, of which a page of rows shows a few from anywhere.
# Columns beside the figures: the keys of subjects and of their categories in the database; the
# fields of a kind's identity, by OWN and their names; and the listings clicked after a term with their weights.
KEYS, CATEGORIES, OWN = "#keys", "#categories", "#"
CLICKED, CLICKS = "#clicked", "#clicks"
# Curves of categories, by CURVE and the measure; what is stored of listings, by FACT and its name.
# FROM: the period and the day with which the curves begin, one of them for what is sold.
CURVE, FACT, FROM, SOLD_FROM = "#curve.", "#fact.", "#from", "#sold_from"
# Of brands and sellers: keys of the listings they have, or had; the part of each one's units that is theirs;
# whether it is on sale; and “came” or “went” within a year, null for neither.
GOODS, PORTION, ON_SALE, MOVED = "#goods", "#portion", "#on_sale", "#moved"
# The term that each is likely a mistyping of.
MISSPELT_OF = "#misspelt_of"
# What is told of own part in each niche in which one sells, a record of ``exchange.own_part`` as JSON.
OWN_PART = "#own_part"
# The family of each niche, −1 for none, and what ties it to it.
FAMILY, TIES = "#family", "#ties"
_COMPACT: dict[FigureType, Any] = {
    FigureType.WEEKS: pl.List(pl.UInt8),
    FigureType.DATE: pl.Date,
    FigureType.SIGNALS: pl.List(
        pl.Struct({"signal": pl.Enum(list(SIGNALS_BY_KEY)), "severity": pl.Float32})
    ),
}


def compact(figure: Figure, column: pl.Series) -> pl.Series:
    """A figure's column in the narrowest type that loses nothing of it."""
    if figure.choices:
        return column.cast(pl.Enum(figure.choices))
    if figure.type is FigureType.DATE:
        return column.str.to_date()
    if figure.type is FigureType.PROFILE:
        width = int(column.list.len().max() or 1)  # type: ignore[arg-type]
        return column.cast(pl.List(pl.Float32)).list.to_array(width)
    wanted = _COMPACT.get(figure.type)
    return column if wanted is None else column.cast(wanted)


def write_columns(run: Run, kind: Kind, columns: Mapping[str, pl.Series]) -> None:
    """Store columns of a kind, all of one length; those the run had of it are replaced."""
    run.columns.filter(kind=kind.key).delete()
    _insert(run, kind, columns)


def replace_columns(run: Run, kind: Kind, columns: Mapping[str, pl.Series]) -> None:
    """Store some columns of a kind anew and leave its others as they are."""
    run.columns.filter(kind=kind.key, name__in=list(columns)).delete()
    _insert(run, kind, columns)


def _insert(run: Run, kind: Kind, columns: Mapping[str, pl.Series]) -> None:
    rows = [
        (name, block, packed)
        for name, column in columns.items()
        for block, packed in enumerate(_blocks(column, _rows_a_block(name)))
    ]
    names, blocks, values = ([row[i] for row in rows] for i in range(3))
    same = len(rows)
    insert_columns(
        Column,
        {"run_id": [run.pk] * same, "kind": [kind.key] * same, "name": names, "block": blocks,
         "values": values},
    )  # fmt: skip


def _rows_a_block(name: str) -> int:
    figure = FIGURES_BY_KEY.get(name)
    wide = name.startswith(CURVE) or (figure and figure.type is FigureType.PROFILE)
    return WIDE_BLOCK if wide else BLOCK


def _blocks(column: pl.Series, rows: int) -> Iterator[bytes]:
    for start in range(0, len(column), rows) if len(column) else [0]:
        yield pack(column.slice(start, rows))


def pack(column: pl.Series) -> bytes:
    """A column as a compressed Arrow IPC stream."""
    buffer = io.BytesIO()
    frame = column.alias("values").to_frame()
    frame.write_ipc_stream(buffer, compression="zstd", compat_level=pl.CompatLevel.oldest())
    return buffer.getvalue()


def unpack(packed: bytes) -> pl.Series:
    """The column that ``pack`` was given."""
    return pl.read_ipc_stream(io.BytesIO(packed)).to_series()


def _named(name: str, packed: bytes) -> pl.DataFrame:
    """A block as a table of one column; named in place, which costs nothing."""
    frame = pl.read_ipc_stream(io.BytesIO(packed))
    frame.columns = [name]
    return frame


def read_columns(run: Run, kind: Kind, names: Collection[str]) -> Iterator[tuple[str, pl.Series]]:
    """Whole columns in the order of the run, by name; those it does not have are left out."""
    if run.linked:
        linked = linked_columns(run.columns_in, kind.key)
        yield from () if linked is None else linked.whole(names)
        return
    found = run.columns.filter(kind=kind.key, name__in=names).order_by("name", "block")
    blocks = found.values_list("name", "values").iterator()
    for name, parts in groupby(blocks, key=itemgetter(0)):
        yield name, pl.concat([unpack(bytes(packed)) for _, packed in parts])


def read_column(run: Run, kind: Kind, name: str) -> pl.Series | None:
    """A whole column in the order of the run; None where it has no such column."""
    return dict(read_columns(run, kind, [name])).get(name)


def read_rows(
    run: Run, kind: Kind, figures: Iterable[Figure], places: Sequence[int] | Ints
) -> list[dict[str, Any]]:
    """Figures of the subjects at some places, by key, as JSON takes them; dates stay dates."""
    at = np.asarray(places, dtype=np.int64)
    if run.linked:
        return _linked_rows(run, kind, list(figures), at)
    rows: list[dict[str, Any]] = [{} for _ in range(len(at))]
    by_size: dict[int, dict[str, Figure]] = {}
    for figure in figures:
        by_size.setdefault(_rows_a_block(figure.key), {})[figure.key] = figure
    for size, wanted in by_size.items():
        for row in rows:
            row |= dict.fromkeys(wanted)
        blocks = at // size
        inside = {
            block: np.flatnonzero(blocks == block).tolist() for block in np.unique(blocks).tolist()
        }
        found = run.columns.filter(kind=kind.key, name__in=list(wanted), block__in=list(inside))
        ordered = found.order_by("block").values_list("block", "name", "values")
        whole, owners, picked, before = [], [], [], 0
        for block, packed in groupby(ordered, key=itemgetter(0)):
            mine = inside[block]
            columns = [_named(name, bytes(one)) for _, name, one in packed]
            frame = columns[0] if len(columns) == 1 else pl.concat(columns, how="horizontal")
            whole.append(frame)
            owners += mine
            picked.append(at[mine] - block * size + before)
            before += len(frame)
        if not whole:
            continue
        # What blocks lack of one another is told as unknown. Picked from all of them at once, since picking
        # costs more than what is picked.
        together = pl.concat(whole, how="diagonal") if len(whole) > 1 else whole[0]
        found_rows = together[pl.Series(np.concatenate(picked), dtype=pl.UInt32)]
        for name in found_rows.columns:
            for place, value in zip(owners, plain(wanted[name], found_rows[name]), strict=True):
                rows[place][name] = value
    return rows


def _linked_rows(
    run: Run, kind: Kind, figures: Sequence[Figure], places: Ints
) -> list[dict[str, Any]]:
    linked = linked_columns(run.columns_in, kind.key)
    found = pl.DataFrame() if linked is None else linked.some([f.key for f in figures], places)
    unknown = [None] * len(places)
    columns = {f.key: plain(f, found[f.key]) if f.key in found else unknown for f in figures}
    return [dict(zip(columns, row, strict=True)) for row in zip(*columns.values(), strict=True)]


def names_with(run: Run, kind: Kind, prefix: str) -> list[str]:
    """Names of a kind's columns that begin with a prefix, in order."""
    if run.linked:
        linked = linked_columns(run.columns_in, kind.key)
        names = [] if linked is None else linked.names
        return sorted(name for name in names if name.startswith(prefix))
    found = run.columns.filter(kind=kind.key, name__startswith=prefix, block=0)
    return sorted(found.values_list("name", flat=True))


def plain(figure: Figure, column: pl.Series) -> list[Any]:
    """A stored column's values as JSON takes them: None for unknown; dates stay dates."""
    if figure.type is FigureType.PROFILE:
        return plain_profiles(column.to_numpy())
    values = column.to_list()
    if figure.type is FigureType.SIGNALS:
        return [[{**one, "severity": round(one["severity"], 4)} for one in v] for v in values]
    return values


def plain_profiles(rows: np.ndarray) -> list[list[float] | None]:
    """Profiles, (subjects, periods), NaN for unknown, as JSON takes them."""
    # The nearest number of four digits, which is what went in.
    found = np.round(rows.astype(np.float64), 4).tolist()
    return [None if one[0] != one[0] else one for one in found]
