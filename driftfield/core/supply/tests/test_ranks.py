"""Units from ranks, against statsmodels and on listings that were held out."""

from unittest import TestCase

import numpy as np
import statsmodels.api as sm

from driftfield.core.base import Groups
from driftfield.core.supply.ranks import (
    LEAST,
    estimate_units,
    fit_ranks,
    telling_group,
    units_by_rank,
    year_rank,
)

from .shops import listings

ZERO = np.zeros(1, dtype=np.int64)


def sold(rng: np.random.Generator, n: int, scatter: float = 0.6) -> tuple[np.ndarray, np.ndarray]:
    """Log ranks and units of listings whose sales fall with a power of the rank."""
    log_rank = rng.uniform(np.log(50), np.log(90_000), n)
    return log_rank, np.exp(11 - 0.9 * log_rank + rng.normal(0, scatter, n))


class Fit(TestCase):
    def test_line_interval_and_error_are_those_of_least_squares(self) -> None:
        rng = np.random.default_rng(3)
        log_rank, units = sold(rng, 40)
        own = np.zeros(40, dtype=np.int64)
        fit = fit_ranks(Groups(own, 1), log_rank, units)
        theirs = sm.OLS(np.log(units), sm.add_constant(log_rank)).fit()
        np.testing.assert_allclose([fit.intercept[0], fit.slope[0]], theirs.params)
        np.testing.assert_allclose(fit.scatter[0], np.sqrt(theirs.mse_resid))
        new = np.array([4.0, 8.0, 12.0])
        found = estimate_units(fit, np.zeros(3, dtype=np.int64), new)
        expected = theirs.get_prediction(sm.add_constant(new)).summary_frame(alpha=0.2)
        np.testing.assert_allclose(np.log(found.units), expected["mean"])
        np.testing.assert_allclose(np.log(found.low), expected["obs_ci_lower"])
        np.testing.assert_allclose(np.log(found.high), expected["obs_ci_upper"])
        # Each listing left out and the line fitted again.
        missed = []
        for i in range(40):
            rest = np.arange(40) != i
            line = sm.OLS(np.log(units)[rest], sm.add_constant(log_rank[rest])).fit()
            missed.append(np.log(units[i]) - line.params @ [1, log_rank[i]])
        np.testing.assert_allclose(fit.error[0], np.sqrt(np.mean(np.square(missed))))
        np.testing.assert_allclose(found.error, np.exp(fit.error[0]) - 1)

    def test_the_interval_holds_what_it_says(self) -> None:
        # The bar: an 80% interval covers 75 to 85% of the listings that were held out.
        rng = np.random.default_rng(5)
        groups, each = 300, 40
        own = np.repeat(np.arange(groups), each)
        log_rank, units = sold(rng, groups * each)
        level = rng.normal(0, 1, groups)[own]  # Categories sell more or less at one rank.
        units = units * np.exp(level)
        out = rng.random(len(own)) < 0.5
        fit = fit_ranks(Groups(own, groups), log_rank, np.where(out, np.nan, units))
        found = estimate_units(fit, own[out], log_rank[out])
        inside = (found.low <= units[out]) & (units[out] <= found.high)
        self.assertTrue(0.75 <= inside[~np.isnan(found.units)].mean() <= 0.85)
        self.assertGreater((~np.isnan(found.units)).mean(), 0.95)

    def test_few_listings_one_rank_and_no_fall_tell_nothing(self) -> None:
        rng = np.random.default_rng(1)
        log_rank, units = sold(rng, LEAST - 1)
        many = np.zeros(60, dtype=np.int64)
        for x, y in (
            (log_rank, units),
            (np.full(60, 7.0), rng.lognormal(3, 1, 60)),
            (np.arange(60) / 10, np.exp(np.arange(60) / 10)),  # Units rise with the rank.
            (np.full(60, np.nan), np.ones(60)),
            (np.arange(60) / 10, np.zeros(60)),
        ):
            fit = fit_ranks(Groups(many[: len(x)], 1), x, y)
            self.assertTrue(np.isnan(fit.slope).all())
            self.assertTrue(np.isnan(estimate_units(fit, ZERO, np.array([5.0])).units).all())

    def test_the_category_above_tells_where_one_has_too_few(self) -> None:
        rng = np.random.default_rng(2)
        log_rank, units = sold(rng, 60)
        own = np.repeat([1, 2], [55, 5])  # Both in 0; the second has five listings; 3 is elsewhere.
        lineage = np.array([0, 1, 1, 2, 2, 3]), np.array([0, 1, 0, 2, 0, 3])
        groups = Groups(np.append(own, 3), 4, lineage)
        fit = fit_ranks(groups, np.append(log_rank, 6.0), np.append(units, np.nan))
        told = telling_group(fit, groups)
        self.assertEqual(told.tolist(), [1] * 55 + [0] * 5 + [-1])
        self.assertEqual((fit.listings[0], fit.listings[1]), (60, 55))


class OfAMarket(TestCase):
    def test_only_what_has_no_units_is_estimated(self) -> None:
        rng = np.random.default_rng(6)
        log_rank, units = sold(rng, 30, 0.2)
        months = np.repeat(units[:, None] / 12, 24, axis=1)
        ranks = np.repeat(np.exp(log_rank)[:, None], 24, axis=1)
        months[:4] = np.nan
        ranks[1, 14:] = np.nan  # Without a rank for most of the year.
        shop = listings(30, {"units": months, "sales_rank": ranks})
        np.testing.assert_allclose(year_rank(shop)[0], log_rank[0], rtol=1e-6)
        found = units_by_rank(shop, Groups(np.zeros(30, dtype=np.int64), 1), np.arange(30))
        self.assertEqual(np.flatnonzero(~np.isnan(found.units)).tolist(), [0, 2, 3])
        self.assertTrue((found.low < found.units)[[0, 2, 3]].all())
        np.testing.assert_allclose(
            np.log(found.units[[0, 2, 3]]), np.log(units[[0, 2, 3]]), atol=0.8
        )

    def test_without_ranks_nothing_is_estimated(self) -> None:
        shop = listings(20, {"units": [5.0] * 20})
        found = units_by_rank(shop, Groups(np.zeros(20, dtype=np.int64), 1), np.arange(20))
        self.assertTrue(np.isnan(found.units).all())
