"""What was chosen for a market: its settings and the day dates are planned from."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from driftfield.core.base import DEFAULTS, Settings
from driftfield.core.market import within_reach
from driftfield.core.market.words import LANGUAGE

from .models import MarketSettings, NicheSettings


@dataclass(frozen=True, slots=True)
class Chosen:
    """settings: as they hold for the market. planning: None for the as-of. language: of its terms."""

    settings: Settings
    planning: date | None
    language: str = LANGUAGE

    def planning_at(self, as_of: date) -> date | None:
        """The day chosen, while anything is known of it from figures up to ``as_of``; else None.

        Newer figures may leave a day that was chosen once far behind; it is not forgotten, for an import can be
        undone.
        """
        known = self.planning is not None and within_reach(self.planning, as_of)
        return self.planning if known else None


def chosen_for(market_id: str, base: Settings = DEFAULTS) -> Chosen:
    """What holds for a market: what was changed for it, and ``base`` for the rest."""
    found = MarketSettings.objects.filter(market_id=market_id).first()
    if found is None:
        return Chosen(base, None)
    return Chosen(
        Settings.from_dict({**base.as_dict(), **found.changed}),
        found.planning_date,
        found.language or LANGUAGE,
    )


def overruled(market_id: str, niche_id: str) -> dict[str, float]:
    """The settings that are overruled for one niche."""
    found = NicheSettings.objects.filter(market_id=market_id, niche_id=niche_id).first()
    return found.changed if found else {}


def changed_for(market_id: str) -> dict[str, float]:
    """The settings of a market that differ from their defaults."""
    found = MarketSettings.objects.filter(market_id=market_id).first()
    return found.changed if found else {}


def own_sellers(market_id: str) -> list[str]:
    """Ids of the researcher's own sellers in a market."""
    found = MarketSettings.objects.filter(market_id=market_id).first()
    return list(found.own_sellers) if found else []
