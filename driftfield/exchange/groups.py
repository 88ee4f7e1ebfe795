"""Niches made of the terms of a package, as the exchange tables terms and niches."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import polars as pl

from driftfield.core.base import CoreError
from driftfield.core.market import NICHE, TERM
from driftfield.core.market.grouping import (
    Grouping,
    ProposedNiches,
    Resolution,
    leading_categories,
    propose_niches,
)
from driftfield.core.market.vectors import Vectors

from .folders import new_folder
from .formulas import guarded
from .market_data import MarketInput, assemble
from .package import Package

DECIMALS = 4
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
    made = propose_niches(
        market.data, market.terms, owner, taken, prefix=prefix, language=language, seed=seed
    )
    groups = len(made.ids)
    report = pl.DataFrame(
        {
            "niche_id": made.ids, "name": made.names, "category_id": [None] * groups,
            "market_id": [market.market_id] * groups, "new": made.new.astype(np.int8), "terms": made.terms,
            "searches_52w": pl.Series(made.searches).fill_nan(None),
            "quality": pl.Series(made.found.quality.round(DECIMALS)).fill_nan(None),
            "terms_by_words": made.by_words,
        },
        schema=REPORT,
    )  # fmt: skip
    terms = pl.DataFrame(
        {"term": market.terms, "niche_id": [made.ids[at] for at in made.niche.tolist()]},
        schema={"term": pl.String, "niche_id": pl.String},
    )
    return report, terms, grouping_notes(market.market_id, made)


def _with_categories(report: pl.DataFrame, terms: pl.DataFrame, package: Package) -> pl.DataFrame:
    """The report with the category in which most of the clicks of each niche lie, where one has half."""
    clicks, listings = package.frames.get("term_clicks"), package.frames.get("listings")
    if clicks is None or listings is None or "category_id" not in listings.columns:
        return report
    niches = report["niche_id"].to_list()
    place = {niche: at for at, niche in enumerate(niches)}
    category = dict(listings.select("listing_id", "category_id").drop_nulls().iter_rows())
    ids = sorted(set(category.values()))
    code = {one: at for at, one in enumerate(ids)}
    given = clicks.join(terms, on="term").group_by("term", "niche_id", "listing_id")
    shares = given.agg(pl.col("click_share").sum())
    term, listing = (
        shares[name].rank("dense").cast(pl.Int64).to_numpy() - 1 for name in ("term", "listing_id")
    )
    pages = shares["listing_id"].unique().sort().to_list()
    group = np.full(int(term.max(initial=-1)) + 1, -1, dtype=np.int64)
    group[term] = [place[niche] for niche in shares["niche_id"]]
    found = leading_categories(
        Vectors((shares["click_share"].to_numpy(), (term, listing)), shape=(len(group), len(pages))),
        np.array([code.get(category.get(page, ""), -1) for page in pages], dtype=np.int64),
        group, len(niches),
    )  # fmt: skip
    named = [None if at < 0 else ids[at] for at in found.tolist()]
    return report.with_columns(category_id=pl.Series(named, dtype=pl.String)).select(*REPORT)


def grouping_notes(market: str, made: ProposedNiches) -> list[str]:
    """How the terms of a market were grouped, in sentences."""
    found, new = made.found, int(made.new.sum())
    niches = f"{new:,} new {NICHE.name if new == 1 else NICHE.plural}"
    notes = [f"{market}: {TERM.many(len(made.niche))}, {niches}."]
    return notes + fineness_notes(found)


def fineness_notes(found: Grouping) -> list[str]:
    """By what terms were grouped, and how finely, in sentences."""
    notes = []
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
