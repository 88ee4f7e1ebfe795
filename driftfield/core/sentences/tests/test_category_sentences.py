"""What is said of a category, and that it never says more than its figures."""

from unittest import TestCase

from driftfield.core.sentences import (
    holders_sentence,
    launches_sentence,
    lorenz_sentence,
    newcomers_sentence,
    openness_sentence,
    prices_sentence,
    returned_sentence,
    settledness_sentence,
    shared_sentence,
    wanted_sentence,
)
from driftfield.core.sentences.categories import ordinal


class Said(TestCase):
    def test_its_place_comes_with_how_firm_it_is(self) -> None:
        ranked = {"openness": 71.4, "openness_rank": 2, "openness_rank_low": 1, "openness_rank_high": 3,
                  "openness_among": 41}  # fmt: skip
        self.assertEqual(
            openness_sentence(ranked),
            "Openness 71 of 100: 2nd of 41, the most open first; 1st to 3rd if the weights are shaken.",
        )
        firm = {"settledness": 12.0, "settledness_rank": 41, "settledness_rank_low": 41,
                "settledness_rank_high": 41, "settledness_among": 41}  # fmt: skip
        self.assertEqual(
            settledness_sentence(firm), "Settledness 12 of 100: 41st of 41, the most settled first."
        )
        self.assertIn("cannot be told", openness_sentence({"openness": None}))
        self.assertIsNone(settledness_sentence({"settledness": None}))

    def test_places_are_spelt(self) -> None:
        spelt = [ordinal(n) for n in (1, 2, 3, 4, 11, 12, 13, 21, 22, 101, 111, 1002)]
        self.assertEqual(
            spelt,
            [
                "1st",
                "2nd",
                "3rd",
                "4th",
                "11th",
                "12th",
                "13th",
                "21st",
                "22nd",
                "101st",
                "111th",
                "1,002nd",
            ],
        )

    def test_newcomers_are_counted_before_they_are_shared_out(self) -> None:
        def said(listings: float | None, share: float | None) -> str:
            return newcomers_sentence(
                {"newcomers.listings_52w": listings, "newcomers.units_share_52w": share}
            )

        self.assertEqual(
            said(1, 0.02), "1 listing came within 52 weeks and made 2% of the units sold in them."
        )
        self.assertIn("made under 0.5%", said(3, 0.001))
        self.assertEqual(said(0, None), "No listing is known to have come within 52 weeks.")
        self.assertIn("what they sell is not known", said(4, None))
        self.assertIn("not known", said(None, None))

    def test_launches_tell_their_interval(self) -> None:
        figures = {
            "entry.judged": 9,
            "entry.successes": 0,
            "entry.success_low": 0.0,
            "entry.success_high": 0.23,
        }
        self.assertIn(
            "Of 9 launches that can be judged 0 reached", launches_sentence(figures) or ""
        )
        self.assertIn("(0% to 23%)", launches_sentence(figures) or "")
        self.assertIsNone(launches_sentence({**figures, "entry.judged": 0}))

    def test_what_is_not_known_is_said_and_never_made_up(self) -> None:
        self.assertIsNone(
            lorenz_sentence({"lorenz.share_for_80": None, "lorenz.share_for_90": None})
        )
        self.assertIn("not known", prices_sentence(None, None, "GBP"))
        self.assertIn("a year ago is not known", prices_sentence(12.5, None, "GBP"))
        self.assertEqual(
            prices_sentence(22.4, 24.1, "GBP"),
            "Half of its listings cost £22.40 or more; a year ago £24.10.",
        )
        self.assertEqual(
            holders_sentence("brand", "brands", 0, "", None, None, None),
            "Its brands are not known.",
        )
        self.assertIn("not known", wanted_sentence([], [], known=False))
        self.assertIn("not known", returned_sentence(None, None, "", [], [], "Bees"))
        self.assertIsNone(shared_sentence("the leaders", []))

    def test_what_stands_out_is_named(self) -> None:
        self.assertEqual(
            wanted_sentence(["material cedar"], ["material poly"], known=True),
            "Wanted beyond its share of the listings: material cedar; offered beyond what is bought: material poly.",
        )
        self.assertIn("Nothing sells clearly", wanted_sentence([], [], known=True))
        self.assertEqual(
            returned_sentence(0.041, 0.05, "Bees", ["warps when wet"], [], "Bees"),
            "4% comes back, 5% in Bees. More often than in Bees: warps when wet.",
        )
        self.assertEqual(
            shared_sentence("the leaders", [("material", "cedar", 7, 10, 1, 40)]),
            "What the leaders have in common: 7 of 10 have material cedar, 1 of the other 40.",
        )
