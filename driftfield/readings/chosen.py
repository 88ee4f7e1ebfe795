"""What was chosen for a market: its settings and the day dates are planned from."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from driftfield.core.base import DEFAULTS, Settings

from .models import MarketSettings


@dataclass(frozen=True, slots=True)
class Chosen:
    """settings: as they hold for the market. planning: None for the as-of."""

    settings: Settings
    planning: date | None


def chosen_for(market_id: str, base: Settings = DEFAULTS) -> Chosen:
    """What holds for a market: what was changed for it, and ``base`` for the rest."""
    found = MarketSettings.objects.filter(market_id=market_id).first()
    if found is None:
        return Chosen(base, None)
    return Chosen(Settings.from_dict({**base.as_dict(), **found.changed}), found.planning_date)
