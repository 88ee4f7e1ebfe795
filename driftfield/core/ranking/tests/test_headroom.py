import math
from dataclasses import replace
from unittest import TestCase

import numpy as np
from pymcdm.methods import WPM
from scipy import stats

from driftfield.core.base import DEFAULTS, CoreError
from driftfield.core.ranking import headroom as h
from driftfield.core.ranking import rank_band as band
from driftfield.core.ranking.lens import (
    DEFAULT_LENS,
    READY_FOR_CATEGORIES,
    READY_LENSES,
    lens_named,
    lens_of_settings,
)
from driftfield.core.ranking.parts import PARTS, SIDE

KEYS = [part.figure for part in PARTS]
GROUND = KEYS[0]


def market(n: int, seed: int = 0) -> dict[str, np.ndarray]:
    rng = np.random.default_rng(seed)
    return {key: rng.lognormal(size=n) for key in KEYS} | {h.LASTING: np.ones(n)}


def ranked(figures: dict[str, np.ndarray], lens=DEFAULT_LENS) -> h.Ranking:
    return h.rank_niches(h.normalise(figures), lens)


def banded(figures: dict[str, np.ndarray]) -> tuple[h.Ranking, h.Bands]:
    normalised = h.normalise(figures)
    ranking = h.rank_niches(normalised, DEFAULT_LENS)
    return ranking, h.rank_bands(normalised, ranking, DEFAULT_LENS, DEFAULTS)


class Composite(TestCase):
    def test_a_sum_that_was_added_up_otherwise_is_the_same_value(self) -> None:
        alike = np.array([0.1 + 0.2, 0.3, np.float64(np.float32(0.3)), 0.31])
        self.assertEqual(h.percentile(alike).tolist(), [3 / 8, 3 / 8, 3 / 8, 7 / 8])
        self.assertEqual(h.percentile(-alike).tolist(), [5 / 8, 5 / 8, 5 / 8, 1 / 8])
        apart = np.array([0.0, 1e-12, 123456, 123457, -5, 1e300])
        self.assertEqual(len(set(h.percentile(apart).tolist())), 6)

    def test_percentile_is_scipys_mean_percentile(self) -> None:
        values = np.array([3.0, 1, 4, 1, 5, np.nan])
        found = h.percentile(values)
        for value, got in zip(values[:5], found[:5], strict=True):
            self.assertAlmostEqual(got * 100, stats.percentileofscore(values[:5], value, "mean"))
        self.assertTrue(np.isnan(found[5]))

    def test_is_the_weighted_product_of_a_general_package(self) -> None:
        # pymcdm's weighted product model (Fishburn, Murphy & Isaacs 1968) on the same percentiles.
        normalised = h.normalise(market(40))
        model = WPM(lambda column, cost: column)
        expected = model(np.exp(normalised.logs), DEFAULT_LENS.scaled(), np.ones(len(PARTS)))
        np.testing.assert_allclose(h.rank_niches(normalised, DEFAULT_LENS).headroom, expected * 100)

    def test_geometric_so_that_weakness_cannot_be_bought(self) -> None:
        # Handbook, step 6: of two niches with the same arithmetic mean the even one is better.
        logs = np.log(np.array([[0.5, 0.5], [0.9, 0.1]]))
        mean, _ = h._index(logs, np.ones((2, 2), dtype=bool), np.array([0.5, 0.5]))
        np.testing.assert_allclose(np.exp(mean), [stats.gmean([0.5, 0.5]), stats.gmean([0.9, 0.1])])
        self.assertGreater(mean[0], mean[1])

    def test_monotone_transformations_change_nothing(self) -> None:
        # Handbook, step 5: a normalisation by rank is not moved by outliers or by the unit.
        figures = market(60)
        other = {key: np.exp(values) * 1000 for key, values in figures.items()}
        other[h.LASTING] = figures[h.LASTING]
        np.testing.assert_allclose(ranked(figures).headroom, ranked(other).headroom)

    def test_headroom_is_the_mean_of_demand_and_openness(self) -> None:
        found = ranked(market(50))
        np.testing.assert_allclose(
            found.headroom, np.sqrt(found.demand * (100 - found.competition))
        )

    def test_direction(self) -> None:
        for part in PARTS:
            figures = {key: np.full(3, 5.0) for key in KEYS} | {h.LASTING: np.ones(3)}
            figures[part.figure] = np.array([1.0, 2, 3])
            up = part.more_is_more == (part.side == "demand")
            # Those that weigh nothing by default are given a weight.
            found = ranked(figures, DEFAULT_LENS.with_weights({part.key: 0.5})).rank
            self.assertEqual(list(found), [3, 2, 1] if up else [1, 2, 3], part.key)

    def test_ties_share_the_better_rank(self) -> None:
        self.assertEqual(list(h.rank_of(np.array([5.0, 9, 5, np.nan, 1]))), [2, 1, 2, 0, 4])

    def test_contributions_add_up_to_the_log_score(self) -> None:
        figures = market(80)
        for key in (KEYS[2], KEYS[5], KEYS[8]):
            figures[key][:20] = np.nan
        found = ranked(figures, DEFAULT_LENS.with_pairs(["reviews=2", "balance=0.7"]))
        np.testing.assert_allclose(
            np.nansum(found.contributions, axis=1), np.log(found.headroom / 50), atol=1e-12
        )


class Populations(TestCase):
    def test_are_normalised_within_themselves(self) -> None:
        figures, inside = market(60), np.arange(60) % 3 == 0
        alone = ranked({key: values[inside] for key, values in figures.items()})
        normalised = h.renormalise(h.normalise(figures), inside)
        within = h.rank_niches(normalised, DEFAULT_LENS)
        np.testing.assert_allclose(within.headroom[inside], alone.headroom)
        np.testing.assert_array_equal(within.rank[inside], alone.rank)
        self.assertFalse(within.rank[~inside].any())


class Lenses(TestCase):
    def test_weights_change_the_order(self) -> None:
        figures = market(100)
        only = DEFAULT_LENS.with_weights(
            {p.key: 0.0 for p in PARTS if p.key not in {"drift", "brand"}}
        )
        expected = h.rank_of(h.percentile(figures[KEYS[3]]) * (1 - h.percentile(figures[KEYS[6]])))
        np.testing.assert_array_equal(ranked(figures, only).rank, expected)

    def test_scaled_weights_add_up_by_side(self) -> None:
        weights = DEFAULT_LENS.with_pairs(["balance=0.6", "searches=7"]).scaled()
        self.assertAlmostEqual(weights[SIDE].sum(), 0.6)
        self.assertAlmostEqual(weights.sum(), 1)

    def test_bad_weights_say_what_is_wrong(self) -> None:
        for pairs, expected in (
            (["searches"], "write part=number"), (["serches=1"], "Known: searches"),
            (["brand=-1"], "from 0 to 1,000"), (["balance=1"], "between 0 and 1"),
            ([f"{p.key}=0" for p in PARTS if p.side == "demand"], "All parts of demand weigh 0"),
        ):  # fmt: skip
            with self.assertRaisesRegex(CoreError, expected):
                DEFAULT_LENS.with_pairs(pairs)


class Fads(TestCase):
    def test_of_a_burst_that_is_over_only_the_rest_counts(self) -> None:
        figures = {key: np.full(3, 5.0) for key in KEYS} | {h.LASTING: np.ones(3)}
        figures[GROUND] = np.array([1.0, 2, 50])
        figures[h.LASTING][2] = 0.01
        self.assertEqual(list(ranked(figures).rank), [2, 1, 3])


class Unknown(TestCase):
    def test_without_clicks_demand_ranks_and_headroom_is_unknown(self) -> None:
        figures = market(20)
        for part in PARTS:
            if part.side == "competition":
                figures[part.figure] = np.full(20, np.nan)
        found = ranked(figures)
        self.assertTrue(np.isnan(found.headroom).all())
        self.assertEqual(list(np.argsort(found.rank)), list(np.argsort(-found.demand)))

    def test_is_never_a_zero_and_lowers_what_is_known(self) -> None:
        figures = market(200)
        before = ranked(figures)
        figures["review_barrier"][7] = np.nan
        found = ranked(figures)
        self.assertAlmostEqual(before.known[7], 1)
        self.assertAlmostEqual(
            found.known[7], 1 - DEFAULT_LENS.scaled()[KEYS.index("review_barrier")]
        )
        # Left out, so the index is that of the other parts.
        others = DEFAULT_LENS.with_weights({"reviews": 0})
        self.assertAlmostEqual(found.competition[7], ranked(figures, others).competition[7])

    def test_ignorance_widens_the_band(self) -> None:
        figures = market(200)
        _, known = banded(figures)
        for part in PARTS:
            if part.side == "competition":
                figures[part.figure][7] = np.nan
        _, found = banded(figures)
        self.assertGreater(
            found.rank_high[7] - found.rank_low[7], 2 * (known.rank_high[7] - known.rank_low[7])
        )

    def test_no_searches_no_rank(self) -> None:
        figures = market(5)
        figures[GROUND][2] = np.nan
        ranking, bands = banded(figures)
        self.assertEqual((ranking.rank[2], bands.rank_low[2]), (0, 0))
        self.assertTrue(np.isnan([ranking.demand[2], bands.top_ten[2], ranking.known[2]]).all())


class BandsOfRanks(TestCase):
    def test_hold_the_rank_and_repeat(self) -> None:
        (ranking, one), (_, two) = banded(market(150)), banded(market(150))
        self.assertTrue(((one.rank_low <= ranking.rank) & (ranking.rank <= one.rank_high)).all())
        np.testing.assert_array_equal(one.rank_low, two.rank_low)
        self.assertTrue((one.rank_high > one.rank_low).any())

    def test_a_niche_best_in_every_part_is_first_whatever_the_weights(self) -> None:
        figures = market(100)
        for part in PARTS:
            up = part.more_is_more == (part.side == "demand")
            figures[part.figure][4] = 1e9 if up else 0
        ranking, found = banded(figures)
        self.assertEqual((found.rank_low[4], ranking.rank[4], found.rank_high[4]), (1, 1, 1))
        self.assertEqual(found.top_ten[4], 1)
        # Ten places are shared out in every draw.
        self.assertAlmostEqual(found.top_ten.sum(), 10)

    def test_large_markets_agree_with_full_ranking(self) -> None:
        rng = np.random.default_rng(3)
        n = band.BINS + 400
        logs = np.log(rng.uniform(0.01, 1, (n, 4)))
        weights = np.full(4, 0.25)
        nothing = np.zeros((n, 4), dtype=bool)
        found = band.rank_band(logs, nothing, weights, DEFAULTS)
        whole, band.BINS = band.BINS, n
        try:
            exact = band.rank_band(logs, nothing, weights, DEFAULTS)
        finally:
            band.BINS = whole
        # Half a per cent of the market: one bin of the score and the draws' own noise.
        for ours, theirs in ((found.low, exact.low), (found.high, exact.high)):
            self.assertLess(np.percentile(np.abs(ours - theirs), 99), n * 0.01)
        np.testing.assert_allclose(found.top_ten, exact.top_ten, atol=1e-9)


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


class WorkedExample(TestCase):
    def test_of_the_method_page(self) -> None:
        # Demand 64 and competition 36 make √(64 × 64) = 64, and ln(64 / 50) = 0.247 in all parts.
        normalised = h.Normalised(
            np.full((1, len(PARTS)), math.log(0.64)), np.ones((1, len(PARTS)), dtype=bool)
        )
        found = h.rank_niches(normalised, DEFAULT_LENS)
        self.assertAlmostEqual(found.headroom[0], 64)
        self.assertAlmostEqual(found.contributions.sum(), 0.2469, 4)


class ReadyLenses(TestCase):
    """What each is for decides: markets of two niches that differ in one thing."""

    def first(self, lens: str, figure: str, values: tuple[float, float]) -> int:
        figures = {key: np.ones(2) for key in KEYS} | {h.LASTING: np.ones(2)}
        figures[figure] = np.array(values)
        return int(ranked(figures, lens_named(lens)).rank.argmin())

    def test_a_first_product_sells_all_year_is_light_and_binds_little(self) -> None:
        for figure, values in (
            ("steadiness", (0.95, 0.1)), ("barriers.weight_g", (150, 4_000)),
            ("sales.month_of_stock", (400, 9_000)), ("review_barrier", (40, 900)),
        ):  # fmt: skip
            self.assertEqual(self.first("First product", figure, values), 0, figure)
            self.assertEqual(self.first("First product", figure, values[::-1]), 1, figure)

    def test_the_default_and_the_season_specialist_do_not_mind_the_season(self) -> None:
        for lens in ("Default", "Season specialist"):
            figures = market(40)
            before = ranked(figures, lens_named(lens)).rank
            figures["steadiness"] = figures["steadiness"][::-1].copy()
            np.testing.assert_array_equal(ranked(figures, lens_named(lens)).rank, before)

    def test_a_brand_to_build_bears_a_price_and_a_reseller_asks_nothing_of_brands(self) -> None:
        self.assertEqual(self.first("Brand to build", "sales.price_median", (80, 9)), 0)
        self.assertEqual(
            self.first("Brand to build", "competition_parts.top_brand_share", (0.1, 0.8)), 0
        )
        weights = lens_named("reseller").as_dict()
        self.assertEqual(weights["brand"], 0)
        self.assertGreater(weights["capital"], 0)

    def test_each_says_what_it_is_for_and_weighs_on_both_sides(self) -> None:
        self.assertEqual(READY_LENSES[0], DEFAULT_LENS)
        for lens in READY_LENSES:
            self.assertTrue(lens.purpose.endswith("."), lens.name)
            self.assertAlmostEqual(lens.scaled().sum(), 1)
            self.assertGreater(min(lens.scaled()[SIDE].sum(), lens.scaled()[~SIDE].sum()), 0)
        with self.assertRaisesRegex(
            CoreError, "There is no lens “none”. Ready ones: Default, First"
        ):
            lens_named("none")

    def test_those_of_categories_weigh_what_the_settings_weigh(self) -> None:
        usual = lens_of_settings(replace(DEFAULTS, open_reviews=0.7))
        self.assertEqual(usual.by_part()["open_reviews"], 0.7)
        self.assertNotIn("balance", usual.as_dict())
        self.assertEqual(usual.with_pairs(["settled_age=2"]).put_into(DEFAULTS).settled_age, 2)
        for lens in READY_FOR_CATEGORIES:
            self.assertTrue(lens.purpose.endswith("."), lens.name)
            self.assertEqual(lens.with_weights({}), lens)
        with self.assertRaisesRegex(CoreError, "no part “balance”"):
            usual.with_pairs(["balance=0.4"])
        with self.assertRaisesRegex(CoreError, "All parts of settledness weigh 0"):
            usual.with_weights({"settled_age": 0, "settled_share": 0, "settled_reviews": 0})

    def test_high_under_all_is_high_under_each(self) -> None:
        figures = market(400, seed=4)
        # One niche is the best at everything, another at all but steadiness.
        for column, key in enumerate(KEYS):
            up = PARTS[column].more_is_more == SIDE[column]
            best = figures[key].max() * 2 if up else figures[key].min() / 2
            figures[key][:2] = best
        figures["steadiness"][1] = 0
        found = h.high_under_all(h.normalise(figures))
        self.assertTrue(found[0])
        ranks = [ranked(figures, lens).rank for lens in READY_LENSES]
        np.testing.assert_array_equal(found, np.all([rank <= 40 for rank in ranks], axis=0))

    def test_what_is_unknown_is_not_high(self) -> None:
        figures = market(50)
        for part in PARTS[1:]:
            figures[part.figure][7] = np.nan
        figures[GROUND][7] = 1e9
        self.assertFalse(h.high_under_all(h.normalise(figures))[7])
