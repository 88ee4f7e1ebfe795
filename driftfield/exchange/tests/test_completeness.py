from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.base import Period, Timeline
from driftfield.exchange.completeness import running_period


class RunningPeriod(TestCase):
    def test_a_market_that_falls_by_half_in_a_week_is_still_in_that_week(self) -> None:
        timeline = Timeline(Period.WEEK, date(2024, 1, 1), 120)
        full = np.random.default_rng(0).poisson(200, (30, 120)).astype(float)
        self.assertFalse(running_period(full, timeline))
        partial = full.copy()
        partial[:, -1] *= 0.4
        self.assertTrue(running_period(partial, timeline))

    def test_a_season_that_ends_every_year_is_not_taken_for_it(self) -> None:
        timeline = Timeline(Period.WEEK, date(2024, 1, 1), 120)
        ends = np.full((30, 120), 200.0)
        ends[:, [119, 67]] = 60
        self.assertFalse(running_period(ends, timeline))
