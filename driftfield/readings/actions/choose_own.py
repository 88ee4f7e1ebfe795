"""Say which sellers of a market are the researcher's own."""

from __future__ import annotations

from django.db import transaction

from driftfield.core.base import CoreError
from driftfield.core.market import SELLER
from driftfield.market.models import Market
from driftfield.readings.columns import columns_of
from driftfield.readings.models import MarketSettings

MOST = 50  # Own sellers of a market.


def choose_own(market: Market, seller: str, own: bool) -> list[str]:
    """Note that a seller is one's own, or is not; returns those that are now.

    Raises CoreError for one who sells nothing in the market, and for too many.
    """
    if own and seller not in columns_of(market.run, SELLER).places:
        raise CoreError(f"“{seller}” sells nothing in {market.name}.")
    with transaction.atomic():
        chosen, _ = MarketSettings.objects.get_or_create(market_id=market.market_id)
        others = [one for one in chosen.own_sellers if one != seller]
        if own and len(others) >= MOST:
            raise CoreError(f"{MOST} sellers are your own already: take one out first.")
        chosen.own_sellers = [*others, seller] if own else others
        chosen.save(update_fields=["own_sellers"])
    return chosen.own_sellers
