"""Overrule settings for one niche: its own figures are made anew with them, and stay so."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
import polars as pl
from django.db import transaction
from django.utils import timezone

from driftfield.core.base import DEFAULTS, CoreError, Settings, plain_number
from driftfield.core.market import (
    FIGURES_BY_KEY,
    NICHE,
    PLANNED,
    SeasonInputs,
    compute_figures,
    figures_of,
    plan_subjects,
)
from driftfield.core.signals import explain
from driftfield.exchange.columns import series_of
from driftfield.market.models import Market, Niche
from driftfield.readings.linked import check_not_linked
from driftfield.readings.models import NicheSettings, Run
from driftfield.readings.niche_data import load_niche_data
from driftfield.readings.reading import Reading
from driftfield.readings.store import OWN, compact, read_column, read_rows, replace_columns

# What can be overruled, and the figures besides the dates that rest on it.
OVERRULED: dict[str, tuple[str, ...]] = {
    "lead_days": tuple(figure.key for figure in PLANNED),
    "target_income": tuple(key for key in FIGURES_BY_KEY if key.startswith("target.")),
    "review_limit": ("barriers.few_reviews",),
}


def overrule(
    market: Market, niche_id: str, changed: Mapping[str, float | None]
) -> dict[str, float]:
    """Keep settings for one niche; None goes back to the market's. What is overruled then.

    Raises CoreError for a niche or a setting that is none, or a value it cannot take, and changes
    nothing then.
    """
    check_not_linked(market)
    if unknown := sorted(set(changed) - set(OVERRULED)):
        raise CoreError(
            f"{', '.join(unknown)} cannot be set for one niche. These can: {', '.join(OVERRULED)}."
        )
    given = {key: value for key, value in changed.items() if value is not None}
    made = DEFAULTS.with_pairs([f"{key}={plain_number(value)}" for key, value in given.items()])
    if not Niche.objects.filter(market=market, niche_id=niche_id).exists():
        raise CoreError(f"There is no niche “{niche_id}” in market “{market.market_id}”.")
    with transaction.atomic():
        row, _ = NicheSettings.objects.get_or_create(market_id=market.market_id, niche_id=niche_id)
        values = made.as_dict()
        row.changed = {key: value for key, value in row.changed.items() if key not in changed}
        row.changed |= {key: values[key] for key in given}
        row.save()
        run = Run.objects.filter(market=market).select_related("market").first()
        if run is not None:
            apply_overrules(run, only=niche_id)
            run.planned_at = timezone.now()
            run.save(update_fields=["planned_at"])
    return row.changed


def apply_overrules(run: Run, only: str | None = None) -> None:
    """Put the figures of niches with settings of their own into a run's columns.

    ``only`` names one niche, also where nothing is overruled for it any more.
    """
    found = NicheSettings.objects.filter(market_id=run.market.market_id)
    rows = {one.niche_id: one.changed for one in found if one.changed or one.niche_id == only}
    if only is not None:
        rows = {only: rows[only]}
    ids = read_column(run, NICHE, f"{OWN}niche_id") if rows else None
    if ids is None:
        return
    places = {niche: place for place, niche in enumerate(ids.to_list()) if niche in rows}
    niches = Niche.objects.filter(market=run.market, niche_id__in=list(places)).in_bulk(
        field_name="pk"
    )
    by_id = {niche.niche_id: niche for niche in niches.values()}
    told: dict[str, dict[int, Any]] = {}
    for niche_id, place in places.items():
        own = _own_figures(Reading(run, NICHE, place, by_id[niche_id]), rows[niche_id])
        for key, series in own.items():
            told.setdefault(key, {})[place] = series
    columns = {}
    for key, values in told.items():
        column = read_column(run, NICHE, key)
        if column is not None:
            columns[key] = _put(column, values)
    if columns:
        replace_columns(run, NICHE, columns)


def _own_figures(reading: Reading, changed: Mapping[str, float]) -> dict[str, pl.Series]:
    """The figures of one niche that rest on what can be overruled, as columns of one."""
    run = reading.run
    settings = Settings.from_dict({**run.settings, **changed})
    figures = read_rows(run, NICHE, figures_of(NICHE), [reading.place])[0]
    made: dict[str, pl.Series] = {}

    def put(key: str, value: np.ndarray) -> None:
        figure = FIGURES_BY_KEY[key]
        made[key] = compact(figure, series_of(figure, value))

    starts = np.zeros((1, run.made_period.per_year), dtype=bool)
    starts[0, np.array(figures["season_starts"] or [], dtype=np.int64) - 1] = True
    profile = figures["season_profile"]
    inputs = SeasonInputs(
        np.array([figures["shape"]], dtype=object), np.array([figures["feast"]], dtype=object),
        np.array([profile or [np.nan] * run.made_period.per_year]), starts, run.made_period,
        figures["as_of"],
    )  # fmt: skip
    plan = plan_subjects(inputs, settings, run.planning_date)
    for figure in PLANNED:
        assert figure.of_plan is not None, "it is one of those that are made from a plan"
        put(figure.key, figure.of_plan(plan))
    loaded = load_niche_data(reading)
    if loaded is not None:
        computed = compute_figures(loaded.data, settings, as_of=run.as_of)
        for key in ("target_income", "review_limit"):
            for one in OVERRULED[key]:
                put(one, computed[one])
    # The signals once more, from what stands now.
    now = dict(figures)
    for key, series in made.items():
        now[key] = series.to_list()[0]
    raised = [
        {"signal": one.key, "severity": round(one.severity, 4)} for one in explain(now, settings)
    ]
    made["signals"] = pl.Series([raised])
    return made


def _put(column: pl.Series, values: Mapping[int, pl.Series]) -> pl.Series:
    """A column with other values at some places."""
    parts, before = [], 0
    for place in sorted(values):
        parts += [column[before:place], values[place].cast(column.dtype)]
        before = place + 1
    return pl.concat([*parts, column[before:]])
