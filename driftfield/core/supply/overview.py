"""The listings of one group at a glance: who sells, how unevenly, at what prices, and what is wanted."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, edges_of, newcombe

from .entry import RARE, upper_tail

POINTS = 40  # Steps of a Lorenz curve as it is drawn.
PRICE_BINS = 12


@dataclass(frozen=True, slots=True)
class Holder:
    """A brand or a seller: its code, its listings, and its share of the revenue; NaN where none is known."""

    code: int
    listings: int
    share: float


@dataclass(frozen=True, slots=True)
class Holders:
    """Those of a group, most revenue first. selling, selling_before: how many sold something in the last 52
    weeks and in the 52 before; None where no units are known."""

    top: list[Holder]
    count: int
    selling: int | None
    selling_before: int | None


def holders(code: Ints, revenue: Floats, units: Floats, before: Floats, most: int) -> Holders:
    """Who sells: ``code`` is (listings,), −1 for unknown; all else of a year, NaN for unknown."""
    known = code >= 0
    codes, place = np.unique(code[known], return_inverse=True)
    paid = np.nan_to_num(revenue[known])
    total = float(np.nansum(revenue))
    sums = np.bincount(place, weights=paid, minlength=len(codes))
    listings = np.bincount(place, minlength=len(codes))
    order = np.lexsort((codes, -listings, -sums))[:most]

    def selling(sold: Floats) -> int | None:
        mine = sold[known]
        return None if np.isnan(mine).all() else len(np.unique(place[np.nan_to_num(mine) > 0]))

    return Holders(
        [
            Holder(int(codes[i]), int(listings[i]), float(sums[i] / total) if total > 0 else np.nan)
            for i in order.tolist()
        ],
        len(codes),
        selling(units),
        selling(before),
    )


def lorenz_points(revenue: Floats) -> tuple[list[float], list[float]]:
    """The Lorenz curve, most first: fractions of the listings, and of the revenue that they make.

    Both begin at 0 and end at 1; empty where no revenue is known.
    """
    value = np.sort(revenue[~np.isnan(revenue)])[::-1]
    if not value.size or value.sum() <= 0:
        return [], []
    running = np.concatenate([[0.0], np.cumsum(value) / value.sum()])
    at = np.unique(np.round(np.linspace(0, len(value), min(POINTS, len(value)) + 1)).astype(int))
    return (at / len(value)).tolist(), np.minimum(running[at], 1).tolist()


@dataclass(frozen=True, slots=True)
class PriceSpread:
    """Listings by price, now and a year ago: edges of the bins, how many lie in each, and the medians."""

    edges: list[float]
    now: list[int]
    then: list[int]
    median: float
    median_then: float


def price_spread(now: Floats, then: Floats) -> PriceSpread:
    """How prices are spread; (listings,) each, NaN for unknown."""
    edges = edges_of(np.concatenate([now, then]), PRICE_BINS)

    def counts(values: Floats) -> list[int]:
        known = values[~np.isnan(values)]
        if not edges.size:
            return []
        found: list[int] = np.histogram(np.clip(known, edges[0], edges[-1]), edges)[0].tolist()
        return found

    def middle(values: Floats) -> float:
        known = values[~np.isnan(values)]
        return float(np.median(known)) if known.size else np.nan

    return PriceSpread(edges.tolist(), counts(now), counts(then), middle(now), middle(then))


@dataclass(frozen=True, slots=True)
class ValueDemand:
    """A value of an attribute: what listings have it and what units they sell, as shares of those known.

    low, high: interval of the share of units less the share of listings. says: “wanted” where all of it lies
    above 0, “oversupplied” where all of it lies below, else empty.
    """

    value: str
    listings: int
    listing_share: float
    unit_share: float
    low: float
    high: float
    says: str


def attribute_demand(
    code: Ints, words: Sequence[str], units: Floats, level: float
) -> list[ValueDemand]:
    """What is wanted of an attribute: its values' share of units against their share of listings.

    ``code`` is (listings,), the place in ``words``, −1 for unknown; ``units`` a year of each, NaN for unknown.
    The units of one listing are no independent purchases of a value, so the share of units rests on as many
    listings as have the same effect (Kish 1965): (Σ units)² ÷ Σ units². Most listings first.
    """
    known = (code >= 0) & ~np.isnan(units)
    if not known.any() or units[known].sum() <= 0:
        return []
    codes, place = np.unique(code[known], return_inverse=True)
    sold = units[known]
    many = np.bincount(place)
    of_listings = many / len(place)
    of_units = np.bincount(place, weights=sold) / sold.sum()
    effective = sold.sum() ** 2 / np.square(sold).sum()
    low, high = newcombe(
        of_units, np.full(len(codes), effective), of_listings, np.full(len(codes), float(len(place))), level
    )  # fmt: skip
    says = np.where(low > 0, "wanted", np.where(high < 0, "oversupplied", ""))
    order = np.lexsort((codes, -many))
    return [
        ValueDemand(
            words[int(codes[i])], int(many[i]), float(of_listings[i]), float(of_units[i]), float(low[i]),
            float(high[i]), str(says[i]),
        )
        for i in order.tolist()
    ]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Shared:
    """A value that some listings have oftener than chance gives it them: in how many of how many of them, and
    of the others."""

    attribute: str
    value: str
    held: int
    chosen: int
    held_by_others: int
    others: int


def what_they_share(
    attributes: Mapping[str, tuple[Ints, Sequence[str]]], chosen: Bools
) -> list[Shared]:
    """Values that the ``chosen`` listings, (listings,), have in common against the rest.

    By Fisher's exact test (1922), Bonferroni over all values that are tried; rarest by chance first.
    """
    found: list[tuple[float, Shared]] = []
    tried = 0
    for name, (code, words) in sorted(attributes.items()):
        known = code >= 0
        mine = known & chosen
        if not mine.any():
            continue
        held = np.bincount(code[mine], minlength=len(words))
        everyone = np.bincount(code[known], minlength=len(words))
        drawn, whole = int(mine.sum()), int(known.sum())
        rows = np.flatnonzero(held)
        tried += len(np.flatnonzero(everyone))
        p = upper_tail(
            held[rows], everyone[rows], np.full(len(rows), drawn), np.full(len(rows), whole)
        )
        for i, row in enumerate(rows.tolist()):
            rest = int(everyone[row] - held[row])
            found.append(
                (float(p[i]), Shared(name, words[row], int(held[row]), drawn, rest, whole - drawn))
            )
    return [one for p, one in sorted(found, key=lambda pair: pair[0]) if p * tried < RARE]
