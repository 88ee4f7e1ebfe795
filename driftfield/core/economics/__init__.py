"""What a sale costs and leaves."""

from .money import (
    ASSUMABLE,
    CLASS_LIMITS,
    EXAMPLE_CLASSES,
    LIMITS,
    SHARE,
    Costs,
    SizeClass,
    UnitEconomics,
    Worst,
    at_price,
    class_of,
    unit_economics,
    what_matters,
    within,
)
from .rates import Rate, rate_between
from .working import money_workings

__all__ = [
    "ASSUMABLE",
    "CLASS_LIMITS",
    "EXAMPLE_CLASSES",
    "LIMITS",
    "SHARE",
    "Costs",
    "Rate",
    "SizeClass",
    "UnitEconomics",
    "Worst",
    "at_price",
    "class_of",
    "money_workings",
    "rate_between",
    "unit_economics",
    "what_matters",
    "within",
]
