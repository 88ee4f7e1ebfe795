"""Two curves beside one another: whose season comes first, and which moves first without it."""

from unittest import TestCase

import numpy as np
from statsmodels.tsa.stattools import ccf

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves import read_lead, read_seasons_beside
from driftfield.core.curves.lead import _correlations, _random_phases, _shifts, lead_between
from driftfield.core.curves.season_lag import best_lag

from .synthetic import LENGTH, TIMELINE, sine

MONTHS = Timeline(Period.MONTH, Period.MONTH.start(2021 * 12), 60)


def memory(length: int, phi: float, spread: float, rng: np.random.Generator) -> np.ndarray:
    """A first-order autoregressive process, after it has forgotten where it began."""
    steps = rng.normal(0, spread, length + 200)
    out = np.zeros(length + 200)
    for i in range(1, length + 200):
        out[i] = phi * out[i - 1] + steps[i]
    return out[200:]


def following(weeks: int, seed: int, noise: float = 0.03) -> tuple[np.ndarray, np.ndarray]:
    """Searches of two markets with seasons of their own; what else moves the second comes weeks later."""
    rng = np.random.default_rng(seed)
    moves = memory(LENGTH + 60, 0.75, 0.035, rng)
    first = 3000 * sine(20, 0.5) * np.exp(moves[30:][:LENGTH] + rng.normal(0, noise, LENGTH))
    second = (
        900 * sine(14, 0.4) * np.exp(moves[30 - weeks :][:LENGTH] + rng.normal(0, noise, LENGTH))
    )
    return rng.poisson(first).astype(float), rng.poisson(second).astype(float)


class Seasons(TestCase):
    def test_a_profile_that_is_turned_round_is_found(self) -> None:
        profile = sine(20, 0.5)[None, :52]
        for weeks in (-20, -3, 0, 9, 25):
            self.assertAlmostEqual(
                float(best_lag(profile, np.roll(profile, weeks, 1))[0]), weeks, 6
            )

    def test_the_shift_is_found_with_its_interval(self) -> None:
        held = 0
        for seed in range(20):
            first, second = following(0, seed)
            found = read_seasons_beside(first, second, TIMELINE, DEFAULTS)
            assert found is not None
            assert found.weeks is not None
            self.assertAlmostEqual(found.weeks, -6, delta=1.5)
            held += found.low <= -6 <= found.high
        self.assertGreaterEqual(held, 15)  # of 20, at 90%

    def test_half_a_year_apart_is_told_though_lags_go_round(self) -> None:
        rng = np.random.default_rng(3)
        first, second = (rng.poisson(2000 * sine(peak, 0.5)).astype(float) for peak in (10, 36))
        found = read_seasons_beside(first, second, TIMELINE, DEFAULTS)
        assert found is not None
        assert found.weeks is not None
        self.assertAlmostEqual(abs(found.weeks), 26, delta=1)
        self.assertLess(found.correlation, -0.9)

    def test_years_of_another_form_have_no_shift(self) -> None:
        rng = np.random.default_rng(4)
        once, twice = sine(20, 0.5), 1 + 0.5 * np.cos(np.arange(LENGTH) / 52 * 4 * np.pi)
        found = read_seasons_beside(
            rng.poisson(2000 * once).astype(float), rng.poisson(2000 * twice).astype(float), TIMELINE, DEFAULTS
        )  # fmt: skip
        assert found is not None
        self.assertFalse(found.one_form)
        self.assertIsNone(found.weeks)

    def test_months_and_short_records_tell_nothing(self) -> None:
        first, second = following(0, 1)
        self.assertIsNone(read_seasons_beside(first[:60], second[:60], MONTHS, DEFAULTS))
        short = np.where(np.arange(LENGTH) < LENGTH - 120, np.nan, first)
        self.assertIsNone(read_seasons_beside(short, second, TIMELINE, DEFAULTS))
        self.assertIsNone(read_seasons_beside(first, second * 0, TIMELINE, DEFAULTS))


class Leads(TestCase):
    def test_the_one_that_moves_first_is_found_behind_seasons(self) -> None:
        for weeks in (7, -5):
            held = 0
            for seed in range(10):
                first, second = following(weeks, seed)
                found = read_lead(first, second, TIMELINE, DEFAULTS)
                assert found is not None
                assert found.low is not None
                assert found.high is not None
                self.assertEqual(found.ahead, np.sign(weeks))
                held += found.low <= weeks <= found.high
            self.assertGreaterEqual(held, 8)

    def test_those_that_move_together_have_no_leader(self) -> None:
        told = [read_lead(*following(0, seed), TIMELINE, DEFAULTS) for seed in range(10)]
        self.assertEqual({one.ahead for one in told if one is not None}, {0})

    def test_curves_of_their_own_are_hardly_ever_said_to_follow(self) -> None:
        rng = np.random.default_rng(6)
        claims = 0
        for i in range(60):
            # From noise that forgets to a walk that never does.
            phi = (0.5, 0.75, 0.95, 1.0)[i % 4]
            x, y = (memory(260, phi, 0.035, rng) + rng.normal(0, 0.05, 260) for _ in range(2))
            time = np.arange(260)
            x, y = (v - np.polyval(np.polyfit(time, v, 1), time) for v in (x, y))
            claims += lead_between(x, y, 26, 13, 0.9).ahead != 0
        self.assertLessEqual(claims, 3)

    def test_a_wild_week_in_both_is_no_lead(self) -> None:
        rng = np.random.default_rng(8)
        first, second = (rng.poisson(2000 * sine(20, 0.5)).astype(float) for _ in range(2))
        first[100] *= 12
        second[109] *= 12
        found = read_lead(first, second, TIMELINE, DEFAULTS)
        assert found is not None
        self.assertEqual(found.ahead, 0)

    def test_correlations_are_those_of_the_reference(self) -> None:
        rng = np.random.default_rng(9)
        x, y = rng.normal(size=(2, 200))
        ones = np.ones((1, 200))
        found = _correlations(ones, x[None], *_shifts(y, 12))[0]
        # The library takes means and spreads of the whole series; each shift on its own takes its own.
        for lag in range(13):
            own = np.corrcoef(x[: 200 - lag], y[lag:])[0, 1]
            self.assertAlmostEqual(found[12 + lag], own, 12)
        whole = ccf(y, x, adjusted=False)[:13]
        np.testing.assert_allclose(found[12:], whole, atol=0.03)

    def test_curves_by_chance_have_the_same_spectrum(self) -> None:
        for length in (200, 201):
            x = np.cumsum(np.random.default_rng(2).normal(size=length))
            x -= x.mean()
            made = _random_phases(x, np.random.default_rng(1))
            inner = slice(1, -1)
            spectra = np.abs(np.fft.rfft(made, axis=1))[:, inner]
            np.testing.assert_allclose(spectra[0], np.abs(np.fft.rfft(x))[inner], rtol=1e-9)
            self.assertAlmostEqual(made.std(axis=1).mean() / x.std(), 1, delta=0.02)

    def test_what_cannot_be_read_is_none(self) -> None:
        first, second = following(0, 1)
        short = np.where(np.arange(LENGTH) < LENGTH - 90, np.nan, first)
        self.assertIsNone(read_lead(short, second, TIMELINE, DEFAULTS))
        self.assertIsNone(read_lead(np.full(LENGTH, np.nan), second, TIMELINE, DEFAULTS))
        self.assertIsNone(read_lead(np.full(LENGTH, 40.0), second, TIMELINE, DEFAULTS))
