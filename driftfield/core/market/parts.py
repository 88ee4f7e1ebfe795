"""A market read in parts, or as the only part of itself: steps, and what the whole is asked between them.

Most of what is said of a niche rests on its own figures. What rests on the whole market (what a category lends
and what is usual in it, what a listing shared by niches brings, how much figures scatter, percentiles, ranks,
the frontier, the bands of ranks) is told from sums and counts. Each step ends with those of its part; those of
all parts, put together in any order, are what the next step is given. None grows with the number of niches:
they are by category, by value or by bin. What is brought by listing (``Brought``) is looked up by who holds
the parts, since only the listings that lie in several of them matter.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import reduce

import numpy as np
from numpy.typing import NDArray

from driftfield.core.base import Bools, Floats, Settings, Tally, VarianceSums
from driftfield.core.curves import SeasonSums
from driftfield.core.ranking import (
    Bins,
    Draws,
    Foremost,
    Front,
    Lens,
    RankBand,
    Scores,
    Shaken,
    bands_of,
    exact_band,
    few_enough,
    high_among,
    known_parts,
    normalised_by,
    part_values,
    ranking_of,
    score_niches,
    score_under_all,
    shaken_of,
    tallies_of,
)
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
class OfValues:
    """What the figures tell the market: how often each value of each part of an index occurs, (parts,)."""

    tallies: list[Tally]

    @classmethod
    def together(cls, several: Sequence[OfValues]) -> OfValues:
        """What all parts tell."""
        columns = zip(*(one.tallies for one in several), strict=True)
        return cls([Tally.together(column) for column in columns])


@dataclass(frozen=True, slots=True)
class OfScores:
    """What the scores tell the market.

    scores: how often each occurs under the lens; ready: under each of the ready lenses. front: the frontier.
    known: (parts,) whether each is known of a ranked niche. least: (parts,) the least of their logarithms.
    """

    scores: Tally
    ready: list[Tally]
    front: Front
    known: Bools
    least: Floats

    @classmethod
    def together(cls, several: Sequence[OfScores]) -> OfScores:
        """What all parts tell."""
        return cls(
            Tally.together(one.scores for one in several),
            [Tally.together(each) for each in zip(*(one.ready for one in several), strict=True)],
            Front.together(one.front for one in several),
            np.logical_or.reduce([one.known for one in several]),
            np.minimum.reduce([one.least for one in several]),
        )

    def used(self, lens: Lens) -> Bools:
        """Parts that count for the bands, (parts,): one that nobody has would widen every band alike."""
        found: Bools = self.known & (lens.scaled() > 0)
        return found


@dataclass(frozen=True, slots=True)
class Drawn:
    """What draws of shaken weights tell the market: the niches themselves where they are few, else counts."""

    few: dict[int, Shaken]
    counts: NDArray[np.int64] | None

    @classmethod
    def together(cls, several: Sequence[Drawn], draws: Draws) -> Banded:
        """What the bands of all parts are read from."""
        few = {number: shaken for one in several for number, shaken in one.few.items()}
        if few:
            found = exact_band(draws, Shaken.together(list(few.values())))
            ends = np.cumsum([len(shaken) for shaken in few.values()])[:-1]
            low, high = np.split(found.low, ends), np.split(found.high, ends)
            top_ten = np.split(found.top_ten, ends)
            bands = map(RankBand, low, high, top_ten)
            return Banded(dict(zip(few, bands, strict=True)), None)
        counts = [one.counts for one in several if one.counts is not None]
        return Banded({}, np.add.reduce(counts) if counts else None)


@dataclass(frozen=True, slots=True)
class Banded:
    """The bands of the ranked niches by part, where they are few; else counts of scores by bin and draw."""

    few: dict[int, RankBand]
    counts: NDArray[np.int64] | None


class MarketPart:
    """One part of a market, or all of it. Its steps are called in their order.

    number: its place among the parts. What a step is given is of the whole market: what the step before told of
    all parts, put together.
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
        number: int = 0,
        threads: int = THREADS,
    ) -> None:
        self.settings, self.lens, self.rules = settings, lens, rules
        self.planning, self.population, self.number = planning, population, number
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
        work.lens, work.rules = self.lens, self.rules
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

    def measure(self, supply: OfSupply) -> OfValues:
        """Compute the figures that rest on the data."""
        work = self.work
        barriers = beside_usual(work.supply.barriers, work.data.category, supply.rates)
        work.supply = replace(work.supply, barriers=barriers)
        if self._moves is not None:
            work.moves = self._moves.steadied(supply.noises)
        compute_stage(work, Stage.READ)
        self._values = part_values(work.figures, self.population)
        return OfValues(tallies_of(self._values))

    def score(self, values: OfValues) -> OfScores:
        """Score the niches under the lens and under every ready one."""
        normalised = normalised_by(self._values, values.tallies)
        self.work.normalised = normalised
        self._scores: Scores = score_niches(normalised, self.lens)
        self._ready = score_under_all(normalised)
        shaken = shaken_of(
            normalised, self._ranked(), np.ones(normalised.known.shape[1], dtype=bool)
        )
        return OfScores(
            Tally.of(self._scores.score),
            [Tally.of(each.score) for each in self._ready],
            self._scores.front,
            known_parts(normalised, self._ranked()),
            shaken.logs.min(axis=0, initial=0),
        )

    def _ranked(self) -> Bools:
        return ~np.isnan(self._scores.score)

    def draws(self, scores: OfScores) -> Draws:
        """The draws of weights, the same in every part."""
        return Draws(self.lens.scaled()[scores.used(self.lens)], self.settings)

    def _bins(self, scores: OfScores) -> Bins:
        used = scores.used(self.lens)
        least = float(scores.least[used].min(initial=0))
        return Bins.of(scores.scores.total, least, self.lens.scaled()[used])

    def count_draws(self, scores: OfScores) -> Drawn:
        """Rank the niches, and count where they come in draws of shaken weights."""
        work = self.work
        assert work.normalised is not None, "scores come of percentiles"
        work.ranking = ranking_of(self._scores, scores.scores, scores.front)
        work.high = high_among(self._ready, scores.ready)
        self._told = scores
        self._shaken = shaken_of(work.normalised, self._ranked(), scores.used(self.lens))
        if few_enough(scores.scores.total):
            return Drawn({self.number: self._shaken}, None)
        return Drawn({}, self._bins(scores).count(self.draws(scores), self._shaken))

    def band(self, banded: Banded) -> Foremost | None:
        """Read the bands of the ranks; None where they are known already, for the niches are few."""
        if self.number in banded.few:
            self._found = banded.few[self.number]
            return None
        assert banded.counts is not None, "what is not few is counted"
        draws, bins = self.draws(self._told), self._bins(self._told)
        low, high = bins.band(draws, self._shaken, bins.ranks(banded.counts))
        self._found = RankBand(low, high, np.zeros(len(low)))
        return Foremost.of(self._shaken, low)

    def finish(self, foremost: Foremost | None) -> Workings:
        """Compute the figures of ranks and the signals; the workings with all figures."""
        work, found = self.work, self._found
        assert work.ranking is not None, "ranks come before their bands"
        if foremost is not None:
            top_ten = foremost.share(self.draws(self._told), self._shaken, found.low)
            found = replace(found, top_ten=top_ten)
        work.bands = bands_of(work.ranking.rank, found)
        compute_stage(work, Stage.RANKED)
        if self.rules:
            compute_stage(work, Stage.SIGNALS)
        return work
