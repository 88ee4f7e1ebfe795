"""A whole market read at once: from matrices to one column a figure."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import date

import numpy as np

from driftfield.core.base import (
    DEFAULTS,
    Bools,
    CoreError,
    Floats,
    Ints,
    Period,
    Settings,
    Timeline,
    assign_rows,
    finite,
    group_count,
    group_mean,
)
from driftfield.core.curves import (
    FEAST_NAMES,
    CurveReadings,
    Lag,
    Prior,
    SeasonPlan,
    Shape,
    agreement,
    borrowed_share,
    category_prior,
    feasts_between,
    mean_curves,
    read_curves,
    read_lag,
    sum_by_group,
)
from driftfield.core.ranking import DEFAULT_LENS, Lens, normalise, rank_bands, rank_niches
from driftfield.core.supply import (
    Competition,
    PriceAnswer,
    at_period,
    read_competition,
    read_price_answer,
)

from .data import MarketData, subject_curves, totals, year_total
from .figures import figures_of
from .figures.figure import Stage
from .kinds import TERM
from .phrases import likely_misspelt
from .planning import plan_subjects
from .workings import Rule, Workings

CHUNK = 4096  # Subjects read at once: a few tens of megabytes a thread.
THREADS = 2


def compute_figures(
    data: MarketData,
    settings: Settings = DEFAULTS,
    *,
    lens: Lens = DEFAULT_LENS,
    rules: Sequence[Rule] = (),
    as_of: date | None = None,
    planning: date | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> dict[str, np.ndarray]:
    """Every figure that holds for the market's kind: key → (subjects, …) array.

    Computed up to the last period complete on ``as_of`` (default: all there is); dates are planned
    from ``planning`` (default: the as-of). Floats hold NaN
    and objects None for unknown. ``rules`` are the signals to raise,
    in the order of the figure “signals”; without any there is no such figure. ``progress`` is told
    (done, all) subjects. Raises CoreError when there is nothing to read, or nothing is complete by
    ``as_of``.
    """
    return run_market(
        data, settings, lens=lens, rules=rules, as_of=as_of, planning=planning, progress=progress
    ).figures


def run_market(
    data: MarketData,
    settings: Settings = DEFAULTS,
    *,
    lens: Lens = DEFAULT_LENS,
    rules: Sequence[Rule] = (),
    population: Bools | None = None,
    as_of: date | None = None,
    planning: date | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> Workings:
    """``compute_figures`` with all that its figures were made from.

    ``population`` is (subjects,): those that are ranked, among themselves; by default all.
    """
    if not data.subjects:
        raise CoreError(f"There are no {data.kind.plural} to read: term_weeks names no term.")
    if as_of is not None:
        data = data.upto(as_of)
    n = len(data.subjects)
    timeline = data.timeline
    reader = _Reader(data, settings, n)
    reader.read_all(progress)
    reader.borrow()
    supply = read_competition(
        data.observed, data.listings, data.searches, data.clicks, data.term_subject,
        data.category, timeline, n, settings,
    )  # fmt: skip
    work = Workings(
        data=data, settings=settings, lens=lens, curves=reader.curves,
        plan=_plan(reader.curves, timeline, settings, planning), first_figure=reader.first,
        yoy_feasts=_yoy_feasts(timeline), agreement=_agreement(data, settings),
        searches_52w=reader.searches, clicks_52w=reader.clicks, purchases_52w=reader.purchases,
        searches_13w=reader.quarter, branded_share=_marked_share(data, data.branded),
        protected_share=_marked_share(data, data.protected), owned_share=_marked_share(data, _owned(data)),
        misspelt=_misspelt(data, reader.searches), lag=reader.lag,
        price_answer=reader.answer(supply), supply=supply, rules=rules,
    )  # fmt: skip
    figures = figures_of(data.kind)

    def compute(stage: Stage) -> None:
        for figure in figures:
            if figure.stage is stage:
                work.figures[figure.key] = finite(figure.compute(work))

    compute(Stage.READ)
    work.normalised = normalise(work.figures, population)
    work.ranking = rank_niches(work.normalised, lens)
    work.bands = rank_bands(work.normalised, work.ranking, lens, settings)
    compute(Stage.RANKED)
    if rules:
        compute(Stage.SIGNALS)
    return work


def _plan(
    curves: CurveReadings, timeline: Timeline, settings: Settings, planning: date | None
) -> SeasonPlan:
    feasts = np.array([*FEAST_NAMES, None], dtype=object)[curves.feast]
    return plan_subjects(
        curves.shape.shape, feasts, curves.factors, curves.season.starts, timeline.period, settings,
        as_of=timeline.end, planning=planning,
    )  # fmt: skip


def _owned(data: MarketData) -> Floats | None:
    """Terms that hold a brand's name or a protected word, (terms,), NaN where neither is known."""
    if data.branded is None or data.protected is None:
        return data.protected if data.branded is None else data.branded
    return np.fmax(data.branded, data.protected)


def _misspelt(data: MarketData, searches: Floats) -> Ints | None:
    """Of terms that were counted, the place of the one that each is likely a mistyping of, −1 for none."""
    if data.kind != TERM or not data.counts:
        return None
    found = likely_misspelt(data.subjects, searches, data.niche)
    return np.array([-1 if place is None else place for place in found], dtype=np.int64)


def _marked_share(data: MarketData, marks: Floats | None) -> Floats:
    """Share of each niche's searches of a year whose terms are marked with 1, (niches,).

    A term of which it is not known counts as not marked; NaN where it is known of none.
    """
    n = len(data.subjects)
    if marks is None or not data.counts:
        return np.full(n, np.nan)
    year = np.nan_to_num(data.searches[:, -data.timeline.period.per_year :]).sum(axis=1)
    share = group_mean(data.term_subject, np.nan_to_num(marks), n, year)
    return np.where(group_count(data.term_subject, marks, n) > 0, share, np.nan)


class _Reader:
    """Reads the demand side of a market in chunks, on a few threads."""

    def __init__(self, data: MarketData, settings: Settings, n: int) -> None:
        self.data, self.settings, self.n = data, settings, n
        self.curves = CurveReadings.empty(n, data.timeline.period.per_year)
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
        curves = subject_curves(data, data.searches, rows, settings)
        prior = None if data.prior is None else data.prior.rows(np.arange(rows.start, rows.stop))
        assign_rows(
            self.curves,
            read_curves(curves, timeline, settings, counts=data.counts, prior=prior),
            here,
        )
        self.first[here] = (~np.isnan(curves)).argmax(axis=1)
        if data.counts:
            sums = totals(curves, timeline, settings, 52, 13)
            self.searches[here], self.quarter[here] = sums
        if data.clicks is not None:
            clicked = subject_curves(data, data.clicks, rows, settings)
            self.clicks[here] = year_total(clicked, timeline, settings)
        if data.purchases is not None:
            bought = subject_curves(data, data.purchases, rows, settings)
            self.purchases[here] = year_total(bought, timeline, settings)
            assign_rows(
                self.lag,
                read_lag(curves, bought, self.curves.claimed[here], timeline, settings),
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
        category, demand = self.data.category, self.curves
        if category is None or not self.data.counts or self.data.prior is not None:
            return
        able = demand.claimed & demand.shape.recurring
        prior = category_prior(demand.factors, demand.noise, able, category, self.settings)
        noisy = np.flatnonzero(
            (borrowed_share(demand.noise, prior) >= self.settings.pool_least)
            & (demand.shape.shape != Shape.FAD)
        )
        for start in range(0, len(noisy), CHUNK):
            rows = noisy[start : start + CHUNK]
            mine = np.isin(self.data.term_subject, rows)
            part = replace(
                self.data, searches=self.data.searches[mine],
                term_subject=np.searchsorted(rows, self.data.term_subject[mine]),
            )  # fmt: skip
            curves = subject_curves(part, part.searches, range(len(rows)), self.settings)
            lent = Prior(prior.factors[rows], prior.variance[rows])
            assign_rows(demand, read_curves(curves, part.timeline, self.settings, prior=lent), rows)


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
    out = np.full(len(data.subjects), np.nan)
    if data.interest is None or not data.counts:
        return out
    rows, place = np.unique(data.interest.niche, return_inverse=True)
    relative = mean_curves(data.interest.index, place, len(rows))
    mine = np.isin(data.term_subject, rows)
    owner = np.searchsorted(rows, data.term_subject[mine])
    counts = sum_by_group(data.searches[mine], owner, len(rows), settings.bridge_periods)
    for row, ours, theirs in zip(rows, counts, relative, strict=True):
        out[row] = agreement(ours, data.timeline, theirs, data.interest.timeline)
    return out


def _chunks(n: int) -> Iterator[range]:
    for start in range(0, n, CHUNK):
        yield range(start, min(start + CHUNK, n))
