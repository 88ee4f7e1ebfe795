"""The reading of one subject: its figures as a run stored them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property, lru_cache
from types import MappingProxyType
from typing import Any

from driftfield.core.base import Settings
from driftfield.core.market import NICHE, figures_of
from driftfield.market.models import Market, Niche

from .chosen import overruled
from .columns import columns_of
from .models import Run
from .store import read_rows

KEPT = 8  # Niches whose figures are kept in memory.


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
        """Those the run was made with, and what is overruled for the niche."""
        own = overruled(self.market.market_id, self.niche.niche_id)
        return Settings.from_dict({**self.run.settings, **own})

    @property
    def figures(self) -> Mapping[str, Any]:
        """All figures by key, None for unknown."""
        return _figures(self.run, self.run.planned_at, self.place)


@lru_cache(maxsize=KEPT)
def _figures(run: Run, planned_at: datetime, place: int) -> Mapping[str, Any]:
    """Those of a place as long as the run stands: a dossier asks for them with each of its questions."""
    return MappingProxyType(read_rows(run, NICHE, figures_of(NICHE), [place])[0])


def reading_of(run: Run, niche: Niche) -> Reading | None:
    """The reading of a niche; None where the run knows nothing of it."""
    place = columns_of(run, NICHE).place_of(niche.pk)
    return None if place is None else Reading(run, niche, place)
