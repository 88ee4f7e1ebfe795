"""Ranks of a market that is read in parts: steps, and what the whole market is asked between them.

Each step ends with counts of its part. Those of all parts, put together in any order, are what the next step
is given; they are by value or by bin, and so do not grow with the number of niches beyond that of the values
there are.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from driftfield.core.base import Bools, Floats, Settings, Tally

from .headroom import (
    Bands,
    Front,
    Normalised,
    Ranking,
    bands_of,
    high_among,
    known_parts,
    normalised_by,
    ranking_of,
    score_niches,
    score_under_all,
    shaken_of,
)
from .lens import Lens
from .rank_band import Bins, Draws, Foremost, RankBand, Shaken, exact_band, few_enough


@dataclass(frozen=True, slots=True)
class OfValues:
    """How often each value of each part of an index occurs, (parts,)."""

    tallies: list[Tally]

    @classmethod
    def together(cls, several: Sequence[OfValues]) -> OfValues:
        """Of all parts of the market."""
        columns = zip(*(one.tallies for one in several), strict=True)
        return cls([Tally.together(column) for column in columns])


@dataclass(frozen=True, slots=True)
class OfScores:
    """What scores tell the market.

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
        """Of all parts of the market."""
        return cls(
            Tally.together(one.scores for one in several),
            [Tally.together(each) for each in zip(*(one.ready for one in several), strict=True)],
            Front.together(one.front for one in several),
            np.asarray(np.logical_or.reduce([one.known for one in several])),
            np.minimum.reduce([one.least for one in several]),
        )

    def used(self, lens: Lens) -> Bools:
        """Parts that count for the bands, (parts,): one that nobody has would widen every band alike."""
        return np.asarray(self.known & (lens.scaled() > 0))

    def bins(self, lens: Lens) -> Bins:
        """The bins that scores are counted in."""
        used = self.used(lens)
        least = float(self.least[used].min(initial=0))
        return Bins.of(self.scores.total, least, lens.scaled()[used])


@dataclass(frozen=True, slots=True)
class Drawn:
    """Where the niches come in draws of shaken weights.

    few: where there are few in the market, they themselves by the number of the part. counts: else of their
    scores by bin and draw.
    """

    few: dict[int, Shaken]
    counts: NDArray[np.int64] | None

    @classmethod
    def together(cls, several: Sequence[Drawn]) -> Drawn:
        """Of all parts of the market."""
        few = {number: shaken for one in several for number, shaken in one.few.items()}
        counts = [one.counts for one in several if one.counts is not None]
        return cls(few, np.asarray(np.add.reduce(counts)) if counts else None)

    def bands(self, draws: Draws) -> dict[int, RankBand]:
        """The bands of the few, by the number of the part."""
        numbers = sorted(self.few)
        found = exact_band(draws, Shaken.together([self.few[number] for number in numbers]))
        ends = np.cumsum([len(self.few[number]) for number in numbers])[:-1]
        low, high = (np.split(each, ends) for each in (found.low, found.high))
        top_ten = np.split(found.top_ten, ends)
        return dict(zip(numbers, map(RankBand, low, high, top_ten), strict=True))


@dataclass(frozen=True, slots=True)
class Ranked:
    """What ranks tell of niches: percentiles, ranks with their bands, who is high under every ready lens."""

    normalised: Normalised
    ranking: Ranking
    bands: Bands
    high: Bools


class PartRanks:
    """The ranks of the niches of one part of a market, or of all of it.

    ``values`` is (niches, parts) as of ``part_values``; ``number`` its place among the parts. What a step is
    given is of the whole market: what the step before told of all parts, put together.
    """

    def __init__(self, values: Floats, lens: Lens, settings: Settings, number: int = 0) -> None:
        self.values, self.lens, self.settings, self.number = values, lens, settings, number

    def score(self, values: OfValues) -> OfScores:
        """Score the niches under the lens and under every ready one."""
        self.normalised = normalised_by(self.values, values.tallies)
        self.scores = score_niches(self.normalised, self.lens)
        self._ready = score_under_all(self.normalised)
        self._ranked: Bools = ~np.isnan(self.scores.score)
        every = np.ones(self.values.shape[1], dtype=bool)
        return OfScores(
            Tally.of(self.scores.score),
            [Tally.of(each.score) for each in self._ready],
            self.scores.front,
            known_parts(self.normalised, self._ranked),
            shaken_of(self.normalised, self._ranked, every).logs.min(axis=0, initial=0),
        )

    def rank(self, scores: OfScores) -> None:
        """Rank the niches, which have been scored."""
        self.ranking = ranking_of(self.scores, scores.scores, scores.front)
        self.high = high_among(self._ready, scores.ready)
        used = scores.used(self.lens)
        self._weights, self._bins = self.lens.scaled()[used], scores.bins(self.lens)
        self._shaken = shaken_of(self.normalised, self._ranked, used)
        # Of the scores under other lenses nothing more is asked.
        self._ready = []

    @property
    def _draws(self) -> Draws:
        """The draws of weights, the same in every part of the market."""
        return Draws(self._weights, self.settings)

    def draw(self) -> Drawn:
        """Count where the ranked niches come in draws of shaken weights."""
        if few_enough(self._bins.many):
            return Drawn({self.number: self._shaken}, None)
        return Drawn({}, self._bins.count(self._draws, self._shaken))

    def band(self, drawn: Drawn) -> tuple[RankBand, Foremost | None]:
        """Read the bands, and who of the part reaches highest, which says who is in the top ten.

        None where that is known already, for the niches are few.
        """
        draws = self._draws
        if drawn.few:
            return drawn.bands(draws)[self.number], None
        assert drawn.counts is not None, "what is not few is counted"
        low, high = self._bins.band(draws, self._shaken, self._bins.ranks(drawn.counts))
        return RankBand(low, high, np.zeros(len(low))), Foremost.of(self._shaken, low)

    def finish(self, band: RankBand, foremost: Foremost | None) -> Ranked:
        """All that ranks tell; ``band`` is the part's own, ``foremost`` of the whole market."""
        if foremost is not None:
            top_ten = foremost.share(self._draws, self._shaken, band.low)
            band = replace(band, top_ten=top_ten)
        bands = bands_of(self.ranking.rank, band)
        return Ranked(self.normalised, self.ranking, bands, self.high)


def rank_all(values: Floats, told: OfValues, lens: Lens, settings: Settings) -> Ranked:
    """The ranks of a market that is the only part of itself."""
    part = PartRanks(values, lens, settings)
    part.rank(part.score(told))
    return part.finish(*part.band(part.draw()))
