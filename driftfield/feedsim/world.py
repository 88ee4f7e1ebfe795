"""What the simulated feed knows, and when it tells it."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import numpy as np

from driftfield.core.base import CoreError, Floats, Ints, Period
from driftfield.exchange.market_data import assemble, term_curves
from driftfield.exchange.reader import read_package

FIGURES = ("searches", "clicks", "purchases")
LATE, REVISED = (
    0.03,
    0.05,
)  # Shares of all figures that come late, and that are told wrong at first.
LATEST = 3  # Weeks by which a figure is late, or revised, at most.
YEAR = 52
NOISE = 0.08  # Of a week that is made up, against the same week a year before.


@dataclass(frozen=True, slots=True)
class Log:
    """All that is ever told of a market, in the order in which it is: each row a term, a week's number,
    its figures, and the week in which it is told."""

    term: Ints
    week: Ints
    figures: Floats
    told: Ints


@dataclass(frozen=True, slots=True)
class SimulatedMarket:
    """A market of the feed: its own row, its niches and terms, and the log of its figures."""

    row: dict[str, Any]
    niches: list[dict[str, Any]]
    terms: list[dict[str, Any]]
    log: Log

    def known(self, now: int) -> int:
        """How many rows of the log are told by the end of week ``now``."""
        return int(np.searchsorted(self.log.told, now, side="right"))


@dataclass(frozen=True, slots=True)
class World:
    """The markets; the numbers of the last complete week of the package and of the last in which anything
    is told."""

    markets: dict[str, SimulatedMarket]
    complete: int
    last: int


def build(package: Path, *, further: int, seed: int) -> World:
    """The figures of a package of exchange tables by week, and ``further`` weeks after its last complete one.

    A week to come is the same week of the year before, with noise. The running week is left out. Raises
    CoreError for a package without figures by week.
    """
    read = read_package(package)
    if read.periods.get("term_weeks") is not Period.WEEK:
        raise CoreError(f"{package.name} has no figures by week, which the simulated feed tells.")
    curves = term_curves(read)
    owner: dict[str, str] = {}
    if "terms" in read.frames:
        frame = read.frames["terms"]
        owner = {
            t: n for t, n in zip(frame["term"], frame["niche_id"], strict=True) if n is not None
        }
    markets, end = {}, 0
    rng = np.random.default_rng(seed)
    declared = read.frames.get("markets")
    rows = (
        {r["market_id"]: r for r in declared.iter_rows(named=True)} if declared is not None else {}
    )
    place = {term: i for i, term in enumerate(curves.subjects)}
    for market in assemble(read)[0]:
        if not market.data.counts:
            continue
        names = dict(zip(market.data.subjects, market.niche_names, strict=True))
        complete = market.data.timeline.end
        kept = Period.WEEK.number(complete) - curves.timeline.first_number + 1
        at = [place[t] for t in market.terms]
        figures = np.stack(
            [curves.measures.get(f, np.full((len(curves.subjects), curves.timeline.length), np.nan))[at, :kept]
             for f in FIGURES], axis=-1,
        )  # fmt: skip
        log = _log(_longer(figures, further, rng), curves.timeline.first_number, rng)
        own = rows.get(market.market_id, {})
        row = {
            "market_id": market.market_id,
            "name": own.get("name") or market.market_id,
            "currency": own.get("currency") or "GBP",
            "region": own.get("region"),
        }
        terms = [{"term": t, "niche_id": owner.get(t)} for t in market.terms]
        niches = [
            {"niche_id": n, "name": name} for n, name in names.items() if n in set(owner.values())
        ]
        markets[market.market_id] = SimulatedMarket(row, niches, terms, log)
        end = max(end, Period.WEEK.number(complete))
    return World(markets, end, max(int(m.log.told[-1]) for m in markets.values()))


def _longer(figures: Floats, further: int, rng: np.random.Generator) -> Floats:
    """Figures (terms, weeks, measures) with further weeks at the end."""
    for _ in range(further if figures.shape[1] >= YEAR else 0):
        before = figures[:, -YEAR]
        factor = rng.lognormal(0.0, NOISE, (len(figures), 1))
        figures = np.concatenate([figures, np.round(before * factor)[:, None]], axis=1)
    return figures


def _log(figures: Floats, first: int, rng: np.random.Generator) -> Log:
    """Who tells what when: most figures in their own week; some late; some wrong, and right later."""
    term, week = np.nonzero(~np.isnan(figures[:, :, 0]))
    values = figures[term, week]
    told = week + np.where(rng.random(len(term)) < LATE, rng.integers(1, LATEST + 1, len(term)), 0)
    again = np.flatnonzero(rng.random(len(term)) < REVISED)
    wrong = values[again] * rng.uniform(0.7, 1.3, (len(again), 1))
    true = values[again].copy()
    values[again] = np.round(wrong)
    later = told[again] + rng.integers(1, LATEST + 1, len(again))
    term, week = np.concatenate([term, term[again]]), np.concatenate([week, week[again]])
    values, told = np.concatenate([values, true]), np.concatenate([told, later])
    order = np.argsort(told, kind="stable")
    return Log(term[order], first + week[order], values[order], first + told[order])


class Clock:
    """The week in which the feed is: it is put forward by hand, or by itself every so many seconds."""

    def __init__(
        self, start: int, last: int, every: float | None, now: Callable[[], float] = time.monotonic
    ) -> None:
        self._start, self._last, self._every, self._now = start, last, every, now
        self._began, self._added = now(), 0
        self._lock = threading.Lock()

    @property
    def week(self) -> int:
        """Number of the week whose end has just come."""
        passed = int((self._now() - self._began) / self._every) if self._every else 0
        return min(self._start + self._added + passed, self._last)

    def forward(self, weeks: int) -> None:
        with self._lock:
            self._added += weeks

    @property
    def complete_until(self) -> date:
        """The Sunday at its end."""
        return Period.WEEK.start(self.week) + timedelta(days=6)
