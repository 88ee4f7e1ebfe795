"""Ranks within rows, as scipy.stats.rankdata, whose module takes a second to import: too long for a command."""

from __future__ import annotations

import numpy as np

from .periods import Floats, Ints


def mid_ranks(values: Floats) -> Floats:
    """Rank within each row, from the lowest; equal values share the middle of their ranks.

    Parameters
    ----------
    values : array (..., count)
        Known values.

    Returns
    -------
    array (..., count)
        Ranks from 1.

    References
    ----------
    Kendall (1945), Biometrika 33, on tied ranks.
    """
    order, first, last = _runs(values)
    return _put_back(order, (first + last) / 2 + 1)


def low_ranks(values: Floats) -> Ints:
    """Rank within each row, from the lowest; equal values share the lowest of their ranks.

    Parameters
    ----------
    values : array (..., count)
        Known values.

    Returns
    -------
    int array (..., count)
        Ranks from 1.
    """
    order, first, _last = _runs(values)
    return _put_back(order, first + 1)


def _runs(values: Floats) -> tuple[Ints, Ints, Ints]:
    """Order of each row, and of each place in that order the first and the last place of equal values."""
    order = np.argsort(values, axis=-1)
    ordered = np.take_along_axis(values, order, axis=-1)
    count = values.shape[-1]
    places = np.arange(count)
    edge = ordered[..., 1:] != ordered[..., :-1]
    first = np.zeros(values.shape, dtype=np.int64)
    first[..., 1:] = np.where(edge, places[1:], 0)
    last = np.full(values.shape, count - 1)
    last[..., :-1] = np.where(edge, places[:-1], count - 1)
    np.maximum.accumulate(first, axis=-1, out=first)
    backwards = last[..., ::-1]
    np.minimum.accumulate(backwards, axis=-1, out=backwards)
    return order, first, last


def _put_back(order: Ints, ranks: np.ndarray) -> np.ndarray:
    found = np.empty_like(ranks)
    np.put_along_axis(found, order, ranks, axis=-1)
    return found
