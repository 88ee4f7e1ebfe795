"""Plan a market's dates anew: from another day, or with another lead time."""

from __future__ import annotations

from datetime import date

import numpy as np
import polars as pl
from django.db import transaction
from django.utils import timezone

from driftfield.core.base import CoreError, Settings
from driftfield.core.curves import SeasonPlan, join_plans
from driftfield.core.market import (
    FIGURES_BY_KEY,
    KINDS,
    LISTING,
    NICHE,
    PLANNED,
    SELLING,
    Kind,
    check_planning,
    coming_seasons,
    plan_subjects,
    season_figures,
)
from driftfield.core.signals import SIGNALS
from driftfield.exchange.columns import numbers_in, series_of
from driftfield.market.models import Market
from driftfield.readings.chosen import chosen_for
from driftfield.readings.columns import columns_of
from driftfield.readings.linked import check_not_linked
from driftfield.readings.models import MarketSettings, Run
from driftfield.readings.season_inputs import all_seasons
from driftfield.readings.store import compact, plain, read_columns, replace_columns

from .overrule import apply_overrules

_KEYS = {figure.key for figure in PLANNED}
# Rules that are raised by dates, and what they read besides.
_RULES = tuple(rule for rule in SIGNALS if _KEYS & set(rule.reads))
_BESIDES = tuple({key for rule in _RULES for key in rule.reads} - _KEYS)


def choose_planning(market: Market, planning: date | None, lead_days: int) -> Run:
    """Plan a market from a day (None: its as-of) with a lead time, from now on.

    What is read of its curves stays as it is; dates, and signals raised by them, are made anew. Raises
    CoreError where the day or the lead time makes no sense, and changes nothing then.
    """
    check_not_linked(market)
    run = market.run
    lead = next(one for one in Settings.declared() if one.key == "lead_days")
    if not lead.low <= lead_days <= lead.high:
        raise CoreError(
            f"The lead time lies between {lead.low} and {lead.high} days; got {lead_days}."
        )
    if planning is not None:
        check_planning(planning, run.as_of)
    with transaction.atomic():
        chosen, _ = MarketSettings.objects.get_or_create(market_id=market.market_id)
        chosen.planning_date = None if planning == run.as_of else planning
        chosen.changed = {k: v for k, v in chosen.changed.items() if k != "lead_days"}
        if lead_days != lead.default:
            chosen.changed["lead_days"] = lead_days
        chosen.save()
        plan_run(run)
    return run


def plan_run(run: Run) -> None:
    """Make a run's dates as is chosen for its market now."""
    chosen = chosen_for(run.market.market_id)
    lead, planning = int(chosen.settings.lead_days), chosen.planning_at(run.as_of)
    if (run.planning_date, run.settings["lead_days"]) == (planning, lead):
        return
    run.settings["lead_days"] = lead
    run.planning_date, run.planned_at = planning, timezone.now()
    plans = {kind: _plan(run, kind) for kind in KINDS if run.counts.get(kind.key)}
    for kind, plan in plans.items():
        replace_columns(run, kind, _dated(run, kind, plan))
    if LISTING in plans:
        replace_columns(run, LISTING, _coming_seasons(run, plans[LISTING], plans[NICHE]))
    apply_overrules(run)
    run.save(update_fields=["settings", "planning_date", "planned_at"])


def _dated(run: Run, kind: Kind, plan: SeasonPlan) -> dict[str, pl.Series]:
    """The columns of a kind that rest on the planning date and the lead time."""
    columns, raised = {}, {}
    for figure in PLANNED:
        assert figure.of_plan is not None, "it is one of those that are made from a plan"
        series = series_of(figure, figure.of_plan(plan))
        columns[figure.key] = compact(figure, series)
        if any(figure.key in rule.reads for rule in _RULES):
            raised[figure.key] = numbers_in(figure, columns[figure.key], 0)
    for name, column in read_columns(run, kind, ["signals", *_BESIDES]):
        columns[name] = column
    for key in _BESIDES:
        found = columns.pop(key, None)
        if found is None:
            return columns
        figure = FIGURES_BY_KEY[key]
        words = figure.choices or found.dtype == pl.String
        raised[key] = (
            np.array(plain(figure, found), dtype=object) if words else numbers_in(figure, found, 0)
        )
    if "signals" in columns:
        columns["signals"] = _signals(columns["signals"], raised, run.made_with)
    return columns


def _coming_seasons(run: Run, own: SeasonPlan, of_niches: SeasonPlan) -> dict[str, pl.Series]:
    """The dates of the listings that sleep, or are in season, as far as they rest on that."""
    listings, niches = columns_of(run, LISTING), columns_of(run, NICHE)
    from_ = FIGURES_BY_KEY["sleep.season_from"].choices.index("its niche")
    with np.errstate(invalid="ignore"):
        by_niche = listings.figure("sleep.season_from") == from_
    niche = np.array([niches.places.get(one, -1) for one in listings.owners], dtype=np.int64)
    rise, caught = coming_seasons(own, of_niches, niche, by_niche, listings.figure("sleep.best_on"))
    found = season_figures(rise, caught, run.planning, run.made_with)
    return {
        key: compact(FIGURES_BY_KEY[key], series_of(FIGURES_BY_KEY[key], values))
        for key, values in found.items()
    }


def _plan(run: Run, kind: Kind) -> SeasonPlan:
    read = all_seasons(run, kind)
    planning = run.planning if kind in SELLING else run.planning_date
    return join_plans(
        [plan_subjects(one, run.made_with, planning) for one in read.parts], read.rows
    )


def _signals(column: pl.Series, figures: dict[str, np.ndarray], settings: Settings) -> pl.Series:
    """The column of signals with those that dates raise made anew, the most severe first."""
    every = pl.DataFrame({"row": np.arange(len(column))})
    dtype = column.dtype
    each = every.with_columns(column.alias("raised")).explode("raised").drop_nulls("raised")
    each = each.unnest("raised")
    own = [rule.key for rule in _RULES]
    parts = [each.filter(~pl.col("signal").cast(pl.String).is_in(own))]
    for rule in _RULES:
        severity = rule.severity(figures, settings)
        rows = np.flatnonzero(~np.isnan(severity))
        parts.append(
            pl.DataFrame(
                {
                    "row": rows,
                    "signal": [rule.key] * len(rows),
                    "severity": severity[rows].round(4),
                },
                schema={name: each.schema[name] for name in ("row", "signal", "severity")},
            )
        )
    place = {rule.key: i for i, rule in enumerate(SIGNALS)}
    lists = (
        pl.concat(parts)
        .with_columns(pl.col("signal").cast(pl.String).replace_strict(place).alias("place"))
        .sort(["row", "severity", "place"], descending=[False, True, False])
        .group_by("row", maintain_order=True)
        .agg(pl.struct("signal", "severity").alias("raised"))
    )
    joined = every.join(lists, on="row", how="left", maintain_order="left")
    return joined["raised"].fill_null(pl.Series([[]], dtype=dtype).first()).cast(dtype)
