"""What buyers say of some listings, against the others of their niches."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, wilson
from driftfield.core.market import LISTING
from driftfield.core.voices import Theme
from driftfield.market.models import Listing, Market, Niche
from driftfield.readings.columns import columns_of
from driftfield.readings.plain import plain
from driftfield.readings.reading import reading_of

from .laid import Laid, lay
from .told import TONES

MOST_NICHES, MOST_THEMES = 4, 12
LEVEL = 0.9


@dataclass(frozen=True, slots=True)
class ThemeBeside:
    """A theme in the texts about some listings, and in those about the others of the niche.

    own, others: the share of their texts that say it, with its interval. says: “more” or “less” where the two
    intervals, widened for the number of themes that are looked at (Bonferroni), lie apart.
    """

    id: str
    name: str
    tone: str
    own: float | None
    low: float | None
    high: float | None
    others: float | None
    others_low: float | None
    others_high: float | None
    says: str | None


@dataclass(frozen=True, slots=True)
class NicheBeside:
    """texts, others: how many texts are about the listings, and about others of the niche."""

    niche_id: str
    name: str
    language: str
    texts: int
    others: int
    themes: list[ThemeBeside]


def voices_beside(market: Market, listing_ids: Collection[str]) -> list[NicheBeside]:
    """What is said of some listings in the niches that they are mostly clicked in, most texts first.

    Only texts that name a listing count, on either side.
    """
    own = set(Listing.objects.filter(listing_id__in=listing_ids).values_list("pk", flat=True))
    columns = columns_of(market.run, LISTING)
    places = [place for key in own if (place := columns.place_of(key)) is not None]
    often = Counter(columns.owners[place] for place in places if columns.owners[place])
    niches = Niche.objects.filter(market=market, niche_id__in=list(often))
    found = []
    for niche in sorted(niches, key=lambda one: (-often[one.niche_id], one.niche_id))[:MOST_NICHES]:
        reading = reading_of(market.run, niche)
        laid = None if reading is None else lay(reading)
        if laid is not None and (made := _beside(laid, own)) is not None:
            found.append(made)
    return sorted(found, key=lambda one: -one.texts)


def _beside(laid: Laid, own: Collection[int]) -> NicheBeside | None:
    about = laid.stored.listings[: laid.stored.whole.told]
    mine = np.isin(about, list(own))
    rest = (about >= 0) & ~mine
    if not mine.any():
        return None
    shown = [
        one
        for one in laid.themes
        if one.tone and len(one.texts) and one.id not in laid.applied.hidden
    ]
    surely = 1 - (1 - LEVEL) / max(len(shown), 1)
    themes = [_theme(one, mine, rest, surely) for one in shown]
    themes.sort(key=lambda one: (one.says is None, -(one.own or 0)))
    niche = laid.reading.niche
    return NicheBeside(
        niche.niche_id, niche.name, laid.stored.language, int(mine.sum()), int(rest.sum()),
        themes[:MOST_THEMES],
    )  # fmt: skip


def _theme(one: Theme, mine: Bools, rest: Bools, surely: float) -> ThemeBeside:
    says = np.zeros(len(mine), dtype=bool)
    says[one.texts] = True
    counts = np.array([(says & mine).sum(), (says & rest).sum()], dtype=float)
    whole = np.array([mine.sum(), rest.sum()], dtype=float)
    known = np.where(whole > 0, whole, np.nan)
    low, high = wilson(counts, known, LEVEL)
    share = counts / known
    least, most = wilson(counts, known, surely)
    told = "more" if least[0] > most[1] else "less" if most[0] < least[1] else None
    return ThemeBeside(
        one.id, one.name, TONES[one.tone], plain(share[0]), plain(low[0]), plain(high[0]),
        plain(share[1]), plain(low[1]), plain(high[1]), told,
    )  # fmt: skip
