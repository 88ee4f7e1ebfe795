"""Niches made of the terms of a package, as the exchange tables terms and niches."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import polars as pl

from driftfield.core.base import DEFAULTS, CoreError
from driftfield.core.market import NICHE, TERM, year_total
from driftfield.core.market.grouping import (
    Grouping,
    Resolution,
    group_terms,
    leading_terms,
    new_ids,
    niche_name,
)

from .folders import new_folder
from .formulas import guarded
from .market_data import MarketInput, assemble
from .package import Package

DECIMALS = 4
MOSTLY = 0.5  # Share of a niche's clicks in one category from which it is put there.
TERMS = {"term": pl.String, "niche_id": pl.String, "branded": pl.Float64}
NICHES = {
    "niche_id": pl.String, "name": pl.String, "category_id": pl.String, "market_id": pl.String,
}  # fmt: skip
REPORT = {
    **NICHES, "new": pl.Int8, "terms": pl.Int64, "searches_52w": pl.Float64, "quality": pl.Float64,
    "terms_by_words": pl.Int64,
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class GroupedTables:
    """What became of the terms of a package.

    terms, niches: exchange tables. report: one row per niche that any term with searches is in: whether it is
    new, its terms, their searches a year, its quality (−1 to 1, null for a single term) and how many of
    its terms were placed by their words. notes: sentences on how each market was grouped.
    """

    terms: pl.DataFrame
    niches: pl.DataFrame
    report: pl.DataFrame
    notes: list[str]


def group_package(
    package: Package, *, anew: bool = False, language: str = "english", seed: int = 1
) -> GroupedTables:
    """Group the terms of a package that have no niche, market by market.

    Niches that are there stay as they are, and a term without one may join them. ``anew``: all terms are
    grouped, and of the niches that are there only the market is kept. Raises CoreError where there are no
    counts of searches, or there is no stemmer for ``language``.
    """
    if not package.has_counts:
        raise CoreError("There is no term_weeks table, so there are no terms to group.")
    markets = [one for one in assemble(package)[0] if one.data.counts]
    declared = _table(package, "terms", TERMS)
    niches = _table(package, "niches", NICHES)
    if anew:
        declared, niches = declared.with_columns(niche_id=pl.lit(None, pl.String)), niches.clear()
    prefixed = len({one.market_id for one in markets}) > 1
    taken = set(niches["niche_id"]) | set(declared["niche_id"].drop_nulls())
    reports, placed, notes = [], [], []
    for market in markets:
        owner = dict(declared.select("term", "niche_id").drop_nulls().iter_rows())
        prefix = f"{market.market_id}-" if prefixed else ""
        report, terms, note = _group(market, owner, taken, prefix, language, seed)
        taken |= set(report["niche_id"])
        reports.append(report)
        placed.append(terms)
        notes += note
    found = pl.concat(placed)
    report = _with_categories(pl.concat(reports), found, package)
    made = report.filter(pl.col("new") == 1).select(*NICHES)
    # What the tables say of a term stays; terms that they do not name come last.
    terms = declared.join(
        found.rename({"niche_id": "placed"}), on="term", how="full", coalesce=True
    )
    terms = terms.with_columns(niche_id=pl.coalesce("niche_id", "placed")).select(*TERMS)
    known = report.join(niches, on="niche_id", how="left", suffix="_there").with_columns(
        name=pl.coalesce("name_there", "name"),
        category_id=pl.coalesce("category_id_there", "category_id"),
    )
    return GroupedTables(
        terms.with_columns(pl.col("branded").cast(pl.Int64)).sort("niche_id", "term", nulls_last=True),
        pl.concat([niches, made]),
        known.select(*REPORT).sort("market_id", "searches_52w", descending=[False, True], nulls_last=True),
        notes,
    )  # fmt: skip


def write_groups(found: GroupedTables, folder: Path, report: Path | None = None) -> None:
    """Write terms.csv and niches.csv to a new folder, and the report to a file of its own.

    Raises CoreError where the folder holds files already.
    """
    new_folder(folder)
    found.terms.write_csv(folder / "terms.csv")
    found.niches.write_csv(folder / "niches.csv")
    if report is not None:
        guarded(found.report).write_csv(report)


def _table(package: Package, name: str, columns: Mapping[str, type[pl.DataType]]) -> pl.DataFrame:
    """A table of the package with these columns, null where it has none."""
    frame = package.frames.get(name)
    if frame is None:
        return pl.DataFrame(schema=columns)
    return frame.select(
        (pl.col(column) if column in frame.columns else pl.lit(None)).cast(kind).alias(column)
        for column, kind in columns.items()
    )


def _group(
    market: MarketInput,
    owner: dict[str, str],
    taken: set[str],
    prefix: str,
    language: str,
    seed: int,
) -> tuple[pl.DataFrame, pl.DataFrame, list[str]]:
    """A market's niches as in the report, the niche of each of its terms, and how they were made."""
    ids = list(dict.fromkeys(owner[term] for term in market.terms if term in owner))
    number = {niche: i for i, niche in enumerate(ids)}
    known = np.array([number.get(owner.get(term, ""), -1) for term in market.terms], dtype=np.int64)
    found = group_terms(
        market.data, market.terms, known if ids else None, language=language, seed=seed
    )
    searches = year_total(market.data.searches, market.data.timeline, DEFAULTS)
    leading = leading_terms(found.group, searches, market.data.branded)
    # Groups of a term that had a niche are that niche.
    standing = np.full(len(leading), -1, dtype=np.int64)
    standing[found.group[known >= 0]] = known[known >= 0]
    new = standing < 0
    names = [niche_name(market.terms[place]) for place in leading.tolist()]
    made = iter(
        new_ids([one for one, fresh in zip(names, new, strict=True) if fresh], taken, prefix)
    )
    niche = [
        next(made) if fresh else ids[at] for fresh, at in zip(new, standing.tolist(), strict=True)
    ]
    groups = len(leading)
    report = pl.DataFrame(
        {
            "niche_id": niche, "name": names, "category_id": [None] * groups,
            "market_id": [market.market_id] * groups, "new": new.astype(np.int8),
            "terms": np.bincount(found.group, minlength=groups),
            "searches_52w": _sums(found.group, searches, groups),
            "quality": pl.Series(found.quality.round(DECIMALS)).fill_nan(None),
            "terms_by_words": np.bincount(found.group, weights=found.by_words, minlength=groups),
        },
        schema=REPORT,
    )  # fmt: skip
    terms = pl.DataFrame(
        {"term": market.terms, "niche_id": [niche[at] for at in found.group.tolist()]},
        schema={"term": pl.String, "niche_id": pl.String},
    )
    return report, terms, _notes(market, found, int(new.sum()))


def _sums(group: np.ndarray, searches: np.ndarray, groups: int) -> pl.Series:
    """Searches a year of each group, of the terms of which they are known; null where of none."""
    known = ~np.isnan(searches)
    total = np.bincount(group[known], weights=searches[known], minlength=groups)
    some = np.bincount(group[known], minlength=groups) > 0
    return pl.Series(np.where(some, total, np.nan)).fill_nan(None)


def _with_categories(report: pl.DataFrame, terms: pl.DataFrame, package: Package) -> pl.DataFrame:
    """The report with the category in which most of the clicks of each niche lie, where one has half."""
    clicks, listings = package.frames.get("term_clicks"), package.frames.get("listings")
    if clicks is None or listings is None or "category_id" not in listings.columns:
        return report
    share = (
        clicks.join(terms, on="term")
        .join(listings.select("listing_id", "category_id"), on="listing_id", how="left")
        .group_by("niche_id", "category_id").agg(pl.col("click_share").sum())
        .with_columns(share=pl.col("click_share") / pl.col("click_share").sum().over("niche_id"))
        .filter((pl.col("share") > MOSTLY) & pl.col("category_id").is_not_null())
        .select("niche_id", found="category_id")
    )  # fmt: skip
    return (
        report.join(share, on="niche_id", how="left")
        .with_columns(category_id="found")
        .select(*REPORT)
    )


def _notes(market: MarketInput, found: Grouping, new: int) -> list[str]:
    """How the terms of a market were grouped, in sentences."""
    niches = f"{new:,} new {NICHE.name if new == 1 else NICHE.plural}"
    notes = [f"{market.market_id}: {TERM.many(len(market.terms))}, {niches}."]
    if found.clicks is not None:
        notes.append(f"By clicks: {_fineness(found.clicks)}.")
    if found.words is not None:
        without = f"{TERM.many(int(found.by_words.sum()))} without clicks"
        notes.append(f"By words, with less confidence, {without}: {_fineness(found.words)}.")
    return notes


def _fineness(found: Resolution) -> str:
    if not found.stability:
        return "no two terms belong together"
    return (
        f"the terms of a niche have a mean cosine above {found.value:g}, at which {found.stability:.0%} is "
        "grouped and stays so when a tenth of the terms is missing"
    )
