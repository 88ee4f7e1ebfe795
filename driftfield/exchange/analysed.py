"""A market of a package analysed, for whichever kind is asked for."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

from driftfield.core.base import Bools, Settings
from driftfield.core.market import (
    CATEGORY,
    HOLDERS,
    NICHE,
    SELLING,
    TERM,
    Kind,
    Workings,
    run_categories,
    run_holders,
    run_listings,
    run_market,
)
from driftfield.core.ranking import DEFAULT_LENS, Lens
from driftfield.core.signals import SIGNALS

from .market_data import MarketInput

Progress = Callable[[int, int], None]


def read_niches(
    market: MarketInput, settings: Settings, *, lens: Lens = DEFAULT_LENS, within: Bools | None = None,
    planning: date | None = None, progress: Progress | None = None,
) -> Workings:  # fmt: skip
    """Analyse the niches of a market; ``within`` says which are ranked, among themselves."""
    return run_market(
        market.data, settings, lens=lens, rules=SIGNALS, progress=progress, population=within, planning=planning
    )  # fmt: skip


def read_terms_of(
    market: MarketInput, niches: Workings, *, lens: Lens = DEFAULT_LENS, within: Bools | None = None,
    planning: date | None = None, progress: Progress | None = None,
) -> Workings:  # fmt: skip
    """Analyse the terms of a market whose niches were; ``within`` is by term."""
    # A term that is too noisy to show a season leans on its niche's.
    data = market.data.of_terms(market.terms, niches.figures["season_profile"])
    return run_market(
        data, niches.settings, lens=lens, rules=SIGNALS, progress=progress, population=within, planning=planning
    )  # fmt: skip


def read_kind(
    kind: Kind, market: MarketInput, niches: Workings, *, lone: bool, lens: Lens = DEFAULT_LENS,
    within: Bools | None = None, planning: date | None = None, progress: Progress | None = None,
) -> Workings | None:  # fmt: skip
    """What a kind comes to, from the workings of the market's niches.

    ``lone`` says that the package has no other market, to which categories might belong; None where nothing of
    the kind is known.
    """
    if kind == NICHE:
        return niches
    if kind == TERM:
        return read_terms_of(
            market, niches, lens=lens, within=within, planning=planning, progress=progress
        )
    if kind == CATEGORY:
        return run_categories(niches, every_tree=lone, planning=planning)
    assert kind in SELLING, f"no reader of {kind.plural}"
    listings = run_listings(niches, market.listing_ids, planning=planning, progress=progress)
    if kind in HOLDERS:
        return run_holders(kind, niches, listings, planning=planning)
    return listings
