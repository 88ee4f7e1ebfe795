"""A market read in parts, or as the only part of itself: steps, and what the whole is asked between them.

Most of what is said of a niche rests on its own figures. What rests on the whole market (what a category lends
and what is usual in it, what a listing shared by niches brings, how much figures scatter, ranks) is told from
sums and counts. Each step ends with those of its part; those of all parts, put together in any order, are what
the next step is given. None grows with the number of niches: they are by category or one for all. What is
brought by listing (``Brought``) is looked up by who holds the parts, since only listings in several matter.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import reduce

import numpy as np

from driftfield.core.base import Bools, Settings, Tally, VarianceSums, to_digits
from driftfield.core.curves import SeasonSums
from driftfield.core.ranking import Lens, OfValues, Ranked, part_values, tallies_of
from driftfield.core.supply import (
    Brought,
    MovesAlone,
    beside_usual,
    home_subjects,
    part_weights,
    rates_by_category,
    read_competition,
    read_moves,
)

from .begin import agreements, begin, compute_stage, marked_shares, misspelt
from .data import MarketData
from .figures.figure import Stage
from .figures.volume import USUAL
from .kinds import NICHE
from .own_part import own_part
from .reader import THREADS, DemandReader
from .said import LEADERS
from .workings import Rule, Workings


@dataclass(frozen=True, slots=True)
class OfCurves:
    """What the curves tell the market: what categories lend, None where nothing is lent."""

    seasons: SeasonSums | None

    @classmethod
    def together(cls, several: Iterable[OfCurves]) -> OfCurves:
        """What all parts tell."""
        known = [one.seasons for one in several if one.seasons is not None]
        return cls(reduce(SeasonSums.__add__, known) if known else None)


@dataclass(frozen=True, slots=True)
class OfSupply:
    """What the supply side tells the market: return rates by category, and how far what moves scatters."""

    rates: dict[int, Tally]
    noises: dict[str, VarianceSums]

    @classmethod
    def together(cls, several: Sequence[OfSupply]) -> OfSupply:
        """What all parts tell."""
        codes = {code for one in several for code in one.rates}
        names = {name for one in several for name in one.noises}
        rates = {
            c: Tally.together(one.rates[c] for one in several if c in one.rates) for c in codes
        }
        noises = {
            name: reduce(
                VarianceSums.__add__, (one.noises.get(name, VarianceSums()) for one in several)
            )
            for name in names
        }
        return cls(rates, noises)


@dataclass(frozen=True, slots=True)
class OfFigures:
    """What figures tell the market: how often each value of the parts of its indices occurs, and each value of
    what is told of the market by its median."""

    values: OfValues
    usual: dict[str, Tally]

    @classmethod
    def together(cls, several: Sequence[OfFigures]) -> OfFigures:
        """What all parts tell."""
        return cls(
            OfValues.together([one.values for one in several]),
            {key: Tally.together(one.usual[key] for one in several) for key in USUAL},
        )


class MarketPart:
    """One part of a market, or all of it. Its steps are called in their order.

    What a step is given is of the whole market: what the step before told of all parts, put together. Between
    ``measure`` and ``finish`` the market is ranked (``core.ranking.PartRanks``).
    """

    def __init__(
        self,
        data: MarketData,
        settings: Settings,
        *,
        lens: Lens,
        rules: Sequence[Rule] = (),
        population: Bools | None = None,
        planning: date | None = None,
        moves: bool = True,
        threads: int = THREADS,
    ) -> None:
        self.settings, self.lens, self.rules = settings, lens, rules
        self.planning, self.population = planning, population
        self.reader = DemandReader(data, settings, len(data.subjects), threads)
        self._wants_moves = moves
        self._moves: MovesAlone | None = None

    @property
    def data(self) -> MarketData:
        """The arrays it is read from."""
        return self.reader.data

    def read(self, progress: Callable[[int, int], None] | None = None) -> OfCurves:
        """Read the curves; ``progress`` is told (done, all) subjects."""
        self.reader.read_all(progress)
        return OfCurves(self.reader.seasons())

    def brought(self) -> Brought | None:
        """What its niches bring each listing; None without clicks."""
        data, seen = self.data, self.data.observed
        if seen is None:
            return None
        weight = part_weights(seen, data.searches, data.clicks)
        width = int(self.settings.click_weeks)
        return Brought.of(seen, weight, data.term_subject, width, data.timeline.period)

    def compete(self, seasons: SeasonSums | None, brought: Brought | None = None) -> OfSupply:
        """Read the supply side, and what moved there.

        ``brought`` is what all niches of the market bring its listings, None where those are its own.
        """
        data, settings, reader = self.data, self.settings, self.reader
        reader.borrow(seasons)
        supply = read_competition(
            data.observed, data.listings, data.searches, data.clicks, data.term_subject, data.timeline,
            len(data.subjects), settings, brought,
        )  # fmt: skip
        work = begin(data, settings, reader, supply, marked_shares(data), self.planning)
        self.work = work
        if data.kind == NICHE:
            weight = None
            if data.observed is not None and data.listings is not None:
                weight = part_weights(data.observed, data.searches, data.clicks)
                if self._wants_moves:
                    self._moves = read_moves(
                        supply.members, data.listings, data.observed, weight, data.term_subject,
                        data.timeline, settings.interval,
                    )  # fmt: skip
            found = own_part(data, reader.curves, weight, settings.interval)
            if found is not None:
                work.own, work.own_sources = found
        work.agreement = agreements(data, settings)
        work.misspelt = misspelt(data, reader.searches)
        if data.voices is not None:
            clicked = supply.clicked
            subject, pair = clicked.foremost(LEADERS)
            ends = np.searchsorted(subject, np.arange(1, work.count))
            home = home_subjects(clicked, int(clicked.listing.max(initial=-1)) + 1)
            work.said = data.voices(home, np.split(clicked.listing[pair], ends))
        return OfSupply(
            rates_by_category(supply.barriers, data.category),
            {} if self._moves is None else self._moves.sums,
        )

    def measure(self, supply: OfSupply) -> OfFigures:
        """Compute the figures that rest on the data; ``values`` is then what the ranks are made of."""
        work = self.work
        barriers = beside_usual(work.supply.barriers, work.data.category, supply.rates)
        work.supply = replace(work.supply, barriers=barriers)
        if self._moves is not None:
            work.moves = self._moves.steadied(supply.noises)
        compute_stage(work, Stage.READ)
        self.values = part_values(work.figures, self.population)
        return OfFigures(
            OfValues(tallies_of(self.values)),
            {key: Tally.of(to_digits(tell(work))) for key, tell in USUAL.items()},
        )

    def let_go(self) -> None:
        """Forget the curves of terms and the clicks, of which nothing more is asked after ``compete``."""
        data = self.data
        nothing = np.empty((0, data.timeline.length))
        self.reader.data = self.work.data = replace(
            data, term_subject=np.empty(0, dtype=np.int64), searches=nothing, clicks=None, purchases=None,
            impressions=None, branded=None, protected=None, observed=None, interest=None,
        )  # fmt: skip

    def finish(self, ranked: Ranked, figures: OfFigures) -> Workings:
        """Compute the figures of ranks, and the signals; the workings with all figures."""
        work = self.work
        work.usual = {key: tally.median() for key, tally in figures.usual.items()}
        work.lens, work.rules = self.lens, self.rules
        work.normalised, work.ranking = ranked.normalised, ranked.ranking
        work.bands, work.high = ranked.bands, ranked.high
        compute_stage(work, Stage.RANKED)
        if self.rules:
            compute_stage(work, Stage.SIGNALS)
        return work
