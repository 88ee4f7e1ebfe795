"""What a sale costs and leaves."""

from .money import (
    CLASS_LIMITS,
    EXAMPLE_CLASSES,
    LIMITS,
    SHARE,
    Costs,
    Reckoning,
    SizeClass,
    at_price,
    class_of,
    reckon,
    within,
)
from .working import money_workings

__all__ = [
    "CLASS_LIMITS",
    "EXAMPLE_CLASSES",
    "LIMITS",
    "SHARE",
    "Costs",
    "Reckoning",
    "SizeClass",
    "at_price",
    "class_of",
    "money_workings",
    "reckon",
    "within",
]
