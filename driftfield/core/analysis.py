"""A whole market read at once: from matrices to one column a figure."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from datetime import date

import numpy as np

from .align import bridge, sum_by_group
from .competition import Competition, read_competition
from .demand import Demand, read_demand
from .errors import CoreError
from .feasts import feasts_between
from .finite import finite
from .groups import group_count, group_mean
from .headroom import Bands, Normalised, Ranking, normalise, rank_bands, rank_niches
from .interest import Interest, agreement, mean_curves
from .lens import DEFAULT_LENS, Lens
from .listings import Listings
from .members import Clicks
from .periods import Bools, Floats, Ints, Period, Timeline
from .pooling import Prior, borrowed_share, category_prior
from .price_answer import PriceAnswer, at_period, read_price_answer
from .purchase_lag import Lag, read_lag
from .rows import put
from .settings import DEFAULTS, Settings
from .shape import Shape

CHUNK = 4096  # Niches read at once: a few tens of megabytes a thread.
THREADS = 2


@dataclass(frozen=True, slots=True)
class MarketData:
    """One market as arrays; NaN for absent.

    niches: their ids, in the order of every result. term_niche: (terms,) each term's niche.
    searches, clicks, purchases: (terms, timeline.length); the last two None where not known.
    counts: whether searches are counts; else they are relative curves, which have no total.
    branded: (terms,) 1 where a term holds a brand's name, 0 where not, NaN for unknown.
    observed: shares of clicks, with listings numbered as in ``listings``, what is known of them.
    niche_category: (niches,) index of each niche's category, -1 for none; None where not known.
    interest: relative curves beside the counts.
    """

    timeline: Timeline
    niches: list[str]
    term_niche: Ints
    searches: Floats
    clicks: Floats | None = None
    purchases: Floats | None = None
    branded: Floats | None = None
    observed: Clicks | None = None
    listings: Listings | None = None
    counts: bool = True
    niche_category: Ints | None = None
    interest: Interest | None = None

    def upto(self, as_of: date) -> MarketData:
        """The same market with nothing later than the last period complete on ``as_of``."""
        timeline = self.timeline.upto(as_of)
        end = timeline.length
        seen = self.observed

        def cut(matrix: Floats | None) -> Floats | None:
            return None if matrix is None else matrix[:, :end]

        return replace(
            self, timeline=timeline, searches=self.searches[:, :end], clicks=cut(self.clicks),
            purchases=cut(self.purchases),
            observed=None if seen is None else seen.of(seen.at < end),
            listings=None if self.listings is None else self.listings.upto(timeline.end),
        )  # fmt: skip


@dataclass(slots=True)
class Workings:
    """All that the figures of one market are made from; arrays are (niches,).

    first_figure: column of each niche's first figure. yoy_feasts: moving feasts that fall in one of
    the two windows a year apart and not in the other. agreement: of counts with relative curves.
    branded_share: share of the searches whose terms hold a brand's name.
    """

    timeline: Timeline
    settings: Settings
    lens: Lens
    counts: bool
    demand_side: Demand
    first_figure: Ints
    yoy_feasts: list[str]
    agreement: Floats
    searches_52w: Floats
    clicks_52w: Floats
    purchases_52w: Floats
    searches_13w: Floats
    branded_share: Floats
    lag: Lag
    price_answer: PriceAnswer
    supply: Competition
    listings: Listings | None
    normalised: Normalised | None = None
    ranking: Ranking | None = None
    bands: Bands | None = None
    figures: dict[str, np.ndarray] = field(default_factory=dict)


def year_total(values: Floats, timeline: Timeline, settings: Settings) -> Floats:
    """Sum of the last 52 weeks (12 months) of each row, gaps bridged; NaN where that cannot be."""
    return _totals(values, timeline, settings, 52)[0]


def _totals(
    values: Floats, timeline: Timeline, settings: Settings, *weeks: int
) -> tuple[Floats, ...]:
    """Sums of the last so many weeks of each row, gaps bridged; NaN where that cannot be."""
    bridged = bridge(values, settings.bridge_periods, timeline.period.per_year).values
    spans = [timeline.period.span(w) for w in weeks]
    unknown = np.full(len(values), np.nan)
    return tuple(
        bridged[:, -span:].sum(axis=1) if span <= values.shape[1] else unknown for span in spans
    )


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


def read_market(
    data: MarketData,
    settings: Settings = DEFAULTS,
    *,
    lens: Lens = DEFAULT_LENS,
    as_of: date | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> dict[str, np.ndarray]:
    """Every figure of the registry for every niche of a market: key → (niches, …) array.

    Computed up to the last period complete on ``as_of`` (default: all there is). Floats hold NaN
    and objects None for unknown; a rank of 0 is none. ``progress`` is told (done, all) niches.
    Raises CoreError when there are no niches or nothing is complete by ``as_of``.
    """
    return work_through(data, settings, lens=lens, as_of=as_of, progress=progress).figures


def work_through(
    data: MarketData,
    settings: Settings = DEFAULTS,
    *,
    lens: Lens = DEFAULT_LENS,
    population: Bools | None = None,
    as_of: date | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> Workings:
    """``read_market`` with all that its figures were made from.

    ``population`` is (niches,): the niches that are ranked, among themselves; by default all.
    """
    from .figures import FIGURES, Stage  # The registry's functions read Workings, so it comes last.

    if not data.niches:
        raise CoreError("There are no niches to read: term_weeks names no term.")
    if as_of is not None:
        data = data.upto(as_of)
    n = len(data.niches)
    timeline = data.timeline
    reader = _Reader(data, settings, n)
    reader.read_all(progress)
    reader.borrow()
    supply = read_competition(
        data.observed, data.listings, data.searches, data.clicks, data.term_niche,
        data.niche_category, timeline, n, settings,
    )  # fmt: skip
    work = Workings(
        timeline, settings, lens, data.counts, reader.demand, reader.first, _yoy_feasts(timeline),
        _agreement(data, settings), reader.searches, reader.clicks, reader.purchases,
        reader.quarter, _branded_share(data), reader.lag, reader.answer(supply), supply, data.listings,
    )  # fmt: skip

    def compute(stage: Stage) -> None:
        for figure in FIGURES:
            if figure.stage is stage:
                work.figures[figure.key] = finite(figure.compute(work))

    compute(Stage.READ)
    work.normalised = normalise(work.figures, population)
    work.ranking = rank_niches(work.normalised, lens)
    work.bands = rank_bands(work.normalised, work.ranking, lens, settings)
    compute(Stage.RANKED)
    compute(Stage.SIGNALS)
    return work


def _branded_share(data: MarketData) -> Floats:
    """Share of each niche's searches of a year whose terms hold a brand's name, (niches,).

    A term of which it is not known counts as without; NaN where it is known of none.
    """
    n = len(data.niches)
    if data.branded is None or not data.counts:
        return np.full(n, np.nan)
    year = np.nan_to_num(data.searches[:, -data.timeline.period.per_year :]).sum(axis=1)
    share = group_mean(data.term_niche, np.nan_to_num(data.branded), n, year)
    return np.where(group_count(data.term_niche, data.branded, n) > 0, share, np.nan)


class _Reader:
    """Reads the demand side of a market in chunks, on a few threads."""

    def __init__(self, data: MarketData, settings: Settings, n: int) -> None:
        self.data, self.settings, self.n = data, settings, n
        self.demand = Demand.empty(n, data.timeline.period.per_year)
        self.searches, self.quarter, self.clicks, self.purchases = np.full((4, n), np.nan)
        self.first = np.zeros(n, dtype=np.int64)
        self.lag = Lag.unknown(n)
        history = None if data.listings is None else data.listings.history
        # Searches and purchases in the periods of the listings' prices.
        wanted = data.purchases is not None and history is not None
        self.prices = history.timeline if wanted and history is not None else None
        length = self.prices.length if self.prices else 0
        self.looked, self.bought = np.full((n, length), np.nan), np.full((n, length), np.nan)

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
            sums = _totals(curves, timeline, settings, 52, 13)
            self.searches[here], self.quarter[here] = sums
        if data.clicks is not None:
            clicked = niche_curves(data, data.clicks, rows, settings)
            self.clicks[here] = year_total(clicked, timeline, settings)
        if data.purchases is not None:
            bought = niche_curves(data, data.purchases, rows, settings)
            self.purchases[here] = year_total(bought, timeline, settings)
            put(
                self.lag,
                read_lag(curves, bought, self.demand.claimed[here], timeline, settings),
                here,
            )
            if self.prices is not None:
                self.looked[here] = at_period(curves, timeline, self.prices)
                self.bought[here] = at_period(bought, timeline, self.prices)
        return len(rows)

    def answer(self, supply: Competition) -> PriceAnswer:
        """Whether the purchase rate rises only when the price falls."""
        if self.prices is None or supply.history is None:
            return PriceAnswer.unknown(self.n)
        return read_price_answer(
            self.looked, self.bought, supply.members, supply.history, self.settings
        )

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
