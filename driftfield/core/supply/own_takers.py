"""Where a share of clicks went: after which terms, and to which listings."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, RateRatio, rate_ratio

from .members import Clicks


@dataclass(frozen=True, slots=True)
class Takers:
    """Clicks of one niche at two times: after each term, (terms,), and of each listing, (listings,).

    term: the terms that were clicked at either time; clicks_then, clicks_now: after each. mine_then, mine_now:
    share of these that one's own listings took, NaN for unknown. ratio: of the two shares; its interval is
    unknown where clicks were not counted. lost: clicks lost within the term, mine_then − mine_now times the
    mean of its clicks, over all clicks of the niche. listing: those clicked at either time, share_then and
    share_now of all clicks of the niche; mine: one's own. counted: whether clicks were counted.
    then, now: columns of the two times.
    """

    term: Ints
    clicks_then: Floats
    clicks_now: Floats
    mine_then: Floats
    mine_now: Floats
    ratio: RateRatio
    lost: Floats
    listing: Ints
    share_then: Floats
    share_now: Floats
    mine: Bools
    counted: bool
    then: tuple[int, int]
    now: tuple[int, int]

    @property
    def whole(self) -> tuple[float, float]:
        """Share of all clicks of the niche that one's own listings took, then and now."""
        then, now = (float(one[self.mine].sum()) for one in (self.share_then, self.share_now))
        return then, now


def read_takers(
    seen: Clicks, weight: Floats, terms: Ints, mine: Bools, then: tuple[int, int], now: tuple[int, int],
    dispersion: float, df: float, coverage: float, *, counted: bool,
) -> Takers | None:  # fmt: skip
    """Clicks after some terms at two times.

    Parameters
    ----------
    seen : Clicks
        All observations; ``weight`` (observations,) is the clicks of each one's term in its period.
    terms : array of int
        The niche's.
    mine : array (listings,)
        One's own listings.
    then, now : tuple of int
        Columns of the two times, the last not included.
    dispersion, df : float
        How far counts scatter, as ``rate_ratio`` takes it; at least 1.
    counted : bool
        Whether weights are clicks that were counted.

    Returns
    -------
    Takers or None
        None where there are no clicks at one of the times.
    """
    inside = np.isin(seen.term, terms)
    times = []
    for begin, end in (then, now):
        rows = np.flatnonzero(inside & (seen.at >= begin) & (seen.at < end))
        if not rows.size:
            return None
        times.append(rows)
    term = np.unique(np.concatenate([seen.term[rows] for rows in times]))
    listing = np.unique(np.concatenate([seen.listing[rows] for rows in times]))
    clicks, got, shares = np.zeros((3, 2, max(len(term), len(listing))))
    for step, rows in enumerate(times):
        at = np.searchsorted(term, seen.term[rows])
        part = seen.term[rows] * (int(seen.at.max()) + 1) + seen.at[rows]
        _, first = np.unique(part, return_index=True)
        taken = weight[rows] * seen.share[rows]
        own = np.where(mine[seen.listing[rows]], taken, 0)
        clicks[step, : len(term)] = np.bincount(
            at[first], weights=weight[rows][first], minlength=len(term)
        )
        got[step, : len(term)] = np.bincount(at, weights=own, minlength=len(term))
        page = np.searchsorted(listing, seen.listing[rows])
        shares[step, : len(listing)] = np.bincount(page, weights=taken, minlength=len(listing))
    whole = clicks.sum(axis=1)
    clicks, got, shares = clicks[:, : len(term)], got[:, : len(term)], shares[:, : len(listing)]
    if not (whole > 0).all():
        return None
    with np.errstate(invalid="ignore", divide="ignore"):
        held = np.where(clicks > 0, got / clicks, np.nan)
    known = max(dispersion, 1.0) if counted and dispersion == dispersion else np.nan
    many = len(term)
    ratio = rate_ratio(
        got[1], clicks[1], got[0], clicks[0], np.full(many, known), np.full(many, df), coverage
    )
    # Of a term's clicks those that went with its share; that other terms grew is another matter.
    part = (clicks[0] / whole[0] + clicks[1] / whole[1]) / 2
    lost = (held[0] - held[1]) * part
    return Takers(
        term=term, clicks_then=clicks[0], clicks_now=clicks[1], mine_then=held[0], mine_now=held[1],
        ratio=ratio, lost=lost, listing=listing, share_then=shares[0] / whole[0],
        share_now=shares[1] / whole[1], mine=mine[listing], counted=counted, then=then, now=now,
    )  # fmt: skip
