"""Numbers on their way out of the core: unknown becomes None, and no digit that means nothing."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np

from driftfield.core.base import Floats


def plain(value: float, digits: int = 6) -> float | None:
    """A number to at most ``digits`` decimals; None for NaN, and for an interval without an end."""
    return round(float(value), digits) if np.isfinite(value) else None


def plain_list(values: Floats | None, digits: int = 6) -> list[float | None] | None:
    """Numbers of an array; None for none at all."""
    return None if values is None else [plain(value, digits) for value in values]


def plain_row(record: Any) -> dict[str, Any]:
    """A record of the core as a row, None for what it does not know."""
    told = asdict(record)
    return {key: plain(v) if isinstance(v, float) else v for key, v in told.items()}
