"""Categories rolled up over their tree, against the raw tables added up with polars."""

from __future__ import annotations

import tempfile
import zipfile
from datetime import date, timedelta
from pathlib import Path
from unittest import TestCase

import numpy as np
import polars as pl

from driftfield.core.market import Workings, run_categories, run_market
from driftfield.exchange.market_data import MarketInput, assemble
from driftfield.exchange.package import Package
from driftfield.exchange.reader import read_package

from .packages import START, small_market, supplied_market, table, write

DEMO = Path(__file__).resolve().parents[3] / "demo/harrow-quay.zip"
WEEKS = 130
FIGURES = {  # of the record, by the names of this test's own sums
    "searches": "searches_52w", "impressions": "impressions_52w", "clicks": "clicks_52w",
    "purchases": "purchases_52w", "units": "sales.units_52w", "revenue": "sales.revenue_52w",
    "niches": "counts.niches", "terms": "counts.terms", "listings": "counts.listings",
    "brands": "counts.brands", "sellers": "counts.sellers", "gini": "lorenz.gini",
    "share_80": "lorenz.share_for_80", "share_90": "lorenz.share_for_90", "new_26": "newcomers.listings_26w",
    "new_units_26": "newcomers.units_share_26w", "old_units": "established.units_share",
    "median_price": "sales.price_median",
}  # fmt: skip


def read(package: Package) -> list[tuple[MarketInput, Workings]]:
    markets, _ = assemble(package)
    found = []
    for market in markets:
        work = run_categories(run_market(market.data), every_tree=len(markets) == 1)
        assert work is not None
        found.append((market, work))
    return found


def below(categories: pl.DataFrame) -> dict[str, set[str]]:
    """Ids of each category and of all below it, walked plainly."""
    parent = dict(zip(categories["category_id"], categories["parent_id"], strict=True))
    inside: dict[str, set[str]] = {key: set() for key in parent}
    for key in parent:
        at: str | None = key
        while at is not None:
            inside[at].add(key)
            at = parent.get(at)
    return inside


def raw_weeks(package: Package) -> pl.DataFrame:
    """The table term_weeks as it stands in the file; a large one is not kept as a frame."""
    if "term_weeks" in package.frames:
        return package.frames["term_weeks"]
    with zipfile.ZipFile(DEMO) as archive:
        return pl.read_csv(archive.read("term_weeks.csv"), try_parse_dates=True)


def plainly(package: Package, as_of: date, history_from: date, late_from: date) -> pl.DataFrame:
    """What each category holds, from the raw tables: sums, distinct counts and shares.

    ``history_from``, ``late_from``: first period of the listings' last 52 and 26 weeks.
    """
    frames = package.frames
    year_from = as_of - timedelta(weeks=52) + timedelta(days=1)
    niche_of = frames["terms"].select("term", "niche_id").drop_nulls()
    terms = niche_of.join(frames["niches"].select("niche_id", "category_id"), on="niche_id")
    year = raw_weeks(package).filter(pl.col("week").is_between(year_from, as_of))
    measures = [n for n in ("searches", "impressions", "clicks", "purchases") if n in year.columns]
    by_term = year.group_by("term").agg(pl.col(measures).sum())
    weeks = frames["listing_weeks"].filter(pl.col("week").is_between(history_from, as_of))
    # What nobody counted is unknown; polars would add it up to 0.
    sold = (
        weeks.drop_nulls("units")
        .group_by("listing_id")
        .agg(
            pl.col("units").sum(),
            (pl.col("units") * pl.col("price")).sum().alias("revenue"),
            pl.col("units").filter(pl.col("week") >= late_from).sum().alias("late"),
        )
    )
    listings = (
        frames["listings"]
        .filter(pl.col("launched_on") <= as_of)
        .join(sold, on="listing_id", how="left")
    )
    offers = frames.get("offers")
    rows = []
    for category, inside in below(frames["categories"]).items():
        mine = terms.filter(pl.col("category_id").is_in(list(inside)))
        held = listings.filter(pl.col("category_id").is_in(list(inside)))
        row = {"category_id": category, "niches": frames["niches"].filter(
            pl.col("category_id").is_in(list(inside)))["niche_id"].n_unique(),
            "terms": mine["term"].n_unique(), "listings": held["listing_id"].n_unique(),
            "brands": held["brand"].drop_nulls().n_unique()}  # fmt: skip
        row |= mine.join(by_term, on="term").select(pl.col(measures).sum()).row(0, named=True)
        sellers = set(held["seller_id"].drop_nulls())
        if offers is not None:
            stands = offers.filter(
                pl.col("listing_id").is_in(held["listing_id"].to_list())
                & (pl.col("first_seen") <= as_of)
                & (pl.col("last_seen").is_null() | (pl.col("last_seen") >= as_of))
            )
            sellers |= set(stands["seller_id"])
        row["sellers"] = len(sellers)
        age = (pl.lit(as_of) - pl.col("launched_on")).dt.total_days()
        new, old = held.filter(age < 182), held.filter(age > 728)
        row |= {
            "units": held["units"].sum(),
            "revenue": held["revenue"].sum(),
            "new_26": new.height,
        }
        row["new_units_26"] = new["late"].sum() / held["late"].sum() if held["late"].sum() else None
        row["old_units"] = old["units"].sum() / held["units"].sum() if held["units"].sum() else None
        value = np.sort(held["revenue"].drop_nulls().to_numpy())[::-1]
        if value.sum():
            running = np.cumsum(value) / value.sum()
            row["share_80"] = (int((running < 0.8 - 1e-9).sum()) + 1) / len(value)
            row["share_90"] = (int((running < 0.9 - 1e-9).sum()) + 1) / len(value)
            differences = np.abs(value[:, None] - value[None]).mean()
            row["gini"] = differences / value.mean() / 2
        rows.append(row)
    return pl.DataFrame(rows, infer_schema_length=None)


class AgainstTheRawTables(TestCase):
    def compare(self, work: Workings, expected: pl.DataFrame, skip: tuple[str, ...] = ()) -> None:
        category = work.category
        assert category is not None
        place = {key: i for i, key in enumerate(category.tree.ids)}
        for row in expected.iter_rows(named=True):
            if row["category_id"] not in place:
                continue
            at = place[row["category_id"]]
            for name, value in row.items():
                if name in skip or name == "category_id":
                    continue
                ours = float(work.figures[FIGURES[name]][at])
                with self.subTest(category=row["category_id"], figure=name):
                    if value is None or (np.isnan(ours) and value == 0):
                        self.assertTrue(np.isnan(ours) or value == ours)
                    else:
                        np.testing.assert_allclose(ours, value, rtol=1e-5)

    def test_every_category_of_the_demo_market(self) -> None:
        package = read_package(DEMO)
        for market, work in read(package):
            as_of = market.data.timeline.end
            history = market.data.listings.history if market.data.listings else None
            assert history is not None
            start, length = history.timeline.start, history.timeline.length
            expected = plainly(package, as_of, start(length - 12), start(length - 6))
            # A gap of a curve is bridged, so its niches' categories hold a little more than the raw sum.
            self.compare(work, expected, skip=("searches", "clicks", "purchases", "impressions"))
            raw = dict(zip(expected["category_id"], expected["searches"], strict=True))
            assert work.category is not None
            for at, key in enumerate(work.category.tree.ids):
                ours = work.figures["searches_52w"][at]
                self.assertLessEqual(raw[key], ours + 0.5, key)
                self.assertLess(ours / raw[key], 1.02, key)

    def test_random_trees(self) -> None:
        for seed in range(6):
            rng = np.random.default_rng(seed)
            with tempfile.TemporaryDirectory() as folder:
                package = read_package(write(Path(folder), **random_market(rng)))
            [(market, work)] = read(package)
            end = market.data.timeline.end
            start = market.data.timeline.start
            expected = plainly(package, end, start(WEEKS - 52), start(WEEKS - 26))
            self.compare(work, expected)


def random_market(rng: np.random.Generator) -> dict[str, str]:
    """A forest of categories with niches at any of its nodes, and listings that name any of them."""
    many = int(rng.integers(3, 14))
    parents = [
        "",
        *(f"c{rng.integers(0, i)}" if rng.random() < 0.8 else "" for i in range(1, many)),
    ]
    niches = [(f"n{i}", f"Niche {i}", f"c{rng.integers(0, many)}") for i in range(12)]
    terms = [(f"term {i}", f"n{rng.integers(0, 12)}") for i in range(30)]
    days = [(START + timedelta(weeks=i)).isoformat() for i in range(WEEKS)]
    figures = rng.poisson(rng.lognormal(3, 1, (30, 1, 1)), (30, WEEKS, 4))
    term_weeks = [(term, day, *figures[i, k].tolist())
                  for i, (term, _) in enumerate(terms) for k, day in enumerate(days)]  # fmt: skip
    end = START + timedelta(weeks=WEEKS)
    pages = [
        (f"l{i}", f"Listing {i}", f"b{rng.integers(0, 9)}" if rng.random() < 0.8 else "",
         f"s{rng.integers(0, 9)}", f"c{rng.integers(0, many)}", round(float(rng.lognormal(3, 0.5)), 2),
         (end - timedelta(days=int(rng.integers(1, 1500)))).isoformat())
        for i in range(40)
    ]  # fmt: skip
    listing_weeks = [
        (f"l{i}", day, round(float(rng.lognormal(3, 0.5)), 2), int(rng.poisson(3 if i % 5 else 0.01)))
        for i in range(40) for day in days if rng.random() < 0.9
    ]  # fmt: skip
    clicks = [(term, days[-1], f"l{rng.integers(0, 30)}", 0.4) for term, _ in terms]
    offers = [
        (f"s{rng.integers(0, 14)}", f"l{i}", (end - timedelta(days=int(rng.integers(-30, 900)))).isoformat(),
         "" if rng.random() < 0.6 else (end - timedelta(days=int(rng.integers(-20, 200)))).isoformat())
        for i in range(40)
    ]  # fmt: skip
    sound = [row for row in offers if not row[3] or row[3] >= row[2]]
    return {
        "markets": table("market_id,name,currency", ("north", "Harrow Quay North", "GBP")),
        "categories": table("category_id,parent_id,name", *((f"c{i}", up, f"Category {i}") for i, up in enumerate(parents))),
        "niches": table("niche_id,name,category_id", *niches),
        "terms": table("term,niche_id", *terms),
        "term_weeks": table("term,week,searches,impressions,clicks,purchases", *term_weeks),
        "listings": table("listing_id,title,brand,seller_id,category_id,price,launched_on", *pages),
        "listing_weeks": table("listing_id,week,price,units", *listing_weeks),
        "term_clicks": table("term,week,listing_id,click_share", *clicks),
        "offers": table("seller_id,listing_id,first_seen,last_seen", *sound),
    }  # fmt: skip


class WithoutTables(TestCase):
    def of(self, files: dict[str, str]) -> Workings | None:
        with tempfile.TemporaryDirectory() as folder:
            markets, _ = assemble(read_package(write(Path(folder), **files)))
        return run_categories(run_market(markets[0].data))

    def test_without_categories_there_are_none(self) -> None:
        files = small_market()
        del files["categories"]
        files["niches"] = table("niche_id,name", ("rf", "Rhubarb forcers"), ("mf", "Moon filters"))
        self.assertIsNone(self.of(files))

    def test_a_listing_without_a_category_lies_in_that_of_its_niche(self) -> None:
        work = self.of(supplied_market())
        assert work is not None
        assert work.category is not None
        counts = dict(zip(work.category.tree.ids, work.figures["counts.listings"], strict=True))
        self.assertEqual(counts, {"g": 5, "gb": 5})

    def test_without_listings_their_figures_are_unknown(self) -> None:
        files = small_market()
        for name in ("listings", "listing_weeks", "term_clicks", "offers", "feedback", "brands"):
            del files[name]
        work = self.of(files)
        assert work is not None
        self.assertEqual(work.figures["counts.niches"].tolist(), [1, 1])
        for key in ("lorenz.gini", "newcomers.units_share_26w", "openness", "settledness"):
            self.assertTrue(np.isnan(work.figures[key]).all(), key)
        self.assertGreater(work.figures["searches_52w"][0], 0)

    def test_without_clicks_listings_still_count_by_their_category(self) -> None:
        files = small_market()
        del files["term_clicks"]
        files["listings"] = table("listing_id,title,category_id,price,reviews",
                                  ("l1", "Tall forcer", "gb", 38.5, 212), ("l2", "Small forcer", "g", 12, 4))  # fmt: skip
        work = self.of(files)
        assert work is not None
        self.assertEqual(work.figures["counts.listings"].tolist(), [2, 1])
        self.assertEqual(work.figures["review_barrier"].tolist(), [108, 212])
        self.assertTrue(np.isnan(work.figures["competition_parts.top5_share"]).all())
