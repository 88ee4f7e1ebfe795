"""A whole market: its data, the registry of figures and the runner that computes them."""

from .across import Across, Apart, Demand, InMarket, lay_across
from .almanac import (
    DEADLINES,
    WHATS,
    AlmanacRow,
    FeastDay,
    Happening,
    ShownSeason,
    Window,
    almanac_rows,
    feasts_in,
    knows_holidays,
    run_almanac,
)
from .categories import launch_verdicts, listing_categories, run_categories
from .data import MarketData, year_total
from .figures import FIGURES, FIGURES_BY_KEY, PLANNED, Figure, FigureType, figures_of
from .figures.listings import season_figures
from .holders import run_holders
from .kinds import (
    BRAND,
    BY_CLICKS,
    CATEGORY,
    HOLDERS,
    KINDS,
    KINDS_BY_KEY,
    KINDS_BY_PLURAL,
    LISTED,
    LISTING,
    NICHE,
    OF_TERMS,
    SELLER,
    SELLING,
    TERM,
    Kind,
)
from .lenses import default_lens, lens_kind, ready_lenses
from .listings import run_listings
from .matching import BY_ID, CONFIRMED, ITSELF, Matches, Named, Proposed, propose_matches, same_ids
from .outlook import (
    NicheOutlook,
    PastUnits,
    listing_share,
    niche_outlook,
    outlook_of,
    packed_launches,
    path_from_packed,
    share_of_newcomers,
)
from .own_part import takers_of
from .parts import MarketPart, OfCurves, OfFigures, OfSupply
from .phrases import likely_misspelt, recurring_words
from .planning import SeasonInputs, check_planning, plan_subjects, within_reach
from .runner import compute_figures, run_market
from .side_by_side import Beside, Cell, Line, side_by_side
from .sleepers import coming_seasons, with_sleepers
from .terms import CLEARLY, read_word_demand, wanted_not_served
from .tree import CategoryTree
from .workings import Workings

__all__ = [
    "BRAND",
    "BY_CLICKS",
    "BY_ID",
    "CATEGORY",
    "CLEARLY",
    "CONFIRMED",
    "DEADLINES",
    "FIGURES",
    "FIGURES_BY_KEY",
    "HOLDERS",
    "ITSELF",
    "KINDS",
    "KINDS_BY_KEY",
    "KINDS_BY_PLURAL",
    "LISTED",
    "LISTING",
    "NICHE",
    "OF_TERMS",
    "PLANNED",
    "SELLER",
    "SELLING",
    "TERM",
    "WHATS",
    "Across",
    "AlmanacRow",
    "Apart",
    "Beside",
    "CategoryTree",
    "Cell",
    "Demand",
    "FeastDay",
    "Figure",
    "FigureType",
    "Happening",
    "InMarket",
    "Kind",
    "Line",
    "MarketData",
    "MarketPart",
    "Matches",
    "Named",
    "NicheOutlook",
    "OfCurves",
    "OfFigures",
    "OfSupply",
    "PastUnits",
    "Proposed",
    "SeasonInputs",
    "ShownSeason",
    "Window",
    "Workings",
    "almanac_rows",
    "check_planning",
    "coming_seasons",
    "compute_figures",
    "default_lens",
    "feasts_in",
    "figures_of",
    "knows_holidays",
    "launch_verdicts",
    "lay_across",
    "lens_kind",
    "likely_misspelt",
    "listing_categories",
    "listing_share",
    "niche_outlook",
    "outlook_of",
    "packed_launches",
    "path_from_packed",
    "plan_subjects",
    "propose_matches",
    "read_word_demand",
    "ready_lenses",
    "recurring_words",
    "run_almanac",
    "run_categories",
    "run_holders",
    "run_listings",
    "run_market",
    "same_ids",
    "season_figures",
    "share_of_newcomers",
    "side_by_side",
    "takers_of",
    "wanted_not_served",
    "with_sleepers",
    "within_reach",
    "year_total",
]
