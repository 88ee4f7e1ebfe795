"""What is said of brands and sellers: only what their figures bear."""

from typing import Any
from unittest import TestCase

from driftfield.core.market import BRAND, SELLER, Kind, figures_of
from driftfield.core.sentences.holders import holder_sentences, unsold_sentence


def figures(kind: Kind, **known: Any) -> dict[str, Any]:
    """The figures of a kind, all unknown but some; “carried__price” stands for “carried.price”."""
    found = dict.fromkeys(figure.key for figure in figures_of(kind))
    return found | {key.replace("__", "."): value for key, value in known.items()}


class Said(TestCase):
    def brand(self, **known: Any) -> str:
        return " ".join(holder_sentences(figures(BRAND, **known), BRAND, "EUR"))

    def seller(self, **known: Any) -> str:
        return " ".join(holder_sentences(figures(SELLER, **known), SELLER, "EUR"))

    def test_what_it_has_on_sale(self) -> None:
        self.assertEqual(self.brand(carried__listings=0), "It has nothing on sale any more.")
        self.assertEqual(self.brand(carried__listings=1), "It has 1 listing on sale.")
        found = self.brand(
            carried__listings=12, carried__categories=1, carried__sellers=1, carried__price=9.5
        )
        self.assertEqual(
            found, "It has 12 listings in 1 category on sale, offered by 1 seller, at a median price of €9.50."
        )  # fmt: skip
        found = self.seller(carried__listings=1200, carried__brands=3, carried__categories=2)
        self.assertEqual(found, "It has 1,200 listings of 3 brands in 2 categories on sale.")

    def test_how_few_make_most_is_told_of_more_than_a_few(self) -> None:
        known = {"carried__listings": 4, "lorenz__share_for_90": 0.15, "lorenz__gini": 0.874}
        self.assertIn(
            "15% of the listings whose revenue of the last year is known make 90% of it (Gini 0.87).",
            self.brand(**known, carried__ever=40),
        )
        self.assertNotIn("make 90%", self.brand(**known, carried__ever=3))

    def test_what_came_and_went_as_far_as_it_is_known(self) -> None:
        self.assertIn(
            "Within a year 1 listing came and 0 listings went.",
            self.seller(carried__listings=1, carried__came_52w=1, carried__went_52w=0),
        )
        self.assertIn(
            "Within a year 2 listings went.",
            self.seller(carried__listings=1, carried__went_52w=2),
        )
        self.assertNotIn("Within", self.seller(carried__listings=1))

    def test_launches_with_their_interval(self) -> None:
        known = {
            "carried__listings": 9, "entry__judged": 1, "entry__successes": 1, "entry__success_low": 0.27,
            "entry__success_high": 1.0,
        }  # fmt: skip
        self.assertIn(
            "Of 1 launch that can be judged 1 worked (between 27% and 100% of such launches do).",
            self.brand(**known),
        )
        self.assertNotIn("launch", self.brand(**{**known, "entry__judged": 0}))

    def test_reviews_for_its_sales(self) -> None:
        # A share of 8 to 20% of sales is quick: common practice, no source.
        for units, said in (
            (4.9, "so many reviews for its sales are unusual"),
            (5.0, "which is quick"),
            (12.5, "which is quick"),
            (12.6, "12.6 units for each review it gains."),
        ):
            self.assertIn(said, self.brand(carried__listings=1, entry__units_per_review=units))

    def test_estimates_and_assumptions_are_called_so(self) -> None:
        known = {"carried__listings": 3, "carried__estimated_units": 1234.0}
        self.assertIn(
            "31% of what it sells, about 1,234 units a year, is estimated from the sales ranks",
            self.brand(**known, carried__estimated_share=0.31),
        )
        self.assertNotIn("estimated", self.brand(**known, carried__estimated_share=0.004))
        found = self.seller(carried__listings=3, sales__units_52w=90.0, carried__lead_share=0.25)
        self.assertTrue(found.endswith("for 25% of the last year’s periods in which it is known."))
        # Of a brand nothing is assumed, and of what is not known nothing is said.
        self.assertNotIn("assumed", self.brand(carried__listings=3, sales__units_52w=90.0))
        self.assertNotIn("assumed", self.seller(carried__listings=3))

    def test_that_nothing_is_known_of_its_sales(self) -> None:
        for kind, lead, said in (
            (SELLER, 0.0, "it held no lead offer of its listings in the last year."),
            (SELLER, None, "What it sells is not known."),
            (BRAND, None, "What it sells is not known."),
        ):
            known = {} if lead is None else {"carried__lead_share": lead}
            self.assertIn(said, str(unsold_sentence(figures(kind, **known), kind)))
        self.assertIsNone(unsold_sentence(figures(SELLER, sales__units_52w=0.0), SELLER))
        self.assertIsNone(unsold_sentence(figures(BRAND, carried__estimated_units=5.0), BRAND))
