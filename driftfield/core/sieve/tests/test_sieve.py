"""Conditions as they are typed, read and asked."""

import csv
from pathlib import Path
from typing import ClassVar
from unittest import TestCase

import numpy as np
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull, Delaunay

from driftfield.core.base import CoreError, distribution
from driftfield.core.market import FIGURES, FIGURES_BY_KEY, FigureType
from driftfield.core.sieve import (
    AskedBackError,
    Blocked,
    parse_clause,
    parse_sieve,
    read_typed,
    sift,
    why_nothing,
)
from driftfield.core.sieve.clauses import OneOf, Range
from driftfield.core.sieve.grammar import clause_pattern
from driftfield.core.sieve.names import asked
from driftfield.core.sieve.parse import MAX_LENGTH

# What people type, with the condition and the sentence it must come out as, or what is said of it. “15,50” and
# “1.234,50” are numbers of people who write a decimal comma (CLDR, locale de); the rest is common practice, no source.
TABLE = Path(__file__).with_name("conditions.csv")
with TABLE.open(encoding="utf-8", newline="") as file:
    ROWS = list(csv.DictReader(file))
GOOD = [row for row in ROWS if row["condition"]]
BAD = [row for row in ROWS if not row["condition"]]


# Pieces that conditions are made of, and what stands in their way.
TOKENS = (
    "price", "drift", "shape", "searches", "is", "not", "or", "and", "|", "~", "over", "under", "between", "12",
    "15-40", "£15", "8k", "40%", "..", "<=", "seasonal", "rising", "peak in", "may", "top 4 of 10", "reviews",
    "terms contain", "category", "made by", "sold by", "decided", "keep", "no signal", "few_reviews", "“", "”", '"', "'", "<script>", "½",
)  # fmt: skip


class Conditions(TestCase):
    def test_what_people_type_is_read_and_written_the_same(self) -> None:
        self.assertGreaterEqual(len(ROWS), 120)
        for row in GOOD:
            with self.subTest(row["typed"]):
                clause = read_typed(row["typed"], "GBP").clause
                self.assertEqual(
                    (clause.text, clause.sentence("GBP")), (row["condition"], row["sentence"])
                )
                self.assertEqual(parse_clause(clause.text), clause)

    def test_what_is_none_says_what_was_understood(self) -> None:
        for row in BAD:
            with self.subTest(row["typed"]), self.assertRaises(CoreError) as caught:
                read_typed(row["typed"], "GBP")
            self.assertIn(row["problem"], str(caught.exception), row["typed"])

    def test_what_is_offered_is_a_condition(self) -> None:
        offered = {}
        for row in BAD:
            try:
                read_typed(row["typed"], "GBP")
            except AskedBackError as asked:
                offered[row["typed"]] = [parse_clause(text).text for text in asked.offers]
            except CoreError:
                pass
        self.assertEqual(offered["drift > 5"], ["drift 0.05..", "drift 500%.."])
        self.assertEqual(offered["brand <= 40"], ["brand ..0.4"])
        self.assertEqual(offered["price 15"], ["price 15..", "price ..15"])
        self.assertEqual(offered["price about 20"], ["price 18..22"])
        self.assertEqual(offered["price about 12.3"], ["price 11.1..13.5"])
        self.assertEqual(offered["prize > 3"], ["price 3.."])
        self.assertEqual(offered["signal one_brnd"], ["signal one_brand"])

    def test_words_alone_are_looked_for_and_said_to_be(self) -> None:
        self.assertTrue(read_typed("glass jar").searched)
        self.assertFalse(read_typed("terms contain glass jar").searched)
        self.assertFalse(read_typed("seasonal").searched)
        with self.assertRaises(CoreError):  # an address holds conditions, and no words to look for
            parse_clause("glass jar")

    def test_categories_that_there_are_not_are_refused_with_those_that_look_alike(self) -> None:
        with self.assertRaises(AskedBackError) as caught:
            parse_clause("category Growng", "", ["Growing", "Brewing"])
        self.assertEqual(caught.exception.offers, ("category Growing",))
        self.assertEqual(parse_clause("category growing", "", ["Growing"]).text, "category growing")

    def test_every_figure_can_be_typed_and_comes_back_as_itself(self) -> None:
        for figure in FIGURES:
            if not asked(figure):
                continue
            # Where conditions are joined by “or”, no name may hold one.
            self.assertNotIn(" or ", figure.label.lower())
            if figure.choices or figure.type is FigureType.FLAG:
                clause = OneOf(figure.key, (figure.choices or ("yes",))[:1])
            else:
                clause = Range(figure.key, 0.25, 0.5)
            self.assertEqual(parse_clause(clause.text), clause, clause.text)
            self.assertTrue(clause.sentence())

    @settings(max_examples=300, deadline=None, suppress_health_check=list(HealthCheck))
    @given(
        st.from_regex(clause_pattern(), fullmatch=True).filter(lambda text: len(text) <= MAX_LENGTH)
    )
    @example("drift a year 100%..1%")
    def test_what_the_grammar_matches_is_a_condition(self, text: str) -> None:
        clause = parse_clause(text)
        self.assertEqual(parse_clause(clause.text), clause)

    @settings(max_examples=300, deadline=None, suppress_health_check=list(HealthCheck))
    @given(st.lists(st.one_of(st.sampled_from(TOKENS), st.text(max_size=4)), max_size=12))
    @example(["category", "is", "is", "price"])
    def test_whatever_is_typed_is_kept_as_it_is_read_or_refused(self, words: list[str]) -> None:
        try:
            clause = read_typed(" ".join(words), "GBP").clause
        except CoreError as error:
            for offer in getattr(error, "offers", ()):
                parse_clause(offer)
            return
        self.assertEqual(parse_clause(clause.text), clause)

    def test_what_is_kept_of_a_condition_matches_the_grammar(self) -> None:
        for row in GOOD:
            if '"' not in row["condition"]:
                self.assertRegex(row["condition"], clause_pattern(), row["typed"])

    def test_sieves_and_conditions_are_bounded(self) -> None:
        with self.assertRaisesRegex(CoreError, "at most 60 conditions"):
            parse_sieve(["price 1..2"] * 10_000)
        for text in (
            "price " + "9" * 5_000,
            "price > " + "9" * 400,
            "top " + "9" * 400 + " of 10 price > 1",
        ):
            with self.assertRaises(CoreError):
                parse_clause(text)

    def test_one_that_is_off_is_kept(self) -> None:
        (condition,) = parse_sieve(["~price ..45"])
        self.assertEqual((condition.on, condition.text), (False, "~price ..45"))


class Few:
    """Five niches to ask."""

    count = 5
    figures: ClassVar = {
        "sales.price_median": [10, 12.99, 30, 48, np.nan],
        "searches_52w": [9000, 7500, 8000, 100, 9000],
        "shape": [2, 2, 0, 3, 2],  # places among the choices: Seasonal is the third
        "peak_weeks": [1 << 4, 1 << 5 | 1 << 4, np.nan, 1 << 11, 1 << 4],
        "frontier": [1, 0, 0, 0, 0],
    }  # fmt: skip

    def figure(self, key: str) -> np.ndarray:
        return np.array(self.figures[key], dtype=np.float64)

    def raised(self, signal: str) -> np.ndarray:
        return np.array([True, False, False, True, False])

    def top(self, figure: str) -> np.ndarray | None:
        return np.array([[10, 20], [300, 20], [300, 300], [10, np.nan], [np.nan, np.nan]])

    def terms(self, how: str, words: str) -> np.ndarray:
        return np.array([True, True, False, False, False])

    def term_words(self, low: int, high: int) -> np.ndarray:
        many = np.array([2, 3, 4, 1, 9])
        return (many >= low) & (many <= high)

    category = decided = lambda self, wanted: np.ones(5, dtype=bool)

    def whose(self, role: str, wanted: str | None) -> np.ndarray:
        return np.ones(5, dtype=bool)


class Sieves(TestCase):
    def passing(self, *texts: str) -> list[int]:
        return np.flatnonzero(sift(parse_sieve(texts), Few()).passes).tolist()

    def test_each_kind_of_condition(self) -> None:
        self.assertEqual(FIGURES_BY_KEY["shape"].choices[2], "Seasonal")
        for text, expected in (
            ("price 12..45", [1, 2]), ("price <= 12.99", [0, 1]), ("price >= 12.99", [1, 2, 3]),
            ("shape = Seasonal", [0, 1, 4]), ("peak in June or December", [1, 3]), ("peak in May", [0, 1, 4]),
            ("frontier = no", [1, 2, 3, 4]), ("no signal one_brand", [1, 2, 4]), ("signal one_brand", [0, 3]),
            ("top 2 of 2 reviews < 120", [0]), ("top 1 of 2 reviews > 200", [1, 2]), ("terms contain x", [0, 1]),
            ("term words >= 4", [2, 4]), ("term words 2..3", [0, 1]), ("term words < 3", [0, 3]),
        ):  # fmt: skip
            self.assertEqual(self.passing(text), expected, text)

    def test_a_denial_holds_where_the_figure_is_known(self) -> None:
        for text, expected in (
            ("not price 12..45", [0, 3]), ("not shape = Seasonal", [2, 3]), ("not peak in May", [3]),
            ("not top 2 of 2 reviews < 120", [1, 2, 3]), ("not term words >= 4", [0, 1, 3]),
            ("price < 12 or shape = Evergreen", [0, 2]), ("price ..12 or not peak in May", [0, 3]),
        ):  # fmt: skip
            self.assertEqual(self.passing(text), expected, text)

    def test_all_must_hold_and_unknown_does_not(self) -> None:
        self.assertEqual(self.passing("price >= 0", "searches >= 8000"), [0, 2])
        self.assertEqual(self.passing("price >= 0", "~searches >= 8000"), [0, 1, 2, 3])

    def test_what_each_alone_removes(self) -> None:
        found = sift(parse_sieve(["price 0..45", "searches >= 8000", "~shape = Fad"]), Few())
        # 1 fails searches alone, 4 price alone, 3 both.
        self.assertEqual(found.removes, [1, 1, None])

    def test_near_misses_fail_one_bound_by_a_tenth_at_most(self) -> None:
        found = sift(parse_sieve(["price 0..45", "searches >= 8000"]), Few())
        # 7,500 is within a tenth of 8,000; 48 too, but 100 searches are not; unknown is never near.
        self.assertEqual(found.near.tolist(), [-1, 1, -1, -1, -1])


class NothingPasses(TestCase):
    def why(self, *texts: str) -> Blocked:
        conditions = parse_sieve(texts)
        self.assertFalse(sift(conditions, Few()).passes.any())
        return why_nothing(conditions, Few())

    def test_the_smallest_step_comes_first_and_lets_something_pass(self) -> None:
        found = self.why("price 13..29", "searches >= 8000")
        # 30 is a thirtieth beyond 29, and 7,500 of searches a sixteenth short; both let one pass.
        self.assertEqual(
            [(way.place, way.clause and way.clause.text, way.passes) for way in found.ways],
            [(0, "price 13..30", 1)],
        )
        self.assertEqual(found.alone, [0, 3])

    def test_the_two_that_exclude_everything_are_named(self) -> None:
        found = self.why(
            "price >= 40", "searches >= 8000", "shape = Occasion or Seasonal", "~peak in May"
        )
        self.assertEqual(found.pair, (0, 1))
        self.assertEqual(found.alone, [1, 3, 4, None])
        self.assertEqual(
            [(way.place, way.clause.text) for way in found.ways],
            [(0, "price 10.."), (1, "searches 100..")],
        )

    def test_what_has_no_bound_is_offered_to_be_left_out(self) -> None:
        found = self.why("price >= 12", "peak in March")
        self.assertEqual(
            [(way.place, way.clause, way.passes) for way in found.ways], [(1, None, 3)]
        )

    def test_three_that_exclude_everything_only_together_have_no_pair(self) -> None:
        found = self.why("price <= 13", "searches <= 8000", "terms contain x", "signal one_brand")
        self.assertIsNone(found.pair)


class Map:
    """Niches anywhere on the chart."""

    def __init__(self, competition: np.ndarray, demand: np.ndarray) -> None:
        self.figures = {"competition": competition, "demand": demand}
        self.count = len(demand)

    def figure(self, key: str) -> np.ndarray:
        return self.figures[key]


class Areas(TestCase):
    def test_inside_a_convex_area_as_scipy_finds_it(self) -> None:
        rng = np.random.default_rng(5)
        niches = Map(rng.uniform(0, 100, 2000), np.exp(rng.uniform(0, np.log(100), 2000)))
        for _ in range(20):
            corners = np.round(np.column_stack([rng.uniform(5, 95, 8), rng.uniform(2, 98, 8)]), 1)
            bent = np.column_stack([corners[:, 0], np.log(corners[:, 1])])
            hull = ConvexHull(bent)
            clause = parse_clause(
                "drawn " + " ".join(f"{x}:{y}" for x, y in corners[hull.vertices])
            )
            points = np.column_stack(
                [niches.figure("competition"), np.log(niches.figure("demand"))]
            )
            expected = Delaunay(bent[hull.vertices]).find_simplex(points) >= 0
            self.assertEqual(clause.passes(niches).tolist(), expected.tolist())

    def test_what_lies_in_a_bay_is_outside_and_unknown_is_nowhere(self) -> None:
        bay = parse_clause("drawn 0:1 100:1 100:100 50:10 0:100")
        across, up = np.array([50.0, 50.0, 10.0, np.nan]), np.array([50.0, 5.0, 30.0, 50.0])
        self.assertEqual(bay.passes(Map(across, up)).tolist(), [False, True, True, False])


class Spreads(TestCase):
    def test_bins_hold_every_known_value_between_readable_edges(self) -> None:
        rng = np.random.default_rng(1)
        for values in (
            rng.normal(0, 0.3, 900), rng.lognormal(8, 2, 900), rng.integers(0, 20, 900).astype(float),
            np.append(rng.uniform(0, 1, 50), np.nan), np.array([5.0, 5.0]), np.array([0.0, 1e6, 3.0]),
        ):  # fmt: skip
            found = distribution(values)
            self.assertEqual(sum(found.counts), found.known)
            self.assertEqual(found.known + found.unknown, len(values))
            self.assertEqual(len(found.edges), len(found.counts) + 1)
            self.assertTrue((np.diff(found.edges) > 0).all())
            self.assertLessEqual(found.edges[0], np.nanmin(values))
            self.assertGreaterEqual(found.edges[-1], np.nanmax(values))

    def test_nothing_known_has_no_bins(self) -> None:
        found = distribution(np.full(3, np.nan))
        self.assertEqual((found.edges, found.counts, found.unknown), ([], [], 3))
