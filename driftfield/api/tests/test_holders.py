"""Brands and sellers by the application: ledger, close up, goods, what they carry together, and lead offers."""

import csv
import io
import json
import tempfile
import zipfile
from pathlib import Path
from urllib.parse import quote

from click.testing import CliRunner

from driftfield.cli.main import main
from driftfield.exchange.tests.packages import write
from driftfield.exchange.tests.sleepy import peopled_market
from driftfield.market.models import Market
from driftfield.readings.actions import analyse_market
from driftfield.readings.models import MarketSettings

from .loaded import Loaded


class Holders(Loaded):
    package = staticmethod(peopled_market)

    def rows(self, of: str, figures: str, *conditions: str) -> dict[str, dict]:
        more = "".join(f"&c={quote(one)}" for one in conditions)
        found = self.get(f"ledger/?of={of}&figures={figures}{more}")
        return {row["id"]: row["extra"] for row in found["rows"]}

    def test_each_by_what_it_sells(self) -> None:
        found = self.rows("sellers", "carried.listings,carried.came_52w,carried.went_52w")
        told = {key: [*row.values()] for key, row in found.items()}
        # s1 is named by two listings and has no offer; since when is not known.
        self.assertEqual(
            told,
            {"wick": [2, 1, 1], "comb": [3, 0, 0], "loft": [1, 1, 1], "s1": [2, None, None],
             "s2": [3, None, None]},
        )  # fmt: skip
        brands = self.rows("brands", "carried.listings,carried.sellers,carried.asleep")
        self.assertEqual([*brands["skep"].values()], [3, 5, 2])

    def test_sales_are_of_who_held_the_lead_offer(self) -> None:
        units = self.rows("sellers", "sales.units_52w,carried.lead_share")
        of_listings = self.rows("listings", "sales.units_52w")
        whole = sum(row["sales.units_52w"] for key, row in of_listings.items() if key != "l6")
        self.assertAlmostEqual(sum(r["sales.units_52w"] or 0 for r in units.values()), whole, 2)
        # The lead offers that it held are a third of those of what it carries.
        self.assertAlmostEqual(units["wick"]["carried.lead_share"], 12 / 36, 5)
        self.assertEqual(units["loft"]["carried.lead_share"], 0)

    def test_conditions_ask_them_for_their_own_figures(self) -> None:
        self.assertEqual(set(self.rows("brands", "", "price under 10")), {"skep", "lode"})
        self.assertEqual(set(self.rows("sellers", "", "its listings at least 3")), {"comb", "s2"})
        self.assertEqual(set(self.rows("sellers", "", "terms contain comb")), {"comb"})
        self.get("ledger/?of=brands&c=made by skep", 409)
        self.get("ledger/?of=niches&c=its listings at least 3", 409)

    def test_close_up(self) -> None:
        brand = self.get("rivals/brand/?brand=skep")
        self.assertEqual(
            (brand["name"], brand["period"], len(brand["values"])), ("Skep", "month", 24)
        )
        self.assertIn("It has 3 listings in 2 categories on sale", " ".join(brand["verdict"]))
        self.assertEqual(brand["dates"], [])
        seller = self.get("rivals/seller/?seller=wick")
        self.assertIn("Its sales are assumed", seller["verdict"][-1])
        # What a run stored of its curve adds up to its units.
        self.assertAlmostEqual(sum(seller["values"][-12:]), seller["figures"]["sales_units_52w"], 2)
        for address in (
            "brand/?brand=nobody",
            "seller/?seller=nobody",
            "seller/page/?seller=nobody",
        ):
            self.get(f"rivals/{address}", 404)

    def test_who_sends_the_goods(self) -> None:
        found = self.rows("listings", "listing.sent")
        # Of three offers of the first one it is known of two; what went does not count; elsewhere it is unknown.
        self.assertEqual(found["l1"]["listing.sent"], 0.5)
        self.assertEqual(found["l2"]["listing.sent"], 0)
        self.assertIsNone(found["l3"]["listing.sent"])
        passing = self.rows("listings", "", "offers the marketplace sends at least 50%")
        self.assertEqual(set(passing), {"l1"})
        sellers = self.get("rivals/listing/page/?listing=l1")["sellers"]
        sent = {one["id"]: one["fulfilment"] for one in sellers}
        self.assertEqual(sent, {"wick": "marketplace", "comb": "seller", "loft": "", "s1": ""})
        # It goes out as it came in.
        folder = self.client.get("/api/tables/?market=north&all=yes")
        with zipfile.ZipFile(io.BytesIO(b"".join(folder))) as package:
            offers = list(csv.DictReader(io.StringIO(package.read("offers.csv").decode())))
        self.assertEqual({row["fulfilment"] for row in offers}, {"marketplace", "seller", ""})

    def goods(self, who: str, **asked: str) -> list[str]:
        query = "&".join(f"{key}={value}" for key, value in asked.items())
        found = self.get(f"rivals/{who}&{query}")
        self.assertEqual(found["all_goods"], len(found["goods"]))
        return sorted(one["id"] for one in found["goods"])

    def test_a_storefront_now_on_a_day_and_ever(self) -> None:
        wick = "seller/page/?seller=wick"
        self.assertEqual(self.goods(wick), ["l1", "l3"])
        self.assertEqual(self.goods(wick, when="ever"), ["l1", "l2", "l3"])
        self.assertEqual(self.goods(wick, when="2025-07-15"), ["l1", "l2"])
        self.assertEqual(self.goods(wick, when="2023-07-15"), ["l1"])
        self.assertEqual(self.goods(wick, only="went"), ["l2"])
        self.assertEqual(self.goods(wick, only="came"), ["l3"])
        self.assertEqual(self.goods(wick, only="asleep"), ["l1"])
        self.get("rivals/" + wick + "&when=2027-01-01", 409)
        self.get("rivals/" + wick + "&when=july", 409)
        self.get("rivals/brand/page/?brand=skep&when=2025-07-15", 409)

    def test_who_shares_in_the_goods(self) -> None:
        brand = self.get("rivals/brand/page/?brand=skep")
        self.assertEqual(
            {one["id"]: one["listings"] for one in brand["categories"]}, {"honey": 1, "bees": 2}
        )
        sellers = {one["id"]: one for one in brand["others"]}
        self.assertEqual(sellers["wick"]["listings"], 2)
        self.assertAlmostEqual(sum(one["lead"] for one in sellers.values()), 1, 5)
        wick = self.get("rivals/seller/page/?seller=wick")
        self.assertEqual([(one["id"], one["name"]) for one in wick["others"]], [("skep", "Skep")])
        (good,) = (one for one in wick["goods"] if one["id"] == "l1")
        self.assertEqual((good["since"], good["until"]), ("2023-01-10", None))

    def test_lead_offers_of_a_niche_in_its_last_season_and_in_a_month(self) -> None:
        found = self.get("niche/leads/?niche=hs")
        self.assertRegex(
            found["sentence"], "2 sellers held lead offers of 2 listings in its last season"
        )
        self.assertEqual({one["seller_id"] for one in found["rows"]}, {"wick", "comb"})
        late = self.get("niche/leads/?niche=hs&month=2025-12")
        self.assertEqual([(one["seller_id"], one["share"]) for one in late["rows"]],
                         [("comb", 0.5), ("wick", 0.5)])  # fmt: skip
        self.get("niche/leads/?niche=hs&month=2015-12", 409)
        self.get("niche/leads/?niche=hs&month=soon", 409)
        self.get("niche/leads/?niche=nowhere", 404)

    def test_decided_and_remembered(self) -> None:
        keep = {"market_id": "north", "of": "sellers", "choice": "keep", "id": "wick"}
        self.post("desk/decisions/", keep, 201)
        (entry,) = self.get("desk/shortlist/?market=north&of=sellers")
        self.assertEqual((entry["name"], entry["then"]["carried.listings"]), ("Wick & Daughter", 2))
        # Another analysis has them in another order, perhaps; what is decided is by the id.
        analyse_market(Market.objects.get())
        self.assertEqual(set(self.rows("sellers", "", "decided keep")), {"wick"})
        side = self.get("side-by-side/?of=sellers&market=north&row=wick&row=comb")
        self.assertEqual(side["ids"], ["wick", "comb"])
        self.post("desk/decisions/", {**keep, "id": "nobody"}, 409)

    def told(self, folder: Path, *words: str) -> list[dict]:
        out = folder.parent / "out.csv"
        done = CliRunner().invoke(main, [words[0], str(folder), *words[1:], "--out", str(out)])
        self.assertEqual(done.exit_code, 0, done.output)
        return list(csv.DictReader(out.read_text("utf-8-sig").splitlines()))

    def test_the_application_and_the_command_line_tell_the_same(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **peopled_market())
            for kind in ("listings", "brands", "sellers"):
                answer = self.client.get(f"/api/readings/file/?of={kind}&as=csv")
                stored = list(csv.DictReader(io.StringIO(b"".join(answer).decode("utf-8-sig"))))
                told = self.told(folder, "analyse", "--of", kind)
                self.assertEqual(len(stored), len(told))
                for ours, theirs in zip(stored, told, strict=True):
                    for key, value in theirs.items():
                        try:
                            self.assertAlmostEqual(
                                float(ours[key]), float(value), delta=1e-5 * (1 + abs(float(value))), msg=key,
                            )  # fmt: skip
                        except ValueError:
                            self.assertEqual(ours[key], value, key)
            sleepers = CliRunner().invoke(main, ["sleepers", str(folder)]).stdout.splitlines()
            record = json.loads(sleepers[0])
            leads = self.told(folder, "leads", "--niche", "hs")
            answer = self.client.get(
                "/api/rivals/together/file/?sellers=wick,comb,loft&least=2&when=ever&as=csv"
            )
            stored = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))
            told = self.told(folder, "carried", "--sellers", "wick,comb,loft", "--ever")
        self.assertEqual(stored, told)
        listing = self.get(f"rivals/listing/?listing={record['listing_id']}")
        self.assertEqual(record["sentences"][0], listing["verdict"][0])
        ours = self.get("niche/leads/?niche=hs")["rows"]
        self.assertEqual([(one["seller_id"], one["listings"]) for one in ours],
                         [(one["seller_id"], int(one["listings"])) for one in leads])  # fmt: skip


class Together(Loaded):
    package = staticmethod(peopled_market)

    def together(self, sellers: str, status: int = 200, **asked: object) -> dict:
        query = "&".join(f"{key}={value}" for key, value in asked.items())
        return self.get(f"rivals/together/?sellers={quote(sellers)}&{query}", status)

    def ids(self, sellers: str, **asked: object) -> list[str]:
        return [one["listing_id"] for one in self.together(sellers, **asked)["listings"]]

    def test_pasted_in_any_form(self) -> None:
        found = self.together("wick\nhttps://quay.example/shop/comb?page=2; Loft End, nobody")
        self.assertEqual([one["id"] for one in found["sellers"]], ["wick", "comb", "loft"])
        self.assertEqual([one["listings"] for one in found["sellers"]], [2, 3, 1])
        self.assertEqual(found["unknown"], ["nobody"])
        self.together("nobody at all", 409)

    def test_now_in_a_window_ever_and_dropped(self) -> None:
        three = "wick,comb,loft"
        self.assertEqual(self.ids(three, least=3), ["l1"])
        self.assertEqual(self.ids(three), ["l1", "l3"])
        self.assertEqual(self.ids(three, when="ever", least=3), ["l1", "l2"])
        self.assertEqual(self.ids(three, when="2025-09-20"), ["l1", "l2", "l3"])
        self.assertEqual(self.ids(three, what="dropped"), ["l2"])
        # More than there are is all of them.
        self.assertEqual(self.together("wick", least=4)["least"], 1)
        self.assertEqual(self.ids("wick", least=1), ["l1", "l3"])
        self.assertIn("carried since 20 Sep 2025 by at least 2 of 3 sellers",
                      self.together(three, when="2025-09-20")["sentence"])  # fmt: skip
        self.together(three, 409, when="2027-01-01")
        self.together(three, 400, what="prices")

    def test_brands_and_categories_beyond_chance(self) -> None:
        for what in ("brands", "categories"):
            # Of six listings nothing is beyond chance.
            self.assertEqual(self.together("wick,comb", what=what)["groups"], [])

    def test_my_own(self) -> None:
        self.assertEqual(self.get("rivals/own/")["sellers"], [])
        self.together("wick,comb", 409, lacking="yes")
        mine = {"market_id": "north", "seller": "loft", "own": True}
        self.assertEqual(self.post("rivals/own/", mine)["sellers"], ["loft"])
        self.assertEqual(self.post("rivals/own/", mine)["sellers"], ["loft"])
        self.assertEqual(self.ids("wick,comb", lacking="yes"), ["l3"])
        found = self.together("wick,comb")
        self.assertEqual({one["listing_id"]: one["mine"] for one in found["listings"]},
                         {"l1": True, "l3": False})  # fmt: skip
        # On the page of another seller, and of a brand, it is told what one has as well; of oneself it is not.
        wick = self.get("rivals/seller/page/?seller=wick")
        self.assertEqual(
            (wick["mine"], {one["id"]: one["mine"] for one in wick["goods"]}),
            (1, {"l1": True, "l3": False}),
        )
        self.assertEqual(self.get("rivals/brand/page/?brand=skep")["mine"], 1)
        self.assertIsNone(self.get("rivals/seller/page/?seller=loft")["mine"])
        # It outlives an analysis, and one who sells nothing any more is no fault.
        analyse_market(Market.objects.get())
        MarketSettings.objects.update(own_sellers=["loft", "gone"])
        self.assertEqual(self.ids("wick,comb", lacking="yes"), ["l3"])
        self.post("rivals/own/", {**mine, "seller": "nobody"}, 409)
        self.assertEqual(self.post("rivals/own/", {**mine, "own": False})["sellers"], ["gone"])

    def test_my_own_goods_and_which_to_order_again(self) -> None:
        self.assertEqual(self.get("rivals/own/goods/")["all_rows"], 0)
        self.post("rivals/own/", {"market_id": "north", "seller": "wick", "own": True})
        found = self.get("rivals/own/goods/?every=yes&listings=l5,l99")
        self.assertEqual({one["id"] for one in found["sellers"]}, {"wick"})
        self.assertEqual(found["unknown"], ["l99"])
        rows = {one["listing_id"]: one for one in found["rows"]}
        self.assertEqual(set(rows), {"l1", "l2", "l3", "l5"})
        self.assertIn("price", rows["l2"]["reasons"])
        self.assertIsNone(rows["l5"]["until"])
        again = self.get("rivals/own/goods/")
        self.assertEqual(again["again"], sum(bool(one["reasons"]) for one in again["rows"]))
        # Files, by the command, say the same.
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **peopled_market())
            done = CliRunner().invoke(main, ["replenish", str(folder), "--mine", "wick", "--all"])
        told = {
            row["listing_id"]: row["sentence"] for row in map(json.loads, done.stdout.splitlines())
        }
        self.assertEqual(told, {key: rows[key]["sentence"] for key in ("l1", "l2", "l3")})
        self.get("rivals/own/goods/?listings=zebra", 409)
        self.get("rivals/own/goods/?rise=0", 409)
