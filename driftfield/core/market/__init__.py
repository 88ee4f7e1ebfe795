"""A whole market: its data, the registry of figures and the runner that computes them."""

from .categories import launch_verdicts, listing_categories, run_categories
from .data import MarketData, year_total
from .figures import FIGURES, FIGURES_BY_KEY, PLANNED, Figure, FigureType, figures_of
from .kinds import BY_CLICKS, CATEGORY, KINDS, KINDS_BY_KEY, LISTING, NICHE, TERM, Kind
from .phrases import likely_misspelt, recurring_words
from .planning import check_planning, plan_subjects, within_reach
from .runner import compute_figures, run_market
from .terms import CLEARLY, read_word_demand, wanted_not_served
from .tree import CategoryTree
from .workings import Workings

__all__ = [
    "BY_CLICKS",
    "CATEGORY",
    "CLEARLY",
    "FIGURES",
    "FIGURES_BY_KEY",
    "KINDS",
    "KINDS_BY_KEY",
    "LISTING",
    "NICHE",
    "PLANNED",
    "TERM",
    "CategoryTree",
    "Figure",
    "FigureType",
    "Kind",
    "MarketData",
    "Workings",
    "check_planning",
    "compute_figures",
    "figures_of",
    "launch_verdicts",
    "likely_misspelt",
    "listing_categories",
    "plan_subjects",
    "read_word_demand",
    "recurring_words",
    "run_categories",
    "run_market",
    "wanted_not_served",
    "within_reach",
    "year_total",
]
