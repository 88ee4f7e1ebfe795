"""How a figure is spread over some niches, in a few bins with readable edges."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

BINS = 24
SKEWED = 4.0  # highest over the median from which bins grow by a factor


@dataclass(frozen=True, slots=True)
class Distribution:
    """edges: one more than counts, rising. counts: known values in each bin, the last one closed.
    known, unknown: how many values there are and how many are not known."""

    edges: list[float]
    counts: list[int]
    known: int
    unknown: int


def distribution(values: np.ndarray, bins: int = BINS) -> Distribution:
    """The distribution of values, NaN for unknown, in about ``bins`` bins. Empty lists where none is known."""
    known = values[~np.isnan(values)].astype(np.float64)
    unknown = len(values) - len(known)
    edges = edges_of(values, bins)
    if not edges.size:
        return Distribution([], [], 0, unknown)
    counts, _ = np.histogram(np.clip(known, edges[0], edges[-1]), bins=edges)
    return Distribution(edges.tolist(), counts.tolist(), len(known), unknown)


def edges_of(values: np.ndarray, bins: int = BINS) -> np.ndarray:
    """Readable edges of about ``bins`` bins that hold all known values; empty where none is known.

    Of one width, or growing by one factor where the values are skewed and not negative.
    """
    known = values[~np.isnan(values)].astype(np.float64)
    if not known.size:
        return np.empty(0)
    low, high = float(known.min()), float(known.max())
    if high <= low:
        return np.array([low, low + max(abs(low), 1.0)])
    middle = np.median(known)
    if low >= 0 and middle > 0 and high / middle > SKEWED:
        positive = known[known > 0]
        steps = np.geomspace(positive.min(), high, bins)
        return _readable(np.concatenate([[low] if low < steps[0] else [], steps]), low, high)
    return _readable(np.linspace(low, high, bins + 1), low, high)


def _readable(edges: np.ndarray, low: float, high: float) -> np.ndarray:
    """Inner edges to two or three digits, distinct, between the ends."""
    width = np.diff(edges).min()
    digits = 2 if edges[-1] / max(edges[1], 1e-12) > 50 else 3
    with np.errstate(divide="ignore"):
        size = np.where(edges == 0, 0, np.floor(np.log10(np.abs(np.where(edges == 0, 1, edges)))))
    step = np.maximum(10.0 ** (size - digits + 1), 10.0 ** np.floor(np.log10(max(width, 1e-12))))
    rounded = np.round(edges / step) * step
    inner = np.unique(np.round(rounded[1:-1], 10))
    inner = inner[(inner > low) & (inner < high)]
    return np.concatenate([[low], inner, [high]])
