"""Concentration of clicks: who holds a subject's demand.

Shares are of *all* clicks. What the data leave unaccounted is taken as spread over holders too
small to matter, so HHI is a lower bound and the top shares are what they say; ``bounds`` gives the
other end. HHI in points, 0–10,000, as in the U.S. Horizontal Merger Guidelines.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import CoreError, Floats, Ints, is_in_order, order_within

from .members import REACH, Members, Rest


@dataclass(frozen=True, slots=True)
class Concentration:
    """Figures of each group, (groups,); NaN where a group has no clicks or a figure is unknown.

    hhi: 0–10,000. effective: 10,000 / hhi, the number of equal holders with the same HHI.
    breadth: fewest holders that take the wanted share of all clicks; NaN where those known do not
    take as much. top: shares 0–1 of the largest holders, by their number. gini: of the known
    holders' shares, 0 (equal) to 1. accounted: share of clicks that belongs to a known holder.
    holders: how many there are.
    """

    hhi: Floats
    effective: Floats
    breadth: Floats
    top: dict[int, Floats]
    gini: Floats
    accounted: Floats
    holders: Floats


@dataclass(frozen=True, slots=True)
class Bounds:
    """What the figures can be at the other end, (groups,), given what is unaccounted.

    hhi_high: at most. breadth_least: at least, counted up to one more than REACH. top_high: at most,
    by number of holders.
    """

    hhi_high: Floats
    breadth_least: Floats
    top_high: dict[int, Floats]


TOPS = (1, 3, 5, 20)


def _places(group: Ints, share: Floats, groups: int) -> tuple[Ints, Floats, Ints, Ints]:
    """Group, share and place (0 the largest) of holders by group, and where each group begins, (groups,)."""
    if not is_in_order(group, -share):
        order = order_within(group, -share)
        group, share = group[order], share[order]
    starts = np.searchsorted(group, np.arange(groups))
    return group, share, np.arange(len(group)) - starts[group], starts


def concentration(
    group: Ints, share: Floats, groups: int, *, breadth: float = 0.8, tops: tuple[int, ...] = TOPS
) -> Concentration:
    """Concentration in each of ``groups`` groups from the shares of their holders.

    ``group`` and ``share`` are (holders,); shares are fractions of all clicks of the group. Raises
    CoreError for a negative share or a group whose shares exceed 1 by more than rounding. The Gini
    coefficient is the mean absolute difference over twice the mean (Gini 1912).
    """
    if np.any(share < 0):
        raise CoreError("A share of clicks lies between 0 and 1; got a negative one.")
    accounted: np.ndarray = np.bincount(group, weights=share, minlength=groups)
    if np.any(accounted > 1.001):
        worst = int(accounted.argmax())
        raise CoreError(
            f"The shares of clicks in group {worst} add up to {accounted[worst]:.3f}; at most 1 is "
            "possible. Check that shares are fractions of all the clicks."
        )
    owner, value, place, starts = _places(group, share, groups)
    running = np.cumsum(value)  # Sums of shares up to each holder of a group.
    if len(running):
        running -= np.where(starts > 0, running[starts - 1], 0)[owner]
    counts: Ints = np.bincount(owner, minlength=groups)
    known = accounted > 0

    def per_group(weights: Floats) -> Floats:
        sums: np.ndarray = np.bincount(owner, weights=weights, minlength=groups)
        return np.where(known, sums, np.nan)

    # Few of many holders are among the first.
    first = np.flatnonzero(place < max(tops, default=0))
    leaders, leading, rank = owner[first], value[first], place[first]

    def held_by(most: int) -> Floats:
        sums = np.bincount(leaders, weights=np.where(rank < most, leading, 0), minlength=groups)
        return np.where(known, sums, np.nan)

    hhi = per_group((value * 100) ** 2)
    short = per_group((running < breadth - 1e-9).astype(np.float64))
    spread = per_group((counts[owner] - 2 * place - 1) * value)
    with np.errstate(invalid="ignore", divide="ignore"):
        effective = 10_000 / hhi
        gini = spread / (counts * accounted)
    return Concentration(
        hhi=hhi,
        effective=effective,
        breadth=np.where(short < counts, short + 1, np.nan),
        top={most: held_by(most) for most in tops},
        gini=gini,
        accounted=np.where(known, accounted, np.nan),
        holders=np.where(known, counts, np.nan).astype(np.float64),
    )


def bounds(
    group: Ints,
    share: Floats,
    found: Concentration,
    rest: Rest,
    reach: Floats,
    *,
    breadth: float = 0.8,
) -> Bounds:
    """How far HHI, breadth and top shares can lie from what is known, each (groups,).

    Holds when the known listings of a term are its most clicked. An upper HHI is the smaller of two
    that hold: the parts' own mean HHI, for a mean of shares is never more concentrated than its
    parts (Jensen); and (‖known‖ + ‖rest‖)² (Minkowski). The k largest take at most the smaller of
    ``reach`` (see ``members.reach_of``), and what the known k largest take and k times the largest an
    unknown one can be.
    """
    groups = len(found.hhi)
    known = ~np.isnan(found.hhi)
    if not known.any():
        return Bounds(found.hhi, found.hhi, dict.fromkeys(found.top, found.hhi))
    left = np.nan_to_num(rest.share)
    cap = np.nan_to_num(rest.largest)
    with np.errstate(invalid="ignore"):
        joined = (np.sqrt(found.hhi / 1e4) + rest.norm) ** 2
    high = np.clip(np.minimum(joined, rest.squares) * 1e4, found.hhi, 1e4)

    owner, value, place, _ = _places(group, share, groups)
    ahead = np.zeros((groups, REACH))
    inside = place < REACH
    ahead[owner[inside], place[inside]] = value[inside]
    numbers = np.arange(1, REACH + 1)
    beside = np.minimum(left[:, None], numbers * cap[:, None])
    most = np.minimum(np.minimum(np.cumsum(ahead, axis=1) + beside, reach), 1)
    short = (most < breadth - 1e-9).sum(axis=1)
    return Bounds(
        hhi_high=np.where(known, high, np.nan),
        breadth_least=np.where(known, short + 1, np.nan),
        top_high={k: np.where(known, most[:, k - 1], np.nan) for k in found.top},
    )


def by_listing(members: Members, window: int, *, breadth: float) -> Concentration:
    """Concentration of each subject's clicks by listing in a window, by its place in WINDOWS."""
    share, subject = members.share[:, window], members.subject
    held = share > 0
    if not held.all():
        share, subject = share[held], subject[held]
    return concentration(subject, share, members.subjects, breadth=breadth)


def by_brand(members: Members, brand: Ints, window: int, *, breadth: float) -> Concentration:
    """The same by brand; ``brand`` is (listings,), −1 for unknown. Unknown where no brand is known.

    A listing without a brand is its own: lumping the unnamed together would invent a giant.
    """
    code = brand[members.listing]
    held = members.share[:, window] > 0
    if not (code[held] >= 0).any():
        held = np.zeros_like(held)
    subject, listing, code = members.subject[held], members.listing[held], code[held]
    marks = np.where(code >= 0, code, int(brand.max(initial=-1)) + 1 + listing)
    span = int(marks.max(initial=0)) + 1
    pairs, pair = np.unique(subject * span + marks, return_inverse=True)
    share = members.share[held, window]
    held_by: np.ndarray = np.bincount(pair, weights=share, minlength=len(pairs))
    owner: Ints = pairs // span
    return concentration(owner, held_by, members.subjects, breadth=breadth)
