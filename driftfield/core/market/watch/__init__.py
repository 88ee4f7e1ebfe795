"""What changed between two analyses of a market: beyond noise, by consequence, told once."""

from .aspects import ASPECTS, ASPECTS_BY_KEY, Aspect
from .compare import Change, Changes, compare, held
from .side import Side

__all__ = [
    "ASPECTS",
    "ASPECTS_BY_KEY",
    "Aspect",
    "Change",
    "Changes",
    "Side",
    "compare",
    "held",
]
