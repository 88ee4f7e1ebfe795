"""What conditions and lenses ask for, as numbers made from the columns that are stored."""

from __future__ import annotations

from datetime import date
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import Bools, Floats
from driftfield.core.market import Figure, FigureType
from driftfield.core.ranking import Normalised
from driftfield.core.sieve import asked
from driftfield.exchange.columns import NUMBERS

# Weeks of the year, which conditions ask for besides what can be compared.
EXTRA = {"peak_weeks"}


SCALARS = {
    *NUMBERS, FigureType.COUNT, FigureType.FLAG, FigureType.DATE, FigureType.WORD,
}  # fmt: skip
EPOCH = date(1970, 1, 1).toordinal()


def plain_cell(figure: Figure, value: float) -> Any:
    """A number of ``numbers_of`` as JSON takes the figure; dates stay dates."""
    if figure.choices:
        return figure.choices[int(value)]
    if figure.type is FigureType.DATE:
        return date.fromordinal(int(value))
    if figure.type is FigureType.FLAG:
        return bool(value)
    return int(value) if figure.type is FigureType.COUNT else value


def kept(figure: Figure) -> bool:
    """Whether conditions can be put on a figure, or rows be sorted by it."""
    return asked(figure) or figure.key in EXTRA or figure.type is FigureType.DATE


def numbers_of(figure: Figure, column: pl.Series, per_year: int) -> Floats:
    """A stored column as numbers: see ``core.sieve.Columns.figure``."""
    if figure.type is FigureType.WEEKS:
        return _months(column, per_year)
    if figure.choices:
        column = column.to_physical()
    if figure.type is FigureType.DATE:
        column = column.to_physical() + EPOCH
    found: Floats = column.cast(pl.Float64).fill_null(np.nan).to_numpy()
    return found


def _months(column: pl.Series, per_year: int) -> Floats:
    """Weeks (months) of the year as a sum of 2^(month − 1); a week counts where its Thursday lies."""
    month = np.arange(1, per_year + 1)
    if per_year != 12:
        month = np.array([date.fromisocalendar(2026, week, 4).month for week in month.tolist()])
    out = np.full(len(column), np.nan)
    frame = pl.DataFrame({"row": np.arange(len(column)), "week": column})
    weeks = frame.drop_nulls("week").explode("week").drop_nulls("week")
    rows, at = weeks["row"].to_numpy(), weeks["week"].to_numpy()
    marks = np.zeros(len(column), dtype=np.int64)
    np.bitwise_or.at(marks, rows, 1 << (month[at - 1] - 1))
    out[rows] = marks[rows]
    return out


def stored_logs(normalised: Normalised) -> Floats:
    """The normalised parts with NaN for unknown."""
    return np.where(normalised.known, normalised.logs, np.nan)


def normalised_of(rows: np.ndarray) -> Normalised:
    """The normalised parts as they were before ``stored_logs``."""
    known: Bools = ~np.isnan(rows)
    return Normalised(np.where(known, rows, 0).astype(np.float64), known)
