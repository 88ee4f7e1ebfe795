"""Families against scipy's hypergeometric test and statsmodels' false discovery rate."""

from unittest import TestCase

import numpy as np
from scipy.stats import hypergeom
from statsmodels.stats.multitest import multipletests

from driftfield.core.base import DEFAULTS, Period, Settings
from driftfield.core.market.families import Carried, beyond_chance, find_families
from driftfield.core.market.family_figures import (
    FamilyFigures,
    openness_of_niches,
    read_family,
    stacked_year,
)
from driftfield.core.sentences import open_sentence

RNG = np.random.default_rng(6)


def carried(rows: list[list[int]]) -> Carried:
    niche = np.repeat(np.arange(len(rows)), [len(one) for one in rows])
    return Carried.of(niche, np.array([h for one in rows for h in one], dtype=np.int64), len(rows))


def pairs_of(rows: list[list[int]], rate: float) -> set[tuple[int, int]]:
    """Pairs by scipy and statsmodels, every pair of niches tested."""
    holders = len({h for one in rows for h in one})
    ends = [(a, b) for a in range(len(rows)) for b in range(a + 1, len(rows))]
    chances = [
        hypergeom(holders, len(rows[a]), len(rows[b])).sf(len({*rows[a]} & {*rows[b]}) - 1)
        for a, b in ends
    ]
    passes = multipletests(chances, rate, method="fdr_bh")[0]
    return {end for end, told in zip(ends, passes, strict=True) if told}


class BeyondChance(TestCase):
    def test_the_pairs_that_the_references_tell(self) -> None:
        told = 0
        for _ in range(20):
            rows = [
                RNG.choice(40, int(RNG.integers(5, 9)), replace=False).tolist() for _ in range(25)
            ]
            for one in rows[:4]:
                one[:5] = [100, 101, 102, 103, 104]
            rows = [sorted({*one}) for one in rows]
            found = beyond_chance(carried(rows), 0.05)
            pairs = set(zip(found.first.tolist(), found.second.tolist(), strict=True))
            self.assertEqual(pairs, pairs_of(rows, 0.05))
            told += len(pairs)
        self.assertGreaterEqual(told, 20 * 5)

    def test_chance_alone_makes_hardly_a_pair(self) -> None:
        made = 0
        for _ in range(20):
            rows = [RNG.choice(60, 7, replace=False).tolist() for _ in range(60)]
            made += len(beyond_chance(carried(rows)).first)
        self.assertLess(made, 20 * 2)

    def test_unknown_brands_and_none_at_all(self) -> None:
        self.assertEqual(carried([[-1, 3, 3], [-1]]).sizes.tolist(), [1, 0])
        self.assertEqual(len(beyond_chance(carried([[], []])).first), 0)


class Found(TestCase):
    def test_by_words_in_one_category_alone(self) -> None:
        names = [
            "Hive frame straps",
            "Hive frame stands",
            "Onion hoes",
            "Hive frame tools",
            "Moon filters",
        ]
        found = find_families(names, np.ones(5), None, None, np.array([0, 0, 1, 1, -1]), 0)
        self.assertEqual(found.family.tolist(), [0, 0, -1, -1, -1])
        self.assertEqual(found.ties["words"].tolist(), [True, True, False, False, False])
        self.assertFalse(found.ties["brands"].any())

    def test_where_nothing_belongs_together(self) -> None:
        found = find_families(["Onion hoes", "Moon filters"], np.ones(2), None, None, None, 0)
        self.assertEqual((found.family.tolist(), found.fine), ([-1, -1], None))


class Together(TestCase):
    def figures(
        self, searches: list[float], opened: list[float] | None = None, **changed: float
    ) -> FamilyFigures:
        n = len(searches)
        flat = np.full((n, 52), np.nan)
        settings = Settings.from_dict({**DEFAULTS.as_dict(), **changed})
        return read_family(
            np.array(searches), np.ones(n), np.array(searches) * 0.9, flat, np.arange(n, dtype=float),
            np.full(n, 60.0) if opened is None else np.array(opened), Period.WEEK, settings,
        )  # fmt: skip

    def test_the_burst_of_a_fad_is_no_good_to_build_on(self) -> None:
        """240,000 searches a year, of which a twentieth lasts, are 1,000 a month."""
        searches, flat = np.full(3, 240_000.0), np.full((3, 52), np.nan)
        lasting = np.array([1, 1, 0.05])
        found = read_family(
            searches, lasting, searches, flat, searches, searches, Period.WEEK, DEFAULTS
        )
        self.assertEqual((found.monthly[2], found.enough), (1_000, False))

    def test_enough_for_a_brand(self) -> None:
        """Three goods of 10,000 to 50,000 searches a month (common practice, no source)."""
        few, right, many = 6_000 * 12.0, 20_000 * 12.0, 80_000 * 12.0
        for goods, enough in (
            ([right] * 3, True), ([right, right, few], False), ([right, right, many], False),
            ([right, right, np.nan], None), ([few, np.nan], False), ([10_000 * 12.0] * 3, True),
        ):  # fmt: skip
            self.assertEqual(self.figures(goods).enough, enough, goods)
        self.assertEqual(self.figures([right] * 2, brand_goods=2).enough, True)
        self.assertEqual(self.figures([few] * 3, brand_searches_low=5_000).enough, True)

    def test_totals_and_where_to_start(self) -> None:
        found = self.figures([240_000.0, 240_000.0, np.nan, 12_000.0])
        self.assertEqual((found.searches, found.unowned), (492_000, 442_800))
        # The last has more headroom, but is not searched enough.
        self.assertEqual(found.start, 1)
        self.assertTrue(np.isnan(self.figures([np.nan]).searches))

    def test_openness_is_that_of_its_goods_by_searches(self) -> None:
        found = self.figures([300.0, 100.0, 100.0], [80, 40, np.nan])
        self.assertAlmostEqual(found.openness, 70)
        said = open_sentence(found, ["Straps", "Boards", "Hoes"])
        self.assertTrue(said.startswith("Openness 70 of 100, its goods weighed by searches;"), said)
        self.assertIn(
            "Most open: Straps (80); least: Boards (40). Of 1 good it is not known.", said
        )
        # Of too little of what is searched.
        for searches, opened in (([300.0, 100.0], [np.nan, 40]), ([np.nan, np.nan], [50, 40])):
            unknown = self.figures(searches, opened)
            self.assertTrue(np.isnan(unknown.openness))
            self.assertTrue(open_sentence(unknown, ["Straps", "Boards"]).startswith("Not known"))
        # Goods that are alike are not told apart.
        self.assertNotIn("Most open", open_sentence(self.figures([300.0, 100.0]), ["a", "b"]))

    def test_a_niche_is_open_by_its_percentiles(self) -> None:
        """Three niches, the second the easiest in every part: mid-rank percentiles 1/6, 3/6 and 5/6."""
        easy = np.array([1.0, 2.0, 0.0])
        figures = {
            "entry.success_low": easy, "competition_parts.top5_share": -easy, "review_barrier": -easy,
        }  # fmt: skip
        np.testing.assert_allclose(openness_of_niches(figures, DEFAULTS), [50, 500 / 6, 100 / 6])
        # Launches alone are 0.3 of the 0.7 that can be known of a niche.
        nothing = np.full(3, np.nan)
        figures |= {"competition_parts.top5_share": nothing, "review_barrier": nothing}
        self.assertTrue(np.isnan(openness_of_niches(figures, DEFAULTS)).all())

    def test_seasons_that_fill_one_another(self) -> None:
        """A curve high in the first half and one high in the second make a level year."""
        profiles = np.array([[1.5] * 26 + [0.5] * 26, [0.5] * 26 + [1.5] * 26])
        np.testing.assert_allclose(stacked_year(profiles, np.array([400.0, 400.0])), 1 / 52)
        self.assertAlmostEqual(stacked_year(profiles, np.array([400.0, np.nan]))[:26].sum(), 0.75)
        self.assertTrue(np.isnan(stacked_year(profiles, np.full(2, np.nan))).all())

    def test_quiet_months_are_named(self) -> None:
        profile = np.array([[0.0] * 26 + [2.0] * 26])
        one = np.array([1e6])
        found = read_family(one, np.ones(1), one, profile, one, one, Period.WEEK, DEFAULTS)
        self.assertAlmostEqual(found.year.sum(), 1)
        self.assertEqual(np.flatnonzero(found.quiet).tolist(), [0, 1, 2, 3, 4, 5])
        half = np.array([[2.0] * 6 + [0.0] * 6])
        months = read_family(one, np.ones(1), one, half, one, one, Period.MONTH, DEFAULTS)
        self.assertEqual(np.flatnonzero(months.quiet).tolist(), [6, 7, 8, 9, 10, 11])
