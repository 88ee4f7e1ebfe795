"""How the figures of a category's niches are spread: lowest, quartiles, highest and a histogram."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, distribution
from driftfield.core.market import NICHE, Figure
from driftfield.readings.columns import RunColumns, columns_of

from .found import CategoryReading

BINS = 12
# Figures whose range over the niches is told where no others are asked for.
RANGES = ("searches_52w", "sales.price_median", "competition_parts.click_breadth", "review_barrier",
          "drift_rate_year", "entry.success_rate", "headroom")  # fmt: skip


@dataclass(frozen=True, slots=True)
class Range:
    """A figure over a category's niches. edges, counts: a histogram; known, unknown: of how many niches."""

    figure: str
    known: int
    unknown: int
    low: float | None
    quarter: float | None
    median: float | None
    three_quarters: float | None
    high: float | None
    edges: list[float]
    counts: list[int]


def niches_in(reading: CategoryReading) -> tuple[RunColumns, Bools]:
    """The run's niches, and which of them lie in a category or below it."""
    niches = columns_of(reading.run, NICHE)
    keys = reading.columns.keys[reading.inside]
    return niches, np.isin(niches.category_keys, keys)


def ranges_of(reading: CategoryReading, figures: Iterable[Figure]) -> list[Range]:
    """The ranges of some figures of numbers over a category's niches."""
    niches, inside = niches_in(reading)
    return [_range(figure.key, niches.figure(figure.key)[inside]) for figure in figures]


def _range(key: str, values: np.ndarray) -> Range:
    known = values[~np.isnan(values)].astype(np.float64)
    spread = distribution(values, BINS)
    ends = np.quantile(known, [0, 0.25, 0.5, 0.75, 1]).tolist() if known.size else [None] * 5
    low, quarter, median, three_quarters, high = ends
    return Range(
        key, spread.known, spread.unknown, low, quarter, median, three_quarters, high, spread.edges,
        spread.counts,
    )  # fmt: skip
