"""What buyers say and send back: shares of themes, against what is usual in the category."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, wilson

CONFIDENCE = 0.9


@dataclass(frozen=True, slots=True)
class ThemeShares:
    """Of each theme, (themes,): share of all mentions with its interval, the category's share, and
    whether the subject's is told from it. NaN for unknown.

    more, fewer: the category's share lies below (above) an interval that is widened for the number
    of themes looked at (Bonferroni), so that a subject like any other singles out none in nine of ten.
    """

    share: Floats
    low: Floats
    high: Floats
    usual: Floats
    more: Bools
    fewer: Bools


def theme_shares(mentions: Floats, elsewhere: Floats) -> ThemeShares:
    """Shares of themes from their mentions here and in the rest of the category, both (themes,).

    The interval is Wilson's (1927) at 90%, taking mentions as independent. Without any mention here,
    or elsewhere, the shares there are unknown.
    """
    total, others = float(mentions.sum()), float(elsewhere.sum())
    unknown = np.full(len(mentions), np.nan)
    if total <= 0:
        none = np.zeros(len(mentions), dtype=bool)
        return ThemeShares(unknown, unknown, unknown, unknown, none, none)
    trials = np.full(len(mentions), total)
    low, high = wilson(mentions, trials, CONFIDENCE)
    surely_low, surely_high = wilson(mentions, trials, 1 - (1 - CONFIDENCE) / len(mentions))
    usual = elsewhere / others if others > 0 else unknown
    known = ~np.isnan(usual)
    return ThemeShares(
        share=mentions / total,
        low=low,
        high=high,
        usual=usual,
        more=known & (usual < surely_low),
        fewer=known & (usual > surely_high),
    )
