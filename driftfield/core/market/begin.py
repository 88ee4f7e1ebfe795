"""The workings of a market of any kind, before its figures, and the stages in which these are computed."""

from __future__ import annotations

from datetime import date

import numpy as np

from driftfield.core.base import Floats, Groups, Ints, Period, Settings, Timeline, finite
from driftfield.core.curves import (
    CurveReadings,
    SeasonPlan,
    agreement,
    feasts_between,
    mean_curves,
    sum_by_group,
)
from driftfield.core.supply import Competition

from .data import MarketData
from .figures import figures_of
from .figures.figure import Stage
from .kinds import TERM
from .phrases import likely_misspelt
from .planning import SeasonInputs, plan_subjects
from .reader import DemandReader
from .workings import MarkedShares, Workings


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


def misspelt(data: MarketData, searches: Floats) -> Ints | None:
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


def agreements(data: MarketData, settings: Settings) -> Floats:
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


def marked_shares(data: MarketData) -> MarkedShares:
    """Share of each niche's searches whose terms contain a brand's name, a protected word, or either."""
    return MarkedShares(
        _marked_share(data, data.branded),
        _marked_share(data, data.protected),
        _marked_share(data, _owned(data)),
    )
