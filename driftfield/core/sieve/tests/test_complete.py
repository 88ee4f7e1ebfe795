"""Completions of a condition that is being typed."""

from unittest import TestCase

from driftfield.core.base import CoreError
from driftfield.core.market import FIGURES, FIGURES_BY_KEY, TERM
from driftfield.core.sieve import (
    CategoryName,
    asked,
    complete,
    figure_named,
    parse_clause,
    short_name,
)
from driftfield.core.sieve.complete import MOST
from driftfield.core.signals import SIGNALS

CATEGORIES = [
    CategoryName("Growing", "Growing", 12),
    CategoryName("Bed covers", "Growing › Bed covers", 4),
]


def texts(typed: str) -> list[str]:
    return [one.text for one in complete(typed, CATEGORIES)]


class Completions(TestCase):
    def test_the_plain_figure_comes_first(self) -> None:
        for typed, first in (
            ("pri", "price >= "), ("price", "price >= "), ("sea", "searches >= "), ("rev", "revenue >= "),
            ("revi", "reviews >= "), ("shap", "shape = "), ("dri", "drift = "), ("head", "headroom >= "),
        ):  # fmt: skip
            with self.subTest(typed):
                found = [one for one in texts(typed) if one.strip() != typed]
                self.assertEqual(found[0], first)

    def test_values_are_offered_for_words_signals_months_categories_and_decisions(self) -> None:
        self.assertEqual(len(texts("shape ")), len(FIGURES_BY_KEY["shape"].choices))
        self.assertEqual(texts("shape is sea"), ["shape = Seasonal"])
        self.assertEqual(texts("shape = Seasonal or oc"), ["shape = Seasonal or Occasion"])
        self.assertEqual(texts("peak in May or ju"), ["peak in may or June", "peak in may or July"])
        self.assertEqual(len(texts("signal ")), len(SIGNALS))
        self.assertEqual(texts("no signal low rev"), ["no signal few_reviews"])
        self.assertEqual(texts("category bed"), ["category Bed covers"])
        self.assertEqual(
            texts("decided "), [f"decided {one}" for one in ("keep", "park", "pass", "open")]
        )

    def test_what_follows_or_and_not_keeps_what_stands_before(self) -> None:
        self.assertEqual(texts("price under 20 or shap")[0], "price under 20 or shape = ")
        self.assertEqual(texts("not seas")[1], "not shape = Seasonal")
        # Words that are looked for stay whole, and what is in a list already is not offered again.
        self.assertEqual(texts("salt or pep"), ["terms contain salt or pep"])
        self.assertEqual(
            texts("decided keep or p"), ["decided keep or park", "decided keep or pass"]
        )
        self.assertNotIn("shape = Seasonal or Seasonal", texts("shape = Seasonal or "))

    def test_text_search_comes_last_and_says_so(self) -> None:
        found = complete("glass", CATEGORIES)
        self.assertEqual(
            (found[-1].text, found[-1].label), ("terms contain glass", "search for “glass”")
        )
        self.assertTrue(found[-1].whole)
        self.assertLessEqual(len(complete("s", CATEGORIES)), MOST + 1)
        self.assertNotIn("search for", " ".join(one.label for one in complete("price 12..45")))

    def test_every_whole_completion_is_a_condition_and_every_figure_is_offered(self) -> None:
        for figure in filter(asked, FIGURES):
            name = short_name(figure)
            offered = [
                one for kind in figure.kinds for one in complete(name[:-1], CATEGORIES, kind)
            ]
            self.assertTrue(any(one.text.startswith(name) for one in offered), name)
            for one in offered:
                if one.whole:
                    try:
                        parse_clause(one.text)
                    except CoreError as error:
                        self.fail(f"{one.text}: {error}")
        self.assertNotIn("headroom", [short_name(f) for f in FIGURES if TERM not in f.kinds])

    def test_a_figure_that_waits_for_its_bound_is_known(self) -> None:
        for typed in ("price over", "price >=", "price between ", "Price at least"):
            found = figure_named(typed)
            self.assertEqual(found and found.key, "sales.price_median", typed)
        for typed in ("price", "price 12", "shape =", "nonsense over"):
            self.assertIsNone(figure_named(typed), typed)
