"""Own part as it is used: from the weekly routine to the block of the dossier that says where the share went."""

from playwright.sync_api import expect

from driftfield.exchange.tests.packages import small_market
from driftfield.exchange.tests.selling import LOSES, selling

from .base import BrowserCase
from .market import load


class OwnPart(BrowserCase):
    def test_from_the_week_to_where_the_share_went(self) -> None:
        load(selling())
        page = self.open("/watch")
        own = page.get_by_role("region", name="Our part")
        expect(own).to_contain_text("In 3 niches together you sold")
        gains = own.get_by_role("row").filter(has_text="Gains")
        expect(gains).to_contain_text("Gained share as the market grew")
        expect(own.get_by_role("row").filter(has_text="Loses")).to_contain_text("▼")
        with page.expect_download() as download:
            own.get_by_role("link", name="Export 3 niches as CSV").click()
        self.assertEqual(len(download.value.path().read_text("utf-8-sig").splitlines()), 4)
        own.get_by_role("link", name="Gains").click()
        part = page.get_by_role("region", name="Our part", exact=True)
        expect(part).to_contain_text("of what is known to be sold here")
        expect(part.get_by_role("img", name="Your sales of Gains over time")).to_be_visible()
        split = part.get_by_role("table").filter(has_text="your growth")
        expect(split.get_by_role("row")).to_have_count(8)
        expect(split).to_contain_text("13 weeks on a year before")
        expect(part.get_by_role("table").filter(has_text="after the term")).to_contain_text(
            "term gains"
        )
        listings = part.get_by_role("table").filter(has_text="Thing 0 that gains")
        expect(listings.get_by_role("row").nth(1)).to_contain_text("yours")
        # By the number of the question, and as a condition on the Field.
        page.keyboard.press("1")
        page.keyboard.press("7")
        expect(page).to_have_url(f"{self.live_server_url}/dossier?market=m&niche=gains#own")
        self.go(f"/dossier?niche={LOSES}")
        expect(part).to_contain_text("Lost share as the market grew")
        expect(part.get_by_text("Where the clicks went")).to_have_count(0)
        self.go("/field?c=own.share_change_high+%3C%3D+0%25")
        expect(page.get_by_role("grid", name="Ranked niches").get_by_role("row")).to_have_count(2)

    def test_who_sells_nothing_is_told_what_it_takes(self) -> None:
        load(small_market())
        page = self.open("/dossier?niche=rf")
        part = page.get_by_role("region", name="Our part", exact=True)
        expect(part).to_contain_text("No own sales of this niche are known.")
        self.go("/watch")
        expect(part).to_contain_text("No own sales are known that belong to a niche.")
