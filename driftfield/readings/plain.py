"""Numbers on their way out of the core: unknown becomes None, and no digit that means nothing."""

from __future__ import annotations

import numpy as np

from driftfield.core.periods import Floats


def plain(value: float, digits: int = 6) -> float | None:
    """A number to at most ``digits`` decimals; None for NaN, and for an interval without an end."""
    return round(float(value), digits) if np.isfinite(value) else None


def plain_list(values: Floats | None, digits: int = 6) -> list[float | None] | None:
    """Numbers of an array; None for none at all."""
    return None if values is None else [plain(value, digits) for value in values]
