"""The past replayed: what an analysis said on each of some days, with only what was known then."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Protocol

import numpy as np

from driftfield.core.base import (
    Bools,
    CoreError,
    Floats,
    Ints,
    Period,
    Settings,
    Timeline,
    fold_week53,
)
from driftfield.core.curves import Planned, Sums
from driftfield.core.ranking import DEFAULT_LENS, PARTS, Lens, Normalised

from ..categories import run_categories
from ..data import MarketData, subject_curves
from ..kinds import CATEGORY, NICHE, TERM, Kind
from ..runner import run_market
from ..workings import Rule, Workings
from .known_then import known_on

EVERY = 13  # Weeks between two days that are replayed.
BACK = 156  # Weeks before the end from which on days are replayed by default.
RECORD = 104  # Weeks of record that a day must have behind it.
# Figures kept of each day: what later ones are held against.
KEPT = (
    "shape", "shape_confidence", "drift", "drift_rate_year", "drift_low", "drift_high", "searches_52w",
    "open_searches_52w", "demand", "competition", "headroom", "rank", "rank_low", "rank_high",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Launches:
    """Launches of the year before a day as judged on it, (rows,) each, a row for each niche that a listing is
    clicked from: the niche, the listing, the ordinal of its launch, and whether it worked."""

    subject: Ints
    listing: Ints
    launched: Floats
    won: Bools


@dataclass(frozen=True, slots=True)
class Then:
    """What was said on a day; arrays are (subjects, …), NaN for unknown.

    as_of, length: last day, and how many periods were known by it. figures: those of KEPT. coming: the year
    ahead by period. ahead: its sums by weeks. scale: mean error of the seasonal naive within the record of
    then. factors: (subjects, slots) season profiles. seasons: those to come. raised: (subjects, signals).
    launches: as judged on that day.
    """

    as_of: date
    length: int
    figures: dict[str, np.ndarray]
    coming: Floats
    ahead: dict[int, Sums]
    scale: Floats
    factors: Floats
    seasons: Planned
    normalised: Normalised
    raised: Bools
    launches: Launches


class Memory(Protocol):
    """What keeps days that were replayed, see ``kept``."""

    def recall(self, known: MarketData) -> Then | None:
        """What was said on the day up to which a market is known, if as much was known of it then."""

    def remember(self, then: Then) -> None:
        """Keep what was said on the day asked for last."""


def days_to_replay(
    timeline: Timeline,
    *,
    every: int = EVERY,
    since: date | None = None,
    first: int = 0,
    through: date | None = None,
) -> list[date]:
    """Days on which a period ends, ``every`` so many weeks back from the end of the record, earliest first.

    ``through``: a day that was replayed before; the others lie whole steps from it, so that it is one of them.

    By default those of the last three years; of all of them only such that have two years of record before
    them. Raises CoreError where there is none, or ``every`` is under a period.
    """
    step = timeline.period.span(every) if every > 0 else 0
    if step < 1:
        raise CoreError(
            f"Days to replay lie at least a {timeline.period.value} apart; got {every} weeks."
        )
    least = first + timeline.period.span(RECORD)
    earliest = timeline.length - timeline.period.span(BACK)
    last = timeline.length
    if through is not None and timeline.first <= through < timeline.end:
        last -= (last - timeline.upto(through).length) % step
    days = []
    for length in range(last, least - 1, -step):
        day = Timeline(timeline.period, timeline.first, length).end
        if (since is None and length >= earliest) or (since is not None and day >= since):
            days.append(day)
    if since is not None and len(days) < 2 <= (last - least) // step + 1:
        raise CoreError(
            f"Fewer than two days from {since} on, {every} weeks apart, lie before the record ends on "
            f"{timeline.end}. Start earlier."
        )
    if len(days) < 2:
        known = f"{timeline.length - first} {timeline.period.value}s from {timeline.start(first)}"
        raise CoreError(
            f"The record of {known} is too short to be replayed: an earlier day needs {RECORD} weeks before it "
            f"and {every} after it."
        )
    return days[::-1]


def later_by(thens: Sequence[Then], when: int, weeks: int, period: Period) -> Then | None:
    """The day so many weeks after one, None where it is not replayed; ``thens`` are in order."""
    wanted = thens[when].length + period.span(weeks)
    return next((one for one in thens[when + 1 :] if one.length == wanted), None)


def first_known(data: MarketData) -> int:
    """The first period of which a market's searches are known; that after the last where none is."""
    known = ~np.isnan(data.searches).all(axis=0)
    return int(known.argmax()) if known.any() else data.timeline.length


def replay(
    data: MarketData,
    days: Sequence[date],
    settings: Settings,
    *,
    lens: Lens = DEFAULT_LENS,
    rules: Sequence[Rule] = (),
    kind: Kind = NICHE,
    terms: Sequence[str] = (),
    memory: Memory | None = None,
    as_told: Callable[[date], MarketData] | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> Iterator[Then]:
    """Analyse a market as it was known on each day; one at a time, for each takes as much room as one analysis.

    ``kind``: what of it; of terms, ``terms`` are the names of the market's, each leaning on its niche's season
    as it was known then. ``memory``: days replayed before, which are taken over where all that was known on
    them is the same. ``as_told``: the market with the figures that stood on a day, where they were revised
    since; those of now where it is left out. ``progress`` is told (done, all) days. Raises CoreError as
    ``run_market`` does.
    """
    for done, day in enumerate(days, 1):
        known = known_on(data if as_told is None else as_told(day), day)
        then = None if memory is None else memory.recall(known)
        if then is None:
            then = _replayed(known, settings, lens, rules, kind, terms)
            if memory is not None:
                memory.remember(then)
        yield then
        if progress:
            progress(done, len(days))


def _replayed(
    known: MarketData,
    settings: Settings,
    lens: Lens,
    rules: Sequence[Rule],
    kind: Kind,
    terms: Sequence[str],
) -> Then:
    own = rules if kind == NICHE else ()
    work = run_market(known, settings, lens=lens, rules=own, moves=False)
    if kind == TERM:
        known = known.of_terms(terms, work.figures["season_profile"])
        work = run_market(known, settings, lens=lens, rules=rules, moves=False)
    elif kind == CATEGORY:
        found = run_categories(work)
        assert found is not None, "what is judged has categories"
        work = found
    return _then(work, rules)


def folded_curves(data: MarketData, settings: Settings) -> Floats:
    """Curves of the subjects with 52 periods a year, (subjects, folded length), gaps as they are."""
    whole = subject_curves(data, data.searches, range(len(data.subjects)), settings)
    return fold_week53(whole, data.timeline).astype(np.float32)


def _then(work: Workings, rules: Sequence[Rule]) -> Then:
    curves, year = work.curves, work.timeline.period.per_year
    known = folded_curves(work.data, work.settings)
    with np.errstate(invalid="ignore"):
        steps = np.abs(known[:, year:] - known[:, :-year])
    told = np.isfinite(steps)
    number = told.sum(axis=1)
    scale = np.where(told, steps, 0).sum(axis=1, dtype=np.float64) / np.maximum(number, 1)
    raised = np.zeros((work.count, len(rules)), dtype=bool)
    for column, rule in enumerate(rules):
        # Some figures that a rule reads are of niches alone.
        if all(key in work.figures for key in rule.reads):
            raised[:, column] = ~np.isnan(rule.severity(work.figures, work.settings))
    unknown = np.zeros((work.count, len(PARTS)))
    normalised = work.normalised or Normalised(unknown, unknown.astype(bool))
    return Then(
        as_of=work.timeline.end, length=work.timeline.length,
        figures={key: work.figures[key] for key in KEPT if key in work.figures},
        coming=curves.coming, ahead=curves.ahead, scale=np.where(number >= year // 2, scale, np.nan),
        factors=curves.factors.astype(np.float32), seasons=work.plan.planned, normalised=normalised,
        raised=raised, launches=_launches(work),
    )  # fmt: skip


def _launches(work: Workings) -> Launches:
    judged = work.supply.judged
    # A category's launches are those of its niches.
    if judged is None or work.data.kind == CATEGORY:
        none = np.empty(0, dtype=np.int64)
        return Launches(none, none, np.empty(0), np.empty(0, dtype=bool))
    rows = np.flatnonzero(judged.judged)
    members = work.supply.clicked
    day = work.timeline.end.toordinal()
    return Launches(
        members.subject[rows], members.listing[rows], day - judged.age[rows], judged.won[rows]
    )
