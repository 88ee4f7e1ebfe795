"""What buyers of one niche praise, complain of and send back, against its category."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
from django.db.models import Max, QuerySet, Sum

from driftfield.core.base import wilson
from driftfield.core.supply import theme_shares
from driftfield.market.models import ClickCurve, Feedback, Listing

from .load import terms_of
from .plain import plain
from .reading import Reading

COMPLAINT = "complaint"
QUARTERS = 12  # as many of the latest as are told


@dataclass(frozen=True, slots=True)
class OfListing:
    """Complaints of one listing, in reviews and returns together: how many, the most frequent theme,
    its share of them with its interval, and the share it has in the niche. special: the niche's
    share lies outside an interval widened for the number of listings (Bonferroni)."""

    listing_id: str
    title: str
    mentions: float
    theme: str
    share: float
    low: float
    high: float
    usual: float
    special: bool


@dataclass(frozen=True, slots=True)
class OverTime:
    """Mentions of one theme by quarter; ``share`` of the quarter's mentions of its kind and tone."""

    kind: str
    tone: str
    theme: str
    mentions: list[float]
    share: list[float | None]


@dataclass(frozen=True, slots=True)
class FeedbackDetail:
    """themes: ``feedback_rows``. listings: most complained of first. quarters: first days; empty where
    feedback has no dates. over_time: by kind, tone and theme, most mentioned first."""

    themes: list[dict[str, Any]]
    listings: list[OfListing]
    quarters: list[date]
    over_time: list[OverTime]


def read_feedback(reading: Reading, most: int) -> FeedbackDetail:
    """Feedback of a niche's listings: themes, at most ``most`` listings, and quarters."""
    own = _clicked(reading)
    level = float(reading.settings.interval)
    quarters, over_time = _over_time(own, reading.run.as_of)
    return FeedbackDetail(_themes(reading, own), _by_listing(own, level, most), quarters, over_time)


def feedback_rows(reading: Reading) -> list[dict[str, Any]]:
    """A row a kind, tone and theme: mentions, share with its interval, the category's usual share.

    Of the listings clicked after the niche's terms, against all others of its category; most
    mentioned first within kind and tone. special: "more" or "fewer" than usual, or None.
    """
    return _themes(reading, _clicked(reading))


def _clicked(reading: Reading) -> set[int]:
    curves = ClickCurve.objects.filter(measure="click_share", subject__in=terms_of(reading.niche))
    return set(curves.values_list("listing_id", flat=True))


def _themes(reading: Reading, own: set[int]) -> list[dict[str, Any]]:
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
                "share": plain(shares.share[i]),
                "low": plain(shares.low[i]),
                "high": plain(shares.high[i]),
                "usual": plain(shares.usual[i]),
                "special": "more" if shares.more[i] else "fewer" if shares.fewer[i] else None,
            }
            for i, theme in enumerate(themes)
        ]
    return rows


def _sums(found: QuerySet[Feedback]) -> dict[tuple[str, str, str], float]:
    rows = found.values_list("kind", "tone", "theme").annotate(total=Sum("mentions")).order_by()
    return {(kind, tone, theme): float(total) for kind, tone, theme, total in rows}


def _by_listing(own: set[int], level: float, most: int) -> list[OfListing]:
    found = Feedback.objects.filter(listing__in=own, tone=COMPLAINT)
    rows = found.values_list("listing_id", "theme").annotate(total=Sum("mentions")).order_by()
    of_niche: dict[str, float] = {}
    by_listing: dict[int, dict[str, float]] = {}
    for listing, theme, total in rows:
        of_niche[theme] = of_niche.get(theme, 0.0) + float(total)
        by_listing.setdefault(listing, {})[theme] = float(total)
    all_of = sum(of_niche.values())
    worst = sorted(by_listing, key=lambda pk: (-sum(by_listing[pk].values()), pk))[:most]
    facts = Listing.objects.in_bulk(worst)
    made = []
    for pk in worst:
        themes = by_listing[pk]
        mentions = sum(themes.values())
        theme = min(themes, key=lambda one: (-themes[one], one))
        usual = of_niche[theme] / all_of
        told, trials = np.array([themes[theme]]), np.array([mentions])
        low, high = (float(end[0]) for end in wilson(told, trials, level))
        surely = [float(end[0]) for end in wilson(told, trials, 1 - (1 - level) / len(worst))]
        made.append(
            OfListing(
                facts[pk].listing_id, facts[pk].title, mentions, theme, themes[theme] / mentions,
                low, high, usual, not surely[0] <= usual <= surely[1],
            )
        )  # fmt: skip
    return made


def _over_time(own: set[int], as_of: date) -> tuple[list[date], list[OverTime]]:
    """Mentions by the quarter in which their week began, without the quarter that still runs."""
    dated = Feedback.objects.filter(listing__in=own, week__isnull=False, week__lte=as_of)
    if dated.aggregate(last=Max("week"))["last"] is None:
        return [], []
    found = dated.values_list("kind", "tone", "theme", "week").annotate(total=Sum("mentions"))
    running = _quarter(as_of)
    counts: dict[tuple[str, str, str], dict[int, float]] = {}
    for kind, tone, theme, week, total in found.order_by():
        if (at := _quarter(week)) < running:
            of_theme = counts.setdefault((kind, tone, theme), {})
            of_theme[at] = of_theme.get(at, 0.0) + float(total)
    if not counts:
        return [], []
    first = max(min(at for of_theme in counts.values() for at in of_theme), running - QUARTERS)
    numbers = range(first, running)
    sums: dict[tuple[str, str, int], float] = {}
    for (kind, tone, _), of_theme in counts.items():
        for at, total in of_theme.items():
            sums[kind, tone, at] = sums.get((kind, tone, at), 0.0) + total
    made = []
    for (kind, tone, theme), of_theme in counts.items():
        mentions = [of_theme.get(at, 0.0) for at in numbers]
        totals = [sums.get((kind, tone, at), 0.0) for at in numbers]
        share = [round(m / t, 4) if t else None for m, t in zip(mentions, totals, strict=True)]
        made.append(OverTime(kind, tone, theme, mentions, share))
    made.sort(key=lambda one: (one.kind, one.tone, -sum(one.mentions), one.theme))
    return [date(at // 4, at % 4 * 3 + 1, 1) for at in numbers], made


def _quarter(day: date) -> int:
    """Running number of the quarter that holds a day."""
    return day.year * 4 + (day.month - 1) // 3
