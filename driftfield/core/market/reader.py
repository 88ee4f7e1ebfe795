"""The demand side of a market, read in chunks: curves, sums of a year, and what purchases follow."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import Floats, Settings, Timeline, assign_rows
from driftfield.core.curves import (
    CurveReadings,
    Lag,
    Prior,
    SeasonSums,
    Shape,
    borrowed_share,
    category_prior,
    read_curves,
    read_lag,
)
from driftfield.core.supply import Competition, PriceAnswer, at_period, read_price_answer

from .data import MarketData, subject_curves, totals, year_total
from .kinds import BY_CLICKS

SETTLES = timedelta(weeks=13)  # What is younger may still be counted.
CHUNK = 4096  # Subjects read at once: a few tens of megabytes a thread.
THREADS = 2


class DemandReader:
    """Reads the demand side of a market in chunks, on a few threads."""

    def __init__(
        self, data: MarketData, settings: Settings, n: int, threads: int = THREADS
    ) -> None:
        self.data, self.settings, self.n, self.threads = data, settings, n, threads
        self.curves = CurveReadings.empty(n, data.timeline.period.per_year)
        self.searches, self.quarter, self.clicks, self.purchases = np.full((4, n), np.nan)
        self.impressions, self.settled = np.full((2, n), np.nan)
        self.settled_until = settled_until(data.timeline)
        self.first = np.zeros(n, dtype=np.int64)
        self.lag = Lag.unknown(n)
        history = None if data.listings is None else data.listings.history
        # Searches and purchases in the periods of the listings' prices.
        wanted = data.kind in BY_CLICKS and data.purchases is not None and history is not None
        self.prices = history.timeline if wanted and history is not None else None
        length = self.prices.length if self.prices else 0
        self.looked, self.bought = np.full((n, length), np.nan), np.full((n, length), np.nan)

    def read_all(self, progress: Callable[[int, int], None] | None) -> None:
        done = 0
        with ThreadPoolExecutor(self.threads) as pool:
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
        if self.settled_until is not None:
            self.settled[here] = _sum_until(curves, timeline, self.settled_until)
        if data.counts:
            sums = totals(curves, timeline, settings, 52, 13)
            self.searches[here], self.quarter[here] = sums
        if data.clicks is not None:
            clicked = subject_curves(data, data.clicks, rows, settings)
            self.clicks[here] = year_total(clicked, timeline, settings)
        if data.impressions is not None:
            shown = subject_curves(data, data.impressions, rows, settings)
            self.impressions[here] = year_total(shown, timeline, settings)
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
            self.looked, self.bought, supply.clicked, supply.history, self.settings
        )

    def seasons(self) -> SeasonSums | None:
        """What the niches of each category lend; None where nothing is lent."""
        category, tree, demand = self.data.category, self.data.tree, self.curves
        if category is None or not self.data.counts or self.data.prior is not None:
            return None
        many = int(category.max(initial=-1)) + 1 if tree is None else len(tree)
        able = demand.claimed & demand.shape.recurring
        return SeasonSums.of(demand.factors, demand.noise, able, category, many)

    def borrow(self, seasons: SeasonSums | None) -> None:
        """Read again, with their categories' profiles, the niches that are too noisy by themselves.

        ``seasons`` is what all niches of the market add up to.
        """
        category, demand = self.data.category, self.curves
        if seasons is None or category is None:
            return
        prior = category_prior(seasons, category, self.settings)
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


def settled_until(timeline: Timeline) -> date | None:
    """The last end of a calendar year at least 13 weeks before the as-of; None where it precedes the record."""
    year = (timeline.end - SETTLES).year - 1
    day = date(year, 12, 31)
    return day if day >= timeline.first else None


def _sum_until(curves: Floats, timeline: Timeline, day: date) -> Floats:
    """Sums of what is known up to a day, (subjects,); NaN where nothing is."""
    columns = timeline.period.number(day) - timeline.first_number + 1
    part = curves[:, :columns]
    known = ~np.isnan(part)
    return np.where(known.any(axis=1), np.where(known, part, 0).sum(axis=1), np.nan)


def _chunks(n: int) -> Iterator[range]:
    for start in range(0, n, CHUNK):
        yield range(start, min(start + CHUNK, n))
