"""What overflowed is unknown: no infinity leaves the core."""

from __future__ import annotations

from typing import TypeVar

import numpy as np

T = TypeVar("T")


def finite(values: T) -> T:
    """Return the same values, NaN where a number is infinite.

    An infinity comes of figures so far apart that their quotient or power is no number any more. It
    would be stored, ranked and drawn as if it were known, and JSON has no word for it.

    Parameters
    ----------
    values : array of any shape
        Numbers, or values of another kind, which come back as they are.

    Returns
    -------
    array of the same shape
        No number in it is infinite.

    References
    ----------
    RFC 8259, section 6: JSON has no infinities.
    """
    if isinstance(values, np.ndarray) and values.dtype.kind == "f" and np.isinf(values).any():
        return np.where(np.isinf(values), np.nan, values).astype(values.dtype)  # type: ignore[return-value]
    return values
