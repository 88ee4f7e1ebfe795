"""Keep, park, pass and back again."""

from django.test import TestCase

from driftfield.core.base import CoreError
from driftfield.desk.actions import decide, undo
from driftfield.desk.models import Choice, Decision
from driftfield.market.models import Market, Niche


class Decisions(TestCase):
    def setUp(self) -> None:
        market = Market.objects.create(market_id="north", name="North")
        for niche in ("rf", "mf"):
            Niche.objects.create(market=market, niche_id=niche, name=niche)

    def current(self) -> dict[str, str]:
        return dict(Decision.objects.filter(current=True).values_list("subject", "choice"))

    def test_the_latest_holds_and_none_is_lost(self) -> None:
        decide("north", "rf", Choice.KEEP, "steady, few brands")
        decide("north", "rf", Choice.PASS, "too heavy")
        self.assertEqual(self.current(), {"rf": "pass"})
        self.assertEqual(
            list(Decision.objects.order_by("pk").values_list("choice", "reason")),
            [("keep", "steady, few brands"), ("pass", "too heavy")],
        )

    def test_undo_walks_back_one_decision_at_a_time(self) -> None:
        decide("north", "rf", Choice.KEEP)
        decide("north", "mf", Choice.PARK)
        decide("north", "rf", Choice.PASS)
        for expected in ({"rf": "keep", "mf": "park"}, {"rf": "keep"}, {}):
            undo()
            self.assertEqual(self.current(), expected)
        with self.assertRaisesRegex(CoreError, "no decision to undo"):
            undo()

    def test_taking_back_can_be_undone_too(self) -> None:
        decide("north", "rf", Choice.KEEP)
        decide("north", "rf", Choice.OPEN)
        undo()
        self.assertEqual(self.current(), {"rf": "keep"})

    def test_after_an_undo_one_decides_anew(self) -> None:
        decide("north", "rf", Choice.KEEP)
        undo()
        decide("north", "rf", Choice.PARK)
        undo()
        self.assertEqual(self.current(), {})
        self.assertEqual(Decision.objects.filter(undone_at=None).count(), 0)

    def test_there_must_be_such_a_niche(self) -> None:
        for market, niche in (("north", "zz"), ("south", "rf")):
            with self.assertRaisesRegex(CoreError, f"no niche “{niche}” in market “{market}”"):
                decide(market, niche, Choice.KEEP)
        self.assertEqual(Decision.objects.count(), 0)
