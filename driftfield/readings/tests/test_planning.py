"""Dates planned anew from another day or with another lead time."""

import tempfile
from datetime import date
from pathlib import Path

from django.test import TestCase

from driftfield.api.tests.loaded import Loaded
from driftfield.core.base import DEFAULTS, CoreError
from driftfield.core.market import KINDS, PLANNED, figures_of
from driftfield.exchange.tests.packages import small_market, write
from driftfield.intake.actions import import_folder, undo_batch
from driftfield.market.models import Market
from driftfield.readings.actions import analyse_all, analyse_market, choose_planning
from driftfield.readings.chosen import chosen_for
from driftfield.readings.models import MarketSettings, Run
from driftfield.readings.store import read_columns
from driftfield.readings.tests.stored import stored


class Planning(Loaded, TestCase):
    """The small market ends on 28 December 2025; rhubarb forcers peak in May."""

    def setUp(self) -> None:
        self.market = Market.objects.select_related("run").get()

    def columns(self) -> dict[str, list]:
        run = Run.objects.get()
        return {
            f"{kind.key} {name}": column.to_list()
            for kind in KINDS
            for name, column in read_columns(run, kind, [f.key for f in figures_of(kind)])
        }

    def test_planned_anew_is_the_same_as_analysed_anew(self) -> None:
        first = self.columns()
        choose_planning(self.market, date(2026, 3, 2), 60)
        planned = self.columns()
        analyse_market(Market.objects.get())
        self.assertEqual(self.columns(), planned)
        keys = {figure.key for figure in PLANNED} | {"signals"}
        differing = {name.split()[1] for name in first if first[name] != planned[name]}
        self.assertLessEqual(differing, keys)
        self.assertLessEqual({"act.caught", "act.open_until", "seasons"}, differing)
        choose_planning(Market.objects.get(), None, int(DEFAULTS.lead_days))
        self.assertEqual(self.columns(), first)

    def test_a_signal_that_a_date_raises_comes_and_goes_with_it(self) -> None:
        def raised() -> list[str]:
            return [one["signal"] for one in stored("rf")["signals"]]

        by = date.fromisoformat(str(stored("rf")["order_by"]))
        choose_planning(self.market, by, 77)
        self.assertIn("order_now", raised())
        severities = [one["severity"] for one in stored("rf")["signals"]]
        self.assertEqual(severities, sorted(severities, reverse=True))
        choose_planning(Market.objects.select_related("run").get(), date(2026, 6, 1), 77)
        self.assertNotIn("order_now", raised())

    def test_what_is_chosen_outlives_the_import(self) -> None:
        choose_planning(self.market, date(2026, 3, 2), 60)
        undo_batch(lambda: None)
        self.assertFalse(Run.objects.exists())
        chosen = chosen_for("north")
        self.assertEqual((chosen.planning, chosen.settings.lead_days), (date(2026, 3, 2), 60))

    def test_nonsense_changes_nothing(self) -> None:
        before = self.columns()
        for day, lead, said in (
            (date(2031, 1, 1), 77, "two years after; got 2031-01-01"),
            (date(2025, 1, 1), 77, "31 days before the figures end, on 2025-12-28"),
            (None, 731, "between 0 and 730 days; got 731"),
            (None, -1, "got -1"),
        ):
            with self.assertRaisesRegex(CoreError, said):
                choose_planning(self.market, day, lead)
        self.assertFalse(MarketSettings.objects.exists())
        self.assertEqual(self.columns(), before)

    def test_the_as_of_is_no_choice_and_moves_with_the_figures(self) -> None:
        run = choose_planning(self.market, self.market.run.as_of, 77)
        self.assertIsNone(run.planning_date)
        self.assertEqual(run.planning, run.as_of)

    def test_a_day_that_newer_figures_leave_behind_is_told_and_not_forgotten(self) -> None:
        choose_planning(self.market, date(2025, 12, 10), 77)
        with tempfile.TemporaryDirectory() as holder:
            later = small_market(weeks=200, seed=3)
            import_folder(write(Path(holder) / "later", **later))
        run = next(iter(analyse_all()))
        self.assertEqual((run.planning_date, run.planning), (None, run.as_of))
        self.assertIn("The planning date 2025-12-10 lies too far from these figures", run.note)
        self.assertEqual(stored("rf")["planning_date"], run.as_of)
        self.assertEqual(chosen_for("north").planning, date(2025, 12, 10))
        choose_planning(Market.objects.select_related("run").get(), run.as_of, 60)
        self.assertIsNone(chosen_for("north").planning)

    def test_a_choice_made_during_an_analysis_holds(self) -> None:
        """The analysis began with the choice before."""
        told: list[int] = []

        def meanwhile(done: int, whole: int) -> None:
            if not told:
                MarketSettings.objects.create(
                    market_id="north", planning_date=date(2026, 3, 2), changed={"lead_days": 60}
                )
            told.append(done)

        list(analyse_all(progress=meanwhile))
        run = Run.objects.get()
        self.assertEqual((run.planning, run.settings["lead_days"]), (date(2026, 3, 2), 60))
        self.assertEqual(str(stored("rf")["planning_date"]), "2026-03-02")

    def test_the_api_plans_and_the_ledger_is_sorted_and_sifted_by_it(self) -> None:
        body = {"market_id": "north", "planning_date": "2026-03-02", "lead_days": 60}
        answer = self.client.put("/api/planning/", body, content_type="application/json")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(answer.json()["arrival"], "2026-05-01")
        self.assertEqual(self.get("markets/")[0]["planning_date"], "2026-03-02")
        (row,) = self.ledger("caught >= 50%")["rows"]
        self.assertEqual(row["name"], "Rhubarb forcers")
        self.assertTrue(0.5 < row["act_caught"] < 0.65)
        self.assertLess(row["act_order_in_days"], 0)
        self.assertEqual(self.names("caught >= 70%"), [])
        self.assertEqual(self.names("open until within 4 weeks"), ["Rhubarb forcers"])
        self.assertEqual(self.names("order by within 10 weeks"), [])
        self.assertEqual(self.names(sort="act.open_until")[0], "Rhubarb forcers")

    def test_the_api_refuses_with_the_remedy(self) -> None:
        for body, status, said in (
            ({"planning_date": "2040-01-01", "lead_days": 60}, 409, "two years after"),
            (
                {"planning_date": None, "lead_days": 60, "market_id": "none"},
                404,
                "no analysed market",
            ),
            ({"planning_date": "soon", "lead_days": 60}, 400, "YYYY-MM-DD"),
        ):
            answer = self.client.put(
                "/api/planning/", {"market_id": "north"} | body, content_type="application/json"
            )
            self.assertEqual(answer.status_code, status)
            self.assertIn(said, answer.content.decode())
