"""Choose the language of a market's terms, whose endings are taken off words."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.core.market.words import LANGUAGES
from driftfield.market.models import Market
from driftfield.readings.models import MarketSettings, Run


def choose_language(market: Market, language: str) -> None:
    """Keep the language; searches from a seed follow at once. Raises CoreError for one without a stemmer."""
    if language not in LANGUAGES:
        raise CoreError(f"There is no stemmer for “{language}”. Languages: {', '.join(LANGUAGES)}.")
    with transaction.atomic():
        MarketSettings.objects.update_or_create(
            market_id=market.market_id, defaults={"language": language}
        )
        # What was made of the words before is not used any more.
        Run.objects.filter(market=market).update(planned_at=timezone.now())
