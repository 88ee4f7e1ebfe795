"""The growth split: (1 + raw change) = (1 + season part) × (1 + drift part)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .errors import CoreError
from .periods import Floats, Ints


@dataclass(frozen=True, slots=True)
class GrowthSplit:
    """A change and its parts as fractions, each (subjects,); NaN where unknown."""

    raw: Floats
    season: Floats
    drift: Floats


def growth_split(
    values: Floats, slots: Ints, factors: Floats, window: int, lag: int | None = None
) -> GrowthSplit:
    """Last ``window`` periods against as many that end ``lag`` periods earlier (default: before).

    ``values`` is (subjects, length); ``slots`` (length,) gives each column's slot of the year and
    ``factors`` (subjects, slots) the season profile. The season part is the ratio of the profile's
    sums over the same periods, and the drift part is what is left, so the two multiply to the raw
    change exactly. All three are NaN without enough periods, where one is absent or where the
    earlier window sums to nothing; the parts are NaN where the profile is.
    """
    lag = window if lag is None else lag
    length = values.shape[1]
    if window < 1 or lag < 1:
        raise CoreError(f"A window and its lag are at least 1; {window} and {lag} came.")
    n = len(values)
    if length < window + lag:
        unknown = np.full(n, np.nan)
        return GrowthSplit(unknown, unknown.copy(), unknown.copy())
    late = slice(length - window, length)
    early = slice(length - window - lag, length - lag)
    with np.errstate(invalid="ignore", divide="ignore"):
        before = values[:, early].sum(axis=1)
        change = np.where(before > 0, values[:, late].sum(axis=1) / before, np.nan)
        usual = factors[:, slots[late]].sum(axis=1)
        usual_before = factors[:, slots[early]].sum(axis=1)
        # Below a thousandth of a mean year's window the profile is too near zero to divide by.
        calendar = np.where(usual_before > 1e-3 * window, usual / usual_before, np.nan)
        drift = np.where(calendar > 0, change / calendar, np.nan)
    return GrowthSplit(change - 1, np.where(np.isnan(drift), np.nan, calendar) - 1, drift - 1)
