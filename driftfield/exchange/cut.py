"""A package as it would have been on an earlier day: what came later is left out."""

from __future__ import annotations

import io
import zipfile
from datetime import date
from pathlib import Path

import polars as pl

from driftfield.core.base import CoreError

# Days by which a table's rows are cut: the column, and whether it names a week or month that must be over.
DATED = {
    "term_weeks": ("week", True), "term_clicks": ("week", True), "listing_weeks": ("week", True),
    "interest": ("week", True), "own_sales": ("week", True), "feedback": ("week", True),
    "listings": ("launched_on", False), "offers": ("first_seen", False), "voices": ("day", False),
}  # fmt: skip


def cut_package(source: Path, day: date, out: Path) -> dict[str, int]:
    """Write the package in a zip as it would have been on a day; rows of each table that are left.

    A week or month counts once it is over, a listing once it was launched, an offer once it was seen; the last
    day of an offer that was still to come is left open. What has no date stays. Raises CoreError where the
    file is no zip of CSV files.
    """
    if not zipfile.is_zipfile(source):
        raise CoreError(f"{source.name}: expected a zip of CSV files. Zip the folder first.")
    if out.exists() and out.samefile(source):
        raise CoreError(
            f"{out.name}: the package would be written over itself. Choose another file."
        )
    # Beside it first, so that nothing half made takes the place of what is there.
    made = out.with_name(f"{out.name}.part")
    try:
        kept = _write_cut(source, day, made)
        made.replace(out)
    finally:
        made.unlink(missing_ok=True)
    return kept


def _write_cut(source: Path, day: date, out: Path) -> dict[str, int]:
    kept: dict[str, int] = {}
    with (
        zipfile.ZipFile(source) as archive,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made,
    ):
        # Listings first: what is said of one that was not launched yet goes with it.
        names = sorted(archive.namelist(), key=lambda name: Path(name).stem != "listings")
        known: pl.Series | None = None
        for name in names:
            content = archive.read(name)
            table = Path(name).stem
            if name.endswith(".csv"):
                try:
                    frame = pl.read_csv(io.BytesIO(content), infer_schema=False)
                except pl.exceptions.PolarsError as error:
                    raise CoreError(
                        f"{name}: cannot be read as CSV ({error}). import --check names the line."
                    ) from None
                part = _cut(table, frame, day)
                if "listing_id" in part.columns:
                    if table == "listings":
                        known = part["listing_id"]
                    elif known is not None:
                        ids = pl.col("listing_id")
                        part = part.filter(ids.is_null() | ids.is_in(known.implode()))
                kept[table] = part.height
                content = part.write_csv().encode()
            made.writestr(name, content)
    return kept


def _cut(table: str, frame: pl.DataFrame, day: date) -> pl.DataFrame:
    column, whole = DATED.get(table, ("", False))
    if column not in frame.columns:
        return frame
    starts = pl.col(column).str.to_date(strict=False)
    ends = starts
    if whole:
        months = _is_monthly(frame[column])
        ends = starts.dt.month_end() if months else starts.dt.offset_by("6d")
    frame = frame.filter(starts.is_null() | (ends <= day))
    if table == "offers" and "last_seen" in frame.columns:
        later = pl.col("last_seen").str.to_date(strict=False) > day
        frame = frame.with_columns(
            pl.when(later).then(None).otherwise(pl.col("last_seen")).alias("last_seen")
        )
    return frame


def _is_monthly(days: pl.Series) -> bool:
    """Whether they are first days of months: the period is one for a whole file."""
    found = days.drop_nulls().head(1000).str.to_date(strict=False).drop_nulls()
    return bool(len(found)) and bool((found.dt.day() == 1).all())
