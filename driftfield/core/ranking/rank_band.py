"""The rank's band: how far a rank moves when the weights behind it are shaken.

OECD/JRC Handbook on Constructing Composite Indicators (2008), step 7 (uncertainty analysis).

A market may be read in parts that nobody sees together, so what is told of a subject rests on its own values
and on sums over all subjects, never on the order in which they come.
"""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from driftfield.core.base import Bools, Floats, Ints, Settings, low_ranks

BINS = 2048  # Resolution of a draw's score distribution where the market is large.
CHUNK = 1024  # Subjects whose draws are held in memory at once.
SAMPLE = 8 * CHUNK  # Subjects that are sample enough for a distribution over thousands of them.
TOP = 10
LOWEST = 0.005  # An unknown part is drawn no lower than this percentile.
ROWS = 1024  # Rows of draws for unknown parts; each subject's part takes one of them.
EDGES = np.linspace(0.05, 0.95, 2)

Keys = NDArray[np.uint64]


@dataclass(frozen=True, slots=True)
class RankBand:
    """low, high: 5th and 95th percentile of each rank over the draws, (subjects,). top_ten: share of
    the draws in which the rank is ten or better."""

    low: Ints
    high: Ints
    top_ten: Floats


@dataclass(frozen=True, slots=True)
class Shaken:
    """What is drawn for subjects: their parts' logarithms, (subjects, parts), that of 0.5 where ``unknown``."""

    logs: Floats
    unknown: Bools

    @classmethod
    def together(cls, several: Sequence[Shaken]) -> Shaken:
        """All subjects of several."""
        return cls(
            np.concatenate([one.logs for one in several]),
            np.concatenate([one.unknown for one in several]),
        )

    def __len__(self) -> int:
        return len(self.logs)

    def take(self, rows: Ints | Bools) -> Shaken:
        """Some of the subjects."""
        return Shaken(self.logs[rows], self.unknown[rows])

    @property
    def keys(self) -> Keys:
        """A number for each subject that its values alone decide, as good as drawn: (subjects,).

        Numbers are mixed as in Steele, Lea & Flood (2014), OOPSLA, “Fast splittable pseudorandom number
        generators”; the constants are from memory.
        """
        told = np.where(self.unknown, 1.0, self.logs)
        found = np.zeros(len(told), dtype=np.uint64)
        for column in np.round(told * 1e4).astype(np.int64).astype(np.uint64).T:
            found = _mixed(found + column)
        return found


def _mixed(number: Any) -> Any:
    """Whole numbers of 64 bits turned into others that show nothing of them."""
    with np.errstate(over="ignore"):
        number = number + np.uint64(0x9E3779B97F4A7C15)
        number = (number ^ (number >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
        number = (number ^ (number >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
        return number ^ (number >> np.uint64(31))


class Draws:
    """Draws of shaken weights, the same for all subjects of a market.

    Weights are multiplied by log-normal factors and scaled back to their sum.
    """

    def __init__(self, weights: Floats, settings: Settings, seed: int = 0) -> None:
        rng = np.random.default_rng(seed)
        self.count = int(settings.rank_draws)
        shaken = weights * np.exp(rng.normal(0, settings.weight_spread, (self.count, len(weights))))
        shaken *= weights.sum() / shaken.sum(axis=1, keepdims=True)
        self.shaken = shaken.T.astype(np.float32)
        # Drawing afresh for every unknown part would take half of the time of a large market.
        size = (ROWS, self.count)
        self.anywhere = np.log(rng.uniform(LOWEST, 1, size) / 0.5).astype(np.float32)

    def scores(self, subjects: Shaken, keys: Keys) -> NDArray[np.float32]:
        """Scores of subjects, (subjects, draws); unknown parts fall anywhere."""
        got: NDArray[np.float32] = subjects.logs.astype(np.float32) @ self.shaken
        for part in range(subjects.unknown.shape[1]):
            absent = np.flatnonzero(subjects.unknown[:, part])
            if absent.size:
                row = _mixed(keys[absent] + np.uint64(part)) % np.uint64(ROWS)
                drawn = self.anywhere[row.astype(np.int64)]
                drawn *= self.shaken[part]
                got[absent] += drawn
        return got


def rank_band(
    logs: Floats, unknown: Bools, weights: Floats, settings: Settings, seed: int = 0
) -> RankBand:
    """Band of each rank over draws of shaken weights.

    ``logs`` is (subjects, parts): logarithms of normalised parts, that of 0.5 where ``unknown``. In
    a market of over ``BINS`` niches the rank within a draw is read from the draw's score histogram,
    to within one bin, and the top ten from the niches whose band reaches highest.
    """
    draws, subjects = Draws(weights, settings, seed), Shaken(logs, unknown)
    if few_enough(len(subjects)):
        return exact_band(draws, subjects)
    bins = Bins.of(len(subjects), float(logs.min()), weights)
    ranks = bins.ranks(bins.count(draws, subjects))
    low, high = bins.band(draws, subjects, ranks)
    first = Foremost.of(subjects, low)
    return RankBand(low, high, first.share(draws, subjects, low))


def few_enough(many: int) -> bool:
    """Whether the bands of so many subjects are told from all of them side by side."""
    return many <= BINS


def exact_band(draws: Draws, subjects: Shaken) -> RankBand:
    """The band where all subjects of a market are held side by side."""
    keys = subjects.keys
    chunks = [slice(i, i + CHUNK) for i in range(0, max(len(keys), 1), CHUNK)]
    everything = np.concatenate([draws.scores(subjects.take(c), keys[c]) for c in chunks])  # type: ignore[arg-type]
    ranks = low_ranks(-everything.T)
    low, high = np.quantile(ranks, EDGES, axis=0, method="nearest")
    return RankBand(low.astype(np.int64), high.astype(np.int64), (ranks <= TOP).mean(axis=0))


@dataclass(frozen=True, slots=True)
class Bins:
    """The bins into which each draw's scores are counted, from ``floor`` to 0, in a market of ``many``."""

    many: int
    floor: np.float32

    @classmethod
    def of(cls, many: int, least: float, weights: Floats) -> Bins:
        """The bins for ``many`` subjects; ``least`` is the least of all their logarithms."""
        return cls(many, np.float32(least * weights.sum() * 1.5 - 1))

    def _chunks(self, many: int) -> list[Ints]:
        return [np.arange(i, min(i + CHUNK, many)) for i in range(0, many, CHUNK)]

    def _places(self, draws: Draws, subjects: Shaken, keys: Keys) -> NDArray[np.intp]:
        """Place of each score in a table of (bins, draws): neighbouring draws lie side by side."""
        got = draws.scores(subjects, keys)
        got *= -np.float32((BINS - 1) / -self.floor)
        np.clip(got, 0, BINS - 1, out=got)
        flat = got.astype(np.intp)
        flat *= draws.count
        flat += np.arange(draws.count)
        return flat

    def count(self, draws: Draws, subjects: Shaken) -> NDArray[np.int64]:
        """How many scores of each draw fall into each bin, (bins, draws), of a sample of the subjects.

        The counts of parts of a market add up to those of the whole.
        """
        keys = subjects.keys
        if self.many > SAMPLE:
            # Who is in the sample is told by the key, and so is the same wherever a subject is read.
            taken = np.flatnonzero(keys < np.uint64(int(SAMPLE / self.many * 2**64)))
            subjects, keys = subjects.take(taken), keys[taken]
        size = draws.count * BINS

        def histogram(rows: Ints) -> NDArray[np.int64]:
            places = self._places(draws, subjects.take(rows), keys[rows])
            return np.bincount(places.ravel(), minlength=size)

        counts = np.zeros(size, dtype=np.int64)
        with ThreadPoolExecutor(2) as pool:
            for found in pool.map(histogram, self._chunks(len(subjects))):
                counts += found
        return counts.reshape(BINS, draws.count)

    def ranks(self, counts: NDArray[np.int64]) -> NDArray[np.float32]:
        """The rank that each bin of each draw stands for, (bins × draws,)."""
        above = np.cumsum(counts, axis=0) - counts
        seen = max(int(counts[:, 0].sum()), 1)
        return (above * (self.many / seen) + 1).astype(np.float32).ravel()

    def band(self, draws: Draws, subjects: Shaken, ranks: NDArray[np.float32]) -> tuple[Ints, Ints]:
        """Ends of the bands of some subjects of the market."""
        keys = subjects.keys
        ends = [round(edge * (draws.count - 1)) for edge in EDGES]

        def band(rows: Ints) -> NDArray[np.float32]:
            places = self._places(draws, subjects.take(rows), keys[rows])
            found: NDArray[np.float32] = ranks.take(places, mode="clip")
            # A whole sort, which is vectorised, is faster here than a partition, which is not.
            found.sort(axis=1)
            return np.asarray(found[:, ends])

        out = np.empty((len(subjects), len(ends)), dtype=np.float32)
        chunks = self._chunks(len(subjects))
        with ThreadPoolExecutor(2) as pool:
            for rows, found in zip(chunks, pool.map(band, chunks), strict=True):
                out[rows] = found
        return out[:, 0].astype(np.int64), out[:, 1].astype(np.int64)


@dataclass(frozen=True, slots=True)
class Foremost:
    """The subjects whose bands reach highest, CHUNK at most, by low end and key: what the top ten are among."""

    subjects: Shaken
    low: Ints

    @classmethod
    def of(cls, subjects: Shaken, low: Ints) -> Foremost:
        """Those of some subjects."""
        if len(low) > CHUNK:
            near = np.flatnonzero(low <= np.partition(low, CHUNK - 1)[CHUNK - 1])
            subjects, low = subjects.take(near), low[near]
        first = np.lexsort((subjects.keys, low))[:CHUNK]
        return cls(subjects.take(first), low[first])

    @classmethod
    def together(cls, several: Sequence[Foremost]) -> Foremost:
        """Those of all of whom several are the foremost."""
        return cls.of(
            Shaken.together([one.subjects for one in several]),
            np.concatenate([one.low for one in several]),
        )

    def share(self, draws: Draws, subjects: Shaken, low: Ints) -> Floats:
        """Share of draws in which some subjects of the market are in the top ten, (subjects,)."""
        out, mine = np.zeros(len(low)), self.subjects.keys
        reached = np.partition(-draws.scores(self.subjects, mine), TOP - 1, axis=0)[TOP - 1]
        keys = subjects.keys
        within = (low < self.low[-1]) | ((low == self.low[-1]) & (keys <= mine[-1]))
        for rows in np.array_split(np.flatnonzero(within), within.sum() // CHUNK + 1):
            out[rows] = (draws.scores(subjects.take(rows), keys[rows]) >= -reached).mean(axis=1)
        return out
