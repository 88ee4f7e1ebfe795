"""Ranks of a market in parts are those of the market at once."""

from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS
from driftfield.core.ranking import (
    DEFAULT_LENS,
    PARTS,
    Drawn,
    Foremost,
    OfScores,
    OfValues,
    PartRanks,
    Ranked,
    rank_all,
    tallies_of,
)
from driftfield.core.ranking.rank_band import BINS


def values_of(n: int, seed: int = 0) -> np.ndarray:
    """Parts of niches as they are ranked, some unknown, many alike; niches without searches among them."""
    rng = np.random.default_rng(seed)
    values = np.round(rng.lognormal(3, 1, (n, len(PARTS))), 1)
    values[rng.random(values.shape) < 0.1] = np.nan
    values[: n // 20] = values[n // 20 : n // 20 * 2]
    values[:, 3] = np.nan  # Known of nobody.
    return values


def in_parts(values: np.ndarray, places: list[np.ndarray]) -> Ranked:
    """Ranks in parts, put together in the order of the niches; what is told is put together backwards."""
    parts = [
        PartRanks(values[rows], DEFAULT_LENS, DEFAULTS, number)
        for number, rows in enumerate(places)
    ]
    told = OfValues.together([OfValues(tallies_of(values[rows])) for rows in places[::-1]])
    scores = OfScores.together([part.score(told) for part in parts][::-1])
    for part in parts:
        part.rank(scores)
    drawn = Drawn.together([part.draw() for part in parts][::-1])
    bands = [part.band(drawn) for part in parts]
    first = [one for _, one in bands if one is not None]
    foremost = Foremost.together(first[::-1]) if first else None
    found = [part.finish(band, foremost) for part, (band, _) in zip(parts, bands, strict=True)]
    order = np.argsort(np.concatenate(places))

    def joined(pick: str, name: str) -> np.ndarray:
        return np.concatenate([getattr(getattr(one, pick), name) for one in found])[order]

    first_of = found[0]
    return Ranked(
        first_of.normalised,
        type(first_of.ranking)(*(joined("ranking", name) for name in first_of.ranking.__slots__)),
        type(first_of.bands)(*(joined("bands", name) for name in first_of.bands.__slots__)),
        np.concatenate([one.high for one in found])[order],
    )


class InParts(TestCase):
    def check(self, n: int) -> None:
        values = values_of(n)
        whole = rank_all(values, OfValues(tallies_of(values)), DEFAULT_LENS, DEFAULTS)
        rng = np.random.default_rng(5)
        places = np.split(rng.permutation(n), np.sort(rng.integers(1, n, 4)))
        found = in_parts(values, places)
        for name in whole.ranking.__slots__:
            np.testing.assert_array_equal(
                getattr(found.ranking, name), getattr(whole.ranking, name), name
            )
        np.testing.assert_array_equal(found.high, whole.high)
        for name in whole.bands.__slots__:
            ours, theirs = getattr(found.bands, name), getattr(whole.bands, name)
            # A score that lies on the edge of a bin may fall to either side where kernels differ.
            apart = np.abs(np.nan_to_num(ours - theirs)) > (1 if ours.dtype.kind == "i" else 0.002)
            self.assertLessEqual(apart.mean(), 0.001, name)

    def test_of_a_small_market(self) -> None:
        self.check(300)

    def test_of_a_large_market(self) -> None:
        self.check(BINS + 700)

    def test_of_one_that_is_sampled(self) -> None:
        self.check(12_000)

    def test_the_order_of_the_niches_changes_no_band(self) -> None:
        values = values_of(BINS + 50)
        order = np.random.default_rng(6).permutation(len(values))
        whole = rank_all(values, OfValues(tallies_of(values)), DEFAULT_LENS, DEFAULTS)
        other = rank_all(values[order], OfValues(tallies_of(values)), DEFAULT_LENS, DEFAULTS)
        np.testing.assert_allclose(other.bands.rank_low, whole.bands.rank_low[order], atol=1)
        np.testing.assert_allclose(other.bands.top_ten, whole.bands.top_ten[order], atol=0.002)
