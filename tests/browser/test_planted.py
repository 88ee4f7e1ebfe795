"""What the dossier says of the hard cases planted in the demo market."""

import io
import zipfile
from collections.abc import Callable
from pathlib import Path

import polars as pl
from playwright.sync_api import expect

from .base import BrowserCase
from .market import load

PACKAGE = Path(__file__).resolve().parents[2] / "demo/harrow-quay.zip"
# Niche, question, and what its verdict must say.
PLANTED = (
    ("north-slug-collars", "Is the demand real?", "the usual February-to-May rise makes"),
    ("north-simnel-cake-rings", "When does it come?", "with Easter, next in March"),
    ("north-beeswax-wrap-kits", "Is the demand real?", "it has not come back"),
    ("north-onion-hoes", "Who holds it?", "One brand dominates, with"),
    ("north-greenhouse-drip-kits", "Who holds it?", "100% of the listings became cheaper"),
    ("north-storm-glasses", "Who holds it?", "term_clicks and listings would tell"),
)


def demo_tables(wanted: Callable[[str], bool]) -> dict[str, str]:
    """The demo market's tables with only some of its niches, and the listings clicked in them."""
    with zipfile.ZipFile(PACKAGE) as archive:
        tables = {
            Path(name).stem: pl.read_csv(io.BytesIO(archive.read(name)), infer_schema=False)
            for name in archive.namelist()
            if name.endswith(".csv")
        }
    niches = [niche for niche in tables["niches"]["niche_id"].to_list() if wanted(niche)]
    tables["niches"] = tables["niches"].filter(pl.col("niche_id").is_in(niches))
    tables["terms"] = tables["terms"].filter(pl.col("niche_id").is_in(niches))
    terms = tables["terms"]["term"].implode()
    for name in ("term_weeks", "term_clicks", "interest"):
        tables[name] = tables[name].filter(pl.col("term").is_in(terms))
    pages = tables["term_clicks"]["listing_id"].unique().implode()
    for name in ("listings", "listing_weeks", "offers", "feedback", "voices", "own_sales"):
        tables[name] = tables[name].filter(pl.col("listing_id").is_in(pages))
    return {name: frame.write_csv() for name, frame in tables.items() if frame.height}


class Planted(BrowserCase):
    def test_verdicts_of_the_hard_cases(self) -> None:
        load(demo_tables({niche for niche, *_ in PLANTED}.__contains__))
        for niche, question, expected in PLANTED:
            with self.subTest(niche=niche):
                page = self.open(f"/dossier?niche={niche}")
                section = page.get_by_role("region", name=question)
                expect(section.locator(".verdict")).to_contain_text(expected)
        self.slug_collars()
        self.simnel_cake_rings()
        self.beeswax_wrap_kits()
        self.greenhouse_drip_kits()
        self.storm_glasses()

    def section(self, niche: str, question: str):
        return self.open(f"/dossier?niche={niche}").get_by_role("region", name=question)

    def slug_collars(self) -> None:
        """The rise is the calendar's: the picture's parts say so, and so do its figures."""
        demand = self.section("north-slug-collars", "Is the demand real?")
        row = demand.get_by_role("row").filter(has_text="13 weeks against the 13 before")
        season, drift = row.locator("td").nth(2), row.locator("td").nth(3)
        self.assertRegex(season.inner_text(), "-fold$")
        self.assertRegex(drift.inner_text(), "^([+−][0-9]%|unchanged)$")

    def simnel_cake_rings(self) -> None:
        calendar = self.section("north-simnel-cake-rings", "When does it come?")
        feasts = calendar.get_by_role("table", name="Moving feasts of the coming year")
        # Easter Sunday of 2027: 28 March.
        expect(feasts.get_by_role("row").filter(has_text="Easter")).to_contain_text("28 Mar 2027")

    def beeswax_wrap_kits(self) -> None:
        demand = self.section("north-beeswax-wrap-kits", "Is the demand real?")
        expect(demand).to_contain_text(
            "there is no calendar by which season and drift could be told apart"
        )
        expect(demand.get_by_text("what may come")).to_have_count(0)

    def greenhouse_drip_kits(self) -> None:
        self.section("north-greenhouse-drip-kits", "Who holds it?")
        signals = self.page.get_by_role("complementary", name="The niche at hand")
        for name in ("Prices fall across its listings", "Lead offers change hands"):
            expect(signals).to_contain_text(name)

    def storm_glasses(self) -> None:
        holders = self.section("north-storm-glasses", "Who holds it?")
        expect(holders).to_contain_text("term_clicks and listings would tell who takes the clicks")
        expect(holders.get_by_role("table", name="Listings")).to_have_count(0)
        complaints = self.page.get_by_role("region", name="What do they complain of?")
        expect(complaints).to_contain_text("feedback would tell what buyers say")
        money = self.page.get_by_role("region", name="Does it pay?")
        expect(money).to_contain_text("import listings, or enter one")
