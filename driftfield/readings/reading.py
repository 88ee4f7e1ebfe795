"""The reading of one subject: its figures as a run stored them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from driftfield.core.base import Settings
from driftfield.core.market import NICHE, figures_of
from driftfield.market.models import Market, Niche

from .columns import columns_of
from .models import Run
from .store import read_rows


@dataclass(frozen=True)
class Reading:
    """What a run stored of one niche; ``place`` is its place in the run's order."""

    run: Run
    niche: Niche
    place: int

    @property
    def market(self) -> Market:
        return self.run.market

    @cached_property
    def settings(self) -> Settings:
        """Those the run was made with."""
        return self.run.made_with

    @cached_property
    def figures(self) -> dict[str, Any]:
        """All figures by key, None for unknown."""
        return read_rows(self.run, NICHE, figures_of(NICHE), [self.place])[0]


def reading_of(run: Run, niche: Niche) -> Reading | None:
    """The reading of a niche; None where the run knows nothing of it."""
    place = columns_of(run, NICHE).place_of(niche.pk)
    return None if place is None else Reading(run, niche, place)
