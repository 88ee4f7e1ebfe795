"""Own part: how much of the growth of own sales was the market's, and how much a change of one's share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy import stats

from driftfield.core.base import (
    Bools,
    Floats,
    Ints,
    RateRatio,
    Timeline,
    rate_ratio,
    resampled,
)  # fmt: skip

from .own_curves import ENOUGH, OwnNiche, Sources, niches_sold_in
from .own_scatter import log_steps, share_dispersion, usual_square

YEAR = 52
SPANS = (4, 13, 26, YEAR)
HEADLINE = 13  # Weeks of the comparison that a ledger shows.
UNEVEN = 0.1  # By how much the clicks of listings with known units may differ between both times.


class Against(StrEnum):
    """What a time is compared with."""

    BEFORE = "before"
    YEAR = "a year before"


class OwnVerdict(StrEnum):
    """How one's own sales of a niche went beside all that is sold there."""

    MORE = "Gained share as the market grew"
    WITH = "Grew with the market"
    AGAINST = "Gained share as the market shrank"
    GAINED = "Gained share"
    LESS = "Lost share as the market grew"
    LOST = "Lost share"
    BOTH = "Lost share as the market shrank"
    DOWN = "Shrank with the market"
    NEW = "Up from nothing"
    ENDED = "Down to nothing"
    UNCLEAR = "Unclear"


@dataclass(frozen=True, slots=True)
class Comparison:
    """Two times of every own niche; (own,) each, NaN for unknown.

    weeks, against: how long both are, and what the later one is compared with. then, now: columns that count,
    (own, 2), the first and one past the last. used: periods of each that count. own_then, own_now,
    revenue_then, revenue_now: one's own; market_then, market_now: the niche's. own, market: ratios with their
    intervals; market = season × drift exactly, drift with the interval of the market by a season that is taken
    to be known. share: ratio of the shares; own = market × share exactly.
    """

    weeks: int
    against: Against
    now: tuple[int, int]
    then: tuple[int, int]
    used: Floats
    own_then: Floats
    own_now: Floats
    revenue_then: Floats
    revenue_now: Floats
    market_then: Floats
    market_now: Floats
    season: Floats
    market: RateRatio
    share: RateRatio
    own: RateRatio

    @property
    def drift(self) -> RateRatio:
        """The market's growth without the calendar."""
        return self.market.over(self.season)

    @property
    def known(self) -> Bools:
        """Where something was sold oneself, and the market is known of both times."""
        found: Bools = ~np.isnan(self.market.value) & (self.own_now + self.own_then > 0)
        return found

    def verdict(self) -> list[OwnVerdict | None]:
        """In words, None where it is not known."""
        return [self._verdict(at) for at in range(len(self.used))]

    def _verdict(self, at: int) -> OwnVerdict | None:
        if not self.known[at]:
            return None
        if self.own_then[at] == 0:
            return OwnVerdict.NEW
        if self.own_now[at] == 0:
            return OwnVerdict.ENDED
        # Where the season's part is not told it may be all that the market did.
        grew, gained = _side(self.drift, at), _side(self.share, at)
        if gained == 0 and (grew == 0 or _side(self.own.over(self.season), at) != grew):
            return OwnVerdict.UNCLEAR
        return _VERDICTS[grew, gained]


_VERDICTS = {
    (1, 1): OwnVerdict.MORE, (1, 0): OwnVerdict.WITH, (1, -1): OwnVerdict.LESS, (0, 1): OwnVerdict.GAINED,
    (0, -1): OwnVerdict.LOST, (-1, 1): OwnVerdict.AGAINST, (-1, 0): OwnVerdict.DOWN,
    (-1, -1): OwnVerdict.BOTH,
}  # fmt: skip


def _side(ratio: RateRatio, at: int) -> int:
    """1 where a ratio lies above 1 with all its interval, −1 below, 0 for neither."""
    return int(ratio.low[at] > 1) - int(ratio.high[at] < 1)


@dataclass(frozen=True, slots=True)
class Told:
    """What market figures say of one's own listings against what was sold, (own,), NaN for unknown.

    listings: of which both are known in the last 52 weeks; own, told: units in the periods that have both.
    ratio: own over told: of what figures of the same making say of others it is likely, not certain, that they
    miss as far.
    """

    listings: Floats
    own: Floats
    told: Floats

    @property
    def ratio(self) -> Floats:
        with np.errstate(invalid="ignore", divide="ignore"):
            found: Floats = np.where(self.told > 0, self.own / self.told, np.nan)
        return found


@dataclass(frozen=True, slots=True)
class OwnPart:
    """Own sales in every niche in which one sells; arrays are (own,).

    dispersion: variance of own units of four weeks over what chance alone makes of it, with its degrees of
    freedom. scatter: variance of the log of what the niche sells in four weeks, without its season.
    """

    timeline: Timeline
    niches: Sequence[OwnNiche]
    comparisons: Sequence[Comparison]
    dispersion: Floats
    dispersion_df: Floats
    scatter: Floats
    scatter_df: Floats
    told: Told

    @property
    def subject(self) -> Ints:
        return np.array([one.subject for one in self.niches], dtype=np.int64)

    def headline(self) -> list[int | None]:
        """For each niche the comparison that is told first: of 13 weeks with the year before, where that is
        known; else with the 13 before; None for neither."""
        wanted = [
            next(
                place
                for place, one in enumerate(self.comparisons)
                if (one.weeks, one.against) == (HEADLINE, against)
            )
            for against in (Against.YEAR, Against.BEFORE)
        ]
        return [
            next((place for place in wanted if self.comparisons[place].known[at]), None)
            for at in range(len(self.niches))
        ]

    def year(self) -> tuple[Floats, Floats, Floats]:
        """Own units, own revenue and the market of the last 52 weeks, (own,) each; NaN where not all known."""
        span = self.timeline.period.span(YEAR)

        def last(values: list[Floats]) -> Floats:
            whole = np.stack(values)[:, -span:]
            return whole.sum(axis=1) if whole.shape[1] == span else np.full(len(whole), np.nan)

        return (
            last([one.units for one in self.niches]), last([one.revenue for one in self.niches]),
            last([one.market for one in self.niches]),
        )  # fmt: skip


def read_own_part(
    sources: Sources, factors: Floats, timed: Bools, coverage: float
) -> OwnPart | None:
    """Compare one's own sales with those of the niches in which one sells.

    Parameters
    ----------
    sources : Sources
        Own sales and the market.
    factors : array (subjects, slots)
        Season of each subject by slot of the year; NaN where none is claimed, which counts as none.
    timed : array (subjects,)
        Those that keep time with a feast, whose season has no fixed slots; their season's part is not told.
    coverage : float
        Of the intervals, 0–1.

    Returns
    -------
    OwnPart or None
        None where one sells in no niche.

    Notes
    -----
    Growth of own sales = growth of the niche × change of share, exactly. Both times leave out what is not known
    in either. The interval of the share is ``rate_ratio``'s; how far own units scatter is taken from pairs of
    neighbouring blocks of four weeks (von Neumann 1941), large squares bounded (Huber 1964), and held against
    what is usual among own niches (Smyth 2004). That of the market comes of the same pairs, without the
    season; that of own sales of both by the method of variance estimates recovery (Zou & Donner 2008).
    """
    found = niches_sold_in(sources)
    if found is None:
        return None
    timeline, niches = found
    season = _season(sources.timeline, timeline, factors, niches)
    dispersion, dispersion_df = share_dispersion(niches, timeline)
    scatter, scatter_df = usual_square(
        [log_steps(one, line, timeline) for one, line in zip(niches, season, strict=True)]
    )
    untimed = np.where(timed[[one.subject for one in niches]][:, None], np.nan, season)
    comparisons = [
        _compare(
            weeks, against, timeline, niches, untimed, (dispersion, dispersion_df), (scatter, scatter_df),
            coverage,
        )
        for weeks, against in _wanted()
    ]  # fmt: skip
    return OwnPart(
        timeline,
        niches,
        comparisons,
        dispersion,
        dispersion_df,
        scatter,
        scatter_df,
        _told(niches, timeline.period.span(YEAR)),
    )


def _wanted() -> list[tuple[int, Against]]:
    """All comparisons: a year is compared with the one before, which is the same for both."""
    before = [(weeks, Against.BEFORE) for weeks in SPANS if weeks < YEAR]
    return [*before, *((weeks, Against.YEAR) for weeks in SPANS)]


def _season(
    source: Timeline, timeline: Timeline, factors: Floats, niches: Sequence[OwnNiche]
) -> Floats:
    """The calendar of each own niche, (own, length)."""
    own = np.stack([np.nan_to_num(factors[one.subject], nan=1.0) for one in niches])
    if source.period is timeline.period:
        found: Floats = own[:, timeline.slots]
        return found
    first = source.period.number(timeline.first)
    last = source.period.number(timeline.end)
    line = Timeline(source.period, source.period.start(first), last - first + 1)
    return resampled(own[:, line.slots], line, timeline)


def _compare(
    weeks: int, against: Against, timeline: Timeline, niches: Sequence[OwnNiche], season: Floats,
    dispersion: tuple[Floats, Floats], scatter: tuple[Floats, Floats], coverage: float,
) -> Comparison:  # fmt: skip
    period, length = timeline.period, timeline.length
    span = period.span(weeks)
    back = period.span(YEAR) if against is Against.YEAR else span
    now, then = (length - span, length), (length - back - span, length - back)
    n = len(niches)
    sums = np.full((n, 8), np.nan)
    if then[0] >= 0:
        for at, niche in enumerate(niches):
            sums[at] = _sums(niche, season[at], slice(*now), slice(*then))
    used, own_now, own_then, revenue_now, revenue_then, market_now, market_then, usual = sums.T
    share = rate_ratio(
        own_now, market_now, own_then, market_then,
        np.maximum(dispersion[0], _rest(own_now, market_now)), dispersion[1], coverage,
    )  # fmt: skip
    with np.errstate(invalid="ignore", divide="ignore"):
        grown = np.where(market_then > 0, market_now / market_then, np.nan)
        error = np.sqrt(scatter[0] * period.block * 2 / used)
        reach = stats.t.ppf(0.5 + coverage / 2, scatter[1]) * error
        market = RateRatio(grown, grown * np.exp(-reach), grown * np.exp(reach), np.full(n, np.nan))
        own = _product(market, share)
    return Comparison(
        weeks, against, now, then, used, own_then, own_now, revenue_then, revenue_now, market_then,
        market_now, usual, market, share, own,
    )  # fmt: skip


def _rest(own: Floats, market: Floats) -> Floats:
    """What others have of the market: own units scatter by at least as much of Poisson's variance."""
    with np.errstate(invalid="ignore", divide="ignore"):
        found: Floats = np.clip(1 - np.nan_to_num(own / market), 0.05, 1)
    return found


def _sums(niche: OwnNiche, season: Floats, now: slice, then: slice) -> Floats:
    """What ``Comparison`` holds of one niche: used, own, revenue and market of both times, and the season."""
    known = [~(np.isnan(niche.units[one]) | np.isnan(niche.market[one])) for one in (now, then)]
    both = known[0] & known[1]
    found = np.full(8, np.nan)
    if both.mean() < ENOUGH or not _evenly_known(niche, now, then):
        return found
    found[0] = both.sum()
    for place, values in ((1, niche.units), (3, niche.revenue), (5, niche.market)):
        for step, one in enumerate((now, then)):
            found[place + step] = values[one][both].sum()
    usual, before = season[now][both].sum(), season[then][both].sum()
    # Below a thousandth of a mean year's time the profile is too near zero to divide by.
    found[7] = usual / before if before > 1e-3 * both.sum() and usual > 0 else np.nan
    if not found[6] > 0 or not found[5] > 0:
        found[:] = np.nan
    return found


def _evenly_known(niche: OwnNiche, now: slice, then: slice) -> bool:
    """Whether what is known of listings' units takes about the same part of the clicks at both times."""
    if not niche.by_units:
        return True
    parts = []
    for one in (now, then):
        clicks = niche.clicked[:, one].sum(axis=1)
        if not clicks.sum() > 0:
            return True
        told = (~np.isnan(niche.sold[:, one])).mean(axis=1) >= 0.5
        parts.append(clicks[told].sum() / clicks.sum())
    return bool(abs(parts[0] - parts[1]) <= UNEVEN)


def _product(market: RateRatio, share: RateRatio) -> RateRatio:
    """The product of two independent ratios; of each end the distances to it add as squares do."""
    value = market.value * share.value
    logs = [np.log(np.where(one.value > 0, one.value, 1)) for one in (market, share)]
    ends = []
    for name, sign in (("low", -1), ("high", 1)):
        ways = [
            np.log(getattr(one, name)) - log for one, log in zip((market, share), logs, strict=True)
        ]
        ends.append(np.where(share.value > 0, value * np.exp(sign * np.hypot(*ways)), np.nan))
    nothing = share.value == 0
    low = np.where(nothing & ~np.isnan(share.high), 0.0, ends[0])
    high = np.where(nothing, market.high * share.high, ends[1])
    return RateRatio(value, low, high, np.full(len(value), np.nan))


def _told(niches: Sequence[OwnNiche], span: int) -> Told:
    found = np.full((3, len(niches)), np.nan)
    for at, niche in enumerate(niches):
        own, sold = niche.own[:, -span:], niche.sold[:, -span:]
        both = ~np.isnan(own) & ~np.isnan(sold)
        if both.any():
            found[:, at] = both.any(axis=1).sum(), own[both].sum(), sold[both].sum()
    return Told(*found)
