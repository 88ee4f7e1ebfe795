"""Which of two curves moves first once their seasons are taken out, and by how much.

Both are taken as logarithms without their calendar, wild periods and straight trend. The lead is the shift
at which they agree best (largest cross-correlation, either way up to half a year). Two curves that remember
their past agree somewhere by chance, so the agreement is held against that of curves with the same spectrum
and random phases (Ebisuzaki 1997, Journal of Climate 10, 2147–2153), the best shift of each. The interval
is that of the best shift when blocks of a quarter are drawn again, with replacement and round the end
(circular block bootstrap: Politis & Romano 1992, in Exploring the Limits of Bootstrap, 263–270; percentiles
as in Efron & Tibshirani 1993, chapter 13).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Floats, Settings, Timeline

from .align import bridge
from .detail import curve_detail

LONGEST = 26  # weeks; the furthest shift that is looked at
BLOCK = 13  # weeks drawn at once
LEAST = 104  # weeks that both must have without a gap
DRAWS = 999  # curves by chance, and redrawn ones
PROOF = 0.01  # share of curves by chance that may agree as well


@dataclass(frozen=True, slots=True)
class Lead:
    """How far the first of two curves moves ahead of the second, in periods; below 0 where it comes later.

    periods, low, high: with its interval; None where they do not move alike beyond chance, or where the
    interval reaches as far as was looked. correlation: at the best shift. chance: share of curves with random
    phases that agree as well. read: periods that both have.
    """

    periods: int | None
    low: int | None
    high: int | None
    correlation: float
    chance: float
    read: int

    @property
    def beyond_chance(self) -> bool:
        """Whether they move more alike than curves do by chance."""
        return self.chance <= PROOF

    @property
    def ahead(self) -> int:
        """1 where the first one leads, −1 where the second does, 0 where its interval tells neither."""
        if self.low is None or self.high is None:
            return 0
        return (self.low > 0) - (self.high < 0)


def read_lead(
    first: Floats, second: Floats, timeline: Timeline, settings: Settings, *, counts: bool = True
) -> Lead | None:
    """Say which of two curves moves first.

    Parameters
    ----------
    first, second : array (length,)
        Figures by period, NaN where absent.
    timeline : Timeline
        The periods of both.
    settings : Settings
        Thresholds and the interval's coverage.
    counts : bool
        Whether they count something.

    Returns
    -------
    Lead or None
        None where they share under two years without a gap, or where one of them does not move at all.
    """
    both = [without_calendar(v, timeline, settings, counts=counts) for v in (first, second)]
    known = ~np.isnan(both[0]) & ~np.isnan(both[1])
    begin, end = _longest_run(known)
    span = timeline.period.span
    if end - begin < span(LEAST):
        return None
    x, y = (_detrended(v[begin:end]) for v in both)
    if min(x.std(), y.std()) < 1e-6:
        return None
    return lead_between(x, y, span(LONGEST), span(BLOCK), settings.interval)


def lead_between(x: Floats, y: Floats, longest: int, block: int, level: float) -> Lead:
    """``read_lead`` of two curves (length,) without calendar, trend and gaps.

    Read from either side, the weaker proof and the wider interval taken: which one is called the first must
    not change what is told.
    """
    one, back = _lead_of(x, y, longest, block, level), _lead_of(y, x, longest, block, level)
    chance = max(one.chance, back.chance)
    if one.low is None or one.high is None or back.low is None or back.high is None:
        return Lead(None, None, None, one.correlation, chance, one.read)
    low, high = min(one.low, -back.high), max(one.high, -back.low)
    return Lead(one.periods, low, high, one.correlation, chance, one.read)


def _lead_of(x: Floats, y: Floats, longest: int, block: int, level: float) -> Lead:
    """The lead as drawn from the first curve."""
    shifted, known = _shifts(y, longest)
    found = _correlations(np.ones((1, len(x))), x[None], shifted, known)[0]
    best = int(found.argmax())
    rng = np.random.default_rng(1)
    alike = _correlations(np.ones((1, len(x))), _random_phases(x, rng), shifted, known).max(axis=1)
    chance = (1 + int((alike >= found[best]).sum())) / (DRAWS + 1)
    drawn = _correlations(_drawn_blocks(len(x), block, rng), x[None], shifted, known)
    ends = np.quantile(drawn.argmax(axis=1) - longest, [(1 - level) / 2, (1 + level) / 2])
    low, high = int(np.floor(ends[0])), int(np.ceil(ends[1]))
    told = chance <= PROOF and -longest < low and high < longest
    # The best shift of all periods lies among those redrawn, but not always between their ends.
    low, high = min(low, best - longest), max(high, best - longest)
    return Lead(
        best - longest if told else None, low if told else None, high if told else None,
        float(found[best]), chance, len(x),
    )  # fmt: skip


def without_calendar(
    values: Floats, timeline: Timeline, settings: Settings, *, counts: bool
) -> Floats:
    """Logarithm of a curve without its season and wild periods; short gaps bridged, NaN in others."""
    detail = curve_detail(values, timeline, settings, counts=counts)
    left = values if detail.without is None else detail.without
    left = np.where(detail.outliers, np.nan, left)
    logs = np.log(np.maximum(left, 0) + 0.5)
    out: Floats = bridge(logs[None], int(settings.bridge_periods)).values[0]
    return out


def _longest_run(known: np.ndarray) -> tuple[int, int]:
    """Where the longest run of True begins and ends; the later one of two as long."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], known, [False]]).astype(np.int8)))
    begins, ends = edges[::2], edges[1::2]
    if not len(begins):
        return 0, 0
    at = len(begins) - 1 - int((ends - begins)[::-1].argmax())
    return int(begins[at]), int(ends[at])


def _detrended(values: Floats) -> Floats:
    time = np.arange(len(values)) - (len(values) - 1) / 2
    centred = values - values.mean()
    out: Floats = centred - time * (time @ centred) / (time @ time)
    return out


def _shifts(y: Floats, longest: int) -> tuple[Floats, Floats]:
    """The second curve at each shift, 0 where it has no value, and 1 where it has one, (shifts, length)."""
    places = np.arange(len(y)) + np.arange(-longest, longest + 1)[:, None]
    known = (places >= 0) & (places < len(y))
    return np.where(known, y[np.clip(places, 0, len(y) - 1)], 0.0), known.astype(np.float64)


def _correlations(weights: Floats, x: Floats, shifted: Floats, known: Floats) -> Floats:
    """Correlation of each weighting or curve with each shift, over what both know, (draws, shifts)."""
    many = np.maximum(weights @ known.T, 1)
    sum_x, sum_xx = (weights * x) @ known.T, (weights * x**2) @ known.T
    sum_y, sum_yy = weights @ shifted.T, weights @ (shifted**2).T
    both = (weights * x) @ shifted.T - sum_x * sum_y / many
    spread = (sum_xx - sum_x**2 / many) * (sum_yy - sum_y**2 / many)
    out: Floats = both / np.sqrt(np.maximum(spread, 1e-12))
    return out


def _random_phases(x: Floats, rng: np.random.Generator) -> Floats:
    """Curves with the spectrum of one and phases by chance, (DRAWS, length)."""
    spectrum = np.abs(np.fft.rfft(x))
    phases = rng.uniform(0, 2 * np.pi, (DRAWS, len(spectrum)))
    made = spectrum * np.exp(1j * phases)
    made[:, 0] = 0
    if len(x) % 2 == 0:  # The highest frequency has no phase of its own.
        made[:, -1] = spectrum[-1] * np.sqrt(2) * np.cos(phases[:, -1])
    out: Floats = np.fft.irfft(made, len(x))
    return out


def _drawn_blocks(length: int, block: int, rng: np.random.Generator) -> Floats:
    """How often each period comes when blocks are drawn round the end, (DRAWS, length)."""
    starts = rng.integers(0, length, (DRAWS, -(-length // block)))
    places = ((starts[:, :, None] + np.arange(block)) % length).reshape(DRAWS, -1)[:, :length]
    flat = (places + length * np.arange(DRAWS)[:, None]).ravel()
    return np.bincount(flat, minlength=DRAWS * length).reshape(DRAWS, length).astype(np.float64)
