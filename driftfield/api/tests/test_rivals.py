"""Rivals: listings in the ledger, close up, decided on and planned anew; as the command line has them."""

import json
import tempfile
from datetime import date, timedelta
from pathlib import Path

from click.testing import CliRunner

from driftfield.cli.main import main
from driftfield.exchange.tests.packages import write
from driftfield.exchange.tests.sleepy import sleepy_market
from driftfield.market.models import Market
from driftfield.readings.actions import choose_planning

from .loaded import Loaded


class Rivals(Loaded):
    package = staticmethod(sleepy_market)

    def ledger(self, **asked: str) -> dict:
        query = "&".join(f"{key}={value}" for key, value in asked.items())
        return self.get(f"ledger/?of=listings&{query}")

    def listing(self, key: str, status: int = 200) -> dict:
        return self.get(f"rivals/listing/?listing={key}", status)

    def test_each_listing_by_what_it_sells(self) -> None:
        rows = self.ledger(figures="sales.units_52w,sleep.state,sleep.why")["rows"]
        units = [row["extra"]["sales.units_52w"] for row in rows]
        self.assertEqual(units, sorted(units, reverse=True))
        state = {
            row["id"]: (row["extra"]["sleep.state"], row["extra"]["sleep.why"]) for row in rows
        }
        self.assertEqual(state["l1"], ("Asleep", "season"))
        self.assertEqual(state["l3"], ("In season", None))
        self.assertEqual(state["l4"], ("Asleep", "no stock"))
        self.assertEqual(state["l5"], (None, None))
        # One that nobody clicks has no niche, and sleeps by its own sales.
        self.assertEqual(
            (state["l6"][0], next(r["niche"] for r in rows if r["id"] == "l6")), ("Asleep", "")
        )
        self.assertEqual(next(row["name"] for row in rows if row["id"] == "l6"), "Comb cutter")

    def test_conditions_ask_a_listing_for_its_own_figures(self) -> None:
        found = self.ledger(c="price under 10", figures="listing.price")
        self.assertEqual(found["count"], 5)
        self.assertEqual(found["conditions"][0]["figure"], "listing.price")
        self.assertEqual(self.ledger(c="terms contain strainer")["count"], 2)
        self.assertEqual(self.ledger(c="category Honey")["count"], 3)
        self.assertEqual(self.ledger(c="made by Skep")["count"], 3)
        # Of one whose brand or seller is unknown neither a condition nor its denial holds.
        self.assertEqual(self.ledger(c="not made by skep")["count"], 2)
        self.assertEqual(self.ledger(c="sold by s1")["count"], 2)
        self.assertEqual(self.ledger(c="sold by nobody")["count"], 0)
        self.get("ledger/?of=niches&c=made by skep", 409)
        asleep = self.ledger(c="sleeper is Asleep and price over 10".replace(" and ", "&c="))
        self.assertEqual([row["id"] for row in asleep["rows"]], ["l2"])
        self.get("ledger/?of=listings&c=headroom > 50", 409)
        self.get("ledger/?of=niches&c=sleeper is Asleep", 409)

    def test_one_close_up(self) -> None:
        found = self.listing("l1")
        self.assertEqual(
            (found["brand"], found["seller"], found["niche_name"]),
            ("skep", "s1", "Honey strainers"),
        )
        self.assertEqual((found["period"], len(found["values"])), ("month", 24))
        self.assertIn("It sleeps:", found["verdict"][0])
        self.assertEqual(found["verdict"][-1], found["dates"][0])
        self.assertIn("By its niche", found["dates"][0])
        figures = found["figures"]
        self.assertIn(f"{figures['sleep_caught']:.0%} of it", found["dates"][0])
        alone = self.listing("l6")
        self.assertEqual((alone["niche"], alone["brand"]), ("", ""))
        self.assertIn("By its own sales", alone["dates"][0])
        self.assertIn("£12.00, then £8.00 (+50%)", " ".join(self.listing("l2")["verdict"]))
        self.listing("nobody", 404)

    def test_a_page_of_its_own(self) -> None:
        found = self.get("rivals/listing/page/?listing=l4")
        self.assertEqual(
            {curve["key"] for curve in found["curves"]} >= {"price", "units", "in_stock"}, True
        )
        (seller,) = found["sellers"]
        # It names its seller; since when is not known, and what is not known is not 0.
        self.assertEqual(
            (seller["id"], seller["since"], seller["until"], seller["lead"]),
            ("s2", None, None, None),
        )
        (term,) = found["terms"]
        self.assertEqual((term["term"], term["niche"]), ("swarm lure", "sl"))
        self.assertAlmostEqual(term["share"], 0.4, 5)
        self.assertEqual({one["id"] for one in found["beside"]}, {"l3", "l4"})
        # Of the last twelve months the second seller held the lead offer for nine, whenever the run began.
        (named,) = self.get("rivals/listing/page/?listing=l3")["sellers"]
        self.assertEqual((named["id"], named["lead"]), ("s2", 0.75))
        alone = self.get("rivals/listing/page/?listing=l6")
        self.assertEqual((alone["sellers"], alone["terms"], alone["beside"]), ([], [], []))
        self.get("rivals/listing/page/?listing=nobody", 404)

    def test_dates_move_with_the_lead_time_as_a_new_analysis_would_have_them(self) -> None:
        market = Market.objects.get()
        before = self.listing("l1")["figures"]
        choose_planning(market, None, 20)
        after = self.listing("l1")["figures"]
        rise = date.fromisoformat(after["sleep_rise"])
        self.assertEqual(rise - date.fromisoformat(after["sleep_order_by"]), timedelta(days=20))
        self.assertLessEqual(rise, date.fromisoformat(before["sleep_rise"]))
        from driftfield.readings.actions import analyse_market

        analyse_market(market)
        again = self.listing("l1")["figures"]
        dated = [key for key in again if key.startswith(("sleep_", "act_", "order_"))]
        self.assertEqual({key: after[key] for key in dated}, {key: again[key] for key in dated})

    def test_decided_and_remembered(self) -> None:
        keep = {"market_id": "north", "of": "listings", "choice": "keep", "id": "l1"}
        self.post("desk/decisions/", keep, 201)
        found = self.get("desk/shortlist/?market=north&of=listings")
        (entry,) = found
        self.assertEqual((entry["id"], entry["name"]), ("l1", "Steel honey strainer"))
        self.assertEqual(entry["then"]["sleep.state"], "Asleep")
        self.assertEqual(self.ledger(c="decided keep")["count"], 1)
        # A niche of the same id would not be kept by that.
        self.assertEqual(self.get("ledger/?c=decided keep")["count"], 0)
        side = self.get("side-by-side/?of=listings&market=north&row=l1&row=l2")
        self.assertEqual(side["ids"], ["l1", "l2"])

    def test_what_sold_in_a_month_of_the_past(self) -> None:
        strong = self.ledger(c="sold at least 60 in July 2025", sort="-listing.best_units_4w")
        self.assertEqual({row["id"] for row in strong["rows"]}, {"l1", "l2", "l6"})
        self.assertEqual(strong["conditions"][0]["text"], "sold 60.. in 2025-07")
        quiet = self.ledger(c="not sold at least 60 in July 2025&c=sleeper is Asleep")
        self.assertEqual({row["id"] for row in quiet["rows"]}, {"l4"})
        self.assertEqual(self.ledger(c="sold at least 0 in July 2019")["count"], 0)
        self.assertEqual(self.ledger(c="ranked at most 900 in July 2025")["count"], 6)
        self.get("ledger/?of=sellers&c=sold at least 60 in July 2025", 409)
        # Files say the same, of months in a row and of the weeks up to a feast as well.
        texts = (
            "sold at least 60 in July 2025", "sold at least 100 in June to August 2025",
            "sold at least 20 at Easter 2026", "ranked at most 900 at Easter 2026",
            "attribute colour is red", "attribute Made_of is not steel", "led by s2", "led >= 80% by s2",
            "not led by s1", "searches a year of its niche over 20000", "shape of its niche is Seasonal",
        )  # fmt: skip
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **sleepy_market())
            for text in texts:
                asked = ["--of", "listings", "--sieve", text]
                done = CliRunner().invoke(main, ["analyse", str(folder), *asked])
                found = {json.loads(line)["listing_id"] for line in done.stdout.splitlines()}
                shown = {row["id"] for row in self.ledger(c=text)["rows"]}
                self.assertEqual(found, shown, text)
                self.assertTrue(0 <= len(found) < 12, (text, found))
        self.assertEqual(
            {row["id"] for row in self.ledger(c="attribute colour is red")["rows"]}, {"l1", "l2"}
        )
        self.assertEqual({row["id"] for row in self.ledger(c="led by s2")["rows"]}, {"l3"})
        self.assertEqual(self.ledger(c="attribute smell is red")["count"], 0)
        offered = self.get("ledger/condition/?of=listings&text=attribute colour is ")["completions"]
        self.assertEqual(
            [one["label"] for one in offered], ["blue", "red"]
        )  # “Red” is no other colour.
