"""What a sale costs and leaves; how many to order, and what a plan does to the money."""

from .cash import CashPath, Payment, Terms, cash_path
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
from .ordering import OwnFigure, plain_practice, slips_in
from .own_demand import Outlook, ShareDraws
from .pennies import adding_up, to_pennies
from .plan import Plan, Planner, Quantity, Variation
from .plan_inputs import Bill, Goods, Leftover, PlanInputs, Selling, bill_of
from .quotes import Part, PriceBreak, Quote, Way
from .rates import Rate, rate_between
from .turns import shifts, turns
from .working import money_workings

__all__ = [
    "ASSUMABLE",
    "CLASS_LIMITS",
    "EXAMPLE_CLASSES",
    "LIMITS",
    "SHARE",
    "Bill",
    "CashPath",
    "Costs",
    "Goods",
    "Leftover",
    "Outlook",
    "OwnFigure",
    "Part",
    "Payment",
    "Plan",
    "PlanInputs",
    "Planner",
    "PriceBreak",
    "Quantity",
    "Quote",
    "Rate",
    "Selling",
    "ShareDraws",
    "SizeClass",
    "Terms",
    "UnitEconomics",
    "Variation",
    "Way",
    "Worst",
    "adding_up",
    "at_price",
    "bill_of",
    "cash_path",
    "class_of",
    "money_workings",
    "plain_practice",
    "rate_between",
    "shifts",
    "slips_in",
    "to_pennies",
    "turns",
    "unit_economics",
    "what_matters",
    "within",
]
