"""Settings chosen for a market, and overruled for one niche."""

from django.test import TestCase

from driftfield.api.tests.loaded import Loaded
from driftfield.core.base import AT_ONCE, DEFAULTS, GROUPS, NAMES, CoreError, Settings
from driftfield.core.signals import THRESHOLDS
from driftfield.exchange.tests.packages import supplied_market
from driftfield.market.models import Market
from driftfield.readings.actions import (
    analyse_all,
    analyse_market,
    choose_planning,
    choose_settings,
    overrule,
    pending,
)
from driftfield.readings.chosen import changed_for, chosen_for, overruled
from driftfield.readings.models import NicheSettings, Run
from driftfield.readings.tests.stored import column, reading, stored


class Declared(TestCase):
    def test_every_setting_stands_in_one_group_and_has_a_name_of_its_own(self) -> None:
        grouped = [key for group in GROUPS for key in group.keys]
        self.assertEqual(sorted(grouped), sorted(one.key for one in Settings.declared()))
        names = [*grouped, *(one.key for one in THRESHOLDS)]
        self.assertEqual(len(names), len(set(names)))
        self.assertLessEqual(set(AT_ONCE), set(grouped))
        self.assertEqual(set(NAMES), set(grouped))
        self.assertEqual(len(set(NAMES.values())), len(NAMES))


class OfMarket(Loaded, TestCase):
    package = staticmethod(supplied_market)

    def setUp(self) -> None:
        self.market = Market.objects.select_related("run").get()

    def test_what_needs_an_analysis_waits_for_it_and_readings_say_what_they_were_made_with(
        self,
    ) -> None:
        before = stored("rf")["target.multiple"]
        choose_settings(self.market, {"target_income": 15_000})
        self.assertEqual(pending(Run.objects.get()), ["target_income"])
        self.assertEqual(stored("rf")["target.multiple"], before)
        analyse_market(self.market)
        run = Run.objects.get()
        self.assertEqual((pending(run), run.settings["target_income"]), ([], 15_000))
        self.assertAlmostEqual(stored("rf")["target.multiple"], 2 * before, places=5)

    def test_dates_follow_at_once_and_money_waits_for_nothing(self) -> None:
        before = stored("rf")["act.order_by"]
        choose_settings(self.market, {"lead_days": 30, "tax_rate": 0.2})
        self.assertEqual(pending(Run.objects.get()), [])
        self.assertNotEqual(stored("rf")["act.order_by"], before)
        answer = self.get("niche/costs/?niche=rf")["paying"]
        self.assertAlmostEqual(answer["result"]["tax"], answer["costs"]["price"] / 6)
        self.assertNotIn("tax", answer["assumed"])

    def test_back_to_the_default_is_no_choice_any_more(self) -> None:
        choose_settings(self.market, {"review_limit": 90, "order_soon": 14})
        self.assertEqual(changed_for("north"), {"review_limit": 90, "order_soon": 14})
        self.assertEqual(set(pending(Run.objects.get())), {"review_limit", "order_soon"})
        choose_settings(self.market, {"review_limit": None, "order_soon": 28})
        self.assertEqual(changed_for("north"), {})
        self.assertEqual(chosen_for("north").settings, DEFAULTS)

    def test_nonsense_is_refused_and_changes_nothing(self) -> None:
        choose_settings(self.market, {"review_limit": 90})
        for wrong, said in (
            ({"no_such": 3}, "There is no setting “no_such”"),
            ({"no_such": None}, "There is no setting “no_such”"),
            ({"review_limit": 0}, "review_limit lies between 1 and"),
            ({"review_limit": 20}, "reviews_hardly may not exceed review_limit"),
            ({"lead_days": 7.5}, "lead_days needs a whole number"),
        ):
            with self.assertRaisesRegex(CoreError, said):
                choose_settings(self.market, wrong)
        self.assertEqual(changed_for("north"), {"review_limit": 90})

    def test_the_api_lists_them_in_groups_and_saves_them(self) -> None:
        found = self.get("settings/")
        rows = {one["key"]: one for group in found["groups"] for one in group["settings"]}
        self.assertEqual(rows["review_limit"]["default"], 150)
        self.assertIn("order_soon", rows)
        body = {"market_id": "north", "changed": {"review_limit": 120, "lead_days": 40}}
        answer = self.client.put("/api/settings/", body, content_type="application/json")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(answer.json()["pending"], ["review_limit"])
        self.assertEqual(self.get("markets/")[0]["lead_days"], 40)
        wrong = {"market_id": "north", "changed": {"review_limit": -1}}
        answer = self.client.put("/api/settings/", wrong, content_type="application/json")
        self.assertEqual(answer.status_code, 409)
        self.assertIn("between 1 and", answer.json()["detail"])


class OfNiche(Loaded, TestCase):
    package = staticmethod(supplied_market)

    def setUp(self) -> None:
        self.market = Market.objects.select_related("run").get()

    def test_its_own_figures_follow_and_no_other_niche_s(self) -> None:
        before, others = stored("rf"), column(Run.objects.get(), "act.order_by")
        overrule(self.market, "rf", {"target_income": 3_000, "review_limit": 80, "lead_days": 20})
        after = stored("rf")
        self.assertAlmostEqual(after["target.multiple"], 10 * before["target.multiple"], places=4)
        self.assertAlmostEqual(
            after["target.units_median"], before["target.units_median"] / 10, places=4
        )
        self.assertGreater(after["target.reaching"], before["target.reaching"])
        self.assertLess(after["barriers.few_reviews"], before["barriers.few_reviews"])
        self.assertNotEqual(after["act.order_by"], before["act.order_by"])
        self.assertIn("reaches_target", [one["signal"] for one in after["signals"]])
        now = column(Run.objects.get(), "act.order_by")
        self.assertEqual(
            {k: v for k, v in now.items() if k != "rf"},
            {k: v for k, v in others.items() if k != "rf"},
        )
        unmoved = {
            key for key in before if key != "signals" and not key.startswith(("target.", "act."))
        }
        unmoved -= {"barriers.few_reviews", "order_by", "order_in_days", "seasons"}
        self.assertEqual({k: before[k] for k in unmoved}, {k: after[k] for k in unmoved})
        self.assertEqual(reading("rf").settings.lead_days, 20)

    def test_it_stays_through_an_analysis_and_a_new_planning_date(self) -> None:
        overrule(self.market, "rf", {"target_income": 3_000, "lead_days": 20})
        wanted = stored("rf")
        list(analyse_all())
        self.assertEqual(stored("rf"), wanted)
        market = Market.objects.select_related("run").get()
        choose_planning(market, market.run.as_of, 100)
        self.assertEqual(stored("rf")["act.order_by"], wanted["act.order_by"])
        self.assertEqual(stored("rf")["target.multiple"], wanted["target.multiple"])

    def test_back_to_the_market_s_is_as_if_nothing_had_been(self) -> None:
        before = stored("rf")
        overrule(self.market, "rf", {"target_income": 3_000, "review_limit": 80, "lead_days": 20})
        overrule(
            self.market, "rf", {"target_income": None, "review_limit": None, "lead_days": None}
        )
        after = stored("rf")
        for key, value in before.items():
            if isinstance(value, float):
                self.assertAlmostEqual(after[key], value, places=4, msg=key)
            else:
                self.assertEqual(after[key], value, key)
        self.assertEqual(overruled("north", "rf"), {})

    def test_what_cannot_be_overruled_is_refused(self) -> None:
        for niche, wrong, said in (
            (
                "rf",
                {"drift_rate": 0.2},
                "drift_rate cannot be set for one niche. These can: lead_days",
            ),
            ("rf", {"lead_days": 900}, "lead_days lies between 0 and 730"),
            ("nope", {"lead_days": 20}, "There is no niche “nope”"),
        ):
            with self.assertRaisesRegex(CoreError, said):
                overrule(self.market, niche, wrong)
        self.assertFalse(NicheSettings.objects.exists())

    def test_the_dossier_says_its_own(self) -> None:
        body = {"market_id": "north", "niche_id": "rf", "target_income": 12_000, "lead_days": 20}
        answer = self.client.put("/api/settings/niche/", body, content_type="application/json")
        self.assertEqual(answer.json(), {"overruled": {"lead_days": 20, "target_income": 12_000}})
        found = self.get("niche/?niche=rf")
        self.assertEqual((found["lead_days"], found["target_income"]), (20, 12_000))
        self.assertEqual(found["overruled"], ["lead_days", "target_income"])
        paying = self.get("niche/costs/?niche=rf")["paying"]
        self.assertEqual(paying["target_income"], 12_000)
        self.assertIn("£12,000 revenue a year needs", " ".join(paying["verdict"]))
