"""What overflowed is unknown: no infinity leaves the core."""

from __future__ import annotations

from typing import TypeVar

import numpy as np

T = TypeVar("T")


def finite(values: T) -> T:
    """The same values, NaN where a number is infinite; arrays of other kinds as they are.

    An infinity comes of figures so far apart that their quotient or power is no number any more. It
    would be stored, ranked and drawn as if it were known, and JSON has no word for it (RFC 8259, 6).
    """
    if isinstance(values, np.ndarray) and values.dtype.kind == "f" and np.isinf(values).any():
        return np.where(np.isinf(values), np.nan, values).astype(values.dtype)  # type: ignore[return-value]
    return values
