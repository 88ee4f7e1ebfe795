"""The desk by its API: decisions, the shortlist, costs and fees, sieves and lenses."""

from driftfield.desk.models import CostSheet, Decision, FeeTable
from driftfield.exchange.tests.packages import supplied_market
from driftfield.readings.actions import analyse_all
from driftfield.readings.models import Run
from driftfield.readings.tests.stored import stored

from .loaded import Loaded


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
        answer = self.post("desk/decisions/undo/", {"decision": ids[1]}, 409)["detail"]
        self.assertIn("undone already", answer)
        self.assertEqual(self.names("decided keep"), ["Rhubarb forcers"])
        self.post("desk/decisions/", {"market_id": "north", "id": "rf", "choice": "pass"}, 201)
        answer = self.post("desk/decisions/undo/", {"decision": ids[0]}, 409)["detail"]
        self.assertIn("decided on anew since", answer)
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
        answer = (forcer["reason"], forcer["note"], forcer["tags"], forcer["choice"])
        self.assertEqual(answer, ("steady, few brands", "ask two makers", [], "keep"))
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
        self.assertEqual(ledger["columns"]["order_by"], "Order by, next full season")
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
        self.assertIn("would be left of each unit, a margin of", found["verdict"][0])

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
        self.assertIn("import listings, or enter one", found["missing"])
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
            "is not a condition",
            self.post("desk/sieves/", [{"name": "B", "conditions": ["x"]}], 409)["detail"],
        )
        # Every starting sieve can be asked.
        for one in listed:
            self.ledger(*one["conditions"])


class Lenses(Loaded):
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
        # Categories have lenses of their own, also of the same name.
        for of, part in (("niches", "reviews"), ("categories", "open_reviews")):
            body = {"of": of, "name": "Mine", "weights": {part: 0.9}}
            self.post("desk/lenses/", body, 201)
            self.assertEqual(self.get(f"desk/lenses/?of={of}")[0]["weights"][part], 0.9)
        self.post("desk/lenses/", {"of": "categories", "name": "X", "weights": {"reviews": 1}}, 409)
        self.client.delete("/api/desk/lenses/?name=Mine&of=categories")
        self.assertEqual(self.get("desk/lenses/?of=categories"), [])
        self.assertEqual(self.get("desk/lenses/?of=terms")[0]["name"], "Mine")
        wrong = {"name": "X", "weights": {"brand": -1}}
        self.assertIn("from 0 to 1,000", self.post("desk/lenses/", wrong, 400)["detail"])
        self.assertIn(
            "name of its own",
            self.post("desk/lenses/", {"name": "default", "weights": {}}, 409)["detail"],
        )
