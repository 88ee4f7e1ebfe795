"""All that the figures of a market are computed from."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Protocol

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings, Timeline
from driftfield.core.curves import CurveReadings, Lag, SeasonPlan
from driftfield.core.ranking import DEFAULT_LENS, Bands, Index, Lens, Normalised, Ranking
from driftfield.core.supply import (
    Carried,
    Competition,
    Goods,
    Holdings,
    ListingRecord,
    ListingSeasons,
    Moves,
    OwnPart,
    People,
    PriceAnswer,
    RankLines,
    Sleepers,
    Sources,
    UnitsEstimate,
)

from .data import MarketData
from .said import Said
from .tree import CategoryTree


class Rule(Protocol):
    """A signal, as the runner knows it; ``core.signals`` holds ours."""

    @property
    def key(self) -> str: ...

    @property
    def reads(self) -> list[str]:
        """Keys of the figures it rests on."""

    def severity(self, figures: Mapping[str, np.ndarray], settings: Settings) -> Floats:
        """(subjects,) 0–1 where it is raised, NaN elsewhere."""


@dataclass(frozen=True, slots=True)
class MarkedShares:
    """Share of searches whose terms contain a brand's name, a protected word, or either, (subjects,) each."""

    branded: Floats
    protected: Floats
    owned: Floats


@dataclass(slots=True)
class CategoryWorkings:
    """What is made of categories alone; arrays are (categories,). tree: of those that are the subjects.

    niches, terms: how many different ones lie in each. openness, settledness: None before they are read.
    """

    tree: CategoryTree
    niches: Floats
    terms: Floats
    openness: Index | None = None
    settledness: Index | None = None


@dataclass(slots=True)
class ListingWorkings:
    """What is made of listings alone; arrays are (listings,).

    niches: those of the same market. record: of each by itself. lines: how units fall with the rank, and what
    own sales say of it. estimate: a year's units from ranks, where no others are known; estimated: whether the
    curve is made of such. clicks: after any term in the latest window. seasons: when each sells, by_niche
    whether its niche tells so. rise, caught: of the coming season of what ``sleepers`` names, see
    ``coming_seasons``. day: ordinal of the market's as-of, which its history may not reach.
    """

    niches: Workings
    record: ListingRecord
    lines: RankLines
    estimate: UnitsEstimate
    estimated: Bools
    clicks: Floats
    seasons: ListingSeasons
    by_niche: Bools
    sleepers: Sleepers
    rise: Floats
    caught: Floats
    day: int


@dataclass(slots=True)
class HolderWorkings:
    """What is made of brands or of sellers alone; arrays are (brands,) or (sellers,).

    people: all whom the codes of ``goods``, what they have on sale or had, may stand for. carried: figures of
    that. day: ordinal of the market's as-of.
    """

    people: People
    goods: Goods
    carried: Carried
    day: int


@dataclass(slots=True)
class Workings:
    """All that the figures of one kind in a market are made from; arrays are (subjects,).

    first_figure: column of each subject's first figure. yoy_feasts: moving feasts that fall in one of
    the two windows a year apart and not in the other. agreement: of counts with relative curves.
    misspelt: of terms, the place of the one that each is likely a mistyping of, −1 for none; None for other
    kinds. category: of categories; listing: of listings; holder: of brands and sellers. holdings: what lies in
    each category, brand or seller. said: what is known of what buyers write. moves: of niches,
    what moved of late on the supply side. own: of niches, own sales beside theirs, with what that is made from.
    high: who ranks high under every ready lens. usual: medians of the whole market by figure. settled: sum of
    the curve up to ``settled_until``. rules: the
    signals to raise.
    """

    data: MarketData
    settings: Settings
    curves: CurveReadings
    plan: SeasonPlan
    first_figure: Ints
    yoy_feasts: list[str]
    agreement: Floats
    impressions_52w: Floats
    searches_52w: Floats
    clicks_52w: Floats
    purchases_52w: Floats
    searches_13w: Floats
    shares: MarkedShares
    lag: Lag
    settled: Floats
    price_answer: PriceAnswer
    supply: Competition
    lens: Lens = DEFAULT_LENS
    misspelt: Ints | None = None
    category: CategoryWorkings | None = None
    listing: ListingWorkings | None = None
    holder: HolderWorkings | None = None
    holdings: Holdings | None = None
    said: Said | None = None
    moves: Moves | None = None
    own: OwnPart | None = None
    own_sources: Sources | None = None
    settled_until: date | None = None
    rules: Sequence[Rule] = ()
    normalised: Normalised | None = None
    ranking: Ranking | None = None
    bands: Bands | None = None
    high: Bools | None = None
    usual: dict[str, float] = field(default_factory=dict)
    figures: dict[str, np.ndarray] = field(default_factory=dict)

    @property
    def count(self) -> int:
        return len(self.data.subjects)

    @property
    def timeline(self) -> Timeline:
        return self.data.timeline

    @property
    def counts(self) -> bool:
        return self.data.counts
