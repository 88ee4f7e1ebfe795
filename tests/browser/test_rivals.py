"""Those who sell already: from a sleeper to its niche, kept, with its order-by date."""

import csv
import re
from pathlib import Path
from urllib.parse import quote

from playwright.sync_api import expect

from driftfield.desk.models import Decision, WordList
from driftfield.exchange.tests.sleepy import peopled_market, sleepy_market

from .base import BrowserCase
from .market import load


class Rivals(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(sleepy_market())

    def test_from_what_sleeps_to_a_sleeper_that_is_kept(self) -> None:
        page = self.open("/rivals")
        expect(page.get_by_text("6 listings. Begin with those that")).to_be_visible()
        rows = page.get_by_role("grid", name="Listings").get_by_role("row")
        page.get_by_role("button", name="sleep until their season").click()
        expect(page).to_have_url(re.compile("c=sleeper\\+is\\+Asleep.*sort=-sleep.strong_4w"))
        expect(page.get_by_role("status").filter(has_text="pass")).to_contain_text("4 of 6 pass")
        expect(rows.nth(1)).to_contain_text("Steel honey strainer")
        foot = page.get_by_role("region", name="Selected listing")
        expect(foot).to_contain_text("It sleeps:")
        expect(foot).to_contain_text("By its niche")
        expect(foot.get_by_text("units a month")).to_be_visible()
        page.keyboard.press("k")
        self.expect_soon(
            lambda: list(
                Decision.objects.filter(current=True).values_list("kind", "subject", "choice")
            ),
            [("listing", "l1", "keep")],
        )
        # One way at a time; Back takes both the condition and the order back.
        page.get_by_role("button", name="are in season now").click()
        expect(rows.nth(1)).to_contain_text("Swarm lure vial")
        expect(page).not_to_have_url(re.compile("Asleep"))
        page.go_back()
        expect(page.get_by_role("status").filter(has_text="pass")).to_contain_text("4 of 6 pass")
        page.get_by_role("link", name="Shortlist", exact=True).click()
        page.goto(f"{self.live_server_url}/shortlist?market=north&of=listings")
        expect(page.get_by_text("Steel honey strainer").first).to_be_visible()

    def test_a_listing_has_a_page_from_which_one_goes_on(self) -> None:
        page = self.open("/rivals?listing=l4")
        foot = page.get_by_role("region", name="Selected listing")
        expect(foot).to_contain_text("Swarm lure gel")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("/listing.*listing=l4"))
        expect(page.get_by_role("heading", name="Swarm lure gel")).to_be_visible()
        expect(page.get_by_role("region", name="Verdict")).to_contain_text("in stock for 2%")
        expect(page.get_by_role("region", name="What leads to it")).to_contain_text("swarm lure")
        page.keyboard.press("p")
        self.expect_soon(
            lambda: list(Decision.objects.filter(current=True).values_list("subject", "choice")),
            [("l4", "park")],
        )
        page.get_by_role("region", name="Others in its niche").get_by_role(
            "link", name="Swarm lure vial"
        ).click()
        expect(page.get_by_role("heading", name="Swarm lure vial")).to_be_visible()
        page.get_by_role("link", name="Its brand").click()
        expect(page.get_by_role("heading", name="skep")).to_be_visible()
        page.get_by_role("link", name="Its listings in Rivals").click()
        expect(page.get_by_role("status").filter(has_text="pass")).to_contain_text("3 of 6 pass")
        page.go_back()
        page.go_back()
        page.get_by_role("link", name="Swarm lures", exact=True).click()
        expect(page).to_have_url(re.compile("/dossier.*niche=sl"))

    def test_a_lens_a_chart_and_other_markets_are_not_offered(self) -> None:
        page = self.open("/rivals")
        expect(page.get_by_role("button", name="Columns")).to_be_visible()
        for name in (re.compile("Lens"), "chart"):
            expect(page.get_by_role("button", name=name)).to_have_count(0)
        page.keyboard.press("g")
        expect(page.get_by_role("grid", name="Listings")).to_be_visible()

    def test_sleepers_are_skimmed_and_the_one_that_is_kept_is_opened(self) -> None:
        page = self.open(f"/rivals?c={quote('sleeper is Asleep')}&sort=name")
        expect(page.get_by_role("grid", name="Listings")).to_be_visible()
        page.keyboard.press("s")
        expect(page).to_have_url(re.compile("/skim.*of=listings"))
        progress = page.get_by_role("region", name="Progress")
        expect(progress.get_by_role("status")).to_have_text("1 of 4")
        card = page.get_by_role("article")
        expect(card.get_by_role("heading")).to_have_text("Comb cutter")
        page.keyboard.press("ArrowRight")
        expect(card.get_by_role("heading")).to_have_text("Double honey strainer")
        # What decides, with the terms that lead to it and what stands beside it in its niche.
        for text in ("Units a year", "Asleep, order by", "Price now", "£12.00"):
            expect(card.get_by_text(text, exact=True).first).to_be_visible()
        expect(card.get_by_role("row").filter(has_text="honey strainer").first).to_be_visible()
        expect(card.get_by_role("row").filter(has_text="Steel honey strainer")).to_be_visible()
        page.keyboard.press("k")
        expect(card.get_by_role("heading")).not_to_have_text("Double honey strainer")
        self.expect_soon(
            lambda: list(
                Decision.objects.filter(current=True).values_list("kind", "subject", "choice")
            ),
            [("listing", "l2", "keep")],
        )
        page.keyboard.press("ArrowLeft")
        expect(card.get_by_role("heading")).to_have_text("Double honey strainer")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("/listing.*listing=l2"))
        page.go_back()
        page.get_by_role("link", name="Back to Rivals").click()
        expect(page.get_by_role("grid", name="Listings")).to_be_visible()


class NoListings(BrowserCase):
    def test_that_none_are_known_is_said(self) -> None:
        files = sleepy_market()
        for lacking in ("listings", "listing_weeks", "term_clicks"):
            del files[lacking]
        load(files)
        page = self.open("/rivals")
        expect(page.get_by_text("No listings are known here.")).to_be_visible()


class Holders(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(peopled_market())

    def test_brands_and_sellers_are_skimmed_with_what_they_sell_most(self) -> None:
        for home, name, fact in (
            ("/rivals/brands", "Skep", "Sellers"),
            ("/rivals/sellers", "Wick", "Brands"),
        ):
            page = self.open(home)
            expect(page.get_by_role("grid")).to_be_visible()
            page.get_by_role("button", name="Skim them").click()
            card = page.get_by_role("article")
            while name not in card.get_by_role("heading").inner_text():
                before = card.get_by_role("heading").inner_text()
                page.keyboard.press("ArrowRight")
                expect(card.get_by_role("heading")).not_to_have_text(before)
            expect(card.get_by_text(fact, exact=True)).to_be_visible()
            expect(card.get_by_role("table", name="").last).to_contain_text("what sells most")

    def kept(self) -> list[tuple[str, str, str]]:
        found = Decision.objects.filter(current=True)
        return list(found.values_list("kind", "subject", "choice"))

    def test_from_a_niche_over_last_seasons_lead_offers_to_a_sleeper_that_is_kept(self) -> None:
        page = self.open("/dossier?niche=hs")
        leads = page.get_by_role("region", name="Who held the lead offers")
        leads.scroll_into_view_if_needed()
        expect(leads).to_contain_text("2 sellers held lead offers of 2 listings in its last season")
        leads.get_by_role("link", name="Wick & Daughter").click()
        # All that it ever had, for what was stocked for last season may be gone.
        expect(page.get_by_role("heading", name="Wick & Daughter")).to_be_visible()
        goods = page.get_by_role("region", name="Its goods")
        expect(goods.get_by_role("status")).to_have_text("3 listings")
        expect(goods.get_by_role("row").filter(has_text="Double")).to_contain_text("10 Sep 2025")
        goods.get_by_role("button", name="asleep").click()
        expect(goods.get_by_role("status")).to_have_text("2 listings")
        strainer = goods.get_by_role("row").filter(has_text="Steel honey strainer")
        expect(strainer).to_contain_text("Asleep")
        strainer.get_by_role("link", name="Steel honey strainer").click()
        expect(page.get_by_role("region", name="Verdict")).to_contain_text("It sleeps:")
        page.keyboard.press("k")
        self.expect_soon(self.kept, [("listing", "l1", "keep")])
        # Its order-by date goes with it.
        page.goto(f"{self.live_server_url}/shortlist?market=north&of=listings")
        row = page.get_by_role("row").filter(has_text="Steel honey strainer")
        expect(row).to_contain_text(re.compile(r"\d+ \w{3} 202[67]"))

    def test_four_sellers_pasted_what_at_least_three_carry_exported(self) -> None:
        page = self.open("/rivals/sellers")
        page.get_by_role("link", name="together", exact=True).click()
        box = page.get_by_role("textbox", name="Sellers")
        box.fill("wick, comb\nhttps://quay.example/shop/loft?page=1\nHarrow Quay; zebra")
        page.get_by_role("button", name="Look").click()
        chosen = page.get_by_role("list", name="Chosen sellers")
        expect(chosen.get_by_role("listitem")).to_have_count(4)
        expect(page.get_by_text("Nobody here is called “zebra”.")).to_be_visible()
        least = page.get_by_role("spinbutton", name="At least so many of them")
        least.fill("3")
        least.press("Enter")
        page.get_by_role("button", name="ever").click()
        told = page.get_by_text("carried at any time by at least 3 of 4 sellers")
        expect(told).to_contain_text("3 listings")
        with page.expect_download() as started:
            page.get_by_role("link", name="Export the listings as CSV").click()
        rows = list(csv.DictReader(Path(started.value.path()).read_text("utf-8-sig").splitlines()))
        self.assertEqual(
            {row["listing_id"]: row["sellers"] for row in rows}, {"l1": "3", "l2": "3", "l3": "3"}
        )
        # The address holds it all; one that is left out is gone from it.
        page.reload()
        expect(told).to_be_visible()
        chosen.get_by_role("button", name="Leave out Loft End").click()
        expect(chosen.get_by_role("listitem")).to_have_count(3)
        expect(page.get_by_text("by at least 3 of 3 sellers")).to_contain_text("1 listing,")
        page.go_back()
        expect(chosen.get_by_role("listitem")).to_have_count(4)

    def test_a_seller_is_my_own_and_what_it_lacks(self) -> None:
        page = self.open("/seller?seller=loft")
        page.get_by_role("button", name="It is my own").click()
        expect(page.get_by_role("button", name="My own: say it is not")).to_be_visible()
        page.goto(f"{self.live_server_url}/rivals/together?market=north&sellers=wick,comb")
        expect(page.get_by_text("2 listings, carried")).to_be_visible()
        page.get_by_role("checkbox", name="not carried by me yet").check()
        expect(page.get_by_text("1 listing, carried")).to_be_visible()
        page.get_by_role("link", name="Wick & Daughter").click()
        page.get_by_label("When it had them: on this day").fill("2025-07-15")
        page.get_by_label("When it had them: on this day").press("Enter")
        goods = page.get_by_role("region", name="Its goods")
        expect(goods.get_by_role("row").filter(has_text="Double")).to_be_visible()
        expect(goods.get_by_role("status")).to_have_text("2 listings; 1 of them I have now as well")
        page.get_by_role("heading", name="Wick & Daughter").click()
        page.keyboard.press("k")
        self.expect_soon(self.kept, [("seller", "wick", "keep")])
        page.keyboard.press("f")
        expect(page.get_by_role("grid", name="Sellers")).to_be_visible()

    def test_marked_sellers_go_on_a_list_and_ids_are_pasted_onto_it(self) -> None:
        page = self.open("/rivals/sellers?seller=wick")
        rows = page.get_by_role("grid", name="Sellers").get_by_role("row")
        rows.filter(has_text="Wick & Daughter").get_by_role("checkbox").click()
        rows.filter(has_text="Comb Lane").get_by_role("checkbox").click()
        page.get_by_role("button", name="Put on a list").click()
        page.get_by_role("textbox", name="Name of the list").fill("To learn from")
        page.keyboard.press("Enter")
        expect(page.get_by_text("2 sellers on the list “To learn from”")).to_be_visible()
        page.get_by_role("link", name="lists", exact=True).click()
        page.get_by_role("navigation", name="Lists").get_by_role("link", name="sellers").click()
        listed = page.get_by_role("region", name="To learn from")
        expect(listed.get_by_role("row")).to_have_count(3)
        page.get_by_role("textbox", name="Ids of sellers").fill(
            "https://quay.example/s/loft; zebra"
        )
        page.get_by_role("button", name="Put on the list").click()
        expect(page.get_by_text("No seller here, and left out: “zebra”.")).to_be_visible()
        expect(listed.get_by_role("row")).to_have_count(4)
        note = listed.get_by_role("textbox", name="Note on the list")
        note.fill("seen at the fair")
        note.press("Enter")
        self.expect_soon(lambda: WordList.objects.get().note, "seen at the fair")
        listed.get_by_role("button", name="Take Comb Lane off the list").click()
        expect(listed.get_by_role("row")).to_have_count(3)
        self.assertEqual(WordList.objects.get().terms, ["wick", "loft"])

    def test_my_own_goods_and_which_to_order_again(self) -> None:
        page = self.open("/rivals/own")
        expect(page.get_by_text("No seller is my own yet.")).to_be_visible()
        box = page.get_by_role("textbox", name="Listings")
        box.fill("https://quay.example/p/l2 l99")
        page.get_by_role("button", name="Look").click()
        expect(page.get_by_text("No listing here: “l99”.")).to_be_visible()
        rows = page.get_by_role("row")
        expect(page.get_by_text("1 of 1 own goods may pay to order again.")).to_be_visible()
        expect(rows.filter(has_text="Double honey strainer")).to_contain_text(
            "Its price rose by 50% in 13 weeks while demand in its niche is not seen to fall"
        )
        rise = page.get_by_role("spinbutton", name="Percent by which the price has risen")
        rise.fill("60")
        rise.press("Enter")
        expect(page.get_by_text("0 of 1 own goods may pay to order again.")).to_be_visible()
        page.get_by_role("checkbox", name="also those of which nothing says so").check()
        expect(rows.filter(has_text="Double honey strainer")).to_contain_text(
            "Nothing says so yet."
        )
        with page.expect_download() as started:
            page.get_by_role("link", name="Export the goods as CSV").click()
        (row,) = csv.DictReader(Path(started.value.path()).read_text("utf-8-sig").splitlines())
        self.assertEqual((row["listing_id"], row["carried_now"]), ("l2", "no"))

    def test_a_brand_from_the_ledger_to_its_goods(self) -> None:
        page = self.open("/rivals/brands")
        expect(page.get_by_text("3 brands. Begin with those that")).to_be_visible()
        page.get_by_role("button", name="have sleepers").click()
        rows = page.get_by_role("grid", name="Brands").get_by_role("row")
        expect(rows.nth(1)).to_contain_text("Skep")
        expect(page.get_by_role("status").filter(has_text="pass")).to_contain_text("1 of 3 pass")
        foot = page.get_by_role("region", name="Selected brand")
        expect(foot).to_contain_text("Skep")
        foot.get_by_role("button", name="Its page").click()
        goods = page.get_by_role("region", name="Its goods")
        expect(goods.get_by_role("row")).to_have_count(4)
        sellers = page.get_by_role("region", name="Who sells it")
        expect(sellers.get_by_role("row").filter(has_text="Comb Lane")).to_contain_text("%")
        goods.get_by_role("link", name="Swarm lure gel").click()
        expect(page.get_by_role("heading", name="Swarm lure gel")).to_be_visible()
        page.go_back()
        sellers.get_by_role("link", name="Comb Lane").click()
        expect(page.get_by_role("heading", name="Comb Lane")).to_be_visible()
        expect(page.get_by_role("region", name="Verdict")).to_contain_text("assumed")
