"""What a plan takes from the market: what a niche will sell week by week, what launches reached, its season."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import CoreError, Floats, Ints, Settings, Timeline
from driftfield.core.curves import curve_forecast
from driftfield.core.economics import Outlook, ShareDraws
from driftfield.core.supply import (
    LEVELS,
    MONTHS,
    LaunchPaths,
    NewcomersPath,
    launch_paths,
    newcomers_path,
    window_sum,
)

from .almanac import ShownSeason, Window, almanac_rows
from .planning import SeasonInputs
from .workings import Workings

WEEKS = 156  # Weeks that an outlook reaches.
LONGEST_BACK, LONGEST_AHEAD = 728, 730  # Days before and after the figures' end of an order's day.


def outlook_of(
    searches: Floats,
    timeline: Timeline,
    settings: Settings,
    units_a_search: float,
    first: date,
    profile: Floats | None = None,
) -> Outlook:
    """What a niche sells a week from the Monday of a day on.

    Parameters
    ----------
    searches : array (length,)
        Its curve, NaN where absent.
    units_a_search : float
        Units of its listings over its searches, in the last 52 weeks. That buyers go on to buy as often
        is assumed.
    first : date
        A day of the first week.
    profile : array (slots,), optional
        The season of a niche whose season was borrowed.

    Returns
    -------
    Outlook
        Weeks before the figures end are as they were, gaps filled straight; beyond the year that the forecast
        holds each is as a year before, its error growing with the root of time. Raises CoreError where nothing
        can be foreseen.
    """
    if not units_a_search > 0:
        raise CoreError(
            "What this niche sells is not known: that takes units in listing_weeks, and clicks. Without them "
            "no quantity can be worked out."
        )
    if not -LONGEST_BACK <= (first - timeline.end).days <= LONGEST_AHEAD:
        raise CoreError(
            f"ordered: nothing is known of {first}; the figures end on {timeline.end}. Choose a day from two "
            "years before that to two years after."
        )
    made = curve_forecast(searches, timeline, settings, profile)
    if made is None or np.isnan(made.values[0]).any():
        raise CoreError(
            "Nothing can be foreseen of this niche: that takes two years of searches, and a curve that is "
            "neither a fad, nor unsettled, nor over."
        )
    values, error = made.values[0], made.log_error[0]
    told = np.flatnonzero(~np.isnan(searches))
    past = np.interp(np.arange(timeline.length), told, searches[told])
    year, period = len(values), timeline.period
    monday = first - timedelta(days=first.weekday())
    units, errors = np.empty(WEEKS), np.empty(WEEKS)
    known = WEEKS
    for week in range(WEEKS):
        middle = monday + timedelta(days=7 * week + 3)
        number = period.number(middle) - timeline.first_number
        at = max(number - timeline.length, 0)
        if at >= year:
            known = min(known, week)
        begin, end = (period.start(period.number(middle) + step) for step in (0, 1))
        searched = values[at % year]
        errors[week] = error[min(at, year - 1)] * np.sqrt(max((at + 1) / year, 1))
        if 0 <= number < timeline.length:
            searched, errors[week] = past[number], 0.0
        units[week] = searched * units_a_search * 7 / (end - begin).days
    return Outlook(monday, units, errors, known)


@dataclass(frozen=True, slots=True)
class PastUnits:
    """What a niche sold.

    edges: (length + 1,) ordinals of the first days of its periods; units: (length,), NaN for absent.
    """

    edges: Ints
    units: Floats

    @classmethod
    def of_searches(cls, searches: Floats, timeline: Timeline, a_search: float) -> PastUnits:
        """From searches and units a search, as ``outlook_of`` takes them."""
        first, period = timeline.first_number, timeline.period
        days = [
            period.start(number).toordinal() for number in range(first, first + timeline.length + 1)
        ]
        return cls(
            np.array(days, dtype=np.int64), np.asarray(searches * a_search, dtype=np.float64)
        )

    def between(self, begin: date, end: date) -> float:
        """From a day on until before another, each day of a period alike; NaN for not all known."""
        days = (begin.toordinal(), end.toordinal())
        if days[0] < self.edges[0] or days[1] > self.edges[-1] or days[0] >= days[1]:
            return np.nan
        inside = (self.edges[1:] > days[0]) & (self.edges[:-1] < days[1])
        if np.isnan(self.units[inside]).any():
            return np.nan
        sums = np.append(0.0, np.nancumsum(self.units))
        low, high = np.interp(days, self.edges, sums).tolist()
        return float(high - low)


@dataclass(frozen=True, slots=True)
class NicheOutlook:
    """What a plan takes from the market of one niche.

    newcomers: None where launches are not known. inputs: its seasons, as they are planned. price, price_low:
    median, and lowest median price of the last 52 weeks; price_error: standard deviation of the logarithm of
    the median price over that year. NaN for unknown.
    """

    outlook: Outlook
    newcomers: NewcomersPath | None
    inputs: SeasonInputs
    price: float
    price_low: float
    price_error: float
    returned: float
    kg: float
    past: PastUnits

    def season(self, ordered: date, lead_days: int) -> ShownSeason | None:
        """The first season of which goods ordered on a day still meet half; None where there is none."""
        row = almanac_rows(
            self.inputs, np.array([lead_days]), ordered, Window.from_month_of(ordered)
        )[0]
        found = row.next(ordered)
        return None if found is None else found.season


def share_of_newcomers(path: NewcomersPath) -> ShareDraws:
    """What a newcomer's share may be. Raises CoreError where too few launches are known."""
    known = path.known
    if not known.any():
        raise CoreError(
            "What newcomers reach here is not known: too few launches of this niche and its category can "
            "be followed. Name a listing to be matched, or a share, under “units”."
        )
    # Up to the last month that is known; a gap before it is filled straight.
    last = int(np.flatnonzero(known).max())
    months = np.arange(last + 1)
    told = months[known[: last + 1]]
    shares = [np.interp(months, told, row[told]) for row in path.quantiles]
    return ShareDraws(np.array(LEVELS), np.array(shares))


def niche_outlook(work: Workings, subject: int, ordered: date) -> NicheOutlook:
    """What a market that was read tells of one niche, for an order on a day; see ``outlook_of``."""
    data, figures = work.data, work.figures
    rows = np.flatnonzero(data.term_subject == subject)
    known = ~np.isnan(data.searches[rows])
    searches = np.where(known, data.searches[rows], 0).sum(axis=0, dtype=np.float64)
    searches = np.where(known.any(axis=0), searches, np.nan)
    a_year = float(work.searches_52w[subject])
    units = float(figures["sales.units_52w"][subject])
    borrowed = bool(work.curves.borrowed[subject] > 0)
    a_search = units / a_year if a_year > 0 else np.nan
    outlook = outlook_of(
        searches, data.timeline, work.settings, a_search, ordered,
        work.curves.factors[subject] if borrowed else None,
    )  # fmt: skip
    newcomers = None
    if data.listings is not None and data.category is not None:
        clicked, day = work.supply.clicked, data.timeline.end.toordinal()
        paths = launch_paths(clicked, data.listings, day)
        if paths is not None:
            newcomers = newcomers_path(
                paths, np.asarray(data.category), subject, data.listings.sponsored
            )
    low, spread = _prices(work, subject)
    feasts = SeasonInputs.of_curves(work.curves, data.timeline)
    one = slice(subject, subject + 1)
    inputs = SeasonInputs(
        feasts.shape[one], feasts.feast[one], feasts.factors[one], feasts.starts[one], feasts.period,
        feasts.as_of,
    )  # fmt: skip
    return NicheOutlook(
        outlook, newcomers, inputs, price=float(figures["sales.price_median"][subject]), price_low=low,
        price_error=spread, returned=float(figures["barriers.return_rate"][subject]),
        kg=float(figures["barriers.weight_g"][subject]) / 1000,
        past=PastUnits.of_searches(searches, data.timeline, a_search),
    )  # fmt: skip


def _prices(work: Workings, subject: int) -> tuple[float, float]:
    """The lowest median price of the last 52 weeks, and the deviation of its logarithm; NaN for unknown."""
    listings = work.data.listings
    window = (
        None
        if listings is None or listings.history is None
        else listings.history.window("price", 52)
    )
    if window is None:
        return np.nan, np.nan
    clicked = work.supply.clicked
    rows = clicked.listing[(clicked.subject == subject) & clicked.now]
    prices = window[rows].astype(np.float64)
    some = ~np.isnan(prices).all(axis=0)
    if not some.any():
        return np.nan, np.nan
    medians = np.nanmedian(prices[:, some], axis=0)
    return float(medians.min()), float(np.log(medians).std())


def listing_share(work: Workings, subject: int, listing: int) -> float:
    """The share of a niche's units of the last 52 weeks that one of its listings has; NaN for unknown."""
    clicked, listings = work.supply.clicked, work.data.listings
    pair = np.flatnonzero((clicked.subject == subject) & (clicked.listing == listing))
    if listings is None or not pair.size:
        return np.nan
    sold = window_sum(listings, "units", 52)[listing] * clicked.portion[pair[0]]
    whole = float(work.figures["sales.units_52w"][subject])
    return float(sold / whole) if whole > 0 else np.nan


_KEPT = ("share", "alive", "price", "reviews")
WIDTH = len(_KEPT) * MONTHS + 1


def packed_launches(work: Workings) -> list[np.ndarray] | None:
    """Launches of each niche one after the other, (launches × WIDTH,) float32 each, to be stored.

    Of each launch its share, whether it was alive, its price and its reviews by month, and whether it is
    advertised. None where launches are not known.
    """
    data = work.data
    if data.listings is None:
        return None
    paths = launch_paths(work.supply.clicked, data.listings, data.timeline.end.toordinal())
    if paths is None:
        return None
    sponsored = data.listings.sponsored[paths.listing][:, None]
    rows = np.hstack([*(getattr(paths, name) for name in _KEPT), sponsored]).astype(np.float32)
    order = np.argsort(paths.subject, kind="stable")
    ends = np.searchsorted(paths.subject[order], np.arange(1, work.count))
    return [part.ravel() for part in np.split(rows[order], ends)]


def path_from_packed(
    packed: Sequence[Sequence[float] | None], category: Ints, subject: int
) -> NewcomersPath:
    """What launches of a niche reached, from ``packed_launches`` of all niches of a market."""
    near = np.flatnonzero((category == category[subject]) & (category >= 0))
    places = near if subject in near else np.append(near, subject)
    owners, rows = [], []
    for place in places.tolist():
        own = np.asarray(packed[place] or [], dtype=np.float64).reshape(-1, WIDTH)
        owners.append(np.full(len(own), place))
        rows.append(own)
    owner, whole = np.concatenate(owners), np.concatenate(rows)
    parts = np.split(whole[:, :-1], len(_KEPT), axis=1)
    many = np.arange(len(whole))
    paths = LaunchPaths(owner, many, *parts)
    return newcomers_path(paths, category, subject, whole[:, -1])
