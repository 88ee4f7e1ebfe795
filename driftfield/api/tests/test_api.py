"""The API: what it answers, what it refuses, and how many queries it takes."""

import math
import struct
import tempfile
from pathlib import Path
from urllib.parse import urlencode

from django.test import TestCase

from driftfield.core.market import NICHE, figures_of
from driftfield.desk.models import CostSheet, Decision, FeeTable
from driftfield.exchange.tests.packages import small_market, supplied_market, write
from driftfield.intake.actions import import_folder
from driftfield.market.models import Listing, TermCurve
from driftfield.readings.actions import analyse_all
from driftfield.readings.models import Run
from driftfield.readings.tests.stored import spoil, stored

from .addresses import addresses


class Loaded(TestCase):
    package = staticmethod(small_market)

    @classmethod
    def setUpTestData(cls) -> None:
        with tempfile.TemporaryDirectory() as holder:
            import_folder(write(Path(holder) / "in", **cls.package()))
        list(analyse_all())

    def get(self, path: str, status: int = 200) -> dict:
        response = self.client.get(f"/api/{path}")
        self.assertEqual(response.status_code, status, response.content)
        return response.json()

    def post(self, path: str, body: dict | list | None = None, status: int = 200) -> dict:
        response = self.client.post(f"/api/{path}", body or {}, content_type="application/json")
        self.assertEqual(response.status_code, status, response.content)
        return response.json()

    def undo(self, status: int = 200) -> dict:
        """Undo the latest decision, or one that is none."""
        latest = self.get("desk/decisions/undo/")["decision"]
        return self.post("desk/decisions/undo/", {"decision": latest or 1}, status)

    def names(self, *conditions: str, **more: str) -> list[str]:
        return [row["name"] for row in self.ledger(*conditions, **more)["rows"]]

    def ledger(self, *conditions: str, **more: str) -> dict:
        return self.get(f"ledger/?{urlencode([*(('c', c) for c in conditions), *more.items()])}")


class Stored(Loaded):
    """What was stored before its range was checked is unknown, and no fault."""

    databases = {"default", "work"}  # noqa: RUF012
    package = staticmethod(supplied_market)

    def test_infinite_figures_and_curves_are_unknown(self) -> None:
        spoil(Run.objects.get(), {"searches_52w": math.inf, "growth_13w.drift": math.inf})
        Listing.objects.update(price=math.inf, rating=math.inf, weight_g=math.inf)
        for curve in TermCurve.objects.filter(measure="searches"):
            curve.values = curve.values[:-4] + struct.pack("<f", math.inf)
            curve.save()
        for address in addresses():
            with self.subTest(address):
                self.assertLess(self.client.get(address).status_code, 500)
        with self.assertLogs("driftfield.api.plain_json", "WARNING") as told:
            rows = self.ledger()["rows"]
        self.assertEqual({row["searches_52w"] for row in rows}, {None})
        self.assertIn("rows[0].searches_52w", told.output[0])


class Ledger(Loaded):
    def test_rows_come_in_rank_order_with_few_queries(self) -> None:
        self.get("ledger/")  # columns are read once and kept
        with self.assertNumQueries(4):
            found = self.get("ledger/")
        self.assertEqual((found["count"], found["total"]), (3, 3))
        self.assertEqual([row["rank"] for row in found["rows"]], [1, 2, 3])
        forcer = next(row for row in found["rows"] if row["id"] == "rf")
        self.assertEqual(forcer["category"], "Growing › Bed covers")
        self.assertEqual(len(forcer["season_profile"]), 52)
        split = (1 + forcer["growth_13w_season"]) * (1 + forcer["growth_13w_drift"])
        self.assertAlmostEqual(split, 1 + forcer["growth_13w_raw"])

    def test_words_are_found_in_names_and_terms(self) -> None:
        self.assertEqual(self.names("terms hold terracotta"), ["Rhubarb forcers"])
        self.assertEqual(self.names("terms hold MOON filt"), ["Moon filters"])
        self.assertEqual(self.names("terms hold 100%"), [])
        self.assertEqual(self.names("terms hold exactly forcer"), ["Rhubarb forcers"])
        self.assertEqual(self.names("terms hold exactly force"), [])
        self.assertEqual(self.names("terms start with net"), ["net float"])
        self.assertEqual(
            self.names("terms lack forcer", sort="name"), ["Moon filters", "net float"]
        )

    def test_shapes_sorting_and_pages(self) -> None:
        self.assertEqual(self.names("shape = Seasonal"), ["Rhubarb forcers"])
        self.assertEqual(len(self.names("shape = Seasonal or Evergreen")), 3)
        self.assertEqual(self.names(sort="name"), ["Moon filters", "Rhubarb forcers", "net float"])
        self.assertEqual(self.names(sort="-searches_52w")[0], "Rhubarb forcers")
        self.assertEqual(self.names(sort="name", offset="1", limit="1"), ["Rhubarb forcers"])
        self.assertEqual(self.names(sort="shape_family,-name")[0], "net float")
        # Unknown sorts last either way: only one niche has clicks.
        for sort in ("headroom", "-headroom"):
            self.assertEqual(self.names(sort=sort)[0], "Rhubarb forcers")

    def test_conditions_say_what_they_alone_remove_and_can_be_off(self) -> None:
        found = self.ledger("shape = Seasonal", "searches >= 5k", "~terms hold zebra")
        # Net float fails both, Moon filters the shape alone.
        self.assertEqual([c["removes"] for c in found["conditions"]], [1, 0, None])
        self.assertEqual(found["conditions"][0]["says"], "shape is Seasonal")
        off = found["conditions"][2]
        self.assertEqual(
            (off["text"], off["on"], off["removes"]), ("~terms hold zebra", False, None)
        )

    def test_a_condition_is_read_as_it_is_typed_or_refused(self) -> None:
        found = self.get(f"ledger/condition/?{urlencode({'text': 'price 12 to 45'})}")
        self.assertEqual(found["text"], "price 12..45")
        self.assertEqual(
            (found["figure"], found["low"], found["high"]), ("sales.price_median", 12, 45)
        )
        self.assertIn(
            "begin with a figure", self.get("ledger/condition/?text=cheap", 400)["detail"]
        )

    def test_the_spread_of_a_figure_over_what_passes(self) -> None:
        self.assertEqual(self.get("ledger/distribution/?figure=searches_52w")["known"], 3)
        self.assertEqual(
            self.get("ledger/distribution/?figure=searches_52w&c=terms+lack+forcer")["known"], 2
        )
        self.get("ledger/distribution/?figure=luck", 400)

    def test_near_misses_come_with_the_condition_they_fail(self) -> None:
        searches = {r["name"]: r["searches_52w"] for r in self.ledger()["rows"]}
        bound = searches["Moon filters"] * 1.05
        found = self.ledger(f"searches >= {bound:.0f}", near="yes")
        self.assertEqual((found["count"], found["near"]), (1, 1))
        misses = {r["name"]: r["misses"] for r in found["rows"]}
        self.assertEqual(misses, {"Rhubarb forcers": None, "Moon filters": 0})

    def test_what_it_refuses_and_says(self) -> None:
        for query, status, said in (
            ("colour=red", 400, "Unknown: colour. Known: c, figures, lens, limit"),
            ("c=shape=Round", 400, "There is no value of Shape “Round”. Known: Evergreen"),
            ("sort=luck", 400, "sort takes name, or keys of figures"),
            ("limit=9999", 400, "limit: It takes a whole number from 0 to 500; got “9999”."),
            ("offset=-1", 400, "offset: It takes a whole number"),
            ("figures=rank,luck", 400, "figures takes keys of figures; got “luck”."),
            ("market=west", 404, "There is no analysed market “west”"),
        ):
            self.assertIn(said, self.get(f"ledger/?{query}", status)["detail"])
        wrong = self.get("ledger/?limit=9999&of=brands", 400)
        self.assertEqual({one["field"] for one in wrong["errors"]}, {"limit", "of"})

    def test_categories_count_what_is_below_them(self) -> None:
        self.assertEqual(
            self.get("categories/"),
            [
                {"path": "Growing", "name": "Growing", "category_id": "g", "niches": 1},
                {
                    "path": "Growing › Bed covers",
                    "name": "Bed covers",
                    "category_id": "gb",
                    "niches": 1,
                },
            ],
        )

    def test_named_niches_and_further_figures(self) -> None:
        found = self.get(
            "ledger/?niche=rf&niche=mf&niche=gone&figures=order_by,searches_52w,signals"
        )
        self.assertEqual({row["id"] for row in found["rows"]}, {"rf", "mf"})
        forcer = next(row for row in found["rows"] if row["id"] == "rf")
        self.assertEqual(forcer["extra"]["searches_52w"], forcer["searches_52w"])
        self.assertRegex(forcer["extra"]["order_by"], r"^2026-12-\d\d$")
        self.assertNotIn("order_by", forcer)

    def test_queue_and_points_hold_what_passes_in_order(self) -> None:
        order = [row["id"] for row in self.ledger(sort="-searches_52w")["rows"]]
        self.post("desk/decisions/", {"market_id": "north", "id": "rf", "choice": "park"}, 201)
        queue = self.get("ledger/ids/?sort=-searches_52w")
        self.assertEqual(queue, {"ids": order, "decisions": {"rf": "park"}})
        self.assertEqual(
            self.get("ledger/ids/?sort=-searches_52w&c=decided+open")["ids"],
            [i for i in order if i != "rf"],
        )
        points = self.get("ledger/points/?sort=-searches_52w")
        drawn = [row for row in self.ledger(sort="-searches_52w")["rows"] if row["competition"]]
        self.assertEqual(points["ids"], [row["id"] for row in drawn])
        self.assertEqual(points["names"], [row["name"] for row in drawn])
        self.assertEqual(points["unknown"], 3 - len(drawn))
        for at, row in enumerate(drawn):
            self.assertAlmostEqual(points["demand"][at], row["demand"], places=2)
            self.assertEqual(points["shapes"][points["shape"][at]], row["shape"])


class Preview(Loaded):
    def test_says_the_verdict_and_every_figure(self) -> None:
        found = self.get("niche/?niche=rf")
        self.assertEqual(found["first"], "2023-01-02")
        self.assertEqual(len(found["values"]), 156)
        self.assertEqual(len(found["level"]), 156)
        self.assertEqual([one["year"] for one in found["years"]], [2023, 2024, 2025])
        self.assertRegex(found["verdict"][0], "^Comes every year between")
        self.assertRegex(
            found["verdict"][-1],
            r"^\d+ Dec was the last call for the coming season; the next is \d+ Dec 2026\.$",
        )
        self.assertEqual(set(found["figures"]), {f.column for f in figures_of(NICHE)})
        self.assertIsNone(self.get("niche/?niche=net float")["figures"]["headroom"])

    def test_unknown_niche(self) -> None:
        self.assertIn("“nope” is not in", self.get("niche/?niche=nope", 404)["detail"])


class Decisions(Loaded):
    def test_keep_shows_filters_and_undoes(self) -> None:
        self.post("desk/decisions/", {"market_id": "north", "id": "rf", "choice": "keep"}, 201)
        self.post("desk/decisions/", {"market_id": "north", "id": "mf", "choice": "pass"}, 201)
        self.assertEqual(self.names("decided keep"), ["Rhubarb forcers"])
        self.assertEqual(self.names("decided open"), ["net float"])
        self.assertEqual(set(self.names("decided open or pass")), {"net float", "Moon filters"})
        undone = self.undo()
        back = {"id": "mf", "name": "Moon filters", "now": None}
        self.assertEqual(undone, {"choice": "pass", "of": "niches", "subjects": [back]})
        self.assertEqual(self.get("niche/?niche=rf")["decision"], "keep")

    def test_rebuilding_readings_keeps_them(self) -> None:
        self.post("desk/decisions/", {"market_id": "north", "id": "rf", "choice": "park"}, 201)
        Run.objects.all().delete()
        list(analyse_all())
        self.assertEqual(self.names("decided park"), ["Rhubarb forcers"])

    def test_several_in_one_go_and_back_in_one_go(self) -> None:
        several = {"market_id": "north", "ids": ["rf", "mf"], "choice": "keep"}
        self.post("desk/decisions/", {"market_id": "north", "id": "rf", "choice": "park"}, 201)
        self.post("desk/decisions/several/", several, 201)
        self.assertEqual(set(self.names("decided keep")), {"Rhubarb forcers", "Moon filters"})
        undone = self.undo()["subjects"]
        self.assertEqual({one["id"]: one["now"] for one in undone}, {"rf": "park", "mf": None})
        wrong = {**several, "ids": ["mf", "zz"]}
        self.assertIn("no niche “zz”", self.post("desk/decisions/several/", wrong, 409)["detail"])
        self.assertEqual(self.names("decided keep"), [])

    def test_what_it_refuses(self) -> None:
        base = {"market_id": "north", "id": "rf"}
        self.assertIn(
            "choice", self.post("desk/decisions/", {**base, "choice": "love"}, 400)["detail"]
        )
        wrong = {"market_id": "north", "id": "zz", "choice": "keep"}
        self.assertIn("no niche “zz”", self.post("desk/decisions/", wrong, 409)["detail"])
        self.assertIn("no such decision", self.undo(409)["detail"])
        self.assertEqual(Decision.objects.count(), 0)

    def test_two_windows_that_undo_undo_no_more_than_was_meant(self) -> None:
        ids = [
            self.post("desk/decisions/", {"market_id": "north", "id": n, "choice": "keep"}, 201)[
                "decision"
            ]
            for n in ("rf", "mf")
        ]
        self.post("desk/decisions/undo/", {"decision": ids[1]})
        said = self.post("desk/decisions/undo/", {"decision": ids[1]}, 409)["detail"]
        self.assertIn("undone already", said)
        self.assertEqual(self.names("decided keep"), ["Rhubarb forcers"])
        self.post("desk/decisions/", {"market_id": "north", "id": "rf", "choice": "pass"}, 201)
        said = self.post("desk/decisions/undo/", {"decision": ids[0]}, 409)["detail"]
        self.assertIn("decided on anew since", said)
        self.assertEqual(self.names("decided pass"), ["Rhubarb forcers"])

    def test_forms_are_not_taken(self) -> None:
        base = {"market_id": "north", "id": "rf"}
        form = self.client.post("/api/desk/decisions/", {**base, "choice": "keep"})
        self.assertEqual(form.status_code, 415)  # what a page from elsewhere could send


class Shortlist(Loaded):
    package = staticmethod(supplied_market)

    def put(self, path: str, body: dict, status: int = 200) -> dict:
        response = self.client.put(f"/api/{path}", body, content_type="application/json")
        self.assertEqual(response.status_code, status, response.content)
        return response.json() if response.content else {}

    def keep(self, niche: str, choice: str = "keep", reason: str = "") -> None:
        body = {"market_id": "north", "id": niche, "choice": choice, "reason": reason}
        self.post("desk/decisions/", body, 201)

    def test_reason_note_tags_and_order_by_hand(self) -> None:
        self.keep("rf", reason="steady, few brands")
        self.keep("mf", "park")
        self.keep("net float", "pass")
        mine = {"market_id": "north", "id": "rf"}
        saved = self.put(
            "desk/remarks/",
            {**mine, "note": "ask two makers", "tags": ["Spring", " spring", "clay"]},
        )
        self.assertEqual(saved["tags"], ["spring", "clay"])
        self.put("desk/remarks/", {**mine, "tags": []})  # the note stays
        listed = self.get("desk/shortlist/")
        self.assertEqual([one["id"] for one in listed], ["mf", "rf"])  # the latest first
        forcer = listed[1]
        said = (forcer["reason"], forcer["note"], forcer["tags"], forcer["choice"])
        self.assertEqual(said, ("steady, few brands", "ask two makers", [], "keep"))
        self.assertEqual(forcer["then"], forcer["now"])
        self.put("desk/shortlist/order/", {"market_id": "north", "ids": ["rf", "mf"]}, 204)
        self.assertEqual([one["id"] for one in self.get("desk/shortlist/")], ["rf", "mf"])
        self.assertEqual(len(self.get("desk/shortlist/?choice=pass")), 1)
        preview = self.get("niche/?niche=rf")
        self.assertEqual(
            (preview["reason"], preview["note"]), ("steady, few brands", "ask two makers")
        )

    def test_files_for_spreadsheets(self) -> None:
        self.keep("rf", reason='=HYPERLINK("x")')
        for form, start in (("csv", b"\xef\xbb\xbfPlace"), ("xlsx", b"PK"), ("json", b"{")):
            answer = self.client.get(f"/api/desk/shortlist/file/?as={form}")
            self.assertTrue(answer.content.startswith(start))
            name = f'attachment; filename="shortlist-harrow-quay-north.{form}"'
            self.assertEqual(answer["Content-Disposition"], name)
        self.assertIn(b"'=HYPERLINK", self.client.get("/api/desk/shortlist/file/").content)
        ledger = self.client.get("/api/ledger/file/?c=decided+keep&figures=order_by&as=json").json()
        self.assertEqual([row["id"] for row in ledger["rows"]], ["rf"])
        self.assertEqual(ledger["columns"]["order_by"], "Order by, date")
        self.assertIn(
            "as: It takes csv, xlsx, json", self.get("ledger/file/?as=pdf", 400)["detail"]
        )

    def test_most_clicked_listings_with_their_facts(self) -> None:
        rows = self.get("niche/listings/?niche=rf")
        self.assertEqual([row["listing_id"] for row in rows], ["l1", "l2", "l3", "l4", "l5"])
        self.assertAlmostEqual(rows[0]["click_share"], 0.4, places=4)
        self.assertEqual(
            (rows[3]["price"], rows[3]["reviews"], rows[3]["sponsored"]), (22, 12, False)
        )
        self.assertEqual(self.get("niche/listings/?niche=mf"), [])


class Money(Loaded):
    package = staticmethod(supplied_market)

    def put(self, path: str, body: dict, status: int = 200) -> dict:
        response = self.client.put(f"/api/{path}", body, content_type="application/json")
        self.assertEqual(response.status_code, status, response.content)
        return response.json()

    def keep(self, status: int = 200, **costs: float | None) -> dict:
        return self.put(
            "niche/costs/", {"market_id": "north", "niche_id": "rf", "costs": costs}, status
        )

    def test_what_is_not_given_comes_from_readings_and_is_said_to(self) -> None:
        found = self.get("niche/costs/?niche=rf")["paying"]
        figures = stored("rf")
        self.assertEqual(found["given"], [])
        self.assertAlmostEqual(found["costs"]["price"], figures["sales.price_median"])
        self.assertAlmostEqual(found["costs"]["returns"], 0.05)
        self.assertEqual(
            (found["costs"]["weight_g"], found["result"]["size_class"]), (800, "standard")
        )
        self.assertAlmostEqual(found["target_units"], 30_000 / figures["sales.price_median"])
        # Prices lay up to 2% below the latest within the year.
        self.assertLess(found["lowest_price"], found["costs"]["price"])
        self.assertIn("is left of each unit: a margin of", found["says"][0])

    def test_given_costs_are_kept_checked_and_taken_back(self) -> None:
        found = self.keep(price=20, goods=6, handling=3, returns=0)["paying"]
        self.assertAlmostEqual(found["result"]["left"], 20 * 0.75 - 9)
        self.assertEqual(found["given"], ["goods", "handling", "price", "returns"])
        self.assertEqual(self.get("niche/costs/?niche=rf")["paying"]["costs"]["goods"], 6)
        self.assertIn("must be a share", self.keep(400, returns=1.5)["detail"])
        self.assertIn("from 0.01", self.keep(400, price=0)["detail"])
        for absurd in (1e308, "nan", float("inf"), True):
            self.keep(400, goods=absurd)
        self.assertEqual(self.get("niche/costs/?niche=rf")["paying"]["costs"]["goods"], 6)
        self.assertEqual(self.keep(price=20, goods=None)["paying"]["given"], ["price"])
        list(analyse_all())  # readings are rebuilt, costs stay
        self.assertEqual(self.get("niche/costs/?niche=rf")["paying"]["given"], ["price"])

    def test_costs_and_fees_that_cannot_be_do_not_lock_anyone_out(self) -> None:
        """As an earlier version kept them."""
        CostSheet.objects.create(
            market_id="north", niche_id="rf", costs={"goods": 1e308, "freight": 2, "luck": 1}
        )
        FeeTable.objects.create(
            market_id="north",
            classes=[{"name": "any", "upto_g": None, "upto_mm": None, "fee": 1e308}],
        )
        found = self.get("niche/costs/?niche=rf")["paying"]
        self.assertEqual((found["given"], found["costs"]["freight"]), (["freight"], 2))
        self.assertEqual(found["result"]["size_class"], "standard")
        self.assertEqual(self.keep(goods=3)["paying"]["given"], ["goods"])

    def test_fees_belong_to_the_market_and_take_all_goods(self) -> None:
        rows = [
            {"name": "letter", "upto_g": 900, "upto_mm": None, "fee": 1.5},
            {"name": "parcel", "upto_g": None, "upto_mm": None, "fee": 6},
        ]
        self.put("desk/fees/", {"market_id": "north", "classes": rows})
        found = self.get("niche/costs/?niche=rf")["paying"]
        self.assertEqual((found["result"]["size_class"], found["classes"]), ("letter", rows))
        wrong = {"market_id": "north", "classes": rows[:1]}
        self.assertIn("add one without limits", self.put("desk/fees/", wrong, 409)["detail"])
        self.assertEqual(self.get("niche/costs/?niche=rf")["paying"]["classes"], rows)

    def test_without_a_price_it_says_what_would_bring_one(self) -> None:
        found = self.get("niche/costs/?niche=mf")
        self.assertEqual(found["paying"], None)
        self.assertIn("listings would bring one, or set it", found["missing"])
        body = {"market_id": "north", "niche_id": "mf", "costs": {"price": 30}}
        self.assertEqual(self.put("niche/costs/", body)["paying"]["costs"]["goods"], 7.5)


class Sieves(Loaded):
    def test_saved_listed_exported_imported_and_removed(self) -> None:
        self.post("desk/sieves/", [{"name": "Mine", "conditions": ["price under 20"]}], 201)
        listed = self.get("desk/sieves/")
        mine = next(one for one in listed if one["own"])
        self.assertEqual((mine["name"], mine["conditions"]), ("Mine", ["price ..20"]))
        self.assertEqual(self.client.delete("/api/desk/sieves/?name=Mine").status_code, 204)
        self.assertFalse(any(one["own"] for one in self.get("desk/sieves/")))
        # What was listed can be taken in again as it is.
        self.post("desk/sieves/", [one for one in listed if one["own"]], 201)
        self.assertIn(
            "begin with a figure",
            self.post("desk/sieves/", [{"name": "B", "conditions": ["x"]}], 409)["detail"],
        )
        # Every starting sieve can be asked.
        for one in listed:
            self.ledger(*one["conditions"])


class Empty(TestCase):
    def test_nothing_loaded_says_how_to_load(self) -> None:
        self.assertEqual(self.client.get("/api/markets/").json(), [])
        answer = self.client.get("/api/ledger/")
        self.assertEqual(answer.status_code, 404)
        self.assertEqual(answer["Content-Type"], "application/problem+json")
        self.assertIn("bin/driftfield import FOLDER", answer.json()["detail"])

    def test_other_hosts_are_refused(self) -> None:
        self.assertEqual(
            self.client.get("/api/markets/", HTTP_HOST="evil.example").status_code, 400
        )


class Competition(Loaded):
    package = staticmethod(supplied_market)

    def test_conditions_on_signals_and_on_the_top_listings(self) -> None:
        self.assertEqual(self.names("signal few_reviews"), ["Rhubarb forcers"])
        self.assertEqual(len(self.names("no signal few_reviews")), 2)
        self.assertEqual(self.names("top 4 of 5 reviews < 100"), ["Rhubarb forcers"])
        self.assertEqual(self.names("top 4 of 5 reviews < 100", "top 1 of 1 price > 900"), [])
        self.assertEqual(self.names("price 20..25", "category Growing"), ["Rhubarb forcers"])
        for condition, said in (
            ("top 1 of 2 stars > 3", "no figure “stars”"), ("signal sunny", "There is no signal “sunny”"),
        ):  # fmt: skip
            self.assertIn(said, self.get(f"ledger/?{urlencode({'c': condition})}", 400)["detail"])

    def test_a_preview_says_its_signals(self) -> None:
        found = self.get("niche/?niche=rf")
        said = {signal["key"]: signal for signal in found["signals"]}
        self.assertIn("under 150 can be approached", said["few_reviews"]["says"])
        self.assertEqual([s["signal"] for s in found["figures"]["signals"]], list(said))

    def test_registries_of_signals_and_parts(self) -> None:
        rows = {row["key"]: row for row in self.get("signals/")}
        self.assertIn("review_barrier", rows["few_reviews"]["reads"])
        parts = self.get("parts/")
        self.assertEqual({part["side"] for part in parts}, {"demand", "competition"})

    def test_the_ledger_follows_a_lens(self) -> None:
        before = {r["id"]: r["rank"] for r in self.ledger()["rows"]}
        weights = "purchases=0,drift=0,revenue=0,balance=0.99"
        rows = self.ledger(lens=weights)["rows"]
        self.assertEqual([row["rank"] for row in rows], [1, 2, 3])
        # Moon filters is looked for by a brand word alone, which no newcomer can take.
        self.assertEqual([row["id"] for row in rows], ["rf", "net float", "mf"])
        self.assertEqual({r["id"]: r["before"] for r in rows}, before)
        self.assertTrue(all(row["rank_low"] <= row["rank"] <= row["rank_high"] for row in rows))
        self.assertIsNone(self.ledger()["rows"][0]["before"])
        # Conditions ask what the lens makes.
        self.assertEqual(self.names("rank <= 1", lens=weights), ["Rhubarb forcers"])
        self.assertIn("Known: searches", self.get("ledger/?lens=serches%3D1", 400)["detail"])

    def test_lenses_are_kept_by_name(self) -> None:
        self.post("desk/lenses/", {"name": "Reviews first", "weights": {"reviews": 0.6}}, 201)
        (kept,) = self.get("desk/lenses/")
        self.assertEqual(
            (kept["name"], kept["weights"]["reviews"], kept["weights"]["balance"]),
            ("Reviews first", 0.6, 0.5),
        )
        self.assertEqual(
            self.client.delete("/api/desk/lenses/?name=Reviews first").status_code, 204
        )
        self.assertEqual(self.get("desk/lenses/"), [])
        wrong = {"name": "X", "weights": {"brand": -1}}
        self.assertIn("from 0 to 1,000", self.post("desk/lenses/", wrong, 400)["detail"])
        self.assertIn(
            "name of its own",
            self.post("desk/lenses/", {"name": "default", "weights": {}}, 409)["detail"],
        )

    def test_terms_of_a_niche_with_few_queries(self) -> None:
        with self.assertNumQueries(6):
            rows = self.get("niche/terms/?niche=rf")
        self.assertEqual(rows[0]["term"], "rhubarb forcer")
        self.assertAlmostEqual(rows[0]["top3_share"], 0.75, 5)
        self.get("niche/terms/?niche=none", 404)
