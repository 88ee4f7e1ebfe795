"""Which lenses rank which kind: terms are ranked as niches are, categories by openness and settledness."""

from __future__ import annotations

from driftfield.core.base import Settings
from driftfield.core.ranking import (
    DEFAULT_LENS,
    READY_FOR_CATEGORIES,
    READY_LENSES,
    Lens,
    lens_of_settings,
)

from .kinds import CATEGORY, NICHE, Kind


def lens_kind(kind: Kind) -> Kind:
    """The kind whose lenses rank a kind."""
    return CATEGORY if kind == CATEGORY else NICHE


def default_lens(kind: Kind, settings: Settings) -> Lens:
    """The lens by which a kind is ranked where nothing else is asked for."""
    return lens_of_settings(settings) if kind == CATEGORY else DEFAULT_LENS


def ready_lenses(kind: Kind, settings: Settings) -> tuple[Lens, ...]:
    """The lenses to start from, the default first."""
    if kind == CATEGORY:
        return (lens_of_settings(settings), *READY_FOR_CATEGORIES)
    return READY_LENSES
