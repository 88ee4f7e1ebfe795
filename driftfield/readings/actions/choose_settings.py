"""Choose settings for a market: some hold at once, the others with its next analysis."""

from __future__ import annotations

from collections.abc import Mapping

from django.db import transaction

from driftfield.core.base import AT_ONCE, DEFAULTS, Settings, plain_number
from driftfield.core.signals import THRESHOLDS
from driftfield.market.models import Market
from driftfield.readings.chosen import chosen_for
from driftfield.readings.linked import check_not_linked
from driftfield.readings.models import MarketSettings, Run

from .plan_market import plan_run


def choose_settings(market: Market, changed: Mapping[str, float | None]) -> Settings:
    """Keep settings for a market; None goes back to the default. All of them as they hold then.

    What rests on the planning of dates alone is made anew at once. Raises CoreError for a setting that
    is none or a value it cannot take, and changes nothing then.
    """
    check_not_linked(market)
    with transaction.atomic():
        row, _ = MarketSettings.objects.get_or_create(market_id=market.market_id)
        wanted = {**row.changed, **changed}
        kept = {key: value for key, value in wanted.items() if value is not None}
        # Unknown keys are refused even where they go back to a default.
        asked = {
            key: defaults_of(key) if value is None else value for key, value in changed.items()
        }
        pairs = [f"{key}={plain_number(value)}" for key, value in {**kept, **asked}.items()]
        made = DEFAULTS.with_pairs(pairs, THRESHOLDS)
        values = made.as_dict()
        row.changed = {
            key: values[key] for key in wanted if key in kept and values[key] != defaults_of(key)
        }
        row.save()
        run = Run.objects.filter(market=market).select_related("market").first()
        if run is not None:
            plan_run(run)
    return made


def defaults_of(key: str) -> float:
    """The default of a setting; of one that there is not, 0, for what reads it to refuse."""
    found = {one.key: one.default for one in [*Settings.declared(), *THRESHOLDS]}
    return found.get(key, 0)


def pending(run: Run) -> list[str]:
    """Settings that were chosen for a market and that its readings were not made with yet."""
    wanted = chosen_for(run.market.market_id).settings
    keys = [one.key for one in [*Settings.declared(), *THRESHOLDS] if one.key not in AT_ONCE]
    now, then = (_every(settings) for settings in (wanted, run.made_with))
    return [key for key in keys if now[key] != then[key]]


def _every(settings: Settings) -> dict[str, float]:
    return {**{one.key: one.default for one in THRESHOLDS}, **settings.as_dict()}
