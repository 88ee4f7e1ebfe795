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
from django.db.models import QuerySet

from driftfield.core.base import CoreError, Period
from driftfield.exchange.formulas import guarded
from driftfield.exchange.tables import SCHEMAS, tables
from driftfield.intake.scope import Scope, everything
from driftfield.market.curves import unpack
from driftfield.market.models import (
    LeadSeller,
    Listing,
    ListingCurve,
    Market,
    SalesCurve,
    TermCurve,
)  # fmt: skip

Form = Callable[[pl.DataFrame], pl.DataFrame]
Rows = Iterable[dict[str, Any]]


def export_folder(
    folder: Path, scope: Scope | None = None, *, for_spreadsheets: bool = False
) -> Iterator[str]:
    """Write the tables to ``folder``, made if need be; yields a line a file.

    ``scope``: by default everything. ``for_spreadsheets``: text that begins like a formula gets an
    apostrophe, with which it does not come back as it was. Raises CoreError when there
    is nothing to write or the folder holds files already.
    """
    wanted = scope or everything()
    if not wanted.terms.exists():
        raise CoreError("Nothing is loaded yet, so there is nothing to export.")
    if folder.exists() and any(folder.iterdir()):
        raise CoreError(f"{folder} is not empty. Give a new folder.")
    folder.mkdir(parents=True, exist_ok=True)
    return _write(folder, wanted, guarded if for_spreadsheets else lambda frame: frame)


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
        frame = _FRAMES[name](scope)
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


def _rows(names: str, rows: Rows) -> pl.DataFrame:
    columns = names.split()
    frame = pl.DataFrame(
        [[row.get(c) for c in columns] for row in rows], schema=columns, orient="row",
        infer_schema_length=None,
    )  # fmt: skip
    frame = frame.with_columns(pl.col(pl.Boolean).cast(pl.Int8))
    # A column that nobody filled is left out, unless the table cannot do without it.
    return frame.select(
        [c for c in columns if frame[c].null_count() < frame.height or frame.height == 0]
    )


def _flat(
    rows_of: Callable[[Scope], QuerySet[Any]], names: str, **renamed: str
) -> Callable[[Scope], pl.DataFrame]:
    columns = names.split()
    sources = [renamed.get(c, c) for c in columns]

    def frame(scope: Scope) -> pl.DataFrame:
        rows = rows_of(scope).order_by("pk").values_list(*sources)
        return _rows(names, (dict(zip(columns, row, strict=True)) for row in rows))

    return frame


def _terms(scope: Scope) -> pl.DataFrame:
    terms = scope.terms.order_by("pk").values_list(
        "term", "niche__niche_id", "niche__of_term", "branded"
    )
    return _rows(
        "term niche_id branded",
        ({"term": t, "niche_id": None if alone else n, "branded": b} for t, n, alone, b in terms),
    )


def _niches(scope: Scope) -> pl.DataFrame:
    found = scope.niches.filter(of_term=False).order_by("pk")
    names = "niche_id name category_id market_id"
    rows = found.values_list("niche_id", "name", "category__category_id", "market__market_id")
    return _rows(names, (dict(zip(names.split(), row, strict=True)) for row in rows))


def _listings(scope: Scope) -> pl.DataFrame:
    fixed = [c.name for c in tables()["listings"].columns]
    found = list(scope.listings.order_by("pk").select_related("category"))
    extra = sorted({f"attr_{k}" for listing in found for k in listing.attributes})

    def row(listing: Listing) -> dict[str, Any]:
        out = {name: getattr(listing, name) for name in fixed if name != "category_id"}
        out["category_id"] = listing.category.category_id if listing.category else None
        return out | {f"attr_{k}": v for k, v in listing.attributes.items()}

    return _rows(" ".join([*fixed, *extra]), map(row, found))


def _long(curves: Any, keys: list[str], measures: dict[str, str]) -> pl.DataFrame:
    """Curves as long rows: ``keys`` then week then a column a measure (stored name → column)."""
    found = curves.order_by("pk").values_list("measure", "period", "first", "values", *keys)
    by_subject: dict[tuple[Any, ...], dict[str, tuple[str, int, np.ndarray]]] = {}
    for measure, period, first, values, *subject in found:
        by_subject.setdefault(tuple(subject), {})[measure] = (period, first, unpack(values))
    blocks = []
    for subject, held in by_subject.items():
        first = min(f for _, f, _ in held.values())
        end = max(f + len(v) for _, f, v in held.values())
        columns: dict[str, Any] = {
            k.split("__")[-1]: [s] * (end - first) for k, s in zip(keys, subject, strict=True)
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


def _term_weeks(scope: Scope) -> pl.DataFrame:
    curves = _of_terms(scope).filter(measure__in=["searches", "clicks", "purchases"])
    names = {m: m for m in ("searches", "clicks", "purchases")}
    return _long(curves, ["subject__term"], names)


def _of_terms(scope: Scope) -> QuerySet[TermCurve]:
    return TermCurve.objects.filter(subject__in=scope.terms)


def _interest(scope: Scope) -> pl.DataFrame:
    return _long(_of_terms(scope).filter(measure="index"), ["subject__term"], {"index": "index"})


def _term_clicks(scope: Scope) -> pl.DataFrame:
    names = {"click_share": "click_share", "purchase_share": "purchase_share"}
    return _long(scope.clicks, ["subject__term", "listing__listing_id"], names)


def _listing_weeks(scope: Scope) -> pl.DataFrame:
    measures = ["price", "units", "sales_rank", "reviews", "offers", "in_stock"]
    names = {m: m for m in measures} | {"lead_seller": "lead_seller_id"}
    curves = ListingCurve.objects.filter(subject__in=scope.listings)
    frame = _long(curves, ["subject__listing_id"], names)
    if "lead_seller_id" not in frame.columns:
        return frame
    sellers = dict(LeadSeller.objects.values_list("pk", "seller_id"))
    number = pl.col("lead_seller_id").cast(pl.Int64)
    return frame.with_columns(number.replace_strict(sellers, default=None, return_dtype=pl.String))


def _own_sales(scope: Scope) -> pl.DataFrame:
    names = {"units": "units", "revenue": "revenue"}
    return _long(SalesCurve.objects.filter(subject__in=scope.niches), ["subject__niche_id"], names)


_FRAMES: dict[str, Callable[[Scope], pl.DataFrame]] = {
    "markets": _flat(
        lambda s: Market.objects.filter(pk__in=s.niches.values("market")),
        "market_id name currency region",
    ),
    "categories": _flat(
        lambda s: s.categories, "category_id parent_id name", parent_id="parent__category_id"
    ),
    "niches": _niches,
    "brands": _flat(lambda s: s.brands, "id name first_seen own_retail"),
    "sellers": _flat(lambda s: s.sellers, "id name first_seen own_retail"),
    "listings": _listings,
    "terms": _terms,
    "term_weeks": _term_weeks,
    "interest": _interest,
    "term_clicks": _term_clicks,
    "listing_weeks": _listing_weeks,
    "offers": _flat(
        lambda s: s.offers,
        "seller_id listing_id first_seen last_seen",
        listing_id="listing__listing_id",
    ),
    "feedback": _flat(
        lambda s: s.feedback,
        "listing_id kind theme tone mentions week",
        listing_id="listing__listing_id",
    ),
    "own_sales": _own_sales,
}
