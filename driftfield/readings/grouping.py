"""Where the terms of a market are now, and in which category groups of them belong."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from django.db.models import Q

from driftfield.core.base import Ints
from driftfield.core.market.grouping import leading_categories
from driftfield.core.market.vectors import Vectors
from driftfield.market.models import Listing, Market, Niche, Placement, Term
from driftfield.market.own_niches import emptied, slices


@dataclass(frozen=True, slots=True)
class Standing:
    """The niches of a market as they are. niche: of each term, by its text. alone: terms that stand for
    themselves, though they have the id of a niche in ``niche``. by_hand: terms that the researcher placed.
    """

    niche: dict[str, str]
    alone: set[str]
    by_hand: set[str]


def standing_niches(market: Market) -> Standing:
    """The niche of every term, and what was done by hand."""
    rows = Term.objects.filter(market=market).values_list(
        "term", "niche__niche_id", "niche__of_term", "niche__own"
    )
    niche, alone = {}, set()
    for term, key, of_term, own in rows:
        niche[term] = key
        if of_term and not own:
            alone.add(term)
    by_hand = Placement.objects.filter(market_id=market.market_id, by_hand=True)
    return Standing(niche, alone, set(by_hand.values_list("term", flat=True)))


def niches_of(market: Market, terms: Sequence[str]) -> dict[str, str]:
    """The id of the niche that each of some terms is in; of those that the market has."""
    found: dict[str, str] = {}
    for some in slices(list(terms)):
        rows = Term.objects.filter(market=market, term__in=some)
        found |= dict(rows.values_list("term", "niche__niche_id"))
    return found


def taken_ids() -> set[str]:
    """Ids that no new niche may have; an id stands for one niche in all markets.

    One that the researcher made and undid is free: made again, it is the same.
    """
    free = Q(given_name=None, own=False, of_term=False) & emptied()
    return set(Niche.objects.exclude(free).values_list("niche_id", flat=True))


def categories_of_groups(
    clicks: Vectors, listings: Sequence[int], group: Ints, groups: int
) -> list[str]:
    """The id of each group's category, empty where it has none.

    ``listings`` are keys, in the order of ``clicks``; ``group`` is (terms,), −1 for none.
    """
    by_key = dict(
        Listing.objects.filter(category__isnull=False).values_list("pk", "category__category_id")
    )
    named = [by_key.get(key, "") for key in listings]
    ids = sorted(set(named) - {""})
    place = {one: at for at, one in enumerate(ids)}
    category = np.array([place.get(one, -1) for one in named], dtype=np.int64)
    found = leading_categories(clicks, category, group, groups)
    return ["" if at < 0 else ids[at] for at in found.tolist()]
