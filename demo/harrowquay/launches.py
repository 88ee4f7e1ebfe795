"""Launches of the last four years, and what came of them by a stated rule.

The log-odds that a launch works are ``USUAL`` plus ``FOLLOWS`` of its root category times how much more is
searched for in its niche than in others, and how much fewer reviews its listings have: each in standard
deviations, weighed by ``COUNTS`` of its market. In one category neither says anything; in one market reviews do
not. A launch that works sells more than the middle of the established listings, one that does not sells a
fraction of it, and half of those are given up.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .catalogue import Niche, seeded
from .curves import WEEKS

USUAL = -1.3
# By root category; elsewhere ELSEWHERE.
FOLLOWS = {"Brewing": 0.0, "Growing": 2.6, "Bees": 2.6}
ELSEWHERE = 1.6
# By market: how much searches count, and reviews.
COUNTS = {"north": (0.4, 0.7), "south": (1.1, 0.0)}
# What niches are drawn from: logarithms of searches a week, and of their listings' reviews.
SEARCHES, SEARCHES_SPREAD = np.log(1700), 0.6
REVIEWS, REVIEWS_SPREAD = np.log(380), 0.55
A_NICHE = {"north": 6.0, "south": 9.0}  # Launches by market, on average.
FIRST_AGE, LAST_AGE = 45, 4 * 364  # Days ago.
WORKS, FAILS = 1.7, 0.3  # Of what the middle of the established listings draws.
SETTLES = 8.0  # Weeks in which a launch comes to what it draws.
GIVEN_UP = 0.5  # Of those that fail.
# Options that plant something in a niche's supply, or of which there is too little to launch into.
PLANTED = {
    "nolist", "failed", "winners", "dead", "wide", "newcomers", "entrenched", "opening", "closing", "brand", "house",
    "ours", "pricewar", "quiet", "fresh", "weak", "bought", "unmet", "willing", "scarce", "returns", "asked",
    "worsens", "young", "loose", "tiny", "brandwords",
}  # fmt: skip


@dataclass(frozen=True)
class Launch:
    """One launch: days since it, whether it works, what it draws over the middle of the field, and the week in
    which it was given up, None where it was not."""

    age: int
    works: bool
    draws: float
    given_up: int | None


def launches_of(niche: Niche, searches: float, reviews: float, last: int) -> list[Launch]:
    """Launches into a niche, latest first; none where something else was planted there.

    ``searches`` a week and ``reviews`` of its listings are what the rule reads; ``last`` is the last complete
    week.
    """
    if PLANTED & niche.options.keys() or searches <= 0 or niche.pattern[0] == "fa":
        return []
    rng = seeded(niche.niche_id, "launches")
    size = (np.log(searches) - SEARCHES) / SEARCHES_SPREAD
    reviewed = (np.log(reviews) - REVIEWS) / REVIEWS_SPREAD
    of_size, of_reviews = COUNTS[niche.market.market_id]
    odds = USUAL + FOLLOWS.get(niche.root, ELSEWHERE) * (of_size * size - of_reviews * reviewed)
    found = []
    for age in sorted(
        rng.integers(FIRST_AGE, LAST_AGE, rng.poisson(A_NICHE[niche.market.market_id])).tolist()
    ):
        works = bool(rng.random() < 1 / (1 + np.exp(-odds)))
        draws = (WORKS if works else FAILS) * float(np.exp(rng.normal(0, 0.15)))
        gone = last - age // 7 + int(rng.integers(30, 90))
        given_up = gone if not works and rng.random() < GIVEN_UP and gone < last - 8 else None
        found.append(Launch(age, works, draws, given_up))
    return found


def drawn_by(launches: list[Launch], drawn: np.ndarray, last: int) -> np.ndarray:
    """What launches draw by week, (launches, WEEKS), beside what those draw that were there before."""
    weeks = np.arange(WEEKS)
    there = np.where(drawn > 0, drawn, np.nan)
    known = ~np.isnan(there).all(axis=0)
    middle = np.zeros(WEEKS)
    middle[known] = np.nanmedian(there[:, known], axis=0)
    rows = []
    for one in launches:
        since = weeks - (last - one.age // 7)
        row = middle * one.draws * np.clip((since + 1) / SETTLES, 0, 1)
        rows.append(np.where(weeks < (WEEKS if one.given_up is None else one.given_up), row, 0))
    return np.array(rows).reshape(len(launches), WEEKS)
