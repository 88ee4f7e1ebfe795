"""Matrices of a whole run: packed and read back."""

from __future__ import annotations

from datetime import date

import numpy as np

from driftfield.core.base import Bools, Floats, Ints
from driftfield.core.market import Figure, FigureType
from driftfield.core.ranking import Normalised
from driftfield.core.sieve import asked

from .models import Matrix, Run

PARTS, SEVERITIES = "parts", "signals"
TOP, FIGURE = "top.", "figure."
KEYS, VALUES = np.dtype("<i8"), np.dtype("<f4")
# Dates and weeks of the year, which conditions ask for besides what can be compared.
EXTRA = {"peak_weeks"}


def pack_order(niches: list[int]) -> bytes:
    return np.array(niches, dtype=KEYS).tobytes()


def order_of(run: Run) -> Ints:
    """Keys of the niches in the order of the run's matrices."""
    return np.frombuffer(bytes(run.order), dtype=KEYS)


def pack_matrix(name: str, values: Floats) -> Matrix:
    """A matrix with a row a niche, not yet saved and without its run."""
    return Matrix(name=name, values=np.ascontiguousarray(values, dtype=VALUES).tobytes())


def read_matrix(run: Run, name: str) -> np.ndarray | None:
    """The rows of a matrix in the order of the run, float32; None where the run has no such matrix."""
    found = run.matrices.filter(name=name).values_list("values", flat=True).first()
    if found is None:
        return None
    rows = np.frombuffer(bytes(found), dtype=VALUES)
    return rows.reshape(max(run.niches, 1), -1)


def kept(figure: Figure) -> bool:
    """Whether a figure is kept as a column to put conditions on."""
    return asked(figure) or figure.key in EXTRA


def column_of(figure: Figure, values: np.ndarray, per_year: int) -> Floats:
    """A figure as numbers: see ``core.sieve.Columns.figure``."""
    if figure.type is FigureType.WEEKS:
        return np.array([_months(weeks, per_year) for weeks in values.tolist()])
    if figure.choices:
        place = {word: float(i) for i, word in enumerate(figure.choices)}
        return np.array([place.get(word, np.nan) for word in values.tolist()])
    return np.asarray(values, dtype=np.float64)


def _months(weeks: list[int] | None, per_year: int) -> float:
    """Weeks (months) of the year as a sum of 2^(month − 1); a week counts where its Thursday lies."""
    if not weeks:
        return np.nan
    months = set(weeks)
    if per_year != 12:
        months = {date.fromisocalendar(2026, week, 4).month for week in weeks}
    return float(sum(1 << (month - 1) for month in months))


def stored_logs(normalised: Normalised) -> Floats:
    """The normalised parts with NaN for unknown."""
    return np.where(normalised.known, normalised.logs, np.nan)


def normalised_of(rows: np.ndarray) -> Normalised:
    """The normalised parts as they were before ``stored_logs``."""
    known: Bools = ~np.isnan(rows)
    return Normalised(np.where(known, rows, 0).astype(np.float64), known)
