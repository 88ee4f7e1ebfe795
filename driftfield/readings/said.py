"""What buyers of one niche praise, complain of and send back, against its category."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.db.models import Sum

from driftfield.core.feedback import theme_shares
from driftfield.market.models import ClickCurve, Feedback

from .load import terms_of
from .models import Reading


def feedback_rows(reading: Reading) -> list[dict[str, Any]]:
    """A row a kind, tone and theme: mentions, share with its interval, the category's usual share.

    Of the listings clicked after the niche's terms, against all others of its category; most
    mentioned first within kind and tone. special: "more" or "fewer" than usual, or None.
    """
    clicked = ClickCurve.objects.filter(measure="click_share", subject__in=terms_of(reading.niche))
    own = set(clicked.values_list("listing_id", flat=True))
    here = _sums(Feedback.objects.filter(listing__in=own))
    if not here:
        return []
    there: dict[tuple[str, str, str], float] = {}
    if reading.niche.category_id:
        beside = Feedback.objects.filter(listing__category=reading.niche.category_id)
        there = _sums(beside.exclude(listing__in=own))
    rows = []
    for kind, tone in sorted({(kind, tone) for kind, tone, _ in here}):
        known = {theme for k, t, theme in (*here, *there) if (k, t) == (kind, tone)}
        themes = [theme for _, theme in sorted((-here.get((kind, tone, t), 0.0), t) for t in known)]
        shares = theme_shares(
            np.array([here.get((kind, tone, theme), 0.0) for theme in themes]),
            np.array([there.get((kind, tone, theme), 0.0) for theme in themes]),
        )
        rows += [
            {
                "kind": kind,
                "tone": tone,
                "theme": theme,
                "mentions": here.get((kind, tone, theme), 0.0),
                "share": _plain(shares.share[i]),
                "low": _plain(shares.low[i]),
                "high": _plain(shares.high[i]),
                "usual": _plain(shares.usual[i]),
                "special": "more" if shares.more[i] else "fewer" if shares.fewer[i] else None,
            }
            for i, theme in enumerate(themes)
        ]
    return rows


def _sums(found: Any) -> dict[tuple[str, str, str], float]:
    rows = found.values_list("kind", "tone", "theme").annotate(total=Sum("mentions")).order_by()
    return {(kind, tone, theme): float(total) for kind, tone, theme, total in rows}


def _plain(value: float) -> float | None:
    return None if np.isnan(value) else round(float(value), 6)
