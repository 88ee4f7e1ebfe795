"""Plans over the API: as the command makes them, kept, changed and undone."""

import io
import json
import tempfile
from pathlib import Path

from click.testing import CliRunner
from openpyxl import load_workbook

from driftfield.cli.main import main
from driftfield.desk.actions import save_costs
from driftfield.desk.models import Plan
from driftfield.exchange.tests.packages import supplied_market, write
from driftfield.market.models import Market
from driftfield.readings.actions import analyse_market, overrule

from .loaded import Loaded

DOCUMENT = {
    "name": "By sea", "ordered": "2026-02-02", "units": {"share": 0.05}, "draws": 500,
    "quote": {"breaks": [{"units": 1, "cost": 4.0}], "carton": 10}, "transport": [{"name": "sea", "days": 20}],
    "selling": {"price": 30, "returned": 0.05, "price_error": 0.03, "price_low": 25}, "product": {"weight_g": 400},
}  # fmt: skip


class Plans(Loaded):
    package = staticmethod(supplied_market)

    def made(self, document: dict | None, niche: str = "rf") -> dict:
        return self.post(
            "niche/plan/", {"market_id": "north", "niche_id": niche, "document": document}
        )

    def keep(self, status: int = 201, **more: object) -> dict:
        body = {"market_id": "north", "niche_id": "rf", "document": DOCUMENT, **more}
        return self.post("desk/plans/", body, status)

    def kept(self) -> list[dict]:
        return self.get("desk/plans/?niche=rf")["plans"]

    def test_it_is_what_the_command_makes_of_the_same_files(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **supplied_market())
            inputs, out = Path(holder) / "plan.json", Path(holder) / "out.json"
            inputs.write_text(json.dumps(DOCUMENT))
            run = CliRunner().invoke(
                main, ["plan", str(folder), "--niche", "rf", "--inputs", str(inputs), "--out", str(out)]
            )  # fmt: skip
            self.assertEqual(run.exit_code, 0, run.output)
            (theirs,) = json.loads(out.read_text("utf-8"))["plans"]
        ours = self.made(DOCUMENT)["made"]
        for part in ("sentence", "warnings", "dates", "quantity", "unit", "bill", "payments"):
            self.assertEqual(ours[part], theirs[part], part)
        self.assertAlmostEqual(ours["cash"]["mean"], theirs["cash"]["mean"], delta=0.5)
        self.assertEqual(
            [one["own"] for one in ours["newcomers"]["months"]],
            [one["own"] for one in theirs["newcomers"]["months"]],
        )

    def test_a_first_plan_starts_with_what_is_known_and_says_what_is_assumed(self) -> None:
        save_costs("north", "rf", {"goods": 3.2, "commission": 0.11})
        overrule(Market.objects.get(), "rf", {"lead_days": 50})
        found = self.made(None)
        document = found["document"]
        self.assertEqual(document["quote"]["breaks"], [{"units": 1, "cost": 3.2}])
        self.assertFalse(document["quote"]["assumed"])
        self.assertEqual(document["selling"]["commission"], 0.11)
        self.assertEqual(document["quote"]["making_days"] + document["transport"][0]["days"], 50)
        # Too few launches can be followed here: it says so instead of guessing.
        self.assertIsNone(found["made"])
        self.assertIn("too few launches", found["problem"])

    def test_what_makes_no_plan_is_told_and_not_kept(self) -> None:
        for changed, problem in (
            ({"ordered": "2040-01-01"}, "nothing is known of 2040-01-01"),
            ({"transport": []}, "transport: one way at least is needed"),
            ({"nonsense": 1}, "unknown nonsense"),
            ({"for": {"until": "2026-02-10"}}, "nothing left to sell for"),
        ):
            found = self.made({**DOCUMENT, **changed})
            self.assertIn(problem, found["problem"])
            self.assertIsNone(found["made"])
            self.keep(409, document={**DOCUMENT, **changed})
        self.assertEqual(Plan.objects.count(), 0)
        self.assertIn("What this niche sells is not known", self.made(DOCUMENT, "mf")["problem"])

    def test_each_change_is_kept_and_undone_one_by_one(self) -> None:
        first = self.keep()
        key = first["key"]
        self.keep(key=key, document={**DOCUMENT, "name": "By air"})
        self.keep(key=key, state="ordered", document={**DOCUMENT, "name": "By air"})
        self.assertEqual(
            [(one["name"], one["state"]) for one in self.kept()], [("By air", "ordered")]
        )
        self.keep(key=key, state="dropped")
        self.assertEqual(self.kept(), [])
        for name, state in (("By air", "ordered"), ("By air", "drafted"), ("By sea", "drafted")):
            self.post("desk/plans/undo/", {"key": key})
            self.assertEqual([(one["name"], one["state"]) for one in self.kept()], [(name, state)])
        self.assertIsNone(self.post("desk/plans/undo/", {"key": key})["plan"])
        self.assertEqual(self.kept(), [])
        self.post("desk/plans/undo/", {"key": key}, 409)
        # After an undo a new change goes on from what holds.
        self.assertEqual(Plan.objects.filter(undone_at=None).count(), 0)

    def test_what_another_window_changed_is_not_written_over(self) -> None:
        first = self.keep()
        second = self.keep(key=first["key"], version=first["version"], document={**DOCUMENT, "name": "Two"})  # fmt: skip
        told = self.keep(409, key=first["key"], version=first["version"])
        self.assertIn("changed in another window", told["detail"])
        self.assertEqual(self.kept()[0]["name"], "Two")
        self.keep(key=first["key"], version=second["version"])

    def test_a_plan_outlives_another_analysis_and_is_of_its_niche_alone(self) -> None:
        key = self.keep()["key"]
        analyse_market(Market.objects.get())
        self.assertEqual([one["key"] for one in self.kept()], [key])
        body = {"market_id": "north", "niche_id": "mf", "document": DOCUMENT, "key": key}
        self.post("desk/plans/", body, 409)
        self.assertEqual(self.get("desk/plans/?niche=mf")["plans"], [])

    def test_a_listing_to_be_matched(self) -> None:
        found = self.made({**DOCUMENT, "units": {"listing": "l1"}})
        self.assertEqual(found["made"]["share_from"], "listing l1")
        self.assertIn(
            "sells nothing", self.made({**DOCUMENT, "units": {"listing": "nobody"}})["problem"]
        )

    def test_a_plan_as_a_workbook_whose_sums_are_formulas(self) -> None:
        name = '=HYPERLINK("http://x")'
        quote = {
            **DOCUMENT["quote"],
            "name": "@supplier",
            "source": "letter",
            "day": "2026-01-05",
            "assumed": True,
        }  # type: ignore[dict-item]
        key = self.keep(document={**DOCUMENT, "name": name, "quote": quote})["key"]
        response = self.client.get(f"/api/desk/plans/file/?key={key}")
        self.assertEqual(response.status_code, 200)
        book, values = (
            load_workbook(io.BytesIO(response.content), data_only=only) for only in (False, True)
        )
        self.assertEqual(book.sheetnames, ["Order", "Unit", "Payments", "Weeks"])
        order, reckoned = book["Order"], values["Order"]
        # What was typed is text, whatever it begins with.
        self.assertEqual((order["B1"].value, order["B1"].data_type), (name, "s"))
        self.assertEqual((order["B3"].value, order["B3"].data_type), ("@supplier", "s"))
        notes = [row[0].value for row in order.iter_rows(min_row=18)]
        self.assertIn("quote: letter, 2026-01-05, assumed", notes)
        # Without tax on sales that on imports is borne, and stands in what the goods cost.
        self.assertEqual(order["B14"].value, "=SUM(B11:B13)+B16")
        goods, freight, duty, landed, tax = (
            reckoned[f"B{row}"].value for row in (11, 12, 13, 14, 16)
        )
        self.assertEqual(round(goods + freight + duty + tax, 2), landed)
        self.assertEqual(round(reckoned["B9"].value * reckoned["B10"].value, 2), goods)
        unit = [row[1].value for row in values["Unit"].iter_rows()]
        self.assertEqual(round(sum(unit[:-1]), 2), unit[-1])
        paid = [row[2].value for row in values["Payments"].iter_rows(min_row=2)]
        self.assertEqual(round(sum(paid[:-1]), 2), paid[-1])
        weeks = self.client.get(f"/api/desk/plans/file/?key={key}&as=csv").content.decode(
            "utf-8-sig"
        )
        self.assertTrue(weeks.startswith("week,niche,own,paid,low,middle,high"))
        whole = self.client.get(f"/api/desk/plans/file/?key={key}&as=json").json()
        self.assertEqual(whole["inputs"]["name"], name)
        self.keep(key=key, state="dropped")
        self.get(f"desk/plans/file/?key={key}", 404)
