"""Lenses: named sets of weights for the parts of demand and competition, or of openness and settledness."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from driftfield.core.base import CoreError, Floats, Settings

from .parts import OF_CATEGORIES, PARTS, SIDE, Part

HEAVIEST = 1_000  # Weights count in relation to one another.


@dataclass(frozen=True, slots=True)
class Lens:
    """Weights by part, 0 and more, and the share of demand in headroom, 0–1.

    Weights count within their side, in relation to its others. purpose: whom it is for, in a sentence.
    parts: what is weighed, by default for headroom; the balance counts for headroom alone.
    """

    name: str
    weights: tuple[float, ...]
    balance: float = 0.5
    purpose: str = ""
    parts: tuple[Part, ...] = PARTS

    @property
    def balances(self) -> bool:
        """Whether its sides are weighed against one another."""
        return self.parts == PARTS

    def scaled(self) -> Floats:
        """Weights of all parts of headroom, (parts,), that add up to 1: demand's to ``balance``."""
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
                    f"“{pair}” is not a weight: write part=number, as in {self.parts[0].key}=0.5."
                ) from None
        return self.with_weights(changes)

    def with_weights(self, changes: dict[str, float]) -> Lens:
        """A copy with the weights of some parts, and ``balance``, changed; raises CoreError."""
        keys = [part.key for part in self.parts]
        weights = dict(zip(keys, self.weights, strict=True))
        balance = self.balance
        for key, value in changes.items():
            if key == "balance" and self.balances:
                if not 0 < value < 1:
                    raise CoreError(
                        f"balance, the share of demand, lies between 0 and 1; got {value:g}."
                    )
                balance = value
            elif key not in weights:
                known = [*keys, *(["balance"] if self.balances else [])]
                raise CoreError(f"There is no part “{key}”. Known: {', '.join(known)}.")
            elif not 0 <= value <= HEAVIEST:
                raise CoreError(
                    f"The weight of {key} must be from 0 to {HEAVIEST:,}; got {value:g}."
                )
            else:
                weights[key] = value
        made = replace(self, weights=tuple(weights.values()), balance=balance)
        for side in dict.fromkeys(part.side for part in self.parts):
            if not any(weights[part.key] > 0 for part in self.parts if part.side == side):
                raise CoreError(f"All parts of {side} weigh 0; give one of them a weight.")
        return made

    def by_part(self) -> dict[str, float]:
        """Weights by the keys of their parts."""
        return dict(zip((part.key for part in self.parts), self.weights, strict=True))

    def as_dict(self) -> dict[str, float]:
        """Weights by part, and the balance where there is one."""
        return {**self.by_part(), **({"balance": self.balance} if self.balances else {})}

    def put_into(self, settings: Settings) -> Settings:
        """Settings with the weights of a lens for categories, whose parts are settings."""
        changes: dict[str, Any] = dict(self.by_part())
        return replace(settings, **changes)


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


def lens_of_settings(settings: Settings) -> Lens:
    """How settings weigh the openness and settledness of categories."""
    return Lens(
        "Default", tuple(float(getattr(settings, part.key)) for part in OF_CATEGORIES),
        purpose="Newcomers, launches, clicks and reviews alike; what is old in units and in age.",
        parts=OF_CATEGORIES,
    )  # fmt: skip


def _of_categories(name: str, purpose: str, **weights: float) -> Lens:
    chosen = tuple(weights.get(part.key, 0.0) for part in OF_CATEGORIES)
    return Lens(name, chosen, purpose=purpose, parts=OF_CATEGORIES)


# For categories, besides the default of the settings; our choices, the reasons in their sentences.
READY_FOR_CATEGORIES = (
    _of_categories(
        "First steps",
        "Few reviews to compete with and clicks that are shared out count more than what launches have done.",
        open_success=0.15, open_newcomers=0.2, open_spread=0.3, open_reviews=0.35, settled_share=0.25,
        settled_age=0.15, settled_reviews=0.6,
    ),
    _of_categories(
        "Proven by newcomers",
        "Only what launches and newcomers have in fact sold counts, whatever the reviews.",
        open_success=0.5, open_newcomers=0.5, settled_share=0.6, settled_age=0.4,
    ),
)  # fmt: skip


def lens_named(name: str, lenses: Iterable[Lens] = READY_LENSES) -> Lens:
    """A ready lens by its name, in any case. Raises CoreError that names them all."""
    ready = list(lenses)
    for lens in ready:
        if lens.name.lower() == name.strip().lower():
            return lens
    known = ", ".join(lens.name for lens in ready)
    raise CoreError(f"There is no lens “{name}”. Ready ones: {known}.")
