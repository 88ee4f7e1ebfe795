"""Sums that come out the same in whatever order, and in whatever parts, they are added up."""

from __future__ import annotations

import numpy as np

from .periods import Floats

BITS = 20  # Of a grid on which a million values of up to 8,000 are added up exactly.


def on_grid(values: Floats, bits: int = BITS) -> Floats:
    """Round values to multiples of 2^−bits, of which sums up to 2^(53 − bits) are exact.

    A float holds whole numbers up to 2^53 exactly (IEEE 754, binary64), and so their sums; those of other
    values depend in their last digits on the order in which they are added.

    Parameters
    ----------
    values : array
        Values, NaN where unknown.
    bits : int
        How fine the grid is.

    Returns
    -------
    array
        The values on the grid; NaN where they are.
    """
    found: Floats = np.rint(values * 2.0**bits) / 2.0**bits
    return found


# Rows that are multiplied at once, by the bytes of a number. In a product of always as many rows a library of
# linear algebra adds up every row in the same order; found out with OpenBLAS.
AT_ONCE_BY_SIZE = {4: 256, 8: 32}


def row_products(values: Floats, matrix: Floats) -> Floats:
    """Multiply rows by a matrix, so that a row's product does not depend on how many there are, or where.

    Libraries choose by the number of rows how they add up, and add up the last few in another way than the
    others; here so many are always multiplied at once, with empty ones after the last.

    Parameters
    ----------
    values : array (rows, n)
        Rows.
    matrix : array (n, columns)
        What each is multiplied by.

    Returns
    -------
    array (rows, columns)
        ``values @ matrix``, in the wider of the two types.
    """
    rows, n = values.shape
    at_once = AT_ONCE_BY_SIZE[np.result_type(values, matrix).itemsize]
    whole = rows - rows % at_once
    out = np.empty((rows, matrix.shape[1]), dtype=np.result_type(values, matrix))
    if whole:
        into = out[:whole].reshape(-1, at_once, matrix.shape[1])
        np.matmul(values[:whole].reshape(-1, at_once, n), matrix, out=into)
    if whole < rows:
        last = np.zeros((at_once, n), dtype=values.dtype)
        last[: rows - whole] = values[whole:]
        out[whole:] = (last @ matrix)[: rows - whole]
    return out
