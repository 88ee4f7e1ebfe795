"""Curves that a run stored beside its figures."""

from __future__ import annotations

from datetime import date

import numpy as np

from driftfield.core.base import Floats, Period, Timeline

from .columns import RunColumns
from .store import CURVE, FROM


def stored_curve(
    columns: RunColumns, measure: str, place: int, start: str = FROM
) -> tuple[Timeline, Floats] | None:
    """A curve of the subject at a place with its timeline, NaN for absent; None where the run has none.

    ``start`` is the column that says with what the curves begin.
    """
    column, begins = columns.column(f"{CURVE}{measure}"), columns.column(start)
    if column is None or begins is None:
        return None
    values = np.asarray(column[place], dtype=np.float64)
    period, first = str(begins[place]).split()
    return Timeline(Period(period), date.fromisoformat(first), len(values)), values
