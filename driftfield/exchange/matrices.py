"""From long frames to matrices: one row a subject, one column a period."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta

import numpy as np
import polars as pl

from driftfield.core.base import Floats, Ints, Period, Timeline


@dataclass(frozen=True, slots=True)
class Curves:
    """Measures of the same subjects on one timeline, each (subjects, length), NaN for absent."""

    subjects: list[str]
    timeline: Timeline
    measures: dict[str, Floats]


def encode(text: pl.Series) -> tuple[list[str], Ints]:
    """Distinct values in order of first appearance, and each row's place among them."""
    return _places_in(text.unique(maintain_order=True), text)


def encode_in_order(text: pl.Series) -> tuple[list[str], Ints]:
    """Distinct values by their bytes, whatever order they come in, and each row's place among them.

    What ties by these places then ties alike wherever the rows are read.
    """
    return _places_in(text.unique().sort(), text)


def _places_in(distinct: pl.Series, text: pl.Series) -> tuple[list[str], Ints]:
    places = pl.DataFrame({"key": distinct, "place": np.arange(len(distinct))})
    joined = pl.DataFrame({"key": text}).join(places, on="key", how="left", maintain_order="left")
    return distinct.to_list(), joined["place"].to_numpy()


def numbers_of(days: pl.Series, period: Period) -> Ints:
    """Running number of the period that holds each date."""
    if period is Period.WEEK:
        # Polars counts days from 1970-01-01, a Thursday, ordinal 719163.
        return (days.cast(pl.Int32).to_numpy().astype(np.int64) + 719162) // 7
    months = days.dt.year().cast(pl.Int64) * 12 + days.dt.month().cast(pl.Int64) - 1
    return months.to_numpy()


def curves_of(frame: pl.DataFrame, subject: str, period: Period, measures: list[str]) -> Curves:
    """A long frame with a ``week`` column as matrices."""
    subjects, row = encode(frame[subject])
    number = numbers_of(frame["week"], period)
    first = int(number.min())
    timeline = Timeline(period, period.start(first), int(number.max()) - first + 1)
    out: dict[str, Floats] = {}
    for measure in measures:
        if measure in frame.columns:
            matrix = np.full((len(subjects), timeline.length), np.nan)
            matrix[row, number - first] = frame[measure].to_numpy()
            if not np.isnan(matrix).all():
                out[measure] = matrix
    return Curves(subjects, timeline, out)


def complete_until(created: datetime | None) -> date | None:
    """Last day that was over when a package was made; None when it does not say."""
    return None if created is None else created.date() - timedelta(days=1)
