"""Figures as typed columns: what a reading's table, its files and the store are made of."""

from __future__ import annotations

from datetime import date

import numpy as np
import polars as pl

from driftfield.core.base import Floats
from driftfield.core.market import Figure, FigureType
from driftfield.core.signals import SIGNALS

EPOCH = date(1970, 1, 1).toordinal()
DECIMALS = 6
PROFILE_DECIMALS = 4  # A factor's own error is in the second.
SEVERITY_DECIMALS = 4
SHIFTS = pl.List(pl.Struct({"from": pl.String, "size": pl.Float64}))
SEASONS = pl.List(
    pl.Struct(
        dict.fromkeys(("rise", "peak_start", "peak_end", "wind_down", "end"), pl.String)
        | {"share": pl.Float64, "caught": pl.Float64}
    )
)
RAISED = pl.List(pl.Struct({"signal": pl.String, "severity": pl.Float64}))
NUMBERS = {
    FigureType.AMOUNT,
    FigureType.SHARE,
    FigureType.CHANGE,
    FigureType.RATIO,
    FigureType.SIGNED,
    FigureType.INDEX,
}
OTHERS: dict[FigureType, pl.DataType | type[pl.DataType]] = {
    FigureType.COUNT: pl.Int64, FigureType.FLAG: pl.Boolean, FigureType.PROFILE: pl.List(pl.Float64),
    FigureType.WEEKS: pl.List(pl.Int64), FigureType.SHIFTS: SHIFTS, FigureType.SEASONS: SEASONS,
    FigureType.SIGNALS: RAISED,
}  # fmt: skip


# Lists of objects that most subjects have none of.
OBJECTS = {FigureType.SHIFTS: SHIFTS, FigureType.SEASONS: SEASONS}


def type_of(figure: Figure) -> pl.DataType | type[pl.DataType]:
    """What a figure's column holds; dates are texts in ISO 8601."""
    return OTHERS.get(figure.type, pl.Float64 if figure.type in NUMBERS else pl.String)


def series_of(figure: Figure, values: np.ndarray) -> pl.Series:
    """A figure as the runner computes it, (subjects, …), as a column; null for unknown."""
    if figure.type is FigureType.PROFILE:
        known = pl.Series(~np.isnan(values[:, 0]))
        lists = pl.Series(np.round(values, PROFILE_DECIMALS)).cast(pl.List(pl.Float64))
        return lists if known.all() else pl.select(pl.when(known).then(lists)).to_series()
    if figure.type is FigureType.WEEKS:
        return _shared_lists(values)
    if figure.type in OBJECTS:
        return _objects(values, OBJECTS[figure.type])
    if figure.type is FigureType.SIGNALS:
        return _signals(values)
    if figure.type is FigureType.FLAG:
        return pl.Series(values.astype(bool))
    if values.dtype == object:
        return pl.Series(values.tolist(), dtype=pl.String)
    dtype = pl.Int64 if figure.type is FigureType.COUNT else pl.Float64
    return pl.Series(values.astype(np.float64), nan_to_null=True).cast(dtype)


def shortened(column: pl.Series) -> pl.Series:
    """A column of ``series_of`` without digits that mean nothing."""
    return column.round(DECIMALS) if column.dtype == pl.Float64 else column


def rounded(figure: Figure) -> pl.Expr:
    """The same of a figure's column that was kept in single precision, in a frame of ``type_of``."""
    column = pl.col(figure.key)
    if figure.type is FigureType.PROFILE:
        return column.list.eval(pl.element().round(PROFILE_DECIMALS))
    if figure.type is FigureType.SIGNALS:
        severity = pl.element().struct.field("severity").round(SEVERITY_DECIMALS)
        return column.list.eval(pl.element().struct.with_fields(severity))
    return column.round(DECIMALS) if figure.type in NUMBERS else column


def _shared_lists(values: np.ndarray) -> pl.Series:
    """Lists as a column. Many rows hold the same list, so each is converted once and then looked up."""
    place: dict[int, int] = {}
    distinct: list[list[int] | None] = []
    codes = []
    for value in values:
        if id(value) not in place:
            place[id(value)] = len(distinct)
            distinct.append(value)
        codes.append(place[id(value)])
    return pl.Series(distinct, dtype=pl.List(pl.Int64)).gather(codes)


def _signals(severities: np.ndarray) -> pl.Series:
    """Lists of raised signals, most severe first, from severities (subjects, rules)."""
    row, rule = np.nonzero(~np.isnan(severities))
    keys = pl.Series([r.key for r in SIGNALS], dtype=pl.String)
    found = pl.DataFrame(
        {
            "row": row,
            "signal": keys.gather(rule),
            "severity": np.round(severities[row, rule], SEVERITY_DECIMALS),
        }
    )
    lists = (
        found.sort(["row", "severity"], descending=[False, True], maintain_order=True)
        .group_by("row", maintain_order=True)
        .agg(pl.struct("signal", "severity").alias("signals"))
    )
    every = pl.DataFrame({"row": np.arange(len(severities))})
    joined = every.join(lists, on="row", how="left", maintain_order="left")
    return joined.select(pl.col("signals").fill_null(pl.lit([], dtype=RAISED)))["signals"]


def _objects(values: np.ndarray, dtype: pl.List) -> pl.Series:
    """Lists of objects as a column; many are empty, so only the others are converted."""
    sizes = np.fromiter(map(len, values), np.int64, len(values))
    inner = dtype.inner
    assert isinstance(inner, pl.Struct), "they are objects"
    if not sizes.any():
        return pl.Series([[]], dtype=dtype).gather(np.zeros(len(values), dtype=np.int64))
    fields = {field.name: field.dtype for field in inner.fields}
    # Field by field: a list of objects each would be looked through for its types one by one.
    flat = [one for row in np.flatnonzero(sizes).tolist() for one in values[row]]
    few = pl.DataFrame(
        {"row": np.repeat(np.arange(len(values)), sizes)}
        | {
            name: pl.Series([one[name] for one in flat], dtype=kind)
            for name, kind in fields.items()
        },
    )
    few = few.group_by("row", maintain_order=True).agg(pl.struct(list(fields)).alias("found"))
    every = pl.DataFrame({"row": np.arange(len(values))})
    joined = every.join(few, on="row", how="left", maintain_order="left")
    return joined.select(pl.col("found").fill_null(pl.lit([], dtype=dtype)))["found"]


def numbers_in(figure: Figure, column: pl.Series, per_year: int) -> Floats:
    """A column as numbers: see ``core.sieve.Columns.figure``."""
    if figure.type is FigureType.WEEKS:
        return _months(column, per_year)
    if figure.choices:
        column = column.cast(pl.Enum(figure.choices)).to_physical()
    if figure.type is FigureType.DATE:
        column = column.cast(pl.Date).to_physical() + EPOCH
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
