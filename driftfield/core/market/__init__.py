"""A whole market: its data, the registry of figures and the runner that computes them."""

from .data import MarketData
from .figures import FIGURES, FIGURES_BY_KEY, Figure, FigureType
from .kinds import KINDS, KINDS_BY_KEY, NICHE, TERM, Kind
from .phrases import likely_misspelt, recurring_words
from .runner import compute_figures, run_market
from .terms import CLEARLY, TERM_FIGURES, read_terms_demand, term_figures, wanted_not_served
from .workings import Workings

__all__ = [
    "CLEARLY",
    "FIGURES",
    "FIGURES_BY_KEY",
    "KINDS",
    "KINDS_BY_KEY",
    "NICHE",
    "TERM",
    "TERM_FIGURES",
    "Figure",
    "FigureType",
    "Kind",
    "MarketData",
    "Workings",
    "compute_figures",
    "likely_misspelt",
    "read_terms_demand",
    "recurring_words",
    "run_market",
    "term_figures",
    "wanted_not_served",
]
