"""Writing readings: JSON lines of nested records; CSV, XLSX and Parquet with a column a figure."""

from __future__ import annotations

import io
from concurrent.futures import ThreadPoolExecutor
from contextlib import AbstractContextManager, nullcontext
from pathlib import Path
from typing import IO

import numpy as np
import polars as pl

from driftfield.core.base import Settings
from driftfield.core.market import FIGURES, Figure, FigureType, Workings
from driftfield.core.sentences import IDENTITY, nested, plain, verdict
from driftfield.core.signals import SIGNALS, explain
from driftfield.core.supply import TopQuestion, top_tables

from .formulas import guarded
from .lists import Column, write_list

DECIMALS = 6
LINES = 8192  # Records turned into text at once.
PROFILE_DECIMALS = 4  # A factor's own error is in the second.
LISTS = {FigureType.PROFILE, FigureType.WEEKS}
SHIFTS = pl.List(pl.Struct({"from": pl.String, "size": pl.Float64}))
RAISED = pl.List(pl.Struct({"signal": pl.String, "severity": pl.Float64}))
PAIRS = {FigureType.SHIFTS: ("from", "size"), FigureType.SIGNALS: ("signal", "severity")}
FORMATS = ("jsonl", "csv", "xlsx", "parquet")
NUMBERS = {
    FigureType.AMOUNT,
    FigureType.SHARE,
    FigureType.CHANGE,
    FigureType.RATIO,
    FigureType.SIGNED,
    FigureType.INDEX,
}
OTHERS: dict[FigureType, pl.DataType | type[pl.DataType]] = {
    FigureType.COUNT: pl.Int64, FigureType.FLAG: pl.Boolean, FigureType.PROFILE: pl.List(pl.Float64),
    FigureType.WEEKS: pl.List(pl.Int64), FigureType.SHIFTS: SHIFTS, FigureType.SIGNALS: RAISED,
}  # fmt: skip


def _column(figure: Figure, values: np.ndarray) -> pl.Series:
    if figure.type is FigureType.PROFILE:
        kept = pl.Series(~np.isnan(values[:, 0]))
        lists = pl.Series(np.round(values, PROFILE_DECIMALS)).cast(pl.List(pl.Float64))
        return lists if kept.all() else pl.select(pl.when(kept).then(lists)).to_series()
    if figure.type is FigureType.WEEKS:
        return _shared_lists(values)
    if figure.type is FigureType.SHIFTS:
        return _shifts(values)
    if figure.type is FigureType.SIGNALS:
        return _signals(values)
    if figure.type is FigureType.FLAG:
        return pl.Series(values.astype(bool))
    if values.dtype == object:
        return pl.Series(values.tolist(), dtype=pl.String)
    kind = pl.Int64 if figure.type is FigureType.COUNT else pl.Float64
    if np.isnan(values).all():
        # Tables that are not there leave whole columns without a figure.
        return pl.repeat(None, len(values), dtype=kind, eager=True)
    return pl.Series(np.round(values, DECIMALS), nan_to_null=True).cast(kind)


def _shared_lists(values: np.ndarray) -> pl.Series:
    """Lists as a column. Many rows hold the same list, so each is converted once and then looked up."""
    place: dict[int, int] = {}
    distinct: list[list[int] | None] = []
    codes = []
    for value in values:
        if id(value) not in place:
            place[id(value)] = len(distinct)
            distinct.append(value)
        codes.append(place[id(value)])
    return pl.Series(distinct, dtype=pl.List(pl.Int64)).gather(codes)


def _signals(severities: np.ndarray) -> pl.Series:
    """Lists of raised signals, most severe first, from severities (niches, rules)."""
    row, rule = np.nonzero(~np.isnan(severities))
    keys = pl.Series([r.key for r in SIGNALS], dtype=pl.String)
    found = pl.DataFrame(
        {"row": row, "signal": keys.gather(rule), "severity": np.round(severities[row, rule], 4)}
    )
    lists = (
        found.sort(["row", "severity"], descending=[False, True], maintain_order=True)
        .group_by("row", maintain_order=True)
        .agg(pl.struct("signal", "severity").alias("signals"))
    )
    every = pl.DataFrame({"row": np.arange(len(severities))})
    joined = every.join(lists, on="row", how="left", maintain_order="left")
    return joined.select(pl.col("signals").fill_null(pl.lit([], dtype=RAISED)))["signals"]


def _shifts(values: np.ndarray) -> pl.Series:
    """Lists of level shifts as a column; nearly all are empty, so only the others are converted."""
    some = np.flatnonzero(np.fromiter(map(len, values), np.int64, len(values))).tolist()
    few = pl.DataFrame(
        {"row": some, "shifts": pl.Series([values[row] for row in some], dtype=SHIFTS)},
        schema_overrides={"row": pl.Int64},
    )
    every = pl.DataFrame({"row": np.arange(len(values))})
    joined = every.join(few, on="row", how="left", maintain_order="left")
    return joined.select(pl.col("shifts").fill_null(pl.lit([], dtype=SHIFTS)))["shifts"]


def _said(figures: dict[str, np.ndarray], settings: Settings) -> dict[str, pl.Series]:
    """The sentences of each niche's verdict, and those of its signals."""
    columns = {
        f.key: [plain(f, v) for v in figures[f.key].tolist()]
        for f in FIGURES
        if f.type is not FigureType.PROFILE
    }
    verdicts, evidence = [], []
    for row in zip(*columns.values(), strict=True):
        niche = dict(zip(columns, row, strict=True))
        verdicts.append(verdict(niche, int(settings.lead_days)))
        raised = {item["signal"]: item["severity"] for item in niche["signals"]}
        evidence.append([s.sentence for s in explain(niche, settings, raised)])
    text = pl.List(pl.String)
    return {"verdict": pl.Series(verdicts, dtype=text), "evidence": pl.Series(evidence, dtype=text)}


def readings_frame(
    market_id: str,
    niches: list[str],
    names: list[str],
    figures: dict[str, np.ndarray],
    *,
    said: Settings | None = None,
) -> pl.DataFrame:
    """One row a niche, a column a figure (dotted keys), in rank order; unranked niches come last.

    With the settings in ``said`` the sentences of verdict and signals come too, in columns
    ``verdict`` and ``evidence``.
    """
    columns = {
        "market_id": pl.Series([market_id] * len(niches), dtype=pl.String),
        "niche_id": pl.Series(niches, dtype=pl.String),
        "name": pl.Series(names, dtype=pl.String),
    }
    assert set(columns) == set(IDENTITY)
    for figure in FIGURES:
        columns[figure.key] = _column(figure, figures[figure.key])
    if said is not None:
        columns |= _said(figures, said)
    return in_order(pl.DataFrame(columns))


def in_order(frame: pl.DataFrame) -> pl.DataFrame:
    """Readings by rank, then searches, then id, so that the order never depends on the input's."""
    return frame.sort(
        ["rank", "searches_52w", "niche_id"],
        descending=[False, True, False],
        nulls_last=True,
        maintain_order=True,
    )


def _flat(figure: Figure) -> pl.Expr:
    """A figure as one cell: lists joined by blanks, a level shift as date:size, a signal as key:severity."""
    column = pl.col(figure.key)
    if figure.type in LISTS:
        column = column.cast(pl.List(pl.String)).list.join(" ")
    elif figure.type in PAIRS:
        parts = pl.element().struct
        said = pl.concat_str(
            [parts.field(name).cast(pl.String) for name in PAIRS[figure.type]], separator=":"
        )
        column = column.list.eval(said).list.join(" ")
    return column.alias(figure.column)


def type_of(figure: Figure) -> pl.DataType | type[pl.DataType]:
    """What a figure's column holds; dates are texts in ISO 8601."""
    return OTHERS.get(figure.type, pl.Float64 if figure.type in NUMBERS else pl.String)


def rounded(figure: Figure, column: pl.Series) -> pl.Series:
    """A figure's column without digits that mean nothing."""
    if figure.type is FigureType.PROFILE:
        return column.list.eval(pl.element().round(PROFILE_DECIMALS))
    return column.round(DECIMALS) if column.dtype == pl.Float64 else column


def write_readings(frames: list[pl.DataFrame], out: Path | IO[bytes], format: str) -> None:
    """Write readings; ``format`` is one of FORMATS. Lists are joined by blanks in CSV and XLSX."""
    frame = pl.concat(frames)
    extra = [name for name in ("verdict", "evidence") if name in frame.columns]
    if format in {"csv", "xlsx"}:
        said = [pl.col(name).list.join(" ") for name in extra]
        flat = frame.select([*IDENTITY, *(_flat(f) for f in FIGURES), *said])
        if format == "csv":
            guarded(flat).write_csv(out)
            return
        heads = [Column(name, name) for name in flat.columns]
        book = write_list("xlsx", "Readings", heads, flat.rows(named=True))
        with _opened(out) as file:
            file.write(book)
        return
    if format == "parquet":
        frame.select([*IDENTITY, *(f.key for f in FIGURES), *extra]).write_parquet(out)
        return
    shape = nested({f.key: f for f in FIGURES})
    records = [
        _group(frame, head, item) if isinstance(item, dict) else pl.col(item.key)
        for head, item in shape.items()
    ]
    _write_lines(frame.select([*IDENTITY, *records, *extra]), out)


def _group(frame: pl.DataFrame, head: str, members: dict[str, Figure]) -> pl.Expr:
    """Figures of a group as an object; null where nothing of it is known."""
    keys = [f.key for f in members.values()]
    if all(frame[key].null_count() == frame.height for key in keys):
        return pl.lit(None).alias(head)
    whole = pl.struct([pl.col(f.key).alias(tail) for tail, f in members.items()])
    if any(frame[key].null_count() == 0 for key in keys):
        return whole.alias(head)
    return pl.when(~pl.all_horizontal(pl.col(keys).is_null())).then(whole).alias(head)


def _write_lines(frame: pl.DataFrame, out: Path | IO[bytes]) -> None:
    """JSON lines, turned into text on two threads and written in order."""

    def text(rows: pl.DataFrame) -> bytes:
        buffer = io.BytesIO()
        rows.write_ndjson(buffer)
        return buffer.getvalue()

    with ThreadPoolExecutor(2) as pool, _opened(out) as file:
        for lines in pool.map(text, frame.iter_slices(LINES)):
            file.write(lines)


def _opened(out: Path | IO[bytes]) -> AbstractContextManager[IO[bytes]]:
    return out.open("wb") if isinstance(out, Path) else nullcontext(out)


def niches_that_answer(
    work: Workings, niches: list[str], questions: list[TopQuestion]
) -> list[str] | None:
    """Niches whose most clicked listings say yes to all questions; None where nothing is asked."""
    if not questions:
        return None
    if work.data.listings is None:
        return []
    tables = top_tables(work.supply.members, work.data.listings, work.timeline.end.toordinal())
    yes = np.all([q.answer(tables[q.figure]) for q in questions], axis=0)
    return [niche for niche, kept in zip(niches, yes, strict=True) if kept]
