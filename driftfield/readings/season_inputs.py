"""What a run has stored of the seasons of its subjects, as dates are made from it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, Ints, Period
from driftfield.core.market import FIGURES_BY_KEY, Kind, SeasonInputs

from .models import Run
from .store import read_columns, read_rows

_KEYS = ("as_of", "period", "shape", "feast", "season_profile", "season_starts")


@dataclass(frozen=True, slots=True)
class StoredSeasons:
    """Subjects of a run in parts that end on one day, and the rows that each part stands for.

    The curves of a market end on one day, but for those that are relative.
    """

    parts: list[SeasonInputs]
    rows: list[Ints]


def all_seasons(run: Run, kind: Kind) -> StoredSeasons:
    """The seasons of all subjects of a kind. Raises CoreError for a run of an earlier version."""
    read = dict(read_columns(run, kind, _KEYS))
    if len(read) < len(_KEYS):
        raise CoreError(
            f"{run.market.name} was analysed by an earlier version. Run bin/driftfield renew first."
        )
    return _parts(read, run.made_period)


def seasons_at(run: Run, kind: Kind, places: Ints) -> StoredSeasons:
    """The same of the subjects at some places; rows count from the first of these."""
    figures = [FIGURES_BY_KEY[key] for key in _KEYS]
    rows = read_rows(run, kind, figures, places)
    read = {key: [row[key] for row in rows] for key in _KEYS}
    period = run.made_period if not rows else Period(read["period"][0])
    none = [np.nan] * period.per_year
    profiles = [one if one is not None else none for one in read["season_profile"]]
    made: dict[str, pl.Series] = {
        "as_of": pl.Series(read["as_of"]),
        "period": pl.Series(read["period"]),
        "shape": pl.Series(read["shape"], dtype=pl.String),
        "feast": pl.Series(read["feast"], dtype=pl.String),
        "season_profile": pl.Series(
            profiles, dtype=pl.Array(pl.Float64, period.per_year), strict=False
        ),
        "season_starts": pl.Series(read["season_starts"], dtype=pl.List(pl.Int64)),
    }
    return _parts(made, period)


def _parts(read: dict[str, pl.Series], usual: Period) -> StoredSeasons:
    period = Period(read["period"][0]) if len(read["period"]) else usual
    n, slots = len(read["as_of"]), period.per_year
    starts = np.zeros((n, slots), dtype=bool)
    each = pl.DataFrame({"row": np.arange(n), "week": read["season_starts"]})
    each = each.drop_nulls("week").explode("week").drop_nulls("week")
    starts[each["row"].to_numpy(), each["week"].to_numpy() - 1] = True
    words = {key: np.array(read[key].to_list(), dtype=object) for key in ("shape", "feast")}
    factors = read["season_profile"].to_numpy()
    if factors.ndim != 2 or factors.shape[1] != slots:  # None of them has a profile.
        factors = np.full((n, slots), np.nan)
    ends = read["as_of"].to_list()
    parts, order = [], []
    for end in sorted(set(ends)):
        rows = np.flatnonzero([one == end for one in ends])
        order.append(rows)
        parts.append(
            SeasonInputs(
                words["shape"][rows], words["feast"][rows], factors[rows].astype(np.float64), starts[rows],
                period, end,
            )
        )  # fmt: skip
    return StoredSeasons(parts, order)
