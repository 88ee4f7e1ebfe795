"""One niche out of a data set: its tables as a package, read from the part in which it lies."""

from __future__ import annotations

from datetime import datetime

import polars as pl

from ..blocks import Gathered
from ..package import Package
from ..tables import tables
from .layout import Manifest, Store, part_of
from .parts import Unit, periods_of, read_table_of

# By the listings that took clicks of its terms.
OF_LISTINGS = ("listings", "listing_weeks", "offers", "feedback")
ALONE = "term:"  # Before the id of a term's own niche where another niche is called as the term is.


def read_niche(
    store: Store, manifest: Manifest, market: str, niche: str, whole: dict[str, pl.DataFrame]
) -> Package:
    """All that is known of a niche: its terms, the listings clicked after them, who sells and makes these.

    whole: the tables that belong to no niche, of which it takes its market, the categories, and the brands and
    sellers of its listings. A term of which no table says that it is in a niche is one of its own. Raises
    ExchangeError, by file and row, where a row is not as it must be.
    """
    unit = Unit(market, part_of(niche, manifest.parts))
    periods = periods_of(manifest)
    package = Package(periods=periods)
    if manifest.created is not None:
        package.created = datetime.fromisoformat(manifest.created)

    def rows(name: str, where: pl.Expr) -> pl.DataFrame | None:
        if name not in manifest.tables:
            return None
        return read_table_of(store, manifest, unit, name, where=where)

    declared = rows("niches", pl.col("niche_id") == niche)
    grouped = "niche_id" in manifest.tables.get("terms", {})
    stated = rows("terms", pl.col("niche_id") == niche) if grouped else None
    if stated is not None and stated.height:
        package.frames["terms"], terms = stated, stated["term"].to_list()
    elif declared is not None and declared.height:
        terms = []
    else:
        term = niche.removeprefix(ALONE)
        called = term != niche and _is_niche(store, manifest, market, term)
        if called:
            # It lies where its own text says, and is called so because a niche has that id.
            unit = Unit(market, part_of(term, manifest.parts))
            declared = pl.DataFrame({"niche_id": [niche], "name": [term], "market_id": [market]})
        terms = [term if called else niche]
        alone = rows("terms", pl.col("term") == terms[0])
        if alone is None or not alone.height:
            alone = pl.DataFrame({"term": terms})
        package.frames["terms"] = alone.with_columns(niche_id=pl.lit(niche if called else None))
    if declared is not None and declared.height:
        package.frames["niches"] = declared
    of_terms = pl.col("term").is_in(terms)
    if (frame := rows("term_weeks", of_terms)) is not None and frame.height:
        known = [name for name in tables()["term_weeks"].measures if name in frame.columns]
        gathered = Gathered("term", known)
        gathered.add(frame, periods["term_weeks"])
        package.counts = gathered.curves()
    for name in ("interest", "term_clicks"):
        if (frame := rows(name, of_terms)) is not None and frame.height:
            package.frames[name] = frame
    if "term_clicks" in package.frames:
        clicked = package.frames["term_clicks"]["listing_id"].unique()
        for name in OF_LISTINGS:
            frame = rows(name, pl.col("listing_id").is_in(clicked.implode()))
            if frame is not None and frame.height:
                package.frames[name] = frame
    for name, frame in _of_whole(package, market, whole).items():
        if frame.height:
            package.frames[name] = frame
    return package


def _is_niche(store: Store, manifest: Manifest, market: str, key: str) -> bool:
    if "niches" not in manifest.tables:
        return False
    unit = Unit(market, part_of(key, manifest.parts))
    found = read_table_of(
        store, manifest, unit, "niches", ["niche_id"], where=pl.col("niche_id") == key
    )
    return bool(found.height)


def _of_whole(
    package: Package, market: str, whole: dict[str, pl.DataFrame]
) -> dict[str, pl.DataFrame]:
    """What a package takes of the tables that belong to no niche."""
    listings, offers = (package.frames.get(name) for name in ("listings", "offers"))
    named: dict[str, set[str]] = {"brands": set(), "sellers": set()}
    for frame, column, table in (
        (listings, "brand", "brands"),
        (listings, "seller_id", "sellers"),
        (offers, "seller_id", "sellers"),
    ):
        if frame is not None and column in frame.columns:
            named[table] |= set(frame[column].drop_nulls().to_list())
    found = {name: whole[name] for name in ("categories",) if name in whole}
    if "markets" in whole:
        found["markets"] = whole["markets"].filter(pl.col("market_id") == market)
    for name, ids in named.items():
        if name in whole:
            found[name] = whole[name].filter(pl.col("id").is_in(list(ids)))
    return found
