"""A niche read out of a data set is what the package it was made from says of it."""

from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase

from driftfield.exchange.dataset.layout import Store, read_manifest
from driftfield.exchange.dataset.one_niche import read_niche
from driftfield.exchange.dataset.partition import partition
from driftfield.exchange.dataset.parts import whole_tables
from driftfield.exchange.market_data import assemble
from driftfield.exchange.package import Package
from driftfield.exchange.reader import read_package
from driftfield.exchange.tests.packages import supplied_market, table, weekly, write

PARTS = 7


class OneNiche(TestCase):
    def read(self, niche: str, files: dict[str, str], market: str = "north") -> Package:
        """Also holds the niche's curves against those of the whole package."""
        with TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **files)
            partition(folder, f"{holder}/set", PARTS)
            source = Store(f"{holder}/set")
            manifest = read_manifest(source)
            whole = whole_tables(source, manifest)
            found = read_niche(source, manifest, market, niche, whole)
            if found.counts is None:
                return found
            wanted = {
                (one.market_id, name): one.data.searches[one.data.term_subject == at].sum()
                for one in assemble(read_package(folder))[0]
                for at, name in enumerate(one.data.subjects)
            }
        self.assertAlmostEqual(found.counts.measures["searches"].sum(), wanted[market, niche])
        return found

    def test_its_terms_and_the_listings_clicked_after_them(self) -> None:
        found = self.read("rf", supplied_market())
        self.assertEqual(
            set(found.frames["listings"]["listing_id"]), {"l1", "l2", "l3", "l4", "l5"}
        )
        self.assertEqual(found.frames["niches"]["name"].to_list(), ["Rhubarb forcers"])
        self.assertEqual(
            set(found.frames["listing_weeks"]["listing_id"]), {"l1", "l2", "l3", "l4", "l5"}
        )
        self.assertEqual(found.frames["feedback"]["theme"].to_list(), ["lid cracks, in frost"])
        self.assertIn("Growing", found.frames["categories"]["name"].to_list())

    def test_a_niche_without_clicks_has_no_listings(self) -> None:
        found = self.read("mf", supplied_market())
        self.assertFalse({"listings", "offers", "term_clicks"} & set(found.frames))

    def test_a_term_alone_is_its_own_niche(self) -> None:
        flags = table("term,branded", ("lone spade", 1), ("other", 0))
        for more in ({}, {"terms": flags}):
            files = {
                "term_weeks": table("term,week,searches", *weekly("lone spade", [7] * 60)),
                **more,
            }
            found = self.read("lone spade", files, "market")
            self.assertNotIn("niches", found.frames)
            self.assertEqual(found.frames["terms"]["term"].to_list(), ["lone spade"])
        self.assertEqual(found.frames["terms"]["branded"].to_list(), [1])

    def test_a_term_that_is_called_as_a_niche_is_one_of_its_own(self) -> None:
        files = {
            "niches": table("niche_id,name", ("spade", "Spades")),
            "terms": table("term,niche_id", ("long spade", "spade")),
            "term_weeks": table(
                "term,week,searches", *weekly("spade", [5] * 60), *weekly("long spade", [9] * 60)
            ),
        }
        alone = self.read("term:spade", files, "market")
        assert alone.counts is not None
        self.assertEqual(alone.counts.subjects, ["spade"])
        self.assertEqual(alone.frames["niches"]["name"].to_list(), ["spade"])
        niche = self.read("spade", files, "market")
        assert niche.counts is not None
        self.assertEqual(niche.counts.subjects, ["long spade"])

    def test_one_that_is_not_there_has_nothing(self) -> None:
        found = self.read("none", supplied_market())
        self.assertIsNone(found.counts)
        self.assertFalse({"term_clicks", "listings", "niches"} & set(found.frames))
