"""The registry of figures: each declared once, with the function that computes it.

The record schema, the CSV headers, the API's fields, the stored readings, the ledger's columns and
the table in ``docs/method.md`` are all made from these rows, or tested against them. Adding a
figure is one row and one function.
"""

from __future__ import annotations

from .demand import DRIFT, FORECAST, GROWTH, INTEREST, QUALITY, SEASON, SHAPE
from .kinds import Figure, Kind
from .market import COMPETITION, VOLUME

__all__ = ["BY_KEY", "FIGURES", "Figure", "Kind"]

FIGURES: tuple[Figure, ...] = (
    *QUALITY, *SHAPE, *DRIFT, *GROWTH, *SEASON, *FORECAST, *VOLUME, INTEREST, *COMPETITION,
)  # fmt: skip

BY_KEY = {figure.key: figure for figure in FIGURES}
