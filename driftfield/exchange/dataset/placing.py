"""Rows that were set aside, moved to their parts, and checked where all rows of a key lie together."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
import polars as pl

from .. import checks
from ..checks import Finding
from ..market_data import niche_ids
from ..package import Package
from ..problems import Problem, Problems
from ..progress import Progress
from ..read_table import Reading
from ..sources import Header, SourceFile
from ..tables import tables
from .layout import PARTED, parts_of
from .staging import Staging

FILE, ROW = "__file", "__row"  # Where a row comes from, until its part is written.
PLACE = (FILE, ROW)
# The tables whose rows are of terms; those of listings have a listing_id.
OF_TERMS = ("terms", "term_weeks", "interest", "term_clicks")
OF_LISTINGS = ("listings", "listing_weeks", "offers", "feedback", "voices", "own_sales")


@dataclass(slots=True)
class Came:
    """A file as it was read: its header, and whether each line is a row, for no cell holds a line's end."""

    file: SourceFile
    header: Header
    plain: bool = True


@dataclass(slots=True)
class Work:
    """A package being put in parts.

    came: files by table in the order they came. schemas: the columns of each table. told: what was said of
    which row, for a row of a wide table is many.
    """

    parts: int
    staging: Staging
    package: Package
    problems: Problems
    reading: Reading
    progress: Progress
    came: dict[str, list[Came]] = field(default_factory=dict)
    schemas: dict[str, dict[str, pl.DataType]] = field(default_factory=dict)
    told: set[tuple[str, int, int, str]] = field(default_factory=set)

    def found(self, table: str, frame: pl.DataFrame, findings: list[Finding]) -> None:
        """Note what is wrong with rows that were set aside, by the file and line they came from."""
        for finding in findings:
            for row in finding.rows.tolist():
                file, line = frame[FILE][row], frame[ROW][row]
                said = (table, file, line, finding.message)
                if said in self.told:
                    continue
                self.told.add(said)
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


def _line_of(came: Came, row: int) -> int:
    """The line on which a row of a file stands."""
    if came.plain and came.file.origin is None:
        return row + 2 - came.file.before
    line = came.file.lines_of_rows(came.header.separator, {row}).get(row, 1)
    line = max(line - came.file.before, 1)
    return line if came.file.origin is None else came.file.origin.lines({line}).get(line, line)


def _taken(work: Work, table: str, bucket: int, key: tuple[str, ...]) -> pl.DataFrame | None:
    """The rows of a bucket in the order they came, those that stand in several files once."""
    frame = work.staging.take(table, bucket)
    if frame is None:
        return None
    if not (frame[ROW].is_sorted() and frame[FILE].n_unique() == 1):
        frame = frame.sort(PLACE)
    name = table.partition(" ")[0]
    here = [one for one in key if one in frame.columns]
    # Equal keys have equal hashes, so where all are different there is nothing more to look at.
    if frame.select(pl.struct(here).hash().n_unique()).item() == frame.height:
        return frame
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


def _check(work: Work, name: str, frame: pl.DataFrame, ids: dict[str, set[str]]) -> None:
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


def place(work: Work) -> None:
    """Move all rows from the buckets of their terms and listings to the parts of their niches."""
    for bucket in range(work.parts):
        work.progress("Sorting terms into parts", bucket, work.parts)
        _place_terms(work, bucket)
    for bucket in range(work.parts):
        work.progress("Sorting listings into parts", bucket, work.parts)
        _place_listings(work, bucket)


def _place_terms(work: Work, bucket: int) -> None:
    frames = {name: _taken(work, name, bucket, tables()[name].key) for name in OF_TERMS}
    terms = frames["terms"]
    niche_of: dict[str, str] = {}
    if terms is not None and "niche_id" in terms.columns:
        known = terms.drop_nulls("niche_id")
        niche_of = dict(zip(known["term"].to_list(), known["niche_id"].to_list(), strict=True))
    ids = {
        name: set(frame["term"].unique().to_list())
        for name, frame in frames.items()
        if frame is not None
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
        distinct = frame["term"].unique(maintain_order=True).to_list()
        niche = niche_ids(distinct, niche_of, {})
        place = pl.DataFrame({"term": distinct, "niche": [niche[term] for term in distinct]})
        owner = frame.select("term").join(place, on="term", how="left", maintain_order="left")
        part = parts_of(owner["niche"], work.parts)
        work.staging.put(f"{name} placed", frame, part)
        if name == "term_clicks":
            pairs = frame.select("listing_id").with_columns(pl.Series("part", part)).unique()
            work.staging.put("pairs", pairs, parts_of(pairs["listing_id"], work.parts))


def _place_listings(work: Work, bucket: int) -> None:
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


def part_of_tables(work: Work, part: int, default: str) -> dict[tuple[str, str], pl.DataFrame]:
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


def _gathered(work: Work, name: str, part: int) -> pl.DataFrame | None:
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
