"""Concentration of clicks: who holds a niche's demand.

Shares are of *all* clicks. What the data leave unaccounted is taken as spread over holders too
small to matter, so HHI is a lower bound and the top shares are what they say. HHI in points,
0–10,000, as in the U.S. Horizontal Merger Guidelines.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .errors import CoreError
from .periods import Floats, Ints


@dataclass(frozen=True, slots=True)
class Concentration:
    """Figures of each group, (groups,); NaN where a group has no clicks or a figure is unknown.

    hhi: 0–10,000. effective: 10,000 / hhi, the number of equal holders with the same HHI.
    breadth: fewest holders that take the wanted share of all clicks; NaN where those known do not
    take as much. top: shares 0–1 of the largest holders, by their number. accounted: share of
    clicks that belongs to a known holder. holders: how many there are.
    """

    hhi: Floats
    effective: Floats
    breadth: Floats
    top: dict[int, Floats]
    accounted: Floats
    holders: Floats


def weighted_shares(
    group: Ints, holder: Ints, share: Floats, weight: Floats, total_weight: Floats
) -> tuple[Ints, Ints, Floats]:
    """Shares of holders in groups from shares observed in parts (terms and weeks) with weights.

    group, holder, share, weight: (observations,); weight is the part's clicks. total_weight:
    (groups,) the clicks of all parts observed. Returns group, holder and share of each pair.
    """
    if not len(group):
        return group, holder, share
    span = int(holder.max()) + 1
    pairs, inverse = np.unique(group * span + holder, return_inverse=True)
    taken = np.bincount(inverse, weights=share * weight, minlength=len(pairs))
    owner = pairs // span
    base = total_weight[owner]
    return owner, pairs % span, np.where(base > 0, taken / np.where(base > 0, base, 1), 0)


def concentration(
    group: Ints, share: Floats, groups: int, *, breadth: float = 0.8, tops: tuple[int, ...] = (1, 3, 5, 20)
) -> Concentration:  # fmt: skip
    """Concentration in each of ``groups`` groups from the shares of their holders.

    ``group`` and ``share`` are (holders,); shares are fractions of all clicks of the group. Raises
    CoreError for a negative share or a group whose shares exceed 1 by more than rounding.
    """
    if np.any(share < 0):
        raise CoreError("A share of clicks lies between 0 and 1; a negative one came.")
    accounted: np.ndarray = np.bincount(group, weights=share, minlength=groups)
    if np.any(accounted > 1.001):
        worst = int(accounted.argmax())
        raise CoreError(
            f"The shares of clicks in group {worst} add up to {accounted[worst]:.3f}; at most 1 is "
            "possible. Check that shares are fractions of all the clicks."
        )
    order = np.lexsort((-share, group))
    owner, value = group[order], share[order]
    starts = np.searchsorted(owner, np.arange(groups))
    counts: Ints = np.bincount(owner, minlength=groups)
    place = np.arange(len(owner)) - starts[owner]
    known = accounted > 0

    def per_group(weights: Floats) -> Floats:
        sums: np.ndarray = np.bincount(owner, weights=weights, minlength=groups)
        return np.where(known, sums, np.nan)

    hhi = per_group((value * 100) ** 2)
    running = np.cumsum(value)
    running -= np.concatenate([[0.0], running])[starts[owner]] if len(owner) else 0
    short = per_group((running < breadth - 1e-9).astype(np.float64))
    with np.errstate(invalid="ignore", divide="ignore"):
        effective = 10_000 / hhi
    return Concentration(
        hhi=hhi,
        effective=effective,
        breadth=np.where(short < counts, short + 1, np.nan),
        top={k: per_group(np.where(place < k, value, 0)) for k in tops},
        accounted=np.where(known, accounted, np.nan),
        holders=np.where(known, counts, np.nan).astype(np.float64),
    )
