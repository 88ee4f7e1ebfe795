"""What launches reached, month by month: the share of their subject's units, and what they did for it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Period

from .listings import History, Listings
from .members import Members

MONTHS = 12
LEVELS = (
    0.001, 0.01, 0.03, 0.05, 0.1, 0.15, 0.2, 0.25, 0.3, 0.4, 0.5, 0.6, 0.7, 0.75, 0.8, 0.85, 0.9, 0.93,
    0.95, 0.97, 0.98, 0.99, 0.995, 0.999,
)  # fmt: skip
# The launches of the category, without the subject's own, together count as so many; our choice: with eight
# of its own a subject weighs as much as its category.
POOLED = 8.0
FEWEST = 5.0  # Launches, own and pooled, that a quantile must rest on.


@dataclass(frozen=True, slots=True)
class LaunchPaths:
    """Launches one by one; (launches,) and (launches, months), NaN for unknown.

    subject, listing: places. share: units over those of all the subject's listings in the same weeks, so that
    the calendar cancels; 0 once it is given up. alive: 1 where it was on sale in that month, 0 where it had
    been given up. price: over the median of the subject's listings at that time. reviews: at the end of the
    month.
    """

    subject: Ints
    listing: Ints
    share: Floats
    alive: Floats
    price: Floats
    reviews: Floats


@dataclass(frozen=True, slots=True)
class NewcomersPath:
    """What a newcomer may expect; (months,) each, NaN for unknown.

    own, pooled: launches that each month rests on, of the subject and of its category without it. quantiles:
    (LEVELS, months) of the share of the subject's units. alive: weighted share that still sold, of alive_of
    launches. price, reviews: medians. sponsored: share of these launches that are advertised now; how that went
    along is not known.
    """

    own: Ints
    pooled: Ints
    quantiles: Floats
    alive: Floats
    alive_of: Ints
    price: Floats
    reviews: Floats
    sponsored: float

    @property
    def known(self) -> Bools:
        """Months of which something can be expected, (months,)."""
        found: Bools = ~np.isnan(self.quantiles[LEVELS.index(0.5)])
        return found


def launch_paths(members: Members, listings: Listings, day: int) -> LaunchPaths | None:
    """Follow the launches of which the history holds the first months.

    Parameters
    ----------
    members : Members
        The subjects' listings; units that several subjects bring are divided among them.
    listings : Listings
        With a history of units.
    day : int
        Ordinal of the as-of.

    Returns
    -------
    LaunchPaths or None
        Months count from the first whole period after the launch. None where units, or when listings were
        launched, are not known. A launch that nobody clicks any more and that left no clicks within a year is
        not among a subject's listings: of such nothing is known.
    """
    history = listings.history
    if history is None or "units" not in history.measures or np.isnan(listings.launched).all():
        return None
    starts = np.array(
        [history.timeline.start(i).toordinal() for i in range(history.timeline.length + 1)]
    )
    launched = listings.launched[members.listing]
    followed = (launched >= starts[0]) & (launched < min(starts[-1], day))
    pair = np.flatnonzero(followed)
    subject, page = members.subject[pair], members.listing[pair]
    units = history.measures["units"]
    divided = np.where(np.isnan(units), 0, units)[members.listing] * members.portion[:, None]
    whole = np.zeros((members.subjects, units.shape[1]))
    np.add.at(whole, members.subject, divided)
    mine = _since_launch(units[page] * members.portion[pair, None], launched[pair], starts)
    theirs = _since_launch(whole[subject], launched[pair], starts)
    given_up = np.isnan(units[page, -1]) & ~members.now[pair]
    edges = _edges(history.timeline.period)
    own, ended = _months(mine, edges, given_up)
    of_all, _ = _months(theirs, edges, np.zeros(len(pair), dtype=bool))
    with np.errstate(invalid="ignore", divide="ignore"):
        share = np.where(of_all > 0, own / of_all, np.nan)
    alive = np.where(np.isnan(share), np.nan, ~ended)
    price = _relative_price(members, history, pair, launched[pair], starts, edges)
    reviews = _at_ends(history, "reviews", page, launched[pair], starts, edges)
    return LaunchPaths(
        subject, page, share, alive, price, np.where(np.isnan(share), np.nan, reviews)
    )  # fmt: skip


def _edges(period: Period) -> list[int]:
    """The first period of each month since launch, and the one after the last."""
    return [round(period.per_year / 12 * month) for month in range(MONTHS + 1)]


def _since_launch(values: np.ndarray, launched: Floats, starts: Ints) -> Floats:
    """Rows turned so that the first whole period after the launch comes first, NaN beyond the record."""
    first = np.searchsorted(starts[:-1], launched, side="left")
    length = values.shape[1]
    at = first[:, None] + np.arange(length)
    return np.where(
        at < length, values[np.arange(len(values))[:, None], np.minimum(at, length - 1)], np.nan
    )


def _months(turned: Floats, edges: list[int], given_up: Bools) -> tuple[Floats, Bools]:
    """Sums by month since launch, NaN where the record does not hold all of it; and whether a launch had been
    given up before the month began."""
    n, length = turned.shape
    inside = ~np.isnan(turned)
    # What was given up sells nothing after its last known period, as far as the record goes.
    reach = length - np.isnan(turned[:, ::-1]).argmin(axis=1)
    reach = np.where(inside.any(axis=1), reach, 0)
    sums = np.full((n, MONTHS), np.nan)
    for month in range(MONTHS):
        begin, end = edges[month], edges[month + 1]
        if end > length:
            break
        part = turned[:, begin:end]
        known = inside[:, begin:end]
        total = np.where(known, part, 0).sum(axis=1)
        sums[:, month] = np.where(known.all(axis=1) | (given_up & (end > reach)), total, np.nan)
    return sums, given_up[:, None] & (np.array(edges[:-1]) >= reach[:, None])


def _relative_price(
    members: Members, history: History, pair: Ints, launched: Floats, starts: Ints, edges: list[int]
) -> Floats:
    """Price of launches over the median of their subject's listings, by month since launch."""
    prices = history.measures.get("price")
    out = np.full((len(pair), MONTHS), np.nan)
    if prices is None or not len(pair):
        return out
    groups = members.groups
    usual = np.column_stack(
        [groups.median(prices[members.listing, at].astype(np.float64)) for at in range(prices.shape[1])]
    )  # fmt: skip
    with np.errstate(invalid="ignore", divide="ignore"):
        relative = prices[members.listing[pair]] / usual[members.subject[pair]]
    turned = _since_launch(relative, launched, starts)
    for month in range(MONTHS):
        part = turned[:, edges[month] : edges[month + 1]]
        known = ~np.isnan(part)
        many = known.sum(axis=1)
        out[:, month] = np.where(
            many > 0, np.where(known, part, 0).sum(axis=1) / np.maximum(many, 1), np.nan
        )
    return out


def _at_ends(
    history: History, measure: str, page: Ints, launched: Floats, starts: Ints, edges: list[int]
) -> Floats:
    """A measure at the end of each month since launch."""
    values = history.measures.get(measure)
    out = np.full((len(page), MONTHS), np.nan)
    if values is None or not len(page):
        return out
    turned = _since_launch(values[page].astype(np.float64), launched, starts)
    for month in range(MONTHS):
        if edges[month + 1] <= turned.shape[1]:
            out[:, month] = turned[:, edges[month + 1] - 1]
    return out


def weighted_quantiles(values: Floats, weights: Floats, levels: Sequence[float]) -> Floats:
    """Quantiles, (levels,): the next value, none of which is negative, will lie below them with these chances.

    The i-th of n equal ones is the quantile i ÷ (n + 1), for the next one falls into each gap between them, and
    below and above them, alike (Gumbel, Statistics of Extremes, 1958, section 1.2.7): within these, equal
    weights of one give what ``numpy.quantile(…, method="weibull")`` does. Below the lowest it goes down to 0;
    above the highest, by as much again as from the upper quartile to the highest, our choice.
    """
    order = np.argsort(values, kind="stable")
    ordered, own = values[order], weights[order]
    places = np.cumsum(own) / (own.sum() + 1)
    quartile = np.interp(0.75, places, ordered)
    beyond = 2 * ordered[-1] - quartile
    found: Floats = np.interp(
        levels, [0.0, *places.tolist(), 1.0], [0.0, *ordered.tolist(), float(beyond)]
    )
    return found


def newcomers_path(
    paths: LaunchPaths, category: Ints, subject: int, sponsored: Floats | None = None
) -> NewcomersPath:
    """What launches of a subject reached, pooled with those of its category.

    The category's launches, without the subject's, count together as ``POOLED`` launches, each as one at most,
    so that a subject with many launches of its own is told by them. A month that fewer than ``FEWEST`` launches
    are known of is unknown.

    Parameters
    ----------
    paths : LaunchPaths
        Of a market.
    category : int array (subjects,)
        Place of each subject's category, −1 for none.
    subject : int
        Place of the subject.
    sponsored : array (listings,), optional
        1 where a listing is advertised now.
    """
    mine = paths.subject == subject
    place = category[subject]
    near = (category[paths.subject] == place) & ~mine & (place >= 0)
    share = paths.share
    months = share.shape[1]
    quantiles = np.full((len(LEVELS), months), np.nan)
    own, pooled = (np.sum(~np.isnan(share[rows]), axis=0) for rows in (mine, near))
    both = mine | near
    price, reviews, alive = (np.full(months, np.nan) for _ in range(3))
    alive_of = np.zeros(months, dtype=np.int64)
    for month in range(months):
        known = both & ~np.isnan(share[:, month])
        weight = np.where(mine, 1.0, min(1.0, POOLED / max(int(pooled[month]), 1)))[known]
        if known.sum() < FEWEST:
            continue
        quantiles[:, month] = weighted_quantiles(share[known, month], weight, LEVELS)
        alive[month] = float(np.average(paths.alive[known, month], weights=weight))
        alive_of[month] = int(known.sum())
        price[month] = _median(paths.price[known, month], weight)
        reviews[month] = _median(paths.reviews[known, month], weight)
    told = np.nan
    if sponsored is not None:
        flags = sponsored[paths.listing[both]]
        told = float(np.nanmean(flags)) if (~np.isnan(flags)).any() else np.nan
    return NewcomersPath(own, pooled, quantiles, alive, alive_of, price, reviews, told)


def _median(values: Floats, weight: Floats) -> float:
    known = ~np.isnan(values)
    if not known.any():
        return np.nan
    return float(weighted_quantiles(values[known], weight[known], (0.5,))[0])
