"""Weights from launches: against scikit-learn, and in markets whose truth is known."""

from functools import cache
from types import SimpleNamespace
from typing import Any
from unittest import TestCase

import numpy as np
from sklearn.linear_model import LogisticRegression
from sklearn.model_selection import TimeSeriesSplit

from driftfield.core.base import DEFAULTS, Period
from driftfield.core.market.proof import FittedLens, days_to_replay, track_record
from driftfield.core.market.proof.fitted_lens import NAME, _fit, _judged_by, _Rows, _solve
from driftfield.core.ranking import DEFAULT_LENS, PARTS

WEIGHTS = DEFAULT_LENS.scaled()
USED = WEIGHTS > 0


def rows(seed: int, many: int = 4000, scale: float = 3.0) -> _Rows:
    """Launches that follow the default's weights."""
    rng = np.random.default_rng(seed)
    x = np.zeros((many, len(PARTS)))
    x[:, USED] = np.log(rng.random((many, USED.sum()))) - np.log(0.5)
    won = rng.random(many) < 1 / (1 + np.exp(-(0.4 + scale * x @ WEIGHTS)))
    return _Rows(x, won, rng.integers(0, 50, many), rng.integers(0, 6, many))


@cache
def fitted(tells: float, balance: float, seed: int = 100) -> FittedLens:
    from .markets import past_market

    data = past_market(100, seed, tells=tells, launches=10, balance=balance)
    found = track_record(data, days_to_replay(data.timeline), DEFAULTS).fitted
    assert found is not None
    return found


class Slopes(TestCase):
    def test_without_shrinkage_are_those_of_scikit_learn(self) -> None:
        """Where none of them would be below 0."""
        given = rows(1)
        slopes, start = _solve(given, WEIGHTS, USED, 1e-9)
        model = LogisticRegression(C=np.inf, tol=1e-8, max_iter=2000).fit(
            given.x[:, USED], given.won
        )
        self.assertTrue((model.coef_ > 0).all())
        np.testing.assert_allclose(slopes[USED], model.coef_[0], atol=2e-3)
        self.assertAlmostEqual(start, model.intercept_[0], delta=2e-3)

    def test_drawn_strongly_are_the_defaults(self) -> None:
        given = rows(2, many=400)
        np.testing.assert_allclose(_fit(given, WEIGHTS, USED, 1e7), WEIGHTS, atol=1e-3)

    def test_never_turn_the_meaning_of_a_part(self) -> None:
        given = rows(3, scale=-3.0)
        self.assertTrue((_solve(given, WEIGHTS, USED, 1.0)[0] >= 0).all())
        # Launches that fail where all looks well tell no weights: those of the default stay.
        np.testing.assert_allclose(_fit(given, WEIGHTS, USED, 1.0), WEIGHTS)


class Forward(TestCase):
    def test_weights_are_judged_on_later_days_as_scikit_learn_splits_them(self) -> None:
        """Days a quarter apart, a launch judged a year after its day: the three days between tell nothing yet."""
        days = 12
        thens: Any = [SimpleNamespace(length=104 + 13 * when) for when in range(days)]
        when = np.repeat(np.arange(days), 7)
        given = _Rows(np.zeros((len(when), len(PARTS))), when % 2 == 0, np.zeros_like(when), when)
        split = TimeSeriesSplit(n_splits=8, test_size=1, gap=3)
        for known, (test,) in split.split(np.arange(days)):
            ours = _judged_by(thens, given, thens[test], Period.WEEK)
            np.testing.assert_array_equal(np.unique(when[ours]), known)


class Proposed(TestCase):
    def test_where_launches_follow_competition_alone(self) -> None:
        found = fitted(2.0, 0.0)
        self.assertIsNotNone(found.lens)
        assert found.lens is not None
        self.assertEqual(found.lens.name, NAME)
        self.assertLess(found.lens.balance, 0.25)
        self.assertGreater(found.gain.low, 0)
        self.assertAlmostEqual(found.gain.value, found.fitted.value - found.default.value)

    def test_where_they_follow_demand_alone(self) -> None:
        found = fitted(2.0, 1.0)
        assert found.lens is not None
        self.assertGreater(found.lens.balance, 0.6)
        weights = found.lens.by_part()
        self.assertGreater(weights["searches"] + weights["purchases"] + weights["revenue"], 0.8)

    def test_not_where_they_follow_nothing(self) -> None:
        found = fitted(0.0, 0.5)
        self.assertIsNone(found.lens)
        self.assertLess(found.gain.low, 0)

    def test_too_few_launches_are_fitted_to_nothing(self) -> None:
        from .markets import past_market

        data = past_market(10, 3, launches=1)
        found = track_record(data, days_to_replay(data.timeline), DEFAULTS).fitted
        assert found is not None
        self.assertIsNone(found.lens)
        self.assertTrue(np.isnan(found.gain.value))
        self.assertTrue(np.isnan(found.weights).all())
