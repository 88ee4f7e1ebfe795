"""A subject of any kind close up: its curve, its level, its years and its verdict."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from driftfield.core.base import Floats, Period, Timeline
from driftfield.core.curves import drift_line, mean_curves, sum_by_group
from driftfield.core.market import SELLING
from driftfield.core.sentences import calendar_answers, date_sentences, demand_answers, verdict
from driftfield.core.signals import Raised, explain
from driftfield.market.curves import matrix, spanning
from driftfield.market.models import ListingCurve, TermCurve

from .columns import columns_of
from .plain import plain, plain_list
from .reading import HolderReading, ListingReading, SubjectReading
from .stored_curves import stored_curve


@dataclass(frozen=True, slots=True)
class Preview:
    """values, level: one a period from ``timeline.first``, None where absent. years: by calendar
    year, one value a slot. verdict: sentences; dates: the last of them, which say when to order. demand,
    calendar: the answers to two questions of the dossier. signals: most severe first. figures: by key."""

    timeline: Timeline
    values: list[float | None]
    level: list[float | None] | None
    years: dict[int, list[float | None]]
    verdict: list[str]
    dates: list[str]
    demand: list[str]
    calendar: list[str]
    signals: list[Raised]
    figures: Mapping[str, Any]


def preview(reading: SubjectReading) -> Preview:
    """Everything the foot of a ledger shows of a row, from its curves and its stored reading."""
    settings = reading.settings
    figures = reading.figures
    lead = int(settings.lead_days)
    said = {
        "verdict": verdict(figures, lead, reading.kind, reading.market.currency),
        "dates": date_sentences(figures, lead, reading.kind),
        # Sales are no demand that a question of the dossier could be about.
        "demand": [] if reading.kind in SELLING else demand_answers(figures, reading.kind),
        "calendar": calendar_answers(figures, lead),
    }  # fmt: skip
    raised = {item["signal"]: item["severity"] for item in figures.get("signals", ())}
    signals = explain(figures, settings, raised, reading.market.currency)
    found = curve_of(reading)
    if found is None:
        period, as_of = Period(figures["period"]), figures["as_of"]
        nothing = Timeline(period, period.start(period.number(as_of)), 1)
        return Preview(nothing, [], None, {}, **said, signals=signals, figures=figures)
    timeline, curve = found
    line = drift_line(curve, timeline, settings)
    return Preview(
        timeline=timeline,
        values=[plain(value, 2) for value in curve],
        level=plain_list(line, 2),
        years=years_of(curve, timeline),
        **said,
        signals=signals,
        figures=figures,
    )


def curve_of(reading: SubjectReading) -> tuple[Timeline, Floats] | None:
    """The curve that a reading was made of, NaN for absent; None where none is loaded any more."""
    figures = reading.figures
    if isinstance(reading, ListingReading):
        return _sold(reading)
    if isinstance(reading, HolderReading):
        columns = columns_of(reading.run, reading.kind)
        stored = stored_curve(columns, reading.kind.curve, reading.place)
        return None if stored is None or np.isnan(stored[1]).all() else stored
    counts = figures["basis"] == "counts"
    measure = "searches" if counts else "index"
    found = list(
        TermCurve.objects.filter(measure=measure, subject__in=reading.terms).values_list(
            "first", "values"
        )
    )
    if not found:
        return None
    timeline = spanning(
        Period(figures["period"]), [(first, len(v) // 4) for first, v in found]
    ).upto(figures["as_of"])
    rows = ((i, first, bytes(v)) for i, (first, v) in enumerate(found))
    terms = matrix(rows, len(found), timeline)
    together = np.zeros(len(found), dtype=np.int64)
    if counts:
        longest = int(reading.settings.bridge_periods)
        return timeline, sum_by_group(terms, together, 1, longest)[0]
    return timeline, mean_curves(terms, together, 1)[0]


def _sold(reading: ListingReading) -> tuple[Timeline, Floats] | None:
    """What a listing sells; None where its units are not known."""
    found = ListingCurve.objects.filter(subject=reading.listing, measure="units").first()
    if found is None or reading.figures["basis"] != "counts":
        return None
    values = bytes(found.values)
    timeline = spanning(Period(found.period), [(found.first, len(values) // 4)])
    timeline = timeline.upto(reading.figures["as_of"])
    return timeline, matrix([(0, found.first, values)], 1, timeline)[0]


def years_of(curve: Floats, timeline: Timeline) -> dict[int, list[float | None]]:
    """The curve by year and slot; weeks 52 and 53 share the last slot as their mean."""
    slots = timeline.period.per_year
    sums: dict[int, np.ndarray] = {}
    counts: dict[int, np.ndarray] = {}
    for i, value in enumerate(curve):
        start = timeline.start(i)
        year = start.isocalendar().year if timeline.period is Period.WEEK else start.year
        if np.isnan(value):
            continue
        sums.setdefault(year, np.zeros(slots))[timeline.slots[i]] += value
        counts.setdefault(year, np.zeros(slots))[timeline.slots[i]] += 1
    return {
        year: [
            round(float(s / c), 2) if c else None
            for s, c in zip(sums[year], counts[year], strict=True)
        ]
        for year in sorted(sums)
    }
