"""All plans of a market on one cash path: over the API as the command has it, what is proposed, what came of it."""

import json
import tempfile
from datetime import date, timedelta
from pathlib import Path

import jsonschema
import vobject
from click.testing import CliRunner
from referencing import Registry, Resource

from driftfield.cli.main import main
from driftfield.core.base import CoreError
from driftfield.desk.actions import keep_several
from driftfield.desk.models import Plan
from driftfield.exchange.plans_file import read_several
from driftfield.exchange.tests.packages import START, supplied_market, table, write
from driftfield.market.models import Market, Niche

from .loaded import Loaded
from .test_plans import DOCUMENT

SCHEMAS = Path(__file__).parents[3] / "schemas"
END = date(2025, 12, 28)


def with_own_sales() -> dict[str, str]:
    """The supplied market, and four weeks of own sales of one of its listings up to its end."""
    files = supplied_market()
    weeks = [START + timedelta(weeks=152 + at) for at in range(4)]
    rows = [("l2", week.isoformat(), 6) for week in weeks]
    return files | {"own_sales": table("listing_id,week,units", *rows)}


def plan(**changed: object) -> dict:
    return {**DOCUMENT, **changed}


class Orders(Loaded):
    package = staticmethod(with_own_sales)

    def keep(self, niche: str = "rf", state: str = "drafted", **changed: object) -> str:
        body = {
            "market_id": "north",
            "niche_id": niche,
            "document": plan(**changed),
            "state": state,
        }
        return self.post("desk/plans/", body, 201)["key"]

    def cash(self, cash: float | None, most_loss: float | None = None, status: int = 200) -> dict:
        body = {"market_id": "north", "cash": cash, "most_loss": most_loss}
        return self.post("desk/orders/cash/", body, status)

    def row(self, found: dict, key: str) -> dict:
        (one,) = (row for row in found["plans"] if row["key"] == key)
        return one

    def test_nothing_planned_is_told_and_no_fault(self) -> None:
        found = self.get("desk/orders/")
        self.assertEqual((found["plans"], found["fills"]), ([], []))
        self.assertIn("No order is taken", " ".join(found["sentences"]))

    def test_what_fits_the_cash_is_proposed_and_why_not_the_rest(self) -> None:
        good, dear = self.keep(name="Good"), self.keep(name="Dear", quantity=90)
        late = self.keep(name="Late", ordered="2025-12-08")
        found = self.get("desk/orders/")
        # Without cash nothing is taken for short, and that it is not known is said.
        self.assertIsNone(found["cash_at_hand"])
        self.assertIn("How much cash is at hand is not known", found["sentences"][0])
        self.cash(10_000)
        found = self.get("desk/orders/")
        self.assertEqual(self.row(found, late)["why"], "past")
        taken = [one["key"] for one in found["plans"] if one["proposed"]]
        self.assertEqual(len(taken), 1)  # Two plans of one niche stand for one another.
        left = good if taken == [dear] else dear
        self.assertEqual(self.row(found, left)["why"], "other")
        self.assertGreater(found["cash"]["lowest"][0], 0)
        # With hardly any cash neither fits, and how much is lacking is told.
        self.cash(20)
        found = self.get("desk/orders/")
        for key in (good, dear):
            row = self.row(found, key)
            self.assertEqual(row["why"], "alone")
            self.assertIn("Even by itself it may lack £", row["reason"])
        self.assertEqual(found["cash"]["weeks"][0]["middle"], 20)

    def test_what_is_ticked_is_added_up_and_what_is_placed_stays(self) -> None:
        placed, draft = self.keep(state="ordered"), self.keep(name="Again")
        self.cash(5_000)
        none = self.get("desk/orders/?with=none")
        self.assertEqual([one["taken"] for one in none["plans"]], [False, True])
        both = self.get(f"desk/orders/?with={draft}")
        self.assertTrue(all(one["taken"] for one in both["plans"]))
        self.assertLess(both["cash"]["lowest"][1], none["cash"]["lowest"][1])
        self.assertEqual(self.row(none, draft)["why"], "other")
        self.assertIn("placed already", self.row(none, draft)["reason"])
        self.assertTrue(self.row(none, placed)["proposed"])

    def test_cash_is_kept_and_what_is_none_is_refused(self) -> None:
        self.assertEqual(self.cash(1_234.5, 0.2), {"cash": 1234.5, "most_loss": 0.2})
        for cash, loss in ((-1, None), (5, 2), ("much", None), (1e12, None)):
            self.cash(cash, loss, 400)  # type: ignore[arg-type]
        found = self.get("desk/orders/")
        self.assertEqual((found["cash_at_hand"], found["most_loss"]), (1234.5, 0.2))
        self.cash(None)
        self.assertIsNone(self.get("desk/orders/")["cash_at_hand"])

    def test_a_plan_of_which_nothing_comes_says_why(self) -> None:
        key = self.keep()
        Plan.objects.filter(key=key).update(document={**DOCUMENT, "transport": []})
        other = self.keep(name="Gone")
        Plan.objects.filter(key=other).update(niche_id="gone")
        found = self.get("desk/orders/")
        self.assertIn("transport: one way at least", self.row(found, key)["problem"])
        self.assertIn("no longer in the figures", self.row(found, other)["problem"])
        self.assertIsNone(self.row(found, key)["summary"])
        response = self.client.get("/api/desk/orders/file/?as=csv")
        self.assertIn("no longer in the figures", response.content.decode("utf-8-sig"))

    def test_own_sales_tell_the_share_and_what_came_of_an_order(self) -> None:
        found = self.post(
            "niche/plan/",
            {"market_id": "north", "niche_id": "rf", "document": plan(units={"own": "l2"})},
        )["made"]
        self.assertEqual(found["share_from"], "your sales of l2")
        none = self.post(
            "niche/plan/",
            {"market_id": "north", "niche_id": "rf", "document": plan(units={"own": ""})},
        )
        self.assertIn("no own sales of the last 52 weeks", none["problem"])
        early = {
            "ordered": "2025-11-03",
            "quote": {"breaks": [{"units": 1, "cost": 4.0}], "making_days": 5},
        }
        key = self.keep(state="ordered", sold_as="l2", **early)
        row = self.row(self.get("desk/orders/"), key)
        self.assertRegex(
            row["came_of_it"],
            r"24 units were sold; the plan gives, with figures to 28 Dec 2025, [\d,]+, [\d,]+ to",
        )
        # Not of a draft, and not held against another plan than the one that was placed.
        draft = self.keep(name="Draft", sold_as="l2", **early)
        self.assertIsNone(self.row(self.get("desk/orders/"), draft)["came_of_it"])
        before = Plan.objects.get(key=key, current=True).planned
        body = {"market_id": "north", "niche_id": "rf", "key": key, "state": "ordered"}
        self.post("desk/plans/", {**body, "document": plan(sold_as="l2", quantity=9, **early)}, 201)
        self.assertEqual(Plan.objects.get(key=key, current=True).planned, before)

    def test_niches_that_fill_the_quiet_months_leave_something(self) -> None:
        self.keep()
        self.cash(5_000)
        found = self.get("desk/orders/")
        self.assertEqual(len(found["months"]), 15)
        for one in found["fills"]:
            self.assertGreater(one["leaves"], 0)
            self.assertGreater(one["share"], one["even"])
            self.assertNotEqual(one["niche_id"], "rf")

    def test_the_calendar_has_its_days_and_reminds_of_what_is_to_be_done(self) -> None:
        draft, placed = (
            self.keep(name="Draft;\r\nX"),
            self.keep(name="Placed", state="ordered", ordered="2025-12-08"),
        )
        self.keep(name="Too late", ordered="2025-12-08")
        read = vobject.readOne(
            self.client.get("/api/almanac/calendar/?c=searches+%3E+1000000000").content.decode()
        )
        events = {one.summary.value: one for one in read.vevent_list}
        titles = " ".join(events)
        self.assertNotIn("Too late", titles)
        order = next(one for title, one in events.items() if title.startswith("Order "))
        self.assertEqual(order.dtstart.value, date(2026, 2, 2))
        self.assertIn("(Draft;  X), as planned", order.summary.value)
        self.assertIn(f"plan={draft}", order.url.value)
        self.assertTrue(hasattr(order, "valarm"))
        # Of what is placed the order is behind, and what is still to be paid and comes in is not.
        comes = next(
            one
            for title, one in events.items()
            if title.startswith("On sale") and "Placed" in title
        )
        self.assertIn(f"plan={placed}", comes.url.value)
        self.assertFalse(hasattr(comes, "valarm"))
        self.assertTrue(
            any(
                title.startswith("Pay this week: balance £") and "Placed" in title
                for title in events
            )
        )
        self.assertFalse(any(title.startswith("Order ") and "Placed" in title for title in events))
        uids = {one.uid.value for one in read.vevent_list}
        again = vobject.readOne(
            self.client.get("/api/almanac/calendar/?c=searches+%3E+1000000000").content.decode()
        )
        self.assertEqual(uids, {one.uid.value for one in again.vevent_list})
        self.assertEqual(len(uids), len(read.vevent_list))


class Files(Loaded):
    package = staticmethod(with_own_sales)

    def test_it_is_what_the_command_makes_of_the_same_files(self) -> None:
        several = {
            "cash": 3000, "most_loss": 0.9,
            "fees": [{"name": "small", "upto_g": 900, "fee": 2.5}, {"name": "all", "fee": 7}],
            "plans": [
                {"niche": "rf", "inputs": plan(name="One")},
                {"niche": "rf", "inputs": plan(name="Two", quantity=200)},
                {"niche": "rf", "placed": True, "inputs": plan(name="Three", quantity=20, ordered="2025-12-22")},
            ],
        }  # fmt: skip
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **with_own_sales())
            inputs, out = Path(holder) / "plans.json", Path(holder) / "out.json"
            inputs.write_text(json.dumps(several))
            run = CliRunner().invoke(
                main, ["plans", str(folder), "--inputs", str(inputs), "--out", str(out)]
            )
            self.assertEqual(run.exit_code, 0, run.output)
            theirs = json.loads(out.read_text("utf-8"))
            kept = keep_several(Market.objects.get(), read_several(inputs))
            again = keep_several(Market.objects.get(), read_several(inputs))
            self.assertEqual([one.pk for one in kept], [one.pk for one in again])
            listed = Path(holder) / "out.csv"
            run = CliRunner().invoke(
                main, ["plans", str(folder), "--inputs", str(inputs), "--out", str(listed)]
            )
            self.assertIn("niche_id,niche,plan,placed", listed.read_text("utf-8-sig"))
        schema = json.loads((SCHEMAS / "plans.schema.json").read_text("utf-8"))
        one = json.loads((SCHEMAS / "plan.schema.json").read_text("utf-8"))
        registry = Registry().with_resource("plan.schema.json", Resource.from_contents(one))
        for part, document in (("inputs", several), ("result", theirs)):
            jsonschema.Draft202012Validator(
                {**schema, "$ref": f"#/$defs/{part}"}, registry=registry
            ).validate(document)
        ours = self.get("desk/orders/")
        by_name = {row["name"]: row for row in ours["plans"]}
        for row in theirs["plans"]:
            mine = by_name[row["name"]]
            for part in ("taken", "proposed", "why", "reason", "summary"):
                self.assertEqual(mine[part], row[part], (row["name"], part))
        self.assertEqual(ours["sentences"], theirs["sentences"])
        self.assertEqual(ours["months"], theirs["months"])

    def test_a_file_of_plans_is_kept_whole_or_not_at_all(self) -> None:
        good = {"niche": "rf", "inputs": DOCUMENT}
        for plans, problem in (
            ([good, {"niche": "nowhere", "inputs": DOCUMENT}], "plans[1]: there is no niche “nowhere”"),
            ([good, {"niche": "rf", "inputs": plan(name="B", nonsense=1)}], "plans[1], “B” of rf: The file: unknown nonsense"),
            ([{"inputs": DOCUMENT}], "plans[0]: niche and inputs are needed"),
            ([], "expected 1 to 60 plans"),
            ([{"niche": "rf", "inputs": {**DOCUMENT, "draws": 1}}], "draws: expected a number from 100"),
        ):  # fmt: skip
            with tempfile.TemporaryDirectory() as holder:
                file = Path(holder) / "plans.json"
                file.write_text(json.dumps({"cash": 10, "plans": plans}))
                with self.assertRaises(CoreError) as told:
                    keep_several(Market.objects.get(), read_several(file))
            self.assertIn(problem, str(told.exception))
        self.assertEqual(Plan.objects.count(), 0)

    def test_niches_of_two_markets_share_no_purse(self) -> None:
        self.assertEqual(Niche.objects.filter(niche_id="rf").count(), 1)
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **supplied_market())
            inputs = Path(holder) / "plans.json"
            wanted = [{"niche": one, "inputs": DOCUMENT} for one in ("rf", "none")]
            inputs.write_text(json.dumps({"cash": 10, "plans": wanted}))
            run = CliRunner().invoke(main, ["plans", str(folder), "--inputs", str(inputs)])
            self.assertEqual(run.exit_code, 1)
            self.assertIn("There is no niche “none”", run.output)
