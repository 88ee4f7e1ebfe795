"""Writing readings: JSON lines of nested records; CSV, XLSX and Parquet with a column a figure."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import AbstractContextManager, nullcontext
from pathlib import Path
from typing import IO

import numpy as np
import polars as pl

from driftfield.core.base import Settings
from driftfield.core.market import Figure, FigureType, Kind, figures_of
from driftfield.core.sentences import nested, plain, verdict
from driftfield.core.signals import explain

from .columns import series_of, shortened
from .formulas import guarded
from .lists import Column, figure_column, write_list

LINES = 8192  # Records turned into text at once.
LISTS = {FigureType.PROFILE, FigureType.WEEKS}
PARTS: dict[FigureType, tuple[str, ...]] = {
    FigureType.SHIFTS: ("from", "size"), FigureType.SIGNALS: ("signal", "severity"),
    FigureType.SEASONS: ("rise", "peak_start", "peak_end", "wind_down", "end", "share", "caught"),
}  # fmt: skip
FORMATS = ("jsonl", "csv", "xlsx", "parquet")


def _sentences(
    kind: Kind, figures: dict[str, np.ndarray], settings: Settings, currency: str
) -> dict[str, pl.Series]:
    """The sentences of each subject's verdict, and those of its signals."""
    columns = {
        f.key: [plain(f, v) for v in figures[f.key].tolist()]
        for f in figures_of(kind)
        if f.type is not FigureType.PROFILE
    }
    verdicts, evidence = [], []
    for row in zip(*columns.values(), strict=True):
        subject = dict(zip(columns, row, strict=True))
        verdicts.append(verdict(subject, int(settings.lead_days), kind, currency))
        raised = {item["signal"]: item["severity"] for item in subject.get("signals", ())}
        evidence.append([s.sentence for s in explain(subject, settings, raised, currency)])
    text = pl.List(pl.String)
    return {"verdict": pl.Series(verdicts, dtype=text), "evidence": pl.Series(evidence, dtype=text)}


def readings_frame(
    kind: Kind,
    identity: Mapping[str, Sequence[str | None]],
    figures: dict[str, np.ndarray],
    *,
    sentences: Settings | None = None,
    currency: str = "",
) -> pl.DataFrame:
    """One row a subject, a column a figure (dotted keys), in rank order; what has no rank comes last.

    ``identity`` are the columns of the kind's identity.

    With the settings in ``sentences`` the sentences of verdict and signals come too, in columns
    ``verdict`` and ``evidence``, amounts in ``currency`` (ISO 4217).
    """
    columns = {name: pl.Series(list(identity[name]), dtype=pl.String) for name in kind.fields}
    for figure in figures_of(kind):
        columns[figure.key] = shortened(series_of(figure, figures[figure.key]))
    if sentences is not None:
        columns |= _sentences(kind, figures, sentences, currency)
    return in_order(kind, pl.DataFrame(columns))


def in_order(kind: Kind, frame: pl.DataFrame) -> pl.DataFrame:
    """Readings by rank, where the kind has one, then by size, then id: never by the input's order."""
    ranked = ["rank"] if "rank" in frame.columns else []
    return frame.sort(
        [*ranked, kind.size, kind.subject],
        descending=[False for _ in ranked] + [True, False],
        nulls_last=True,
        maintain_order=True,
    )


def _flat(figure: Figure) -> pl.Expr:
    """A figure as one cell: lists joined by blanks, the parts of an object by colons."""
    column = pl.col(figure.key)
    if figure.type in LISTS:
        column = column.cast(pl.List(pl.String)).list.join(" ")
    elif figure.type in PARTS:
        parts = pl.element().struct
        joined = pl.concat_str(
            [parts.field(name).cast(pl.String) for name in PARTS[figure.type]], separator=":"
        )
        column = column.list.eval(joined).list.join(" ")
    return column.alias(figure.column)


def write_readings(
    kind: Kind,
    frames: list[pl.DataFrame],
    out: Path | IO[bytes],
    format: str,
    *,
    currency: str = "",
) -> None:
    """Write readings; ``format`` is one of FORMATS. Lists are joined by blanks in CSV and XLSX.

    A sheet is headed by what the figures are called, the other forms by the names of the columns.
    ``currency``: ISO 4217 code, where all amounts are in one.
    """
    frame = pl.concat(frames)
    extra = [name for name in ("verdict", "evidence") if name in frame.columns]
    if format in {"csv", "xlsx"}:
        sentences = [pl.col(name).list.join(" ") for name in extra]
        flat = frame.select([*kind.fields, *(_flat(f) for f in figures_of(kind)), *sentences])
        if format == "csv":
            guarded(flat).write_csv(out)
            return
        heads = [
            *(Column(name, name.replace("_", " ").capitalize()) for name in kind.fields),
            *(figure_column(one, currency, key=one.column) for one in figures_of(kind)),
            *(Column(name, name.capitalize()) for name in extra),
        ]
        book = write_list("xlsx", "Readings", heads, flat.rows(named=True))
        with _opened(out) as file:
            file.write(book)
        return
    if format == "parquet":
        frame.select([*kind.fields, *(f.key for f in figures_of(kind)), *extra]).write_parquet(out)
        return
    shape = nested({f.key: f for f in figures_of(kind)})
    records = [
        _group(frame, head, item) if isinstance(item, dict) else pl.col(item.key)
        for head, item in shape.items()
    ]
    _write_lines(frame.select([*kind.fields, *records, *extra]), out)


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
