"""A whole market read at once: from matrices to one column a figure."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from datetime import date

import numpy as np

from .align import bridge, sum_by_group
from .concentration import Concentration, concentration, weighted_shares
from .demand import Demand, read_demand
from .errors import CoreError
from .feasts import feasts_between
from .headroom import Headroom, read_headroom
from .interest import Interest, agreement, mean_curves
from .periods import Floats, Ints, Period, Timeline
from .pooling import Prior, borrowed_share, category_prior
from .rows import put
from .settings import DEFAULTS, Settings
from .shape import Shape

CHUNK = 4096  # Niches read at once: a few tens of megabytes a thread.
THREADS = 2


@dataclass(frozen=True, slots=True)
class Clicks:
    """Observed shares of clicks after terms, one row an observation.

    term, at, listing: (observations,) indices of term, column of the timeline and listing.
    share: (observations,) fraction of the term's clicks in that period, 0–1.
    brand: (listings,) index of each listing's brand, -1 where unknown.
    reviews: (listings,) latest number of reviews, NaN where unknown.
    """

    term: Ints
    at: Ints
    listing: Ints
    share: Floats
    brand: Ints
    reviews: Floats


@dataclass(frozen=True, slots=True)
class MarketData:
    """One market as arrays; NaN for absent.

    niches: their ids, in the order of every result. term_niche: (terms,) each term's niche.
    searches, clicks, purchases: (terms, timeline.length); the last two None where not known.
    counts: whether searches are counts; else they are relative curves, which have no total.
    niche_category: (niches,) index of each niche's category, -1 for none; None where not known.
    interest: relative curves beside the counts.
    """

    timeline: Timeline
    niches: list[str]
    term_niche: Ints
    searches: Floats
    clicks: Floats | None = None
    purchases: Floats | None = None
    observed: Clicks | None = None
    counts: bool = True
    niche_category: Ints | None = None
    interest: Interest | None = None

    def upto(self, as_of: date) -> MarketData:
        """The same market with nothing later than the last period complete on ``as_of``."""
        timeline = self.timeline.upto(as_of)
        end = timeline.length
        seen = self.observed
        if seen is not None:
            kept = seen.at < end
            seen = Clicks(
                seen.term[kept], seen.at[kept], seen.listing[kept], seen.share[kept],
                seen.brand, seen.reviews,
            )  # fmt: skip

        def cut(matrix: Floats | None) -> Floats | None:
            return None if matrix is None else matrix[:, :end]

        return replace(
            self, timeline=timeline, searches=self.searches[:, :end], clicks=cut(self.clicks),
            purchases=cut(self.purchases), observed=seen,
        )  # fmt: skip


@dataclass(slots=True)
class Workings:
    """All that the figures of one market are made from; arrays are (niches,).

    first_figure: column of each niche's first figure. yoy_feasts: moving feasts that fall in one of
    the two windows a year apart and not in the other. agreement: of counts with relative curves.
    """

    timeline: Timeline
    settings: Settings
    counts: bool
    demand_side: Demand
    first_figure: Ints
    yoy_feasts: list[str]
    agreement: Floats
    searches_52w: Floats
    purchases_52w: Floats
    listings: Concentration
    brands: Concentration
    review_barrier: Floats
    headroom: Headroom | None = None
    figures: dict[str, np.ndarray] = field(default_factory=dict)


def year_total(values: Floats, timeline: Timeline, settings: Settings) -> Floats:
    """Sum of the last 52 weeks (12 months) of each row, gaps bridged; NaN where that cannot be."""
    year = timeline.period.per_year
    if values.shape[1] < year:
        return np.full(len(values), np.nan)
    total: Floats = bridge(values, settings.bridge_periods, year).values[:, -year:].sum(axis=1)
    return total


def _terms_of(data: MarketData, rows: range) -> tuple[Ints, Ints]:
    """Terms of the niches in ``rows`` and their niche's place among them."""
    inside = np.flatnonzero((data.term_niche >= rows.start) & (data.term_niche < rows.stop))
    return inside, data.term_niche[inside] - rows.start


def niche_curves(data: MarketData, measure: Floats, rows: range, settings: Settings) -> Floats:
    """Curves of the niches in ``rows``, (niches, length): the sums over their terms.

    Relative curves cannot be summed; a niche's is the mean of its terms', each over its own mean.
    """
    terms, place = _terms_of(data, rows)
    if not data.counts:
        return mean_curves(measure[terms], place, len(rows))
    if len(terms) == len(rows) and np.array_equal(place, np.arange(len(rows))):
        return measure[terms]
    return sum_by_group(measure[terms], place, len(rows), settings.bridge_periods)


def _read_clicks(
    data: MarketData, settings: Settings
) -> tuple[Concentration, Concentration, Floats]:
    """Concentration by listing and by brand, and the median reviews of the top ten listings."""
    n = len(data.niches)
    seen = data.observed
    nobody = concentration(np.empty(0, np.int64), np.empty(0), n)
    if seen is None or not len(seen.term):
        return nobody, nobody, np.full(n, np.nan)
    # The latest weeks that hold any observation: clicks may come as occasional snapshots.
    recent = seen.at > seen.at.max() - data.timeline.period.span(settings.click_weeks)
    term, at, listing, share = (a[recent] for a in (seen.term, seen.at, seen.listing, seen.share))
    weight = _click_weight(data, term, at)
    niche = data.term_niche[term]
    # A part is a term in a period; its clicks count once, however many listings shared them.
    _parts, first = np.unique(term * data.timeline.length + at, return_index=True)
    total: np.ndarray = np.bincount(niche[first], weights=weight[first], minlength=n)
    owner, holder, held = weighted_shares(niche, listing, share, weight, total)
    by_listing = concentration(owner, held, n, breadth=settings.breadth_share)

    brand = seen.brand[holder]
    named = brand >= 0
    # A listing without a brand is its own: lumping the unnamed together would invent a giant.
    marks = np.where(named, brand, seen.brand.max(initial=-1) + 1 + holder)
    b_owner, _, b_held = weighted_shares(owner, marks, held, np.ones(len(held)), np.ones(n))
    by_brand = concentration(b_owner, b_held, n, breadth=settings.breadth_share)
    if not named.any():
        by_brand = nobody
    return by_listing, by_brand, _top_reviews(owner, held, seen.reviews[holder], n)


def _click_weight(data: MarketData, term: Ints, at: Ints) -> Floats:
    """Clicks of a term in a period; its searches where clicks are unknown, else one."""
    searches = data.searches[term, at]
    clicks = searches if data.clicks is None else data.clicks[term, at]
    weight = np.where(np.isnan(clicks), searches, clicks)
    return np.where(np.isnan(weight), 1.0, weight)


def _top_reviews(owner: Ints, held: Floats, reviews: Floats, n: int, top: int = 10) -> Floats:
    order = np.lexsort((-held, owner))
    owner, reviews = owner[order], reviews[order]
    place = np.arange(len(owner)) - np.searchsorted(owner, owner)
    table = np.full((n, top), np.nan)
    inside = place < top
    table[owner[inside], place[inside]] = reviews[inside]
    out = np.full(n, np.nan)
    known = ~np.isnan(table).all(axis=1)
    out[known] = np.nanmedian(table[known], axis=1)
    return out


def read_market(
    data: MarketData,
    settings: Settings = DEFAULTS,
    *,
    as_of: date | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> dict[str, np.ndarray]:
    """Every figure of the registry for every niche of a market: key → (niches, …) array.

    Computed up to the last period complete on ``as_of`` (default: all there is). Floats hold NaN
    and objects None for unknown; a rank of 0 is none. ``progress`` is told (done, all) niches.
    Raises CoreError when there are no niches or nothing is complete by ``as_of``.
    """
    from .figures import FIGURES  # The registry's functions read Workings, so it comes last.

    if not data.niches:
        raise CoreError("There are no niches to read: term_weeks names no term.")
    if as_of is not None:
        data = data.upto(as_of)
    n = len(data.niches)
    timeline = data.timeline
    reader = _Reader(data, settings, n)
    reader.read_all(progress)
    reader.borrow()
    listings, brands, reviews = _read_clicks(data, settings)
    work = Workings(
        timeline, settings, data.counts, reader.demand, reader.first, _yoy_feasts(timeline),
        _agreement(data, settings), reader.searches, reader.purchases, listings, brands, reviews,
    )  # fmt: skip
    for figure in FIGURES:
        if not figure.after_headroom:
            work.figures[figure.key] = figure.compute(work)
    work.headroom = read_headroom(work.figures, settings)
    for figure in FIGURES:
        if figure.after_headroom:
            work.figures[figure.key] = figure.compute(work)
    return work.figures


class _Reader:
    """Reads the demand side of a market in chunks, on a few threads."""

    def __init__(self, data: MarketData, settings: Settings, n: int) -> None:
        self.data, self.settings, self.n = data, settings, n
        self.demand = Demand.empty(n, data.timeline.period.per_year)
        self.searches, self.purchases = np.full(n, np.nan), np.full(n, np.nan)
        self.first = np.zeros(n, dtype=np.int64)

    def read_all(self, progress: Callable[[int, int], None] | None) -> None:
        done = 0
        with ThreadPoolExecutor(THREADS) as pool:
            for size in pool.map(self._read, _chunks(self.n)):
                done += size
                if progress:
                    progress(done, self.n)

    def _read(self, rows: range) -> int:
        data, timeline, settings = self.data, self.data.timeline, self.settings
        here = slice(rows.start, rows.stop)
        curves = niche_curves(data, data.searches, rows, settings)
        put(self.demand, read_demand(curves, timeline, settings, counts=data.counts), here)
        self.first[here] = (~np.isnan(curves)).argmax(axis=1)
        if data.counts:
            self.searches[here] = year_total(curves, timeline, settings)
        if data.purchases is not None:
            bought = niche_curves(data, data.purchases, rows, settings)
            self.purchases[here] = year_total(bought, timeline, settings)
        return len(rows)

    def borrow(self) -> None:
        """Read again, with their categories' profiles, the niches that are too noisy by themselves."""
        category, demand = self.data.niche_category, self.demand
        if category is None or not self.data.counts:
            return
        able = demand.claimed & demand.shape.recurring
        prior = category_prior(demand.factors, demand.noise, able, category, self.settings)
        noisy = np.flatnonzero(
            (borrowed_share(demand.noise, prior) >= self.settings.pool_least)
            & (demand.shape.shape != Shape.FAD)
        )
        for start in range(0, len(noisy), CHUNK):
            rows = noisy[start : start + CHUNK]
            mine = np.isin(self.data.term_niche, rows)
            part = replace(
                self.data, searches=self.data.searches[mine],
                term_niche=np.searchsorted(rows, self.data.term_niche[mine]),
            )  # fmt: skip
            curves = niche_curves(part, part.searches, range(len(rows)), self.settings)
            lent = Prior(prior.factors[rows], prior.variance[rows])
            put(demand, read_demand(curves, part.timeline, self.settings, prior=lent), rows)


def _yoy_feasts(timeline: Timeline) -> list[str]:
    """Feasts that a 13-week comparison across a year sees once; months are too coarse to say."""
    length, year = timeline.length, timeline.period.per_year
    window = timeline.period.span(13)
    if timeline.period is not Period.WEEK or length < year + window:
        return []
    early = slice(length - window - year, length - year)
    return feasts_between(timeline, slice(length - window, length), early)


def _agreement(data: MarketData, settings: Settings) -> Floats:
    """Rank correlation of counts and relative curve of each niche that has both."""
    out = np.full(len(data.niches), np.nan)
    if data.interest is None or not data.counts:
        return out
    rows, place = np.unique(data.interest.niche, return_inverse=True)
    relative = mean_curves(data.interest.index, place, len(rows))
    mine = np.isin(data.term_niche, rows)
    owner = np.searchsorted(rows, data.term_niche[mine])
    counts = sum_by_group(data.searches[mine], owner, len(rows), settings.bridge_periods)
    for row, ours, theirs in zip(rows, counts, relative, strict=True):
        out[row] = agreement(ours, data.timeline, theirs, data.interest.timeline)
    return out


def _chunks(n: int) -> Iterator[range]:
    for start in range(0, n, CHUNK):
        yield range(start, min(start + CHUNK, n))


def running_period(searches: Floats, timeline: Timeline, *, fall: float = 0.7) -> bool:
    """Whether the last column looks like a period that was still running when the data were taken.

    Nothing in a file says so, but a market does not lose 30% of its searches in one period: the
    last is taken as running when the median term fell to under ``fall`` of its period before, and
    under ``fall`` of what it did a year earlier at the same time. Needs 20 terms with 20 searches
    or more; with fewer a season's own end could look the same, and the answer is no.
    """
    year = timeline.period.per_year
    if timeline.length < 3:
        return False
    last, before = searches[:, -1], searches[:, -2]
    usable = ~np.isnan(last) & (before >= 20)
    if usable.sum() < 20:
        return False
    now = float(np.median(last[usable] / before[usable]))
    if timeline.length > year + 1:
        then_last, then_before = searches[:, -1 - year], searches[:, -2 - year]
        had = usable & (then_before >= 20) & ~np.isnan(then_last)
        if had.sum() >= 20:
            usual = float(np.median(then_last[had] / then_before[had]))
            return now < fall and now < fall * usual
    return now < fall
