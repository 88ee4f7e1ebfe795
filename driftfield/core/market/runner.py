"""A whole market read at once: from matrices to one column a figure."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date

import numpy as np

from driftfield.core.base import (
    DEFAULTS,
    Bools,
    CoreError,
    Floats,
    Groups,
    Ints,
    Period,
    Settings,
    Timeline,
    finite,
)
from driftfield.core.curves import (
    CurveReadings,
    SeasonPlan,
    agreement,
    feasts_between,
    mean_curves,
    sum_by_group,
)
from driftfield.core.ranking import DEFAULT_LENS, Lens, normalise, rank_bands, rank_niches
from driftfield.core.supply import (
    Competition,
    home_subjects,
    part_weights,
    read_competition,
    read_moves,
)

from .data import MarketData
from .figures import figures_of
from .figures.figure import Stage
from .kinds import NICHE, TERM
from .own_part import own_part
from .phrases import likely_misspelt
from .planning import SeasonInputs, plan_subjects
from .reader import DemandReader
from .said import LEADERS
from .workings import MarkedShares, Rule, Workings


def compute_figures(
    data: MarketData,
    settings: Settings = DEFAULTS,
    *,
    lens: Lens = DEFAULT_LENS,
    rules: Sequence[Rule] = (),
    as_of: date | None = None,
    planning: date | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> dict[str, np.ndarray]:
    """Every figure that holds for the market's kind: key → (subjects, …) array.

    Computed up to the last period complete on ``as_of`` (default: all there is); dates are planned
    from ``planning`` (default: the as-of). Floats hold NaN
    and objects None for unknown. ``rules`` are the signals to raise,
    in the order of the figure “signals”; without any there is no such figure. ``progress`` is told
    (done, all) subjects. Raises CoreError when there is nothing to read, or nothing is complete by
    ``as_of``.
    """
    return run_market(
        data, settings, lens=lens, rules=rules, as_of=as_of, planning=planning, progress=progress
    ).figures


def run_market(
    data: MarketData,
    settings: Settings = DEFAULTS,
    *,
    lens: Lens = DEFAULT_LENS,
    rules: Sequence[Rule] = (),
    population: Bools | None = None,
    as_of: date | None = None,
    planning: date | None = None,
    moves: bool = True,
    progress: Callable[[int, int], None] | None = None,
) -> Workings:
    """``compute_figures`` with all that its figures were made from.

    ``population`` is (subjects,): those that are ranked, among themselves; by default all. ``moves``:
    whether it is read what moved of late on the supply side, which nothing but the watch needs.
    """
    if not data.subjects:
        raise CoreError(f"There are no {data.kind.plural} to read: term_weeks names no term.")
    if as_of is not None:
        data = data.upto(as_of)
    reader = DemandReader(data, settings, len(data.subjects))
    reader.read_all(progress)
    reader.borrow()
    supply = read_competition(
        data.observed, data.listings, data.searches, data.clicks, data.term_subject,
        data.category, data.timeline, len(data.subjects), settings,
    )  # fmt: skip
    shares = MarkedShares(
        _marked_share(data, data.branded),
        _marked_share(data, data.protected),
        _marked_share(data, _owned(data)),
    )
    work = begin(data, settings, reader, supply, shares, planning)
    work.lens, work.rules = lens, rules
    if data.kind == NICHE:
        weight = None
        if data.observed is not None and data.listings is not None:
            weight = part_weights(data.observed, data.searches, data.clicks)
            if moves:
                work.moves = read_moves(
                    supply.members, data.listings, data.observed, weight, data.term_subject, data.timeline,
                    settings.interval,
                )  # fmt: skip
        found = own_part(data, reader.curves, weight, settings.interval)
        if found is not None:
            work.own, work.own_sources = found
    work.agreement = _agreement(data, settings)
    work.misspelt = _misspelt(data, reader.searches)
    if data.voices is not None:
        clicked = supply.clicked
        subject, pair = clicked.foremost(LEADERS)
        ends = np.searchsorted(subject, np.arange(1, work.count))
        home = home_subjects(clicked, int(clicked.listing.max(initial=-1)) + 1)
        work.said = data.voices(home, np.split(clicked.listing[pair], ends))
    compute_stage(work, Stage.READ)
    work.normalised = normalise(work.figures, population)
    work.ranking = rank_niches(work.normalised, lens)
    work.bands = rank_bands(work.normalised, work.ranking, lens, settings)
    compute_stage(work, Stage.RANKED)
    if rules:
        compute_stage(work, Stage.SIGNALS)
    return work


def begin(
    data: MarketData,
    settings: Settings,
    reader: DemandReader,
    supply: Competition,
    shares: MarkedShares,
    planning: date | None,
) -> Workings:
    """The workings of a market of any kind, before its figures."""
    timeline = data.timeline
    return Workings(
        data=data, settings=settings, curves=reader.curves,
        plan=_plan(reader.curves, timeline, settings, planning), first_figure=reader.first,
        yoy_feasts=_yoy_feasts(timeline), agreement=np.full(reader.n, np.nan),
        impressions_52w=reader.impressions, searches_52w=reader.searches, clicks_52w=reader.clicks,
        purchases_52w=reader.purchases, searches_13w=reader.quarter, shares=shares, lag=reader.lag,
        settled=reader.settled, settled_until=reader.settled_until,
        price_answer=reader.answer(supply), supply=supply,
    )  # fmt: skip


def compute_stage(work: Workings, stage: Stage) -> None:
    """Compute the figures of one stage."""
    for figure in figures_of(work.data.kind):
        if figure.stage is stage:
            work.figures[figure.key] = finite(figure.compute(work))


def _plan(
    curves: CurveReadings, timeline: Timeline, settings: Settings, planning: date | None
) -> SeasonPlan:
    inputs = SeasonInputs.of_curves(curves, timeline)
    return plan_subjects(inputs, settings, planning)


def _owned(data: MarketData) -> Floats | None:
    """Terms that hold a brand's name or a protected word, (terms,), NaN where neither is known."""
    if data.branded is None or data.protected is None:
        return data.protected if data.branded is None else data.branded
    return np.fmax(data.branded, data.protected)


def _misspelt(data: MarketData, searches: Floats) -> Ints | None:
    """Of terms that were counted, the place of the one that each is likely a mistyping of, −1 for none."""
    if data.kind != TERM or not data.counts:
        return None
    found = likely_misspelt(data.subjects, searches, data.niche)
    return np.array([-1 if place is None else place for place in found], dtype=np.int64)


def _marked_share(data: MarketData, marks: Floats | None) -> Floats:
    """Share of each niche's searches of a year whose terms are marked with 1, (niches,).

    A term of which it is not known counts as not marked; NaN where it is known of none.
    """
    n = len(data.subjects)
    if marks is None or not data.counts:
        return np.full(n, np.nan)
    year = np.nan_to_num(data.searches[:, -data.timeline.period.per_year :]).sum(axis=1)
    terms = Groups(data.term_subject, n)
    share = terms.mean(np.nan_to_num(marks), year)
    return np.where(terms.count(marks) > 0, share, np.nan)


def _yoy_feasts(timeline: Timeline) -> list[str]:
    """Feasts that a 13-week comparison across a year sees once; months are too coarse to say."""
    length, year = timeline.length, timeline.period.per_year
    window = timeline.period.span(13)
    if timeline.period is not Period.WEEK or length < year + window:
        return []
    early = slice(length - window - year, length - year)
    return feasts_between(timeline, slice(length - window, length), early)


def _agreement(data: MarketData, settings: Settings) -> Floats:
    """Rank correlation of counts and relative curve of each niche that has both."""
    out = np.full(len(data.subjects), np.nan)
    if data.interest is None or not data.counts:
        return out
    rows, place = np.unique(data.interest.niche, return_inverse=True)
    relative = mean_curves(data.interest.index, place, len(rows))
    mine = np.isin(data.term_subject, rows)
    owner = np.searchsorted(rows, data.term_subject[mine])
    counts = sum_by_group(data.searches[mine], owner, len(rows), settings.bridge_periods)
    for row, ours, theirs in zip(rows, counts, relative, strict=True):
        out[row] = agreement(ours, data.timeline, theirs, data.interest.timeline)
    return out
