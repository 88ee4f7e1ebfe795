"""One niche loaded close up: its terms' curves, the listings clicked after them, and its settings."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, datetime
from functools import lru_cache
from threading import Lock

import numpy as np

from driftfield.core.base import Floats, Settings
from driftfield.core.curves import sum_by_group
from driftfield.core.market import MarketData
from driftfield.core.supply import Listings, Members, part_weights, read_members
from driftfield.market.models import Listing, Niche
from driftfield.market.own_niches import niches_mark

from .load import load_niche
from .load_listings import load_listings
from .reading import Reading


@dataclass(frozen=True, slots=True)
class NicheData:
    """A niche's arrays up to its reading's as-of.

    listings: what is known of the listings with keys ``keys``, in that order. members: the niche's
    listings by their clicks; None where no clicks were observed.
    """

    data: MarketData
    settings: Settings
    as_of: date
    keys: list[int]
    listings: Listings
    members: Members | None

    def together(self, values: Floats) -> Floats:
        """Sum over the niche's terms, (length,), as the readings take it."""
        none = np.zeros(len(values), dtype=np.int64)
        curve: Floats = sum_by_group(values, none, 1, int(self.settings.bridge_periods))[0]
        return curve

    @property
    def clicked(self) -> list[int]:
        """Places in ``listings`` of those clicked now, most clicked first."""
        if self.members is None:
            return []
        return [int(place) for place in self.members.listing[self.members.now]]

    def facts(self) -> dict[int, Listing]:
        """The stored listings by key."""
        return Listing.objects.in_bulk(self.keys)


KEPT = 8  # Niches kept in memory: a dossier asks for one several times within a second.
_LOADING = Lock()


def load_niche_data(reading: Reading) -> NicheData | None:
    """The arrays behind one reading; None where the niche has no counts.

    Kept in memory as long as the run stands, and not to be written to.
    """
    run = reading.run
    with _LOADING:  # Questions of one dossier come together; only the first one loads.
        # Its terms may be others than those the run read, and are asked for beside these.
        mark = niches_mark(reading.market.market_id)
        return _load(reading.niche.pk, run.pk, run.made_at, mark)


@lru_cache(maxsize=KEPT)
def _load(niche_key: int, run_key: int, made_at: datetime, mark: str) -> NicheData | None:
    niche = Niche.objects.select_related("market__run").get(pk=niche_key)
    run = niche.market.run
    part = load_niche(niche, run.as_of)
    if part is None:
        return None
    settings = Settings.from_dict(run.settings)
    data, members = part.data, None
    listings = load_listings({pk: i for i, pk in enumerate(part.listings)}).upto(run.as_of)
    if data.observed is not None and part.listings:
        members = read_members(
            data.observed, part_weights(data.observed, data.searches, data.clicks), data.term_subject,
            1, data.timeline.length, int(settings.click_weeks), data.timeline.period,
        )  # fmt: skip
    for kept in (data.searches, data.clicks, data.purchases):
        if kept is not None:
            kept.setflags(write=False)
    return NicheData(
        replace(data, listings=listings), settings, run.as_of, part.listings, listings, members
    )
