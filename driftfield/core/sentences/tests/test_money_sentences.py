"""Whether it pays: the answer first, what is assumed in the sentence itself, and money with its sign."""

from unittest import TestCase

from driftfield.core.base import format_money
from driftfield.core.economics import EXAMPLE_CLASSES, Costs, unit_economics, what_matters
from driftfield.core.sentences import does_it_pay

ALL = ["goods", "freight", "duty", "tax", "storage", "commission", "advertising", "handling"]


def answer(costs: Costs, assumed: list[str], **more: object) -> list[str]:
    result = unit_economics(costs)
    told: dict = {
        "lowest": None, "target": (30_000, 30_000 / costs.price), "typical": None, "currency": "GBP",
    } | more  # fmt: skip
    worst = what_matters(costs, assumed, EXAMPLE_CLASSES)
    return does_it_pay(costs, result, assumed=assumed, worst=worst, **told)


class Answers(TestCase):
    def test_a_guess_proves_nothing(self) -> None:
        """Price 20, goods 5, handling 3, commission 15%, advertising 10%: 7.00 is left."""
        found = answer(Costs(price=20, goods=5, handling=3), ALL[:-1])
        self.assertEqual(
            found[:3],
            [
                "Not proven: at £20.00 about £7.00 would be left of each unit, a margin of 35% and 140% on the "
                "landed cost.",
                "Assumed, not known: goods at £5.00, 25% of the price; commission 15%; advertising 10%; no "
                "freight, no duty, no value added tax, no storage.",
                "What would change it most is value added tax: at 20%, £3.67 a unit would be left.",
            ],
        )

    def test_yes_no_and_less_than_wanted(self) -> None:
        for costs, expected in (
            (Costs(price=20, goods=5, handling=3), "Yes: at £20.00 about £7.00 is left"),
            (
                Costs(price=20, goods=9, handling=3),
                "Yes, but less than wanted: at £20.00 about £3.00",
            ),
            (
                Costs(price=20, goods=13, handling=3),
                "No: at £20.00 about £1.00 is lost on each unit",
            ),
        ):
            self.assertIn(expected, answer(costs, [])[0])
        self.assertFalse(
            [one for one in answer(Costs(price=20, goods=5, handling=3), []) if "Assumed" in one]
        )
        lost = answer(Costs(price=20, goods=13, handling=3), ["freight"])
        self.assertTrue(lost[0].startswith("No, not on these assumptions: at £20.00"))

    def test_an_assumption_that_would_turn_it_leaves_it_unproven(self) -> None:
        """3.00 is left with goods at 9; freight of a tenth of the price takes 2 of it, 20% tax 3.33."""
        thin = Costs(price=20, goods=9, handling=3)
        self.assertTrue(answer(thin, ["freight"])[0].startswith("Yes"))
        self.assertTrue(answer(thin, ["freight", "tax"])[0].startswith("Not proven"))

    def test_the_lowest_price_the_target_and_the_example_table(self) -> None:
        costs = Costs(price=20, goods=5)
        found = " ".join(
            answer(
                costs,
                ["handling"],
                lowest=(15.5, unit_economics(Costs(price=15.5, goods=5))),
                typical=812.4,
            )
        )
        self.assertIn(
            "At the niche's lowest price of the last 52 weeks, £15.50, the margin is", found
        )
        self.assertIn(
            "£30,000 revenue a year needs 1,500 units; the typical listing sells 812.", found
        )
        self.assertIn("Assumed, not known: handling by the example table.", found)


class Amounts(TestCase):
    def test_each_currency_has_its_sign_or_its_code(self) -> None:
        for value, currency, expected in (
            (18.28, "GBP", "£18.28"), (-14.9, "EUR", "−€14.90"), (1234.5, "USD", "$1,234.50"),
            (7, "CHF", "CHF 7.00"), (-0.001, "GBP", "£0.00"), (3, "", "3.00"),
        ):  # fmt: skip
            self.assertEqual(format_money(value, currency), expected)
        self.assertEqual(format_money(30_000, "GBP", whole=True), "£30,000")
