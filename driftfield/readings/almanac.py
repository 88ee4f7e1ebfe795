"""The almanac of a run's subjects: from what is stored of their seasons, for any day of ordering."""

from __future__ import annotations

from datetime import date

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings
from driftfield.core.curves import SeasonPlan, join_plans
from driftfield.core.market import (
    FIGURES_BY_KEY,
    LISTING,
    NICHE,
    AlmanacRow,
    Kind,
    Window,
    almanac_rows,
    plan_subjects,
)

from .columns import RunColumns, columns_of
from .models import Run
from .season_inputs import all_seasons, seasons_at

_FROM = FIGURES_BY_KEY["sleep.season_from"]


def almanac_at(
    columns: RunColumns, places: Ints, planning: date, window: Window
) -> list[AlmanacRow]:
    """What a window holds of the seasons of the subjects at some places, in their order."""
    run, kind = columns.run, columns.kind
    rows = _rows(run, kind, places, _lead_days(columns)[places], planning, window)
    lent = _by_niche(columns)[places]
    if lent.any():
        niches = columns_of(run, NICHE)
        theirs = _niche_places(columns, niches)[places[lent]]
        lead = np.full(len(theirs), int(run.settings["lead_days"]))
        found = _rows(run, NICHE, theirs, lead, planning, window)
        for at, row in zip(np.flatnonzero(lent).tolist(), found, strict=True):
            rows[at] = row
    return rows


def _rows(
    run: Run, kind: Kind, places: Ints, lead_days: Ints, planning: date, window: Window
) -> list[AlmanacRow]:
    stored = seasons_at(run, kind, places)
    rows: dict[int, AlmanacRow] = {}
    for inputs, own in zip(stored.parts, stored.rows, strict=True):
        made = almanac_rows(inputs, lead_days[own], planning, window)
        rows |= dict(zip(own.tolist(), made, strict=True))
    return [rows[at] for at in range(len(places))]


def next_deadlines(columns: RunColumns, planning: date) -> Floats:
    """The day of each subject's next deadline (``AlmanacRow.next``), an ordinal, NaN for none; (subjects,)."""
    return columns.kept(("next deadlines", planning), lambda: _next_deadlines(columns, planning))


def _next_deadlines(columns: RunColumns, planning: date) -> Floats:
    own = _deadlines(columns, planning)
    lent = _by_niche(columns)
    if lent.any():
        niches = columns_of(columns.run, NICHE)
        theirs = _market_deadlines(niches, planning)
        own = np.where(lent, theirs[_niche_places(columns, niches)], own)
    return own


def _deadlines(columns: RunColumns, planning: date) -> Floats:
    """Those of their own seasons; from stored dates where these were planned from the same day."""
    if planning == columns.run.planning:
        order_by, until = columns.figure("act.order_by"), columns.figure("act.open_until")
        found: Floats = np.where(columns.figure("act.order_in_days") >= 0, order_by, until)
        return found
    found = _market_deadlines(columns, planning)
    if columns.kind == NICHE:
        own = columns.run.own_lead_days
        at = np.array([columns.places[one] for one in own if one in columns.places], dtype=np.int64)
        rows = almanac_at(columns, at, planning, Window.from_month_of(planning))
        for place, row in zip(at.tolist(), rows, strict=True):
            due = row.next(planning)
            found[place] = np.nan if due is None else due.day.toordinal()
    return found


def _market_deadlines(columns: RunColumns, planning: date) -> Floats:
    """The same with the market's lead time for all."""
    settings = Settings.from_dict(columns.run.settings)
    stored = all_seasons(columns.run, columns.kind)
    plans: list[SeasonPlan] = [plan_subjects(one, settings, planning) for one in stored.parts]
    plan = join_plans(plans, stored.rows)
    return np.where(plan.order_by >= planning.toordinal(), plan.order_by, plan.open_until)


def _lead_days(columns: RunColumns) -> Ints:
    """Days from ordering to being on sale, (subjects,): the market's, or a niche's own."""
    lead = np.full(columns.count, int(columns.run.settings["lead_days"]), dtype=np.int64)
    if columns.kind == NICHE:
        for niche, days in columns.run.own_lead_days.items():
            if niche in columns.places:
                lead[columns.places[niche]] = days
    return lead


def _by_niche(columns: RunColumns) -> Bools:
    """Listings whose niche tells their season, (subjects,)."""
    if columns.kind != LISTING:
        return np.zeros(columns.count, dtype=bool)
    lent: Bools = columns.figure(_FROM.key) == _FROM.choices.index("its niche")
    return lent & (_niche_places(columns, columns_of(columns.run, NICHE)) >= 0)


def _niche_places(columns: RunColumns, niches: RunColumns) -> Ints:
    return np.array([niches.places.get(one, -1) for one in columns.owners], dtype=np.int64)
