"""The track record of a market: how far what was said on past days held, beside the obvious alternative."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date

import numpy as np

from driftfield.core.base import CoreError, Floats, Ints, Settings, join_rows
from driftfield.core.curves import AHEAD
from driftfield.core.ranking import DEFAULT_LENS, Lens

from ..categories import market_rolled_up
from ..data import MarketData
from ..kinds import CATEGORY, NICHE, TERM, Kind
from ..workings import Rule
from .dates import LEAST_DEMAND, Dated, read_dated
from .demand import Foreseen, growth_after, read_foreseen
from .fitted_lens import FittedLens, fit_lens
from .launched import read_launched
from .lines import NEAR, Held, LineMaker
from .replay import Memory, Then, folded_curves, replay

MISSES = 10  # Worst ones named of each part.


@dataclass(frozen=True, slots=True)
class Miss:
    """What was said of a subject on a day that is far from what came: sums of searches, or weeks."""

    part: str
    subject: int
    as_of: date
    weeks: int
    said: float
    came: float


@dataclass(slots=True)
class TrackRecord:
    """How far what was said on some days held.

    days: those that were replayed. lines, misses: see there; of terms and categories there are none of
    launches. undated: share of the listings clicked whose launch has no date; ended: whether any listing's
    history ends before the record does, None where none is known.
    """

    days: list[date]
    lines: list[Held] = field(default_factory=list)
    misses: list[Miss] = field(default_factory=list)
    undated: float = float("nan")
    ended: bool | None = None
    fitted: FittedLens | None = None

    def line(
        self, part: str, measure: str, group: str = "", weeks: int = 0, category: str = ""
    ) -> Held:
        """The one line of a measure. Raises KeyError where there is none."""
        wanted = part, measure, group, weeks, category
        for one in self.lines:
            if (one.part, one.measure, one.group, one.weeks, one.category) == wanted:
                return one
        raise KeyError(f"{part} {measure} {group} {weeks}")


def track_record(
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
) -> TrackRecord:
    """Replay a market on some days and hold what was said on them against what came.

    Parameters
    ----------
    data : MarketData
        All that is known now.
    days : sequence of date
        As-ofs, earliest first, see ``days_to_replay``.
    settings : Settings
        Those of the analysis; intervals cover ``interval``.
    lens : Lens
        By which niches were ranked.
    rules : sequence of Rule
        Signals that were raised.
    kind : Kind
        What is judged: niches, terms or categories; launches and weights only with niches, signals not with
        categories.
    terms : sequence of str, optional
        Names of the market's terms, where it is they that are judged.
    memory : Memory, optional
        What keeps days, see ``KeptDays``.
    as_told : callable, optional
        The market with the figures that stood on a day, where they were revised since.
    progress : callable, optional
        Told (done, all) days.

    Returns
    -------
    TrackRecord
    """
    timeline = data.timeline
    rules = () if kind == CATEGORY else rules
    judged, home = _judged(data, kind, terms, settings)
    curves = folded_curves(judged, settings)
    thens: list[Then] = []
    foreseen: list[Foreseen] = []
    dated: list[Dated] = []
    grown: list[Floats] = []
    for when, then in enumerate(
        replay(
            data,
            days,
            settings,
            lens=lens,
            rules=rules,
            kind=kind,
            terms=terms,
            memory=memory,
            as_told=as_told,
            progress=progress,
        )
    ):
        foreseen.append(read_foreseen(then, when, curves, timeline))
        dated.append(read_dated(then, when, curves, timeline, settings))
        grown.append(growth_after(then, curves, timeline))
        # What is as wide as a year is held against what came at once, and let go.
        nothing = np.empty((0, 0))
        thens.append(replace(then, coming=nothing, factors=nothing))
    record = TrackRecord([then.as_of for then in thens])
    ahead, seasons = join_rows(foreseen), join_rows(dated)
    made = LineMaker(thens, settings, timeline, home, _top_of(judged))
    record.lines = [
        *made.forecasts(ahead), *made.shapes(), *made.drift(grown),
        *made.dates(seasons), *made.signals([rule.key for rule in rules], grown), *made.bands(),
    ]  # fmt: skip
    if kind == NICHE:
        # A launch is one of its niche, however many terms lead to it.
        launched = read_launched(thens, data.listings, timeline.period)
        record.lines += made.launches(launched)
        record.fitted = fit_lens(thens, launched, timeline.period, settings.interval, lens=lens)
    record.misses = _misses(ahead, seasons, record.days)
    _describe(record, data)
    return record


def _judged(
    data: MarketData, kind: Kind, terms: Sequence[str], settings: Settings
) -> tuple[MarketData, Ints]:
    """The market with what is judged as its subjects, and which of these belong together, (subjects,).

    Raises CoreError for categories where there are none.
    """
    if kind == TERM:
        slots = np.full((len(data.subjects), data.timeline.period.per_year), np.nan)
        return data.of_terms(terms, slots), data.term_subject
    if kind == CATEGORY:
        if data.tree is None or data.category is None or not data.counts or not len(data.tree):
            raise CoreError("The market has no categories whose searches could be added up.")
        return market_rolled_up(data, data.tree, data.category, settings), data.tree.top
    return data, np.arange(len(data.subjects))


def _top_of(data: MarketData) -> np.ndarray | None:
    """Id of the category at the top of each subject's tree, empty for none."""
    tree, category = data.tree, data.category
    if tree is None or category is None or not len(tree):
        return None
    ids = np.array(tree.ids, dtype=object)[tree.top]
    found: np.ndarray = np.where(category >= 0, ids[category], "").astype(object)
    return found


def _misses(foreseen: Foreseen, dated: Dated, days: Sequence[date]) -> list[Miss]:
    """The worst of each part, one of a subject."""
    misses = []
    larger = np.maximum(foreseen.said, foreseen.came)
    told = (foreseen.weeks == AHEAD[0]) & (foreseen.within == 0) & (larger >= LEAST_DEMAND)
    rows = np.flatnonzero(told)
    for row in _worst(np.abs(foreseen.off), foreseen.subject, rows):
        said = float(foreseen.said[row])
        came = float(foreseen.came[row])
        day = days[int(foreseen.when[row])]
        misses.append(Miss("forecast", int(foreseen.subject[row]), day, AHEAD[0], said, came))
    rows = np.flatnonzero(np.abs(dated.shift) > NEAR)
    for row in _worst(np.abs(dated.shift), dated.subject, rows):
        day = days[int(dated.when[row])]
        misses.append(Miss("season", int(dated.subject[row]), day, 0, 0.0, float(dated.shift[row])))
    return misses


def _worst(size: Floats, subject: Ints, rows: Ints) -> list[int]:
    order = rows[np.argsort(-size[rows], kind="stable")]
    first = np.sort(np.unique(subject[order], return_index=True)[1])
    found: list[int] = order[first][:MISSES].tolist()
    return found


def _describe(record: TrackRecord, data: MarketData) -> None:
    """What of the data would mislead."""
    listings, seen = data.listings, data.observed
    if listings is None or seen is None:
        return
    clicked = np.unique(seen.listing)
    record.undated = (
        float(np.isnan(listings.launched[clicked]).mean()) if len(clicked) else float("nan")
    )
    history = listings.history
    if history is not None and "units" in history.measures:
        units = history.measures["units"]
        quarter = history.timeline.period.span(13)
        known = ~np.isnan(units)
        record.ended = bool((known.any(axis=1) & ~known[:, -quarter:].any(axis=1)).any())
