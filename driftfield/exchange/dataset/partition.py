"""From a package of exchange tables to a data set in parts, in memory that does not grow with the package.

Files are read a block at a time, each cell checked as everywhere. Rows are set aside by the term or listing
they are of; then bucket by bucket it is found which niche each term belongs to and which parts each listing is
clicked in, and keys and references are checked where all rows of a key lie together; at last the tables are
written part by part. Nothing is written to the data set before all is known to be sound.
"""

from __future__ import annotations

import os
from dataclasses import dataclass, field
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import polars as pl

from driftfield.core.voices import scrubbed

from .. import blocks, checks
from ..checks import Finding
from ..forms import refusal
from ..mapping import NOTHING_AGREED, Agreed
from ..market_data import LONE_MARKET, niche_ids
from ..package import Package
from ..parse import blank_rows, check_columns, parse_file
from ..places import report
from ..problems import Problem, Problems
from ..progress import Progress, untold
from ..read_table import Reading, columns_of, read_table, wide_columns
from ..reader import sources_of
from ..sources import Header, SourceFile, open_package, read_header
from ..tables import Table, tables
from .layout import (
    PARTED,
    ROWS,
    WHOLE,
    Manifest,
    Store,
    market_folder,
    part_folder,
    parts_of,
    write_manifest,
)
from .staging import Staging

BLOCK = 1 << 26  # Bytes of text read at once.
MOST_PARTS = 10_000
FILE, ROW = "__file", "__row"  # Where a row comes from, until its part is written.
PLACE = (FILE, ROW)
# The tables whose rows are of terms; those of listings have a listing_id.
OF_TERMS = ("terms", "term_weeks", "interest", "term_clicks")
OF_LISTINGS = ("listings", "listing_weeks", "offers", "feedback", "voices", "own_sales")


@dataclass(slots=True)
class _Came:
    """A file as it was read: its header, and whether a line is a row of it."""

    file: SourceFile
    header: Header
    plain: bool = True


@dataclass(slots=True)
class _Work:
    """A package being put in parts. wheres: files by table in the order they came."""

    parts: int
    staging: Staging
    package: Package
    problems: Problems
    reading: Reading
    progress: Progress
    came: dict[str, list[_Came]] = field(default_factory=dict)
    schemas: dict[str, dict[str, pl.DataType]] = field(default_factory=dict)

    def found(self, table: str, frame: pl.DataFrame, findings: list[Finding]) -> None:
        """Note what is wrong with rows that were set aside, by the file and line they came from."""
        for finding in findings:
            for row in finding.rows.tolist():
                file, line = frame[FILE][row], frame[ROW][row]
                came = self.came[table][file]
                value = frame[finding.column][row] if finding.column in frame.columns else None
                text = "" if value is None else str(value)[:60]
                if self.problems.room():
                    self.problems.add(
                        Problem(came.file.name, finding.message.replace("{value}", text), finding.remedy,
                                _line_of(came, line), finding.column, text or None)
                    )  # fmt: skip
                else:
                    self.problems.tally(came.file.name, 1)


def _line_of(came: _Came, row: int) -> int:
    """The line on which a row of a file stands."""
    if came.plain and came.file.origin is None:
        return row + 2 - came.file.before
    line = came.file.lines_of_rows(came.header.separator, {row}).get(row, 1)
    line = max(line - came.file.before, 1)
    return line if came.file.origin is None else came.file.origin.lines({line}).get(line, line)


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
        work = _Work(
            parts, Staging(Path(folder)), package, problems, Reading(package, problems, {}, progress), progress
        )  # fmt: skip
        for name, table in tables().items():
            for file in sources.get(name, ()):
                progress(f"Reading {file.name}", 0, 0)
                if name in WHOLE:
                    read_table(file, table, work.reading, alone=len(sources[name]) == 1)
                else:
                    _set_aside(file, table, work, alone=len(sources[name]) == 1)
        problems.raise_if_any()
        _place(work)
        problems.raise_if_any()
        return _write(work, store)


def scratch() -> str | None:
    """Where rows are set aside: DRIFTFIELD_SCRATCH, or where the system puts what is temporary."""
    return os.environ.get("DRIFTFIELD_SCRATCH") or None


def _set_aside(file: SourceFile, table: Table, work: _Work, *, alone: bool) -> None:
    """Read a file block by block, and set its sound rows aside by what they are of."""
    problems = work.problems
    header = read_header(file, problems)
    if header is None:
        return
    wide = table.name == "term_weeks" and header.wide
    columns = wide_columns(header, table) if wide else columns_of(file, header, table, work.reading)
    if problems.by_file[file.name]:
        return
    came = _Came(file, header)
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
            _put(table.name, _long(placed) if wide else placed, work)
        start += frame.height
        done += block.size
        work.progress(f"Reading {file.name}", min(done, file.size), file.size)


def _long(frame: pl.DataFrame) -> pl.DataFrame:
    """A row a term as a row a term and week."""
    names = [name for name in frame.columns if name not in {"term", *PLACE}]
    return (
        frame.unpivot(names, index=["term", *PLACE], variable_name="week", value_name="searches")
        .drop_nulls("searches")
        .with_columns(pl.col("week").str.to_date("%Y-%m-%d"), pl.col("searches").cast(pl.Float64))
        .select("term", "week", "searches", *PLACE)
    )


def _put(name: str, frame: pl.DataFrame, work: _Work) -> None:
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


def _taken(work: _Work, table: str, bucket: int, key: tuple[str, ...]) -> pl.DataFrame | None:
    """The rows of a bucket in the order they came, those that stand in several files once."""
    frame = work.staging.take(table, bucket)
    if frame is None:
        return None
    frame = frame.sort(PLACE)
    name = table.partition(" ")[0]
    here = [one for one in key if one in frame.columns]
    again = frame.select(again=~pl.struct(here).is_first_distinct())["again"].to_numpy()
    if not again.any():
        return frame
    rows = np.flatnonzero(again)
    first = frame.with_row_index("__at").select(pl.col("__at").first().over(here))["__at"]
    before = first.to_numpy()[rows]
    same_file = frame[FILE].to_numpy()[rows] == frame[FILE].to_numpy()[before]
    values = frame.drop(*PLACE)
    pairs = zip(rows.tolist(), before.tolist(), strict=True)
    differs = np.array([values.row(a) != values.row(b) for a, b in pairs])
    work.found(name, frame, [checks.key_again(rows[same_file], here)])
    work.found(
        name, frame,
        [Finding(rows[~same_file & differs], here[0],
                 f"Another file says something else of the same {' and '.join(here)}.", "Keep one of them.")],
    )  # fmt: skip
    return frame.filter(pl.Series(~again))


def _check(work: _Work, name: str, frame: pl.DataFrame, ids: dict[str, set[str]]) -> None:
    """What rows refer to must be there, in tables that are known of at all."""
    findings: list[Finding] = []
    for reference in tables()[name].references:
        known = ids.get(reference.table)
        if known is None:
            known = work.reading.named(reference.table)
        if known is not None and reference.column in frame.columns:
            findings += checks.check_reference(
                frame, reference.column, known, f"{reference.table}.csv"
            )
    work.found(name, frame, findings)


def _place(work: _Work) -> None:
    """Move all rows from the buckets of their terms and listings to the parts of their niches."""
    for bucket in range(work.parts):
        work.progress("Sorting terms into parts", bucket, work.parts)
        _place_terms(work, bucket)
    for bucket in range(work.parts):
        work.progress("Sorting listings into parts", bucket, work.parts)
        _place_listings(work, bucket)


def _place_terms(work: _Work, bucket: int) -> None:
    frames = {name: _taken(work, name, bucket, tables()[name].key) for name in OF_TERMS}
    terms = frames["terms"]
    niche_of: dict[str, str] = {}
    if terms is not None and "niche_id" in terms.columns:
        known = terms.drop_nulls("niche_id")
        niche_of = dict(zip(known["term"].to_list(), known["niche_id"].to_list(), strict=True))
    ids = {
        name: set(frame["term"].to_list()) for name, frame in frames.items() if frame is not None
    }
    clicks = frames["term_clicks"]
    if clicks is not None:
        have = ids.get("term_weeks", set()) | ids.get("terms", set()) | ids.get("interest", set())
        found = list(checks.check_reference(clicks, "term", have, "term_weeks.csv or terms.csv"))
        found += checks.check_shares(clicks)
        work.found("term_clicks", clicks, found)
    for name, frame in frames.items():
        if frame is None:
            continue
        distinct = frame["term"].unique().to_list()
        niche = niche_ids(distinct, niche_of, {})
        place = pl.DataFrame({"term": distinct, "niche": [niche[term] for term in distinct]})
        owner = frame.select("term").join(place, on="term", how="left", maintain_order="left")
        part = parts_of(owner["niche"], work.parts)
        work.staging.put(f"{name} placed", frame, part)
        if name == "term_clicks":
            pairs = frame.select("listing_id").with_columns(pl.Series("part", part)).unique()
            work.staging.put("pairs", pairs, parts_of(pairs["listing_id"], work.parts))


def _place_listings(work: _Work, bucket: int) -> None:
    pairs = work.staging.take("pairs", bucket)
    frames = {name: _taken(work, name, bucket, tables()[name].key) for name in OF_LISTINGS}
    listings = frames["listings"]
    ids: dict[str, set[str]] = {}
    if "listings" in work.came:
        ids["listings"] = set() if listings is None else set(listings["listing_id"].to_list())
    pairs = (
        pl.DataFrame(schema={"listing_id": pl.String, "part": pl.Int64})
        if pairs is None
        else pairs.unique()
    )
    for name, frame in frames.items():
        if frame is None:
            continue
        _check(work, name, frame, ids)
        clicked = frame.join(pairs, on="listing_id", how="inner", maintain_order="left")
        other = frame.join(pairs, on="listing_id", how="anti", maintain_order="left")
        work.staging.put(f"{name} placed", clicked.drop("part"), clicked["part"].to_numpy())
        # A listing that nobody clicks lies where its own id puts it.
        work.staging.put(f"{name} placed", other, parts_of(other["listing_id"], work.parts))


def _write(work: _Work, store: Store) -> Manifest:
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
            for (name, market), frame in _part(work, part, default).items():
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
        files = sorted(file for file in ready.rglob("*") if file.is_file())
        for done, file in enumerate(files):
            work.progress(f"Writing {store.address}", done, len(files))
            store.write(file.read_bytes(), *file.relative_to(ready).parts)
    created = work.package.created
    manifest = Manifest(
        parts=work.parts, tables=columns, rows=rows, markets=sorted(seen),
        periods={name: period.value for name, period in work.package.periods.items()},
        created=None if created is None else created.isoformat(), notes=list(dict.fromkeys(work.package.notes)),
    )  # fmt: skip
    write_manifest(store, manifest)
    return manifest


def _part(work: _Work, part: int, default: str) -> dict[tuple[str, str], pl.DataFrame]:
    """The tables of a part by market, checked against one another."""
    frames: dict[str, pl.DataFrame] = {}
    for name in PARTED:
        kept = _gathered(work, name, part)
        if kept is not None:
            frames[name] = kept
    ids = {
        "niches": set(frames["niches"]["niche_id"].to_list()) if "niches" in frames else set(),
        "listings": set(frames["listings"]["listing_id"].to_list()) if "listings" in frames else set(),
    }  # fmt: skip
    known = {name: own for name, own in ids.items() if name in work.came}
    for name, frame in frames.items():
        _check(work, name, frame, known)
    if work.problems.count:
        return {}
    return _by_market(frames, default)


def _gathered(work: _Work, name: str, part: int) -> pl.DataFrame | None:
    """The rows of a table in a part, in the order they came."""
    found = [work.staging.take(f"{name} placed", part)]
    if name == "niches":
        found = [_taken(work, "niches", part, ("niche_id",))]
    elif name in {"own_sales", "voices"}:
        keys = tables()[name].key
        found += [
            _taken(work, f"{name} by {key}", part, keys) for key in ("niche_id", "term", "voice_id")
        ]
    frames = [frame for frame in found if frame is not None]
    return pl.concat(frames, how="diagonal").sort(PLACE) if frames else None


def _by_market(
    frames: dict[str, pl.DataFrame], default: str
) -> dict[tuple[str, str], pl.DataFrame]:
    """The tables of a part, each market's by itself; a listing's in each market where it is clicked."""
    niches = frames.get("niches")
    market_of: dict[str, str] = {}
    if niches is not None and "market_id" in niches.columns:
        told = niches.drop_nulls("market_id")
        market_of = dict(zip(told["niche_id"].to_list(), told["market_id"].to_list(), strict=True))
    if not set(market_of.values()) - {default}:
        return {(name, default): frame.drop(*PLACE) for name, frame in frames.items()}
    terms = frames.get("terms")
    niche_of: dict[str, str] = {}
    if terms is not None and "niche_id" in terms.columns:
        told = terms.drop_nulls("niche_id")
        niche_of = dict(zip(told["term"].to_list(), told["niche_id"].to_list(), strict=True))
    by_term = {term: market_of.get(niche, default) for term, niche in niche_of.items()}
    clicks = frames.get("term_clicks")
    pairs = pl.DataFrame(schema={"listing_id": pl.String, "market": pl.String})
    if clicks is not None:
        market = _told(clicks["term"], by_term, default)
        pairs = clicks.select("listing_id").with_columns(market.alias("market")).unique()
    out: dict[tuple[str, str], pl.DataFrame] = {}
    for name, frame in frames.items():
        if name == "niches":
            placed = frame.with_columns(
                _told(frame["niche_id"], market_of, default).alias("market")
            )
        elif name in OF_TERMS:
            placed = frame.with_columns(_told(frame["term"], by_term, default).alias("market"))
        else:
            placed = frame.join(pairs, on="listing_id", how="left").sort(PLACE)
            own = (
                _told(placed["niche_id"], market_of, default)
                if "niche_id" in placed.columns
                else pl.Series([default] * placed.height, dtype=pl.String)
            )
            placed = placed.with_columns(pl.col("market").fill_null(own))
        for (market_id,), mine in placed.group_by("market", maintain_order=True):
            out[name, str(market_id)] = mine.drop("market", *PLACE)
    return out


def _told(keys: pl.Series, by_key: dict[str, str], default: str) -> pl.Series:
    """What is told of each key."""
    if not by_key:
        return pl.Series([default] * len(keys), dtype=pl.String)
    found: pl.Series = keys.replace_strict(by_key, default=default, return_dtype=pl.String)
    return found
