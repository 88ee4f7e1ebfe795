"""Openness and settledness of categories: composite indicators of one side each, as headroom is of two.

Openness says how easily newcomers have got in, settledness how old and entrenched what sells is. After the
OECD/JRC Handbook on Constructing Composite Indicators (2008): parts normalised by percentile within the
market's categories, weighted, aggregated geometrically, their weights shaken for the band of the rank.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Floats, Ints, Settings

from .headroom import SCORE_DIGITS, percentile, rank_of
from .parts import Part
from .rank_band import rank_band

LEAST_KNOWN = 0.5  # Part of the weight below which an index is not told; our choice.


@dataclass(frozen=True, slots=True)
class Index:
    """An index of each subject, (subjects,), and what it is made of.

    value: 0–100, NaN where under half of the weight is known. rank, low, high: place among all with a value,
    1 the highest, and its 5th and 95th percentile over the draws; 0 where there is none. parts: (subjects,
    parts) percentiles, 0–1, in favour of the index. contributions: (subjects, parts) logarithms that add up
    to ln(value ÷ 50); both NaN for unknown. known: share of the weight that is known, 0–1.
    """

    value: Floats
    rank: Ints
    low: Ints
    high: Ints
    parts: Floats
    contributions: Floats
    known: Floats


def read_index(
    figures: Mapping[str, np.ndarray],
    parts: Sequence[Part],
    settings: Settings,
    *,
    bands: bool = True,
) -> Index:
    """An index from figures by key, each (subjects,), NaN for unknown; ties share the better rank.

    It is taken over the parts that are known, their weights scaled up; in the draws an unknown part falls
    anywhere. A part that weighs nothing, or is known of nobody, is left out. Without ``bands``, which cost
    most, low and high are 0.
    """
    weights = np.array([float(getattr(settings, part.key)) for part in parts])
    columns = [percentile(figures[p.figure] * (1 if p.more_is_more else -1)) for p in parts]
    values = np.stack(columns, axis=1)
    known = ~np.isnan(values)
    logs = np.log(np.where(known, values, 1))
    whole = weights.sum()
    held = known @ weights
    told = (held > 0) & (held >= LEAST_KNOWN * whole - 1e-12) & (whole > 0)
    base = np.where(held > 0, held, 1)
    mean = np.where(told, logs @ weights / base, np.nan)
    rank = rank_of(mean.round(SCORE_DIGITS))
    ranked = np.flatnonzero(rank)
    low, high = np.zeros_like(rank), np.zeros_like(rank)
    if ranked.size and bands:
        unknown = ~known[ranked]
        used = ~unknown.all(axis=0) & (weights > 0)
        middle = np.where(unknown, np.log(0.5), logs[ranked])
        scaled = weights[used] / weights[used].sum()
        band = rank_band(middle[:, used], unknown[:, used], scaled, settings)
        low[ranked] = np.minimum(band.low, rank[ranked])
        high[ranked] = np.maximum(band.high, rank[ranked])
    share = weights[None] / base[:, None] * (logs - np.log(0.5))
    return Index(
        value=np.exp(mean) * 100,
        rank=rank,
        low=low,
        high=high,
        parts=values,
        contributions=np.where(known & told[:, None], share, np.nan),
        known=held / whole if whole > 0 else np.zeros(len(held)),
    )
