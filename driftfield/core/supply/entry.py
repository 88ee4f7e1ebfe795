"""Entry: who came lately, and did it work."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Any

import numpy as np

from driftfield.core.base import (
    Bools,
    Floats,
    Ints,
    Settings,
    ratio,
    wilson,
)

from .held import Grouped
from .launches import Judged
from .listings import Listings, window_sum

WINNERS = 2  # Winners from which it is said how they differ.
RARE = 0.05  # Probability under which an attribute of the winners is no chance, before Bonferroni.


@dataclass(frozen=True, slots=True)
class Entry:
    """Figures of each subject, (subjects,), NaN for unknown.

    launches_26w, launches_52w: listings launched within. newest_days: age of the latest. judged:
    those of the last 52 weeks that could be judged; successes: those that reached the bar;
    success_rate with its Wilson interval.
    bar: units in four average weeks of a year (revenue, where an amount was set). units_per_review: of the
    last 26 weeks. winners_price: median price of the successes over that of all others − 1.
    winners_quality: median quality less the others', in points. winners_mark: (subjects,) sentences
    on the attribute that sets them apart, None for none.
    """

    launches_26w: Floats
    launches_52w: Floats
    newest_days: Floats
    judged: Floats
    successes: Floats
    success_rate: Floats
    success_low: Floats
    success_high: Floats
    bar: Floats
    units_per_review: Floats
    winners_price: Floats
    winners_quality: Floats
    winners_mark: np.ndarray


def read_entry(
    members: Grouped,
    listings: Listings,
    day: int,
    settings: Settings,
    tried_out: Judged | None,
) -> Entry:
    """Launches and what became of them, as of ``day``, an ordinal.

    ``tried_out`` is what was judged of the rows, by ``judge_launches`` or by the niches of a category; None
    where it is known of no listing when it was launched.
    """
    groups, n = members.groups, members.groups.many
    if np.isnan(listings.launched).all() or tried_out is None:
        unknown: dict[str, Any] = {f.name: np.full(n, np.nan) for f in fields(Entry)}
        unknown["units_per_review"] = _units_per_review(members, listings)
        unknown["winners_mark"] = np.full(n, None, dtype=object)
        return Entry(**unknown)
    age, bar, judged, won = tried_out.age, tried_out.bar, tried_out.judged, tried_out.won
    lately = {weeks: (age >= 0) & (age < weeks * 7) for weeks in (26, 52)}
    known = groups.count(age) > 0

    def many(rows: Bools) -> Floats:
        return np.where(known, groups.of(rows).size(), np.nan)

    tried, successes = many(judged), many(won)
    low, high = wilson(successes, tried, settings.interval)
    return Entry(
        launches_26w=many(lately[26]),
        launches_52w=many(lately[52]),
        newest_days=groups.least(np.where(age >= 0, age, np.nan)),
        judged=tried,
        successes=successes,
        success_rate=ratio(successes, tried),
        success_low=low,
        success_high=high,
        bar=np.where(known, bar, np.nan),
        units_per_review=_units_per_review(members, listings),
        winners_price=ratio(*_apart(members, won, listings.price)) - 1,
        winners_quality=np.subtract(*_apart(members, won, listings.quality)),
        winners_mark=_mark(members, won, listings),
    )


def _units_per_review(members: Grouped, listings: Listings) -> Floats:
    """Units sold for each review gained in the last 26 weeks; NaN with under one new review."""
    history = listings.history
    reviews = None if history is None else history.measures.get("reviews")
    span = 0 if history is None else history.timeline.period.span(26)
    if reviews is None or reviews.shape[1] <= span:
        return np.full(members.groups.many, np.nan)
    gained = reviews[:, -1] - reviews[:, -1 - span]
    units = window_sum(listings, "units", 26)
    both = ~np.isnan(gained) & ~np.isnan(units)
    sums = [
        members.groups.sum(members.divided(np.where(both, v, np.nan)[members.listing]))
        for v in (units, gained)
    ]
    return ratio(sums[0], np.where(sums[1] >= 1, sums[1], np.nan))


def _apart(members: Grouped, won: Bools, values: Floats) -> tuple[Floats, Floats]:
    """Median of the winners and of the other listings clicked now, each (subjects,)."""
    groups = members.groups
    enough = groups.of(won).size() >= WINNERS
    if not enough.any():
        return np.full(groups.many, np.nan), np.full(groups.many, np.nan)
    # Of subjects without winners nothing is told, so their listings need no order.
    others = members.now & ~won & groups.within(enough)
    mine = values[members.listing]
    ahead, rest = groups.of(won).median(mine[won]), groups.of(others).median(mine[others])
    return np.where(enough, ahead, np.nan), rest


def _mark(members: Grouped, won: Bools, listings: Listings) -> np.ndarray:
    """The attribute that winners share more often than chance has it, as a sentence, (subjects,).

    Fisher's exact test (the hypergeometric upper tail), Bonferroni over the values of a subject.
    """
    groups, n = members.groups, members.groups.many
    out = np.full(n, None, dtype=object)
    wins = groups.of(won).size()
    here = np.flatnonzero((members.now | won) & groups.within(wins >= WINNERS))
    group, at = groups.of(here).pairs()
    told = wins[group] >= WINNERS
    group, row = group[told], here[at[told]]
    best = np.full(n, np.inf)
    tested = np.zeros(n)
    found: list[tuple[str, Ints, Ints, Ints, Ints, Ints, Floats]] = []
    for name, codes in listings.attributes.items():
        known = codes[members.listing[row]] >= 0
        subject, rows = group[known], row[known]
        code, mine = codes[members.listing[rows]], won[rows]
        span = int(codes.max(initial=0)) + 1
        pairs, pair = np.unique(subject * span + code, return_inverse=True)
        owner = pairs // span
        held = np.bincount(pair, minlength=len(pairs))
        held_by_winners = np.bincount(pair[mine], minlength=len(pairs))
        of_all, of_winners = (np.bincount(x, minlength=n)[owner] for x in (subject, subject[mine]))
        p = upper_tail(held_by_winners, held, of_winners, of_all)
        tested += np.bincount(owner, minlength=n)
        np.minimum.at(best, owner, p)
        found.append((name, owner, pairs % span, held_by_winners, held, of_winners, p))
    for name, owner, code, k, held, of_winners, p in found:
        for i in np.flatnonzero((p <= best[owner]) & (p * tested[owner] < RARE)):
            word = listings.words[name][code[i]]
            out[owner[i]] = (
                f"{k[i]} of {of_winners[i]} launches that worked have {name} {word}; of the other "
                f"listings {held[i] - k[i]} have it."
            )
    return out


def upper_tail(x: Ints, marked: Ints, drawn: Ints, whole: Ints) -> Floats:
    """P(at least x marked among ``drawn`` of ``whole`` of which ``marked`` are), hypergeometric."""
    from scipy.special import gammaln

    def choose(n: Ints, k: Ints) -> Floats:
        inside = (k >= 0) & (k <= n)
        n, k = np.where(inside, n, 0), np.where(inside, k, 0)
        logs = gammaln(n + 1) - gammaln(k + 1) - gammaln(n - k + 1)
        return np.where(inside, logs, -np.inf)

    total = np.zeros(len(x))
    base = choose(whole, drawn)
    for i in range(int(drawn.max(initial=-1)) + 1):
        logs = choose(marked, np.full_like(x, i)) + choose(whole - marked, drawn - i) - base
        total += np.where((i >= x) & (i <= drawn), np.exp(logs), 0)
    return np.minimum(total, 1)
