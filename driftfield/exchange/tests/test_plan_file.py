"""Plans from files: what is read, what is assumed, what is refused and where; and what the command writes."""

import json
import tempfile
from copy import deepcopy
from datetime import date, timedelta
from pathlib import Path
from typing import Any
from unittest import TestCase

import jsonschema
import numpy as np
from click.testing import CliRunner

from driftfield.cli.main import main
from driftfield.core.base import CoreError, Period
from driftfield.core.curves.seasons import season_starts
from driftfield.core.economics.tests.test_plan import MONDAY, outlook
from driftfield.core.market import NicheOutlook, PastUnits, SeasonInputs
from driftfield.core.market.tests.test_almanac import PROFILES
from driftfield.core.supply import newcomers_path
from driftfield.core.supply.tests.test_newcomers import made_paths
from driftfield.exchange.plan_file import COVER_WEEKS, read_document, read_inputs
from driftfield.exchange.plan_record import plan_record

from .packages import supplied_market, write

ROOT = Path(__file__).parents[3]
SCHEMA = json.loads((ROOT / "schemas" / "plan.schema.json").read_text("utf-8"))
LEAST: dict[str, Any] = {
    "quote": {"breaks": [{"units": 1, "cost": 4.0}]},
    "transport": [{"name": "sea", "days": 40}],
}


def niche(seasonal: bool = True, **changed: Any) -> NicheOutlook:
    profile = PROFILES[:1] if seasonal else np.ones((1, 52))
    starts = season_starts(profile, np.zeros_like(profile), 0.25) & seasonal
    inputs = SeasonInputs(
        np.array(["Seasonal" if seasonal else "Evergreen"], dtype=object), np.array([None], dtype=object),
        profile, starts, Period.WEEK, MONDAY - timedelta(days=1),
    )  # fmt: skip
    given: dict[str, Any] = {
        "outlook": outlook(), "newcomers": newcomers_path(made_paths([0] * 9, np.linspace(0.02, 0.1, 9)), np.array([0]), 0),
        "inputs": inputs, "price": 24.0, "price_low": 21.5, "price_error": 0.04, "returned": 0.07, "kg": 0.4,
        "past": past(),
    } | changed  # fmt: skip
    return NicheOutlook(**given)


def past() -> PastUnits:
    """A hundred a week for two years."""
    edges = np.array([(MONDAY - timedelta(weeks=back)).toordinal() for back in range(104, -1, -1)])
    return PastUnits(edges, np.full(104, 100.0))


def document(**changed: Any) -> dict[str, Any]:
    return {**deepcopy(LEAST), **changed}


class Reading(TestCase):
    def test_what_nobody_gives_is_the_market_s_or_assumed_and_told(self) -> None:
        read = read_inputs(document(), niche(), MONDAY)
        self.assertEqual((read.inputs.selling.price, read.inputs.goods.kg), (24.0, 0.4))
        self.assertIn("price", read.from_market)
        self.assertEqual(
            set(read.assumed),
            {
                "commission",
                "handling",
                "advertising",
                "share of returns resold",
                "storage",
                "duty",
                "what leftovers bring",
            },
        )
        read = read_inputs(
            document(selling={"commission": 0.12, "advertising": 0.1, "price": 30}), niche(), MONDAY
        )
        self.assertNotIn("commission", read.assumed)
        self.assertNotIn("price", read.from_market)

    def test_for_the_season_to_come_or_three_months(self) -> None:
        read = read_inputs(document(), niche(), MONDAY)
        assert read.season is not None
        self.assertEqual(read.inputs.until, read.season.end)
        self.assertEqual(read.season.rise - read.season.order_by, timedelta(days=70))
        level = read_inputs(document(), niche(seasonal=False), MONDAY)
        self.assertIsNone(level.season)
        # Nothing of it is cleared after three months: it is sold on, and seldom sold out.
        self.assertEqual(
            (level.inputs.service, level.inputs.leftover, level.inputs.carry_weeks),
            (0.9, "carry", 13),
        )
        self.assertIn("service level 90%", level.assumed)
        self.assertEqual((read.inputs.service, read.inputs.leftover), (None, "clear"))
        self.assertEqual(
            level.inputs.until, level.inputs.on_sale + timedelta(weeks=COVER_WEEKS, days=-1)
        )
        with self.assertRaisesRegex(CoreError, "no season to order for"):
            read_inputs(document(**{"for": "season"}), niche(seasonal=False), MONDAY)
        # A part of a season is still a season's: what is left of it does not sell all year.
        part = read_inputs(document(**{"for": {"weeks": 8}}), niche(), MONDAY)
        self.assertEqual((part.inputs.service, part.inputs.leftover), (None, "clear"))
        day = read_inputs(document(**{"for": {"until": "2027-01-31"}}), niche(), MONDAY)
        self.assertEqual(day.inputs.until, date(2027, 1, 31))

    def test_a_listing_to_be_matched(self) -> None:
        read = read_inputs(document(units={"listing": "l1"}), niche(), MONDAY, {"l1": 0.25})
        self.assertEqual(read.share.shares.tolist(), [[0.25]])
        for matched in ({}, {"l1": float("nan")}, {"l1": 0.0}):
            with self.assertRaisesRegex(CoreError, "sells nothing in this niche that is known"):
                read_inputs(document(units={"listing": "l1"}), niche(), MONDAY, matched)
        with self.assertRaisesRegex(CoreError, "newcomers tell nothing"):
            read_inputs(document(), niche(newcomers=None), MONDAY)

    def test_each_error_says_where_and_what_was_expected(self) -> None:
        for changed, message in (
            ({"quote": {}}, r"quote.breaks: what a unit costs is needed"),
            ({"quote": {"breaks": [{"units": 1}]}}, r"quote.breaks\[0\]: units and cost are needed"),
            ({"quote": {"breaks": [{"units": 1, "cost": -2}]}}, r"quote.breaks\[0\].cost: expected a number from 0 .* got -2"),
            ({"quote": {"breaks": [{"units": 1, "cost": "4"}]}}, r'expected a number; got "4"'),
            ({"transport": []}, r"transport: one way at least is needed"),
            ({"transport": [{"days": 40, "share": 0.5}, {"days": 9, "share": 0.4}]}, r"add up to 1; got 0.5 \+ 0.4"),
            ({"transport": [{"days": 40.5}]}, r"transport\[0\].days: expected a whole number"),
            ({"ordered": "17/05/2026"}, r'ordered: expected a date as 2026-11-15; got "17/05/2026"'),
            ({"selling": {"comission": 0.1}}, r"selling: unknown comission. Known: .*commission"),
            ({"selling": {"advertising": [0.1, True]}}, r"selling.advertising.1: expected a number; got true"),
            ({"selling": {"prices": [1, None]}}, r"selling.prices: expected only numbers; got null"),
            ({"for": {"weeks": 3, "until": "2027-01-01"}}, r"for: expected “season”"),
            ({"for": [1]}, r"for: expected an object in braces"),
            ({"leftover": {"do": "burn"}}, r"leftover.do: expected clear, carry or nothing; got “burn”"),
            ({"own_figure": {"units_a_day": 4}}, r"own_figure: units_a_day, searches_now"),
            ({"service": 1.0}, r"service: expected a number from 0.5 to 0.999"),
            ({"budjet": 5}, r"The file: unknown budjet"),
            ({"budget": 10**400}, r"budget: expected a number"),
            ({"selling": {"price": 1e400}}, r"selling.price: expected a number"),
        ):  # fmt: skip
            with self.assertRaisesRegex(CoreError, message):
                read_inputs(document(**changed), niche(), MONDAY)

    def test_a_file_that_is_no_json_is_told_by_line_and_column(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "plan.json"
            for raw, message in (
                (
                    b'{"quote": {\n  "breaks": [,]}}',
                    "plan.json, line 2, column 14: this is not JSON",
                ),
                (b"[1]", "plan.json: expected an object in braces"),
                (b'{"name": "\xff"}', "plan.json: expected text in UTF-8"),
                (b'{"alternatives": 5}', "alternatives: expected a list"),
            ):
                path.write_bytes(raw)
                with self.assertRaisesRegex(CoreError, message):
                    read_document(path)
            path.write_text(json.dumps(document(alternatives=[{"name": "B"}, {"service": 0.9}])))
            self.assertEqual([one.get("name") for one in read_document(path)], [None, "B", None])


class Result(TestCase):
    def record(self, market: NicheOutlook | None = None, **changed: Any) -> dict[str, Any]:
        market = market or niche()
        return plan_record(read_inputs(document(**changed), market, MONDAY), market, "GBP")

    def test_it_is_as_the_schema_has_it(self) -> None:
        jsonschema.Draft202012Validator.check_schema(SCHEMA)
        plans = [
            self.record(), self.record(niche(seasonal=False), service=0.95),
            self.record(budget=900, own_figure={"units_a_day": 3, "searches_now": 100, "searches_then": 200, "days": 80}),
            self.record(niche(newcomers=None), units={"share": 0.02}),
        ]  # fmt: skip
        made = {
            "market_id": "north",
            "niche_id": "n",
            "name": "N",
            "as_of": "2026-09-06",
            "plans": plans,
        }
        jsonschema.validate(made, {**SCHEMA, "$ref": "#/$defs/result"})
        jsonschema.validate(json.loads((ROOT / "demo" / "plan.json").read_text("utf-8")), SCHEMA)
        with self.assertRaises(jsonschema.ValidationError):
            jsonschema.validate(document(budjet=5), SCHEMA)
        json.dumps(made, allow_nan=False)

    def test_the_lines_of_a_unit_add_up_to_the_penny(self) -> None:
        unit = self.record(selling={"tax": 0.2, "price": 19.99, "returned": 0.13})["unit"]
        left = unit.pop("left")
        self.assertEqual(round(sum(unit.values()), 2), left)

    def test_a_late_order_says_so_and_when_all_of_it_was_to_be_had(self) -> None:
        market = niche()
        early = self.record(market, ordered="2026-09-07")
        self.assertFalse([one for one in early["warnings"] if "still to come" in one])
        late = self.record(market, ordered="2027-04-26")
        (warning,) = [one for one in late["warnings"] if "still to come" in one]
        self.assertRegex(
            warning, r"on sale on 5 Jul 2027, \d+% of the season is still to come. For all of it"
        )
        self.assertLess(late["dates"]["order_by"], "2027-04-26")

    def test_a_part_that_comes_too_late_says_so_and_no_tax_is_lost_from_the_lines(self) -> None:
        ways = [
            {"name": "air", "days": 5, "share": 0.5},
            {"name": "sea", "days": 200, "share": 0.5},
        ]
        made = self.record(transport=ways, **{"for": {"weeks": 10}})
        self.assertTrue(any("What goes by sea is on sale" in one for one in made["warnings"]))
        made = self.record(product={"import_tax": 0.2}, selling={"price": 30})
        self.assertFalse(made["bill"]["reclaimed"])
        left = made["unit"].pop("left")
        self.assertLess(made["unit"]["import_tax"], 0)
        self.assertEqual(round(sum(made["unit"].values()), 2), left)

    def test_what_the_draws_rest_on_is_told_and_no_more_money_than_there_is(self) -> None:
        made = self.record(selling={"price": 5}, budget=10)
        self.assertTrue(any("No quantity earns anything" in one for one in made["warnings"]))
        made = self.record(budget=100)
        self.assertTrue(any("more than your budget of £100" in one for one in made["warnings"]))
        self.assertIn("Assumed: ", made["sentence"])
        quote = {"breaks": [{"units": 1, "cost": 4}], "valid_until": "2026-01-31", "name": "Old"}
        made = self.record(quote=quote)
        self.assertIn("Quote “Old” was valid until 31 Jan 2026.", made["warnings"])


class Command(TestCase):
    def test_a_package_is_planned_without_a_database(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **supplied_market())
            inputs, out = Path(holder) / "plan.json", Path(holder) / "out.json"
            inputs.write_text(
                json.dumps(
                    document(units={"listing": "l1"}, alternatives=[{"name": "B", "service": 0.9}])
                )
            )
            run = CliRunner().invoke(
                main,
                ["plan", str(folder), "--niche", "rf", "--inputs", str(inputs), "--out", str(out)],
            )
            self.assertEqual(run.exit_code, 0, run.output)
            made = json.loads(out.read_text("utf-8"))
            jsonschema.validate(made, {**SCHEMA, "$ref": "#/$defs/result"})
            self.assertEqual([one["name"] for one in made["plans"]], ["Plan", "B"])
            self.assertIn("Order ", run.output)
            run = CliRunner().invoke(
                main, ["plan", str(folder), "--niche", "none", "--inputs", str(inputs)]
            )
            self.assertEqual(run.exit_code, 1)
            self.assertIn("There is no niche “none”", run.output)
