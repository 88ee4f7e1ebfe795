"""Lenses: named sets of weights for the parts of demand and competition."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np

from driftfield.core.base import CoreError, Floats

DEMAND, COMPETITION = "demand", "competition"
HEAVIEST = 1_000  # Weights count in relation to one another.


@dataclass(frozen=True, slots=True)
class Part:
    """One part of an index: its key, the figure it reads, its side and its weight by default.

    more_is_more: a higher figure means more demand, or more competition. lasting: of a Fad only what
    is left of it counts. why: what it stands for.
    """

    key: str
    figure: str
    side: str
    weight: float
    why: str
    more_is_more: bool = True
    lasting: bool = False


PARTS = (
    Part("searches", "open_searches_52w", DEMAND, 0.40, "how many look, brand and protected words left out",
         lasting=True),
    Part("purchases", "purchases_52w", DEMAND, 0.25, "how many buy", lasting=True),
    Part("revenue", "sales.revenue_52w", DEMAND, 0.15, "how much they spend", lasting=True),
    Part("drift", "drift_rate_year", DEMAND, 0.20, "where it goes without the calendar"),
    Part("top5", "competition_parts.top5_share", COMPETITION, 0.30, "what five listings hold"),
    Part("breadth", "competition_parts.click_breadth", COMPETITION, 0.15,
         "how many listings share the bulk", more_is_more=False),
    Part("brand", "competition_parts.top_brand_share", COMPETITION, 0.20, "what one brand holds"),
    Part("reviews", "review_barrier", COMPETITION, 0.20, "reviews a newcomer competes with"),
    Part("entry", "entry.success_low", COMPETITION, 0.10,
         "whether launches work, at the low end of the interval", more_is_more=False),
    Part("prices", "pressure.price_falling", COMPETITION, 0.05, "whether prices give way"),
    # Those that follow weigh nothing by default: they matter for one purpose and not for another.
    Part("steadiness", "steadiness", DEMAND, 0, "how evenly it sells through the year"),
    Part("purchase_rate", "purchase_rate", DEMAND, 0, "how many of those who look buy"),
    Part("price_level", "sales.price_median", DEMAND, 0, "how much a sale brings"),
    Part("lightness", "barriers.weight_g", COMPETITION, 0, "how heavy it is to send"),
    Part("capital", "sales.month_of_stock", COMPETITION, 0, "what a month of stock binds"),
)  # fmt: skip
SIDE = np.array([part.side == DEMAND for part in PARTS])
# Searches are the ground of demand: without them no other part speaks for it.
GROUND = 0


@dataclass(frozen=True, slots=True)
class Lens:
    """Weights by part, 0 and more, and the share of demand in headroom, 0–1.

    A part that is not named has weight 0. Weights count within their side, in relation to its others.
    purpose: whom it is for, in a sentence.
    """

    name: str
    weights: tuple[float, ...]
    balance: float = 0.5
    purpose: str = ""

    def scaled(self) -> Floats:
        """Weights of all parts, (parts,), that add up to 1: demand's to ``balance``."""
        raw = np.array(self.weights)
        out = np.zeros(len(PARTS))
        for side, whole in ((SIDE, self.balance), (~SIDE, 1 - self.balance)):
            out[side] = raw[side] / raw[side].sum() * whole
        return out

    def with_pairs(self, pairs: Iterable[str]) -> Lens:
        """A copy with ``part=weight`` pairs applied; raises CoreError naming the pair and the remedy."""
        changes: dict[str, float] = {}
        for pair in pairs:
            key, _, text = pair.partition("=")
            try:
                changes[key] = float(text)
            except ValueError:
                raise CoreError(
                    f"“{pair}” is not a weight: write part=number, as in {PARTS[0].key}=0.5."
                ) from None
        return self.with_weights(changes)

    def with_weights(self, changes: dict[str, float]) -> Lens:
        """A copy with the weights of some parts, and ``balance``, changed; raises CoreError."""
        keys = [part.key for part in PARTS]
        weights = dict(zip(keys, self.weights, strict=True))
        balance = self.balance
        for key, value in changes.items():
            if key == "balance":
                if not 0 < value < 1:
                    raise CoreError(
                        f"balance, the share of demand, lies between 0 and 1; got {value:g}."
                    )
                balance = value
            elif key not in weights:
                raise CoreError(
                    f"There is no part “{key}”. Known: {', '.join([*keys, 'balance'])}."
                )
            elif not 0 <= value <= HEAVIEST:
                raise CoreError(
                    f"The weight of {key} must be from 0 to {HEAVIEST:,}; got {value:g}."
                )
            else:
                weights[key] = value
        made = replace(self, weights=tuple(weights.values()), balance=balance)
        raw = np.array(made.weights)
        for side, word in ((SIDE, DEMAND), (~SIDE, COMPETITION)):
            if not raw[side].sum() > 0:
                raise CoreError(f"All parts of {word} weigh 0; give one of them a weight.")
        return made

    def as_dict(self) -> dict[str, float]:
        """Weights by part, and the balance."""
        keys = (part.key for part in PARTS)
        return {**dict(zip(keys, self.weights, strict=True)), "balance": self.balance}


DEFAULT_LENS = Lens(
    "Default", tuple(part.weight for part in PARTS),
    purpose="Demand against competition, whatever the season, the price and the money one has.",
)  # fmt: skip


def _lens(name: str, purpose: str, balance: float = 0.5, **weights: float) -> Lens:
    return Lens(name, tuple(weights.get(part.key, 0.0) for part in PARTS), balance, purpose)


# To start from; our choices, the reasons in their sentences.
READY_LENSES = (
    DEFAULT_LENS,
    _lens(
        "First product",
        "Sells through the year, is light, needs little money and few reviews, and buyers who look do buy: "
        "mistakes stay small.",
        searches=0.2, purchases=0.2, drift=0.1, steadiness=0.35, purchase_rate=0.15, top5=0.15, breadth=0.1,
        brand=0.15, reviews=0.25, entry=0.1, prices=0.05, lightness=0.1, capital=0.1,
    ),
    _lens(
        "Season specialist",
        "Much is bought and spent, whenever in the year; launches work there, and no brand has it to itself.",
        searches=0.25, purchases=0.3, revenue=0.3, drift=0.15, top5=0.25, breadth=0.1, brand=0.2, reviews=0.15,
        entry=0.25, prices=0.05,
    ),
    _lens(
        "Brand to build",
        "It grows, bears a price, and no brand owns it yet; prices hold, so that a better product is paid for.",
        searches=0.2, revenue=0.15, drift=0.35, price_level=0.2, purchase_rate=0.1, top5=0.15, breadth=0.1,
        brand=0.35, reviews=0.15, prices=0.25,
    ),
    _lens(
        "Reseller",
        "Bought often and all year, light and cheap to stock, at prices that do not fall; whose brand it is "
        "matters little.",
        searches=0.15, purchases=0.4, purchase_rate=0.2, steadiness=0.25, prices=0.35, capital=0.25,
        lightness=0.2, breadth=0.2,
    ),
)  # fmt: skip


def lens_named(name: str) -> Lens:
    """A ready lens by its name, in any case. Raises CoreError that names them all."""
    for lens in READY_LENSES:
        if lens.name.lower() == name.strip().lower():
            return lens
    raise CoreError(
        f"There is no lens “{name}”. Ready ones: {', '.join(lens.name for lens in READY_LENSES)}."
    )
