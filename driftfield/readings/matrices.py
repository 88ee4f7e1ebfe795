"""What conditions and lenses ask for, as numbers made from the columns that are stored."""

from __future__ import annotations

from datetime import date
from typing import Any

import numpy as np

from driftfield.core.base import Bools
from driftfield.core.market import Figure, FigureType
from driftfield.core.ranking import Normalised
from driftfield.core.sieve import asked
from driftfield.exchange.columns import NUMBERS

# Weeks of the year, which conditions ask for besides what can be compared.
EXTRA = {"peak_weeks"}


SCALARS = {
    *NUMBERS, FigureType.COUNT, FigureType.FLAG, FigureType.DATE, FigureType.WORD,
}  # fmt: skip


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


def normalised_of(rows: np.ndarray) -> Normalised:
    """The normalised parts as they were before ``exchange.beside.stored_logs``."""
    known: Bools = ~np.isnan(rows)
    return Normalised(np.where(known, rows, 0).astype(np.float64), known)
