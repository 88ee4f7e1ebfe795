"""What the terms of one niche tell beyond their own figures."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from driftfield.core.base import DEFAULTS, Bools, Floats, Ints, Settings
from driftfield.core.curves import (
    LEAST_SPREAD,
    CurveReadings,
    Prior,
    read_curves,
    sum_by_group,
)

from .data import MarketData


def read_word_demand(
    data: MarketData, season: Floats | None, words: Sequence[Ints], settings: Settings = DEFAULTS
) -> CurveReadings:
    """Demand of words, (words,): for each the sum of the terms of one niche that hold it.

    ``words`` are the places of each one's terms. ``season`` (slots,) is the niche's season profile,
    on which a word too noisy to show one leans, as a term does; None where none is claimed.
    """
    longest = int(settings.bridge_periods)
    sums = [
        sum_by_group(data.searches[at], np.zeros(len(at), dtype=np.int64), 1, longest)
        for at in words
    ]
    curves = np.concatenate(sums) if sums else np.empty((0, data.timeline.length))
    prior = None
    if season is not None and data.counts:
        variance = np.full(len(curves), LEAST_SPREAD**2)
        prior = Prior(np.repeat(season[None], len(curves), axis=0), variance)
    return read_curves(curves, data.timeline, settings, counts=data.counts, prior=prior)


CLEARLY = 1.25  # Factor by which a rate must lie beyond the niche's to be told; our choice.


def wanted_not_served(searches: Floats, rate_high: Floats, usual: float | None) -> Bools:
    """Terms searched at least as much as the middle one, with a clearly lower purchase rate, (terms,).

    ``rate_high`` is the upper end of each purchase rate's interval, NaN for unknown, and ``usual`` the
    niche's rate: even the upper end times CLEARLY lies below it.
    """
    known = ~np.isnan(searches) & ~np.isnan(rate_high)
    if usual is None or not known.any():
        return np.zeros(len(searches), dtype=bool)
    middle = float(np.median(searches[known]))
    with np.errstate(invalid="ignore"):
        return np.asarray(known & (searches >= middle) & (rate_high * CLEARLY < usual))
