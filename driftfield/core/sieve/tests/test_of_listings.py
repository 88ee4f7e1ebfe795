"""Conditions on an attribute of listings and on who held their lead offers: read, written, asked and offered."""

from unittest import TestCase

import numpy as np

from driftfield.core.base import CoreError
from driftfield.core.market import BRAND, LISTING, NICHE
from driftfield.core.sieve import complete, parse_sieve, read_condition, sift
from driftfield.core.supply import led_share

NONE = np.nan


class Read(TestCase):
    def read(self, typed: str) -> tuple[str, str]:
        found = read_condition(typed, kind=LISTING)
        self.assertNotIn("problem", found, typed)
        return str(found["condition"]), str(found["sentence"])

    def test_attributes_as_people_say_them(self) -> None:
        for typed, wanted, said in (
            ("attribute Colour is green", "attribute colour is green", "the colour is green"),
            ("attribute colour: Dark Green", "attribute colour is Dark Green", "the colour is Dark Green"),
            ("attribute colour isn't green", "not attribute colour is green", "the colour is not green"),
            ("attribute colour is not green", "not attribute colour is green", "the colour is not green"),
            ("attribute colour is red or blue", "attribute colour is red or attribute colour is blue",
             "the colour is red, or the colour is blue"),
            ('attribute made is "cut or cast"', 'attribute made is "cut or cast"', "the made is cut or cast"),
        ):  # fmt: skip
            self.assertEqual(self.read(typed), (wanted, said))
            self.assertEqual(self.read(wanted), (wanted, said))

    def test_lead_offers_as_people_say_them(self) -> None:
        for typed, wanted, said in (
            ("led by s14", "led by s14", "s14 held its lead offer in the last year"),
            ("led >= 50% by Comb Lane", "led >= 50% by Comb Lane",
             "Comb Lane held its lead offer for ≥ 50% of the last year"),
            ("led for at least 33.5% of the time by s14", "led >= 33.5% by s14",
             "s14 held its lead offer for ≥ 33.5% of the last year"),
            ("not led by s14", "not led by s14", "s14 did not hold its lead offer in the last year"),
            ("led at least 50% by s14 or s15", "led >= 50% by s14 or led >= 50% by s15",
             "s14 held its lead offer for ≥ 50% of the last year, or s15 held its lead offer for ≥ 50% of the last "
             "year"),
        ):  # fmt: skip
            self.assertEqual(self.read(typed), (wanted, said))
            self.assertEqual(self.read(wanted), (wanted, said))

    def test_what_names_nothing_or_too_much(self) -> None:
        for typed, said in (
            ("attribute colour is", "names no value"),
            ("led >= 140% by s14", "more than 100% of the time"),
        ):
            self.assertIn(said, str(read_condition(typed, kind=LISTING)["problem"]))
        for kind in (NICHE, BRAND):
            for text in ("attribute colour is red", "led by s14"):
                with self.assertRaisesRegex(CoreError, "of their own; listings do"):
                    parse_sieve([text], kind)

    def test_attributes_and_their_values_are_offered(self) -> None:
        known = {"colour": ["green", "grey", "red"], "size": ["small"]}
        for typed, wanted in (
            ("attribute ", ["attribute colour is ", "attribute size is "]),
            ("attribute c", ["attribute colour is "]),
            ("attribute colour is gr", ["attribute colour is green", "attribute colour is grey"]),
            ("not attribute size ", ["not attribute size is small"]),
        ):
            self.assertEqual(
                [one.text for one in complete(typed, (), LISTING, known)], wanted, typed
            )


class Passing(TestCase):
    def passes(self, typed: str) -> list[bool]:
        class Columns:
            count = 4

            def attribute(self, name: str, wanted: str | None) -> np.ndarray:
                have = np.array(["green", "red", "", "green"])
                return have != "" if wanted is None else have == wanted

            def led_by(self, seller: str) -> np.ndarray:
                return np.array([0.0, 1 / 3, NONE, 0.75])

        found = sift(parse_sieve([typed], LISTING), Columns())  # type: ignore[arg-type]
        return found.passes.tolist()

    def test_of_what_is_not_known_neither_holds(self) -> None:
        for typed, wanted in (
            ("attribute colour is green", [True, False, False, True]),
            ("attribute colour is not green", [False, True, False, False]),
            ("led by s14", [False, True, False, True]),
            ("not led by s14", [True, False, False, False]),
            ("led >= 33.3333333333% by s14", [False, True, False, True]),
            ("led >= 50% by s14", [False, False, False, True]),
            ("not led >= 50% by s14", [True, True, False, False]),
        ):
            self.assertEqual(self.passes(typed), wanted, typed)


class Shares(TestCase):
    def test_share_of_the_periods_in_which_it_is_known(self) -> None:
        held = np.array([[1, 1, 2, NONE], [NONE] * 4, [3, 3, 3, 3]], dtype=np.float32)
        np.testing.assert_allclose(led_share(held, np.array([1])), [2 / 3, NONE, 0])
        np.testing.assert_allclose(led_share(held, np.array([1, 2])), [1, NONE, 0])
        np.testing.assert_allclose(led_share(held, np.empty(0, dtype=np.int64)), [0, NONE, 0])
