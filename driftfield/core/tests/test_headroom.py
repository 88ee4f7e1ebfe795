from unittest import TestCase

import numpy as np
from scipy import stats

from driftfield.core import headroom as h
from driftfield.core.settings import DEFAULTS

KEYS = [part.figure for part in (*h.DEMAND_PARTS, *h.COMPETITION_PARTS)]


def market(n: int, seed: int = 0) -> dict[str, np.ndarray]:
    rng = np.random.default_rng(seed)
    return {key: rng.lognormal(size=n) for key in KEYS}


class Composite(TestCase):
    def test_percentile_is_scipys_mean_percentile(self) -> None:
        values = np.array([3.0, 1, 4, 1, 5, np.nan])
        found = h.percentile(values)
        for value, got in zip(values[:5], found[:5], strict=True):
            self.assertAlmostEqual(got * 100, stats.percentileofscore(values[:5], value, "mean"))
        self.assertTrue(np.isnan(found[5]))

    def test_geometric_so_that_weakness_cannot_be_bought(self) -> None:
        # Handbook, step 6: two even niches beat two lopsided ones of the same arithmetic mean.
        even = h._index(np.array([[0.5, 0.5]]), np.array([0.5, 0.5]))[0]
        lopsided = h._index(np.array([[0.9, 0.1]]), np.array([0.5, 0.5]))[0]
        self.assertAlmostEqual(even, stats.gmean([0.5, 0.5]))
        self.assertAlmostEqual(lopsided, stats.gmean([0.9, 0.1]))
        self.assertGreater(even, lopsided)

    def test_headroom_is_the_mean_of_demand_and_openness(self) -> None:
        found = h.read_headroom(market(50), DEFAULTS)
        expected = np.sqrt(found.demand * (100 - found.competition))
        np.testing.assert_allclose(found.headroom, expected)

    def test_direction(self) -> None:
        figures = {key: np.full(3, 5.0) for key in KEYS}
        figures["searches_52w"] = np.array([1.0, 2, 3])
        self.assertEqual(list(h.read_headroom(figures, DEFAULTS).rank), [3, 2, 1])
        figures["searches_52w"] = np.full(3, 5.0)
        figures["review_barrier"] = np.array([1.0, 2, 3])
        self.assertEqual(list(h.read_headroom(figures, DEFAULTS).rank), [1, 2, 3])

    def test_ties_share_the_better_rank(self) -> None:
        self.assertEqual(list(h.rank_of(np.array([5.0, 9, 5, np.nan, 1]))), [2, 1, 2, 0, 4])


class Unknown(TestCase):
    def test_without_clicks_demand_ranks_and_headroom_is_unknown(self) -> None:
        figures = market(20)
        for part in h.COMPETITION_PARTS:
            figures[part.figure] = np.full(20, np.nan)
        found = h.read_headroom(figures, DEFAULTS)
        self.assertTrue(np.isnan(found.headroom).all())
        self.assertEqual(list(np.argsort(found.rank)), list(np.argsort(-found.demand)))

    def test_ignorance_widens_the_band(self) -> None:
        figures = market(200)
        known = h.read_headroom(figures, DEFAULTS)
        for part in h.COMPETITION_PARTS:
            figures[part.figure][7] = np.nan
        found = h.read_headroom(figures, DEFAULTS)
        self.assertGreater(
            found.rank_high[7] - found.rank_low[7], 2 * (known.rank_high[7] - known.rank_low[7])
        )

    def test_no_searches_no_rank(self) -> None:
        figures = market(5)
        figures["searches_52w"][2] = np.nan
        found = h.read_headroom(figures, DEFAULTS)
        self.assertEqual((found.rank[2], found.rank_low[2]), (0, 0))
        self.assertTrue(np.isnan(found.demand[2]))


class Bands(TestCase):
    def test_hold_the_rank_and_repeat(self) -> None:
        one, two = (h.read_headroom(market(150), DEFAULTS) for _ in range(2))
        self.assertTrue(((one.rank_low <= one.rank) & (one.rank <= one.rank_high)).all())
        np.testing.assert_array_equal(one.rank_low, two.rank_low)
        self.assertTrue((one.rank_high > one.rank_low).any())

    def test_a_niche_best_in_every_part_is_first_whatever_the_weights(self) -> None:
        figures = market(100)
        for part in (*h.DEMAND_PARTS, *h.COMPETITION_PARTS):
            up = part in h.DEMAND_PARTS or not part.more_is_more
            figures[part.figure][4] = 1e9 if up else 0
        found = h.read_headroom(figures, DEFAULTS)
        self.assertEqual((found.rank_low[4], found.rank[4], found.rank_high[4]), (1, 1, 1))

    def test_large_markets_agree_with_full_ranking(self) -> None:
        rng = np.random.default_rng(3)
        n = h.BINS + 400
        logs = np.log(rng.uniform(0.01, 1, (n, 4)))
        weights = np.full(4, 0.25)
        nothing = np.zeros((n, 4), dtype=bool)
        low, high = h.rank_band(logs, nothing, weights, DEFAULTS)
        whole, h.BINS = h.BINS, n
        try:
            exact_low, exact_high = h.rank_band(logs, nothing, weights, DEFAULTS)
        finally:
            h.BINS = whole
        # Half a per cent of the market: one bin of the score and the draws' own noise.
        for ours, exact in ((low, exact_low), (high, exact_high)):
            self.assertLess(np.percentile(np.abs(ours - exact), 99), n * 0.01)


class Frontier(TestCase):
    def test_is_what_nothing_beats(self) -> None:
        rng = np.random.default_rng(5)
        demand = rng.integers(0, 12, 80).astype(float)
        competition = rng.integers(0, 12, 80).astype(float)
        found = h.frontier(demand, competition)
        for i in range(80):
            better = (
                (demand >= demand[i])
                & (competition <= competition[i])
                & ((demand > demand[i]) | (competition < competition[i]))
            )
            self.assertEqual(found[i], not better.any())
