"""Write everything that is loaded as exchange tables, so that importing them changes nothing."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import IO, Any

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, Period
from driftfield.exchange.folders import new_folder
from driftfield.exchange.formulas import guarded
from driftfield.exchange.tables import SCHEMAS, tables
from driftfield.intake.scope import Scope, everything
from driftfield.intake.stored import ROWS, StoredCurves, StoredRows, curves_of_table
from driftfield.market.curves import unpack
from driftfield.market.models import LeadSeller, Listing

Form = Callable[[pl.DataFrame], pl.DataFrame]
Rows = Iterable[dict[str, Any]]


def export_folder(
    folder: Path, scope: Scope | None = None, *, for_spreadsheets: bool = False
) -> Iterator[str]:
    """Write the tables to ``folder``, made if need be; yields one line per file.

    ``scope``: by default everything. ``for_spreadsheets``: text that begins like a formula gets an
    apostrophe, with which it does not come back as it was. Raises CoreError when there
    is nothing to write or the folder holds files already.
    """
    wanted = scope or everything()
    if not wanted.terms.exists():
        raise CoreError("Nothing is loaded yet, so there is nothing to export.")
    return _write(new_folder(folder), wanted, guarded if for_spreadsheets else lambda frame: frame)


def export_zip(to: IO[bytes], scope: Scope, *, for_spreadsheets: bool = False) -> None:
    """The same as a zip."""
    with TemporaryDirectory(prefix="driftfield-") as holder:
        folder = Path(holder) / "tables"
        with zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
            for line in export_folder(folder, scope, for_spreadsheets=for_spreadsheets):
                name = line.partition(":")[0]
                archive.write(folder / name, name)
                (folder / name).unlink()
            for schema in sorted(folder.glob("*.schema.json")):
                archive.write(schema, schema.name)


def _write(folder: Path, scope: Scope, form: Form) -> Iterator[str]:
    resources = []
    written: dict[str, list[str]] = {}
    for name, table in tables().items():
        frame = _frame(name, scope)
        if frame.height == 0:
            continue
        order = [column.name for column in table.columns if column.name in frame.columns]
        frame = frame.select(*order, pl.exclude(order))
        form(frame).write_csv(folder / f"{name}.csv")
        written[name] = frame.columns
        schema = json.dumps(_schema(name, written), indent=2, ensure_ascii=False)
        (folder / f"{name}.schema.json").write_text(schema + "\n", "utf-8")
        resources.append(_resource(name))
        yield f"{name}.csv: {frame.height:,} lines"
    package: dict[str, Any] = {"name": "driftfield-export", "resources": resources}
    created = _created(scope)
    if created:
        package["created"] = created
    (folder / "datapackage.json").write_text(json.dumps(package, indent=2) + "\n", "utf-8")
    yield "datapackage.json"


def _schema(name: str, written: dict[str, list[str]]) -> dict[str, Any]:
    """The Table Schema of a table as it was written: by the standard, fields are the file's columns."""
    schema: dict[str, Any] = json.loads((SCHEMAS / f"{name}.schema.json").read_text("utf-8"))
    fields = {field["name"]: field for field in schema["fields"]}
    schema["fields"] = [fields.get(c, {"name": c, "type": "string"}) for c in written[name]]
    schema["primaryKey"] = [key for key in schema["primaryKey"] if key in written[name]]
    keys = [
        key
        for key in schema.pop("foreignKeys", ())
        if set(key["fields"]) <= set(written[name])
        and set(key["reference"]["fields"])
        <= set(written.get(key["reference"]["resource"] or name, ()))
    ]
    return schema | ({"foreignKeys": keys} if keys else {})


def _resource(name: str) -> dict[str, Any]:
    return {
        "name": name, "path": f"{name}.csv", "profile": "tabular-data-resource", "format": "csv",
        "mediatype": "text/csv", "encoding": "utf-8", "schema": f"{name}.schema.json",
    }  # fmt: skip


def _created(scope: Scope) -> str | None:
    """A making date that keeps the same periods complete: the day after the latest complete one."""
    from datetime import timedelta

    until = scope.markets.values_list("complete_until", flat=True)
    latest = max((day for day in until if day is not None), default=None)
    return f"{latest + timedelta(days=1)}T00:00:00+00:00" if latest else None


def _rows(columns: list[str], rows: Rows) -> pl.DataFrame:
    frame = pl.DataFrame(
        [[row.get(c) for c in columns] for row in rows], schema=columns, orient="row",
        infer_schema_length=None,
    )  # fmt: skip
    frame = frame.with_columns(pl.col(pl.Boolean).cast(pl.Int8))
    # A column that nobody filled is left out, unless the table cannot do without it.
    return frame.select(
        [c for c in columns if frame[c].null_count() < frame.height or frame.height == 0]
    )


def _lines(stored: StoredRows, scope: Scope) -> pl.DataFrame:
    """The lines of a table that is kept as it is."""
    columns = [column.name for column in stored.table.columns]
    sources = [stored.lookup(column) for column in columns]
    rows = stored.within(scope).order_by("pk").values_list(*sources)
    return _rows(columns, (dict(zip(columns, row, strict=True)) for row in rows))


def _terms(scope: Scope) -> pl.DataFrame:
    """Terms; one that is a niche of its own names none."""
    terms = scope.terms.order_by("pk").values_list(
        "term", "niche__niche_id", "niche__of_term", "niche__own", "branded"
    )
    return _rows(
        ["term", "niche_id", "branded"],
        (
            {"term": term, "niche_id": None if of_term and not own else niche, "branded": branded}
            for term, niche, of_term, own, branded in terms
        ),
    )


def _listings(scope: Scope) -> pl.DataFrame:
    fixed = [c.name for c in tables()["listings"].columns]
    found = list(scope.listings.order_by("pk").select_related("category"))
    extra = sorted({f"attr_{k}" for listing in found for k in listing.attributes})

    def row(listing: Listing) -> dict[str, Any]:
        out = {name: getattr(listing, name) for name in fixed if name != "category_id"}
        out["category_id"] = listing.category.category_id if listing.category else None
        return out | {f"attr_{k}": v for k, v in listing.attributes.items()}

    return _rows([*fixed, *extra], map(row, found))


def _long(curves: Any, keys: dict[str, str], measures: dict[str, str]) -> pl.DataFrame:
    """Curves as long rows: keys then week then a column a measure (both: stored name → column)."""
    found = curves.order_by("pk").values_list("measure", "period", "first", "values", *keys)
    by_subject: dict[tuple[Any, ...], dict[str, tuple[str, int, np.ndarray]]] = {}
    for measure, period, first, values, *subject in found:
        by_subject.setdefault(tuple(subject), {})[measure] = (period, first, unpack(values))
    blocks = []
    for subject, held in by_subject.items():
        first = min(f for _, f, _ in held.values())
        end = max(f + len(v) for _, f, v in held.values())
        columns: dict[str, Any] = {
            column: [s] * (end - first) for column, s in zip(keys.values(), subject, strict=True)
        }
        period = Period(next(iter(held.values()))[0])
        columns["week"] = [period.start(n) for n in range(first, end)]
        for measure, column in measures.items():
            # float32 as its own shortest decimal, so that 0.1 comes out as it came in.
            row = np.full(end - first, np.nan, dtype=np.float32)
            if measure in held:
                _, start, values = held[measure]
                row[start - first : start - first + len(values)] = values
            columns[column] = row
        block = pl.DataFrame(columns)
        blocks.append(
            block.filter(~pl.all_horizontal([pl.col(c).is_nan() for c in measures.values()]))
        )
    if not blocks:
        return pl.DataFrame()
    frame = pl.concat(blocks).with_columns(pl.col(pl.Float32).fill_nan(None))
    empty = [c for c in measures.values() if frame[c].null_count() == frame.height]
    return frame.drop(empty)


def _figures(stored: StoredCurves, scope: Scope) -> pl.DataFrame:
    """The lines of a table of figures; numbers of names become the names."""
    keys = {stored.lookup(column): column for column in stored.keys}
    names = {measure: measure for measure in stored.measures} | dict(stored.coded)
    frame = _long(stored.within(scope), keys, names)
    for column in stored.coded.values():
        if column in frame.columns:
            sellers = dict(LeadSeller.objects.values_list("pk", "seller_id"))
            number = pl.col(column).cast(pl.Int64)
            frame = frame.with_columns(
                number.replace_strict(sellers, default=None, return_dtype=pl.String)
            )
    return frame


# Tables whose lines are not just what the declaration says.
_PECULIAR: dict[str, Callable[[Scope], pl.DataFrame]] = {"listings": _listings, "terms": _terms}


def _frame(name: str, scope: Scope) -> pl.DataFrame:
    if name in _PECULIAR:
        return _PECULIAR[name](scope)
    if name in ROWS:
        return _lines(ROWS[name], scope)
    return pl.concat((_figures(one, scope) for one in curves_of_table(name)), how="diagonal")
