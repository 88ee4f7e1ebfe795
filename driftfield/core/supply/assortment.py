"""What the listings of one subject are like: how their facts are spread, and what their makers chose."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, edges_of

from .listings import Listings

# The fewest bins that show a shape, for a subject has tens of listings and not thousands.
BINS = 8


@dataclass(frozen=True, slots=True)
class Spread:
    """A fact over the listings clicked now: bins with how many listings and which share of their
    clicks lie in each, the last one closed; and how many listings lack it."""

    edges: list[float]
    listings: list[int]
    clicks: list[float]
    unknown: int


@dataclass(frozen=True, slots=True)
class AttributeValue:
    """A value of an attribute: listings that have it, their share of the clicks, and their units a
    year; NaN where no units are known."""

    attribute: str
    value: str
    listings: int
    clicks: float
    units: float


@dataclass(frozen=True, slots=True)
class MedianPair:
    """A fact in the middle (median) of two groups of listings, NaN where none of a group has it."""

    fact: str
    winners: float
    others: float


def spread(values: Floats, clicks: Floats) -> Spread:
    """How ``values`` (listings,), NaN for unknown, are spread, beside their shares of clicks."""
    known = ~np.isnan(values)
    edges = edges_of(values, BINS)
    if not edges.size:
        return Spread([], [], [], len(values))
    at = np.clip(np.searchsorted(edges, values[known], side="right") - 1, 0, len(edges) - 2)
    return Spread(
        edges.tolist(),
        np.bincount(at, minlength=len(edges) - 1).tolist(),
        np.bincount(at, weights=clicks[known], minlength=len(edges) - 1).tolist(),
        int((~known).sum()),
    )


def attribute_values(
    listings: Listings, page: Ints, clicks: Floats, units: Floats
) -> list[AttributeValue]:
    """Values of each attribute over some listings, most clicked first within an attribute.

    page: (n,) the listings' places; clicks, units: (n,) share of the subject's clicks and units a year.
    """
    found = []
    for name, codes in sorted(listings.attributes.items()):
        mine = codes[page]
        for code in np.unique(mine[mine >= 0]):
            held = mine == code
            sold = units[held]
            found.append(
                AttributeValue(
                    name, listings.words[name][code], int(held.sum()), float(clicks[held].sum()),
                    float(np.nansum(sold)) if (~np.isnan(sold)).any() else np.nan,
                )
            )  # fmt: skip
    return sorted(found, key=lambda one: (one.attribute, -one.clicks, one.value))


FACTS = ("price", "quality", "rating", "reviews", "weight_g", "return_rate")


def compare_medians(
    listings: Listings, winners: Bools, others: Bools, page: Ints
) -> list[MedianPair]:
    """Medians of FACTS over winners and over others; both (n,) masks over ``page``, places (n,)."""

    def middle(values: Floats) -> float:
        known = values[~np.isnan(values)]
        return float(np.median(known)) if known.size else np.nan

    return [
        MedianPair(fact, middle(values[page[winners]]), middle(values[page[others]]))
        for fact in FACTS
        for values in (getattr(listings, fact),)
    ]
