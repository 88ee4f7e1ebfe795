"""What a part tells of itself before any is read, and what the whole data set then is."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime

import polars as pl

from driftfield.core.base import CoreError, Period, Timeline
from driftfield.core.market import CategoryTree

from ..completeness import Ratios, end_of
from ..market_data import tree_of
from ..matrices import complete_until, curves_of, numbers_of
from ..tables import tables
from ..whole import Span, Whole
from .layout import Manifest, Store
from .parts import Unit, periods_of, read_table_of


@dataclass(frozen=True, slots=True)
class SpanFacts:
    """Numbers of the first and last period of curves, the measures known, and how terms did in the last."""

    first: int
    last: int
    measures: frozenset[str]
    ratios: Ratios


@dataclass(frozen=True, slots=True)
class Facts:
    """What one part tells. counts, relative: of term_weeks and interest; history: first and last period of
    listing_weeks. clicks: numbers of the periods with clicks. categories: ids that niches and listings name, in
    the order they come."""

    counts: SpanFacts | None = None
    relative: SpanFacts | None = None
    history: tuple[int, int] | None = None
    clicks: frozenset[int] = frozenset()
    categories: tuple[tuple[str, ...], ...] = field(default=((), ()))


def facts_of(store: Store, manifest: Manifest, unit: Unit) -> Facts:
    """What a part tells, from a few columns of its tables."""
    periods = periods_of(manifest)

    def told(name: str, *columns: str, where: pl.Expr | None = None) -> pl.DataFrame:
        if name not in manifest.tables:
            return pl.DataFrame()
        return read_table_of(store, manifest, unit, name, [*columns], where=where, check=False)

    def span(name: str) -> SpanFacts | None:
        measures = tables()[name].measures
        frame = told(name, "week", *measures)
        if not frame.height:
            return None
        period = periods[name]
        numbers = numbers_of(frame["week"], period)
        known = frozenset(
            one for one in measures if one in frame.columns and frame[one].count() > 0
        )
        first, last = int(numbers.min()), int(numbers.max())
        wanted = [last, last - 1, last - period.per_year, last - period.per_year - 1]
        days = [period.start(number) for number in wanted if number >= first]
        late = told(name, "term", "week", measures[0], where=pl.col("week").is_in(days))
        return SpanFacts(first, last, known, _ratios(late, first, last, period, measures[0]))

    weeks = told("listing_weeks", "week")
    history = None
    if weeks.height:
        numbers = numbers_of(weeks["week"], periods["listing_weeks"])
        history = int(numbers.min()), int(numbers.max())
    clicks = told("term_clicks", "week")
    clicked: frozenset[int] = frozenset()
    if clicks.height and "term_weeks" in periods:
        days = clicks["week"].unique().drop_nulls()
        clicked = frozenset(numbers_of(days, periods["term_weeks"]).tolist())
    named: list[tuple[str, ...]] = []
    for name in ("niches", "listings"):
        frame = told(name, "category_id")
        known = "category_id" in frame.columns
        named.append(tuple(frame["category_id"].drop_nulls().unique().to_list()) if known else ())
    return Facts(span("term_weeks"), span("interest"), history, clicked, tuple(named))


def _ratios(frame: pl.DataFrame, first: int, last: int, period: Period, measure: str) -> Ratios:
    """How terms did in the last period of the part, from the rows that tell of it."""
    start = max(last - period.per_year - 1, first)
    timeline = Timeline(period, period.start(start), last - start + 1)
    found = curves_of(frame, "term", period, [measure])
    part = Span(timeline, frozenset([measure]), timeline.end).widen(found)
    return Ratios.of(part.measures[measure], timeline)


def whole_of(
    manifest: Manifest,
    facts: Mapping[Unit, Facts],
    categories: pl.DataFrame | None,
    as_of: date | None,
) -> Whole:
    """What the whole data set is; CoreError where it has no curves."""
    periods, notes = periods_of(manifest), []
    created = None if manifest.created is None else datetime.fromisoformat(manifest.created)

    def span(name: str, several: Iterable[SpanFacts | None]) -> Span | None:
        known = [one for one in several if one is not None]
        if not known:
            return None
        period = periods[name]
        first, last = min(one.first for one in known), max(one.last for one in known)
        timeline = Timeline(period, period.start(first), last - first + 1)
        ratios = Ratios.together([one.ratios for one in known if one.last == last])
        end, note = end_of(ratios, timeline, as_of, complete_until(created))
        if note:
            notes.append(note)
        return Span(timeline, frozenset().union(*(one.measures for one in known)), end)

    ordered = [facts[unit] for unit in sorted(facts)]
    counts = span("term_weeks", (one.counts for one in ordered))
    relative = span("interest", (one.relative for one in ordered))
    if counts is None and relative is None:
        raise CoreError("There is no term_weeks table to analyse.")
    history = None
    known = [one.history for one in ordered if one.history is not None]
    if known:
        period = periods["listing_weeks"]
        first, last = min(first for first, _ in known), max(last for _, last in known)
        history = Timeline(period, period.start(first), last - first + 1)
    return Whole(
        counts, relative, history, _latest(facts, counts), _tree(categories, ordered), notes
    )


def _latest(facts: Mapping[Unit, Facts], counts: Span | None) -> dict[str, int]:
    """Number of the latest period with clicks of each market, within the record."""
    latest: dict[str, int] = {}
    if counts is not None:
        first = counts.timeline.first_number
        end = counts.timeline.period.number(counts.end)
        for unit, one in facts.items():
            inside = [number for number in one.clicks if first <= number <= end]
            latest[unit.market] = max([latest.get(unit.market, -1), *inside])
    return latest


def _tree(categories: pl.DataFrame | None, facts: Sequence[Facts]) -> CategoryTree | None:
    """All categories; those that only niches or listings name stand at the top by their ids, in their order."""
    named = [sorted({key for one in facts for key in one.categories[kind]}) for kind in (0, 1)]
    return tree_of(categories, named)
