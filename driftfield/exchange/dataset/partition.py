"""From a package of exchange tables to a data set in parts, in memory that does not grow with the package.

Files are read a block at a time, each cell checked as everywhere. Rows are set aside by the term or listing
they are of; then bucket by bucket it is found which niche each term belongs to and which parts each listing is
clicked in, and keys and references are checked where all rows of a key lie together; at last the tables are
written part by part. Nothing is written to the data set before all is known to be sound.
"""

from __future__ import annotations

import os
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import polars as pl

from driftfield.core.voices import scrubbed

from .. import blocks, checks
from ..checks import Finding
from ..forms import refusal
from ..mapping import NOTHING_AGREED, Agreed
from ..market_data import LONE_MARKET
from ..package import Package
from ..parse import blank_rows, check_columns, parse_file
from ..places import report
from ..problems import Problems
from ..progress import Progress, untold
from ..read_table import Reading, columns_of, read_table, wide_columns
from ..reader import sources_of
from ..sources import SourceFile, open_package, read_header
from ..tables import Table, tables
from .layout import (
    ROWS,
    WHOLE,
    Manifest,
    Store,
    market_folder,
    part_folder,
    parts_of,
    write_manifest,
)
from .placing import FILE, OF_TERMS, PLACE, ROW, Came, Work, part_of_tables, place
from .staging import Staging

BLOCK = 1 << 26  # Bytes of text read at once.
CELLS = 1 << 22  # Cells that are looked at together.
MOST_PARTS = 10_000


def partition(
    path: Path,
    address: str,
    parts: int,
    *,
    agreed: Agreed = NOTHING_AGREED,
    record_years: int = checks.RECORD_YEARS,
    cap: int | None = None,
    progress: Progress = untold,
) -> Manifest:
    """Write the exchange tables of a folder or zip as a data set of so many parts.

    Parameters
    ----------
    path : Path
        A folder, a zip or one file, as ``read_package`` takes it.
    address : str
        Where the data set is to lie: a folder, or an address that fsspec knows. Nothing may be there yet.
    parts : int
        How many parts; a part should fit into a worker's memory several times.
    agreed, record_years, cap, progress
        As of ``read_package``.

    Returns
    -------
    Manifest
        What the data set holds.

    Raises
    ------
    ExchangeError
        With all problems of the files (the first ``cap`` in full), where any is not as it must be, or where
        something lies at the address already. Nothing is written then.
    """
    if not 1 <= parts <= MOST_PARTS:
        raise refusal(address, f"{parts} parts are not possible.", f"Ask for 1 to {MOST_PARTS:,}.")
    store = Store(address)
    if not store.is_empty():
        raise refusal(
            address, "Something lies there already.", "Give another folder, or remove it first."
        )
    problems = Problems() if cap is None else Problems(cap=cap)
    package = Package(record_years=record_years)
    with TemporaryDirectory(prefix="driftfield-", dir=scratch()) as folder:
        converted = Path(folder) / "converted"
        converted.mkdir()
        sources = sources_of(
            open_package(path), agreed, converted, package, problems, progress, demand=True
        )
        work = Work(
            parts, Staging(Path(folder)), package, problems, Reading(package, problems, {}, progress), progress
        )  # fmt: skip
        for name, table in tables().items():
            for file in sources.get(name, ()):
                progress(f"Reading {file.name}", 0, 0)
                if name in WHOLE:
                    read_table(file, table, work.reading, alone=len(sources[name]) == 1)
                else:
                    _set_aside(file, table, work)
            if name not in sources and table.without:
                package.notes.append(table.without)
        problems.raise_if_any()
        place(work)
        problems.raise_if_any()
        return _write(work, store)


def scratch() -> str | None:
    """Where rows are set aside: DRIFTFIELD_SCRATCH, or where the system puts what is temporary."""
    return os.environ.get("DRIFTFIELD_SCRATCH") or None


def _set_aside(file: SourceFile, table: Table, work: Work) -> None:
    """Read a file block by block, and set its sound rows aside by what they are of."""
    problems = work.problems
    header = read_header(file, problems)
    if header is None:
        return
    wide = table.name == "term_weeks" and header.wide
    columns = wide_columns(header, table) if wide else columns_of(file, header, table, work.reading)
    if problems.by_file[file.name]:
        return
    came = Came(file, header)
    others = work.came.setdefault(table.name, [])
    others.append(came)
    in_blocks = blocks.in_blocks(file, BLOCK)
    if in_blocks and not wide and "week" in header.names:
        days = blocks.dates_in(file, header.separator, header.names.index("week"))
        if days:
            work.package.periods.setdefault(table.name, checks.detect_period(days))
            if span := checks.main_span(days):
                before = work.package.spans.get(table.name)
                work.package.spans[table.name] = span.with_(before) if before else span
    start = done = 0
    for block in blocks.blocks_of(file, BLOCK) if in_blocks else (file,):
        frame = parse_file(block, header, columns, problems)
        if frame is None:
            return  # Where cells begin and end is not known from here on.
        if not in_blocks or b'"' in block.read():
            came.plain = False
        findings: list[Finding] = []
        ready = check_columns(frame, columns, table, work.package, findings, wide=wide)
        if table.one_of:
            findings += checks.check_one_of(frame, table.one_of)
        report(block, header, frame, findings, problems)
        if not any(finding.rows.size for finding in findings):
            rows = start + np.flatnonzero(~blank_rows(frame).to_numpy())
            if table.name == "voices" and "text" in ready.columns:
                # Before anything else sees it, so that it is kept nowhere.
                text = pl.col("text").map_elements(scrubbed, return_dtype=pl.String)
                ready = ready.with_columns(text)
            placed = ready.with_columns(
                pl.Series(FILE, np.full(ready.height, len(others) - 1), dtype=pl.Int32),
                pl.Series(ROW, rows, dtype=pl.Int64),
            )
            for rows_of in placed.iter_slices(max(CELLS // placed.width, 1)):
                _put(table.name, _long(rows_of) if wide else rows_of, work)
        start += frame.height
        done += block.size
        work.progress(f"Reading {file.name}", min(done, file.size), file.size)


def _long(frame: pl.DataFrame) -> pl.DataFrame:
    """A row a term as a row a term and week, in the order of terms and weeks."""
    names = [name for name in frame.columns if name not in {"term", *PLACE}]
    rows = np.repeat(np.arange(frame.height), len(names))
    days = pl.Series("week", names).str.to_date("%Y-%m-%d")
    values = frame.select(pl.col(names).cast(pl.Float64)).to_numpy().ravel()
    long = frame.select("term", *PLACE)[rows].with_columns(
        days[np.tile(np.arange(len(names)), frame.height)],
        pl.Series("searches", values, nan_to_null=True),
    )
    return long.drop_nulls("searches").select("term", "week", "searches", *PLACE)


def _put(name: str, frame: pl.DataFrame, work: Work) -> None:
    """Set rows aside by the key that tells their part: the term, the listing, the niche."""
    known = work.schemas.setdefault(name, {})
    known |= {key: kind for key, kind in frame.schema.items() if key not in {*known, *PLACE}}
    keys = {
        "niches": ["niche_id"],
        "own_sales": ["listing_id", "niche_id"],
        "voices": ["listing_id", "niche_id", "term", "voice_id"],
    }.get(name, ["term"] if name in OF_TERMS else ["listing_id"])
    left = frame
    for key in keys:
        if key not in left.columns:
            continue
        mine = left.filter(pl.col(key).is_not_null())
        table = name if key == keys[0] else f"{name} by {key}"
        work.staging.put(table, mine, parts_of(mine[key], work.parts))
        left = left.filter(pl.col(key).is_null())


def _write(work: Work, store: Store) -> Manifest:
    """Check what is left to be checked part by part; then write, so that nothing is half done."""
    markets = work.package.frames.get("markets")
    default = LONE_MARKET if markets is None else markets["market_id"][0]
    seen: set[str] = set()
    rows: dict[str, int] = {}
    columns: dict[str, dict[str, str]] = {}
    with TemporaryDirectory(prefix="driftfield-", dir=scratch()) as folder:
        ready = Path(folder)
        for part in range(work.parts):
            work.progress("Writing parts", part, work.parts)
            for (name, market), frame in part_of_tables(work, part, default).items():
                seen.add(market)
                rows[name] = rows.get(name, 0) + frame.height
                where = ready / name / market_folder(market) / part_folder(part)
                where.mkdir(parents=True)
                frame.write_parquet(where / ROWS, compression="zstd", compression_level=1)
        work.problems.raise_if_any()
        for name in WHOLE:
            whole = work.package.frames.get(name)
            if whole is not None:
                (ready / name).mkdir(parents=True, exist_ok=True)
                whole.write_parquet(ready / name / ROWS, compression="zstd", compression_level=1)
                rows[name] = whole.height
                columns[name] = {key: str(kind) for key, kind in whole.schema.items()}
        for name in work.came:
            columns[name] = {key: str(kind) for key, kind in work.schemas.get(name, {}).items()}
        _move(work, ready, store)
    created = work.package.created
    manifest = Manifest(
        parts=work.parts, tables=columns, rows=rows, markets=sorted(seen),
        periods={name: period.value for name, period in work.package.periods.items()},
        created=None if created is None else created.isoformat(), notes=list(dict.fromkeys(work.package.notes)),
    )  # fmt: skip
    write_manifest(store, manifest)
    return manifest


def _move(work: Work, ready: Path, store: Store) -> None:
    """Move the finished files to where the data set is to lie; where that breaks off nothing stays there."""
    files = sorted(file for file in ready.rglob("*") if file.is_file())
    try:
        for done, file in enumerate(files):
            work.progress(f"Writing {store.address}", done, len(files))
            store.write(file.read_bytes(), *file.relative_to(ready).parts)
    except BaseException:
        for name in store.names():
            store.remove(name)
        raise
