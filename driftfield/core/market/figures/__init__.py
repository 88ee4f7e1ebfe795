"""The registry of figures: each declared once, with the function that computes it.

The record schema, the CSV headers, the API's fields, the stored readings, the ledger's columns and
the table in ``docs/method.md`` are all made from these rows, or tested against them. Adding a
figure is one row and one function.
"""

from __future__ import annotations

from ..kinds import KINDS, Kind
from .categories import CATEGORIES
from .competition import COMPETITION
from .composite import COMPOSITE
from .dates import DATES
from .demand import DRIFT, FORECAST, GROWTH, INTEREST, QUALITY, SEASON, SHAPE
from .figure import Figure, FigureType, Stage, of_every_kind
from .holders import CARRIED
from .listings import LISTINGS
from .moves import MOVES
from .own import OWN_PART
from .raised import RAISED
from .voices import VOICES
from .volume import SALES, TERMS, VOLUME

__all__ = ["FIGURES", "FIGURES_BY_KEY", "PLANNED", "Figure", "FigureType", "Stage", "figures_of"]

FIGURES: tuple[Figure, ...] = (
    *of_every_kind(*QUALITY, *SHAPE, *DRIFT, *GROWTH, *SEASON, *DATES, *FORECAST), *VOLUME, INTEREST, *SALES,
    *COMPETITION, *VOICES, *COMPOSITE, RAISED, *TERMS, *CATEGORIES,
    *LISTINGS, *CARRIED, *MOVES, *OWN_PART,
)  # fmt: skip

# What is made anew when the planning date or the lead time is changed.
PLANNED = tuple(figure for figure in FIGURES if figure.of_plan is not None)

FIGURES_BY_KEY = {figure.key: figure for figure in FIGURES}

_BY_KIND = {kind: tuple(f for f in FIGURES if kind in f.kinds) for kind in KINDS}


def figures_of(kind: Kind) -> tuple[Figure, ...]:
    """The figures that hold for a kind, in the order of the registry."""
    return _BY_KIND[kind]
