"""Conditions as they are typed, read and asked."""

from typing import ClassVar
from unittest import TestCase

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull, Delaunay

from driftfield.core.base import CoreError, distribution
from driftfield.core.market import FIGURES, FIGURES_BY_KEY, FigureType
from driftfield.core.sieve import parse_clause, parse_sieve, sift
from driftfield.core.sieve.clauses import OneOf, Range
from driftfield.core.sieve.grammar import clause_pattern
from driftfield.core.sieve.names import asked
from driftfield.core.sieve.parse import MAX_LENGTH

# Typed, as it is kept, as it is read.
GOOD = (
    ("price 12..45", "price 12..45", "price 12 to 45"),
    ("Price between 12 and 45", "price 12..45", "price 12 to 45"),
    ("price 45..12", "price 12..45", "price 12 to 45"),
    ("drift > 0.00001", "drift 0.00001..", "drift a year ≥ +0.001%"),
    ("searches >= 8,000", "searches 8000..", "searches a year ≥ 8,000"),
    ("searches over 8k", "searches 8000..", "searches a year ≥ 8,000"),
    ("revenue ≥ 1.5m", "revenue 1500000..", "revenue a year ≥ 1,500,000"),
    ("brand <= 40%", "brand ..0.4", "share of the first brand ≤ 40%"),
    ("drift > +8%", "drift 0.08..", "drift a year ≥ +8%"),
    ("drift −20% to 0%", "drift -0.2..0", "drift a year −20% to 0%"),
    ("pressure.price_change < -5%", "price in 26 weeks ..-0.05", "price in 26 weeks ≤ −5%"),
    ("shape = seasonal, Occasion", "shape = Seasonal or Occasion", "shape is Seasonal or Occasion"),
    ("on the frontier = yes", "on the frontier = yes", "on the frontier: yes"),
    ("peak in may or june", "peak in May or June", "the peak is in May or June"),
    ("signal few_reviews", "signal few_reviews", "“Few reviews to stand beside” is raised"),
    ("no signal one_brand", "no signal one_brand", "“One brand holds it” is not raised"),
    ("terms hold glass jar", "terms hold glass jar", "name or terms hold “glass jar”"),
    ("terms hold exactly “glass jar”", "terms hold exactly glass jar", "name or terms hold exactly “glass jar”"),
    ("terms lack glass", "terms lack glass", "name and terms lack “glass”"),
    ("top 4 of 10 reviews < 120", "top 4 of 10 reviews < 120", "at least 4 of the top 10 have reviews under 120"),
    ("term words >= 3", "term words 3..", "a term has 3 words or more"),
    ("top 1 of 3 revenue > 1234567.5", "top 1 of 3 revenue > 1234567.5", "at least 1 of the top 3 have revenue a year over 1,234,568"),
    ("term words 4 to 2", "term words 2..4", "a term has 2 to 4 words"),
    ("term words 2 to 4", "term words 2..4", "a term has 2 to 4 words"),
    ("term words < 2", "term words 1..1", "a term has 1 word"),
    ("weight <= 900", "weight ..900", "weight of the top ten ≤ 900"),
    ("drawn 20:60 40.5:60 30:90", "drawn 20:60 40.5:60 30:90",
     "it lies in the area drawn between competition 20 and 40.5, demand 60 and 90"),
    ("category Growing", "category Growing", "the category is Growing"),
    ("decided keep or open", "decided keep or open", "it is kept or undecided"),
    ("headroom >= 60", "headroom 60..", "headroom ≥ 60"),
)  # fmt: skip
BAD = (
    ("prize > 3", "is not a condition: begin with a figure"),
    ("price cheap", "does not say how price compares"),
    ("price > 999999999999999m", "larger than any figure"),
    ("brand <= 40", "a share from 0% to 100%; 40 came. Write 40%"),
    ("shape = Round", "no value of Shape “Round”. Known: Evergreen"),
    ("peak in Maytime", "no month “Maytime”"),
    ("terms contain x", "terms hold, hold exactly, start with or lack WORDS"),
    ("decided maybe", "no decision “maybe”. Known: keep"),
    ("signal sunny", "no signal “sunny”"),
    ("top 9 of 4 reviews < 2", "asks for 9 of 4"),
    ("drawn 20:60 40:60", "An area has 3 to 60 corners; 2 came"),
    ("drawn 20:60 40:0 30:90", "“40:0” is no corner: write competition:demand"),
    ("term words many", "does not say how many: write “term words >= 3”"),
    ("term words < 1", "a number of words that no term has"),
    ("", "is not a condition"),
)


class TermsDetail(TestCase):
    def test_good_conditions_are_read_and_written_the_same(self) -> None:
        for typed, kept, expected in GOOD:
            clause = parse_clause(typed)
            self.assertEqual((clause.text, clause.sentence), (kept, expected))
            self.assertEqual(parse_clause(kept), clause)

    def test_bad_conditions_say_what_is_wrong(self) -> None:
        for typed, expected in BAD:
            with self.assertRaises(CoreError) as caught:
                parse_clause(typed)
            self.assertIn(expected, str(caught.exception))

    def test_every_figure_can_be_typed_and_comes_back_as_itself(self) -> None:
        for figure in FIGURES:
            if not asked(figure):
                continue
            if figure.choices or figure.type is FigureType.FLAG:
                clause = OneOf(figure.key, (figure.choices or ("yes",))[:1])
            else:
                clause = Range(figure.key, 0.25, 0.5)
            self.assertEqual(parse_clause(clause.text), clause, clause.text)
            self.assertTrue(clause.sentence)

    @settings(max_examples=300, deadline=None, suppress_health_check=list(HealthCheck))
    @given(
        st.from_regex(clause_pattern(), fullmatch=True).filter(lambda text: len(text) <= MAX_LENGTH)
    )
    def test_what_the_grammar_matches_is_a_condition(self, text: str) -> None:
        clause = parse_clause(text)
        self.assertEqual(parse_clause(clause.text), clause)

    def test_what_is_kept_of_a_condition_matches_the_grammar(self) -> None:
        for typed, kept, _ in GOOD:
            self.assertRegex(kept, clause_pattern(), typed)

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


class Sieves(TestCase):
    def passing(self, *texts: str) -> list[int]:
        return np.flatnonzero(sift(parse_sieve(texts), Few()).passes).tolist()

    def test_each_kind_of_condition(self) -> None:
        self.assertEqual(FIGURES_BY_KEY["shape"].choices[2], "Seasonal")
        for text, expected in (
            ("price 12..45", [1, 2]), ("price <= 12.99", [0, 1]), ("price >= 12.99", [1, 2, 3]),
            ("shape = Seasonal", [0, 1, 4]), ("peak in June or December", [1, 3]), ("peak in May", [0, 1, 4]),
            ("frontier = no", [1, 2, 3, 4]), ("no signal one_brand", [1, 2, 4]), ("signal one_brand", [0, 3]),
            ("top 2 of 2 reviews < 120", [0]), ("top 1 of 2 reviews > 200", [1, 2]), ("terms hold x", [0, 1]),
            ("term words >= 4", [2, 4]), ("term words 2..3", [0, 1]), ("term words < 3", [0, 3]),
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
