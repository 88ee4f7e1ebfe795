"""The sieves that come with Driftfield: how people begin to look."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class StartingSieve:
    """A sieve to start from: its name, what it is for, its conditions as they are typed."""

    name: str
    purpose: str
    conditions: tuple[str, ...]


STARTING = (
    StartingSieve(
        "A first product", "Sells all year, light competition, a price that leaves a margin",
        ("shape = Evergreen or Leaning", "price 12..60", "top 3 of 10 reviews < 300", "brand <= 40%",
         "drift >= -5%"),
    ),
    StartingSieve(
        "A season to prepare now", "The order-by date falls within two months",
        ("shape = Seasonal or Occasion", "order within days <= 60", "drift >= -10%"),
    ),
    StartingSieve(
        "A field opening up", "Clicks spread over more listings than a year ago, demand not easing",
        ("field = Opening", "drift >= 0%"),
    ),
    StartingSieve(
        "Small but willing", "Few search, many of them buy",
        ("signal few_but_willing",),
    ),
    StartingSieve(
        "Growing underneath", "Rising when the calendar is taken out, and no single brand ahead",
        ("drift is Rising", "brand <= 50%", "no signal launches_fail"),
    ),
    StartingSieve(
        "Something is missing", "Many look and click, few buy, and not because clicks are bought",
        ("signal clicks_without_purchases", "sponsored <= 40%"),
    ),
    StartingSieve(
        "A fault that all share", "A complaint of one text in five, and no leader surely lacks it",
        ("voices.fault_share >= 20%",),
    ),
    StartingSieve(
        "Getting crowded", "Offers of late run ahead of demand, by more than noise",
        ("moved.crowding_low >= 10%",),
    ),
    StartingSieve(
        "Where your share falls", "You sell a smaller part of the niche than before, by more than noise",
        ("own.share_change_high <= 0%",),
    ),
)  # fmt: skip
