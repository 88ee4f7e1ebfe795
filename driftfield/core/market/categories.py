"""Categories as a kind: rolled up over the tree from the terms, niches and listings of a market."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import date

import numpy as np

from driftfield.core.base import Floats, Groups, Ints, Settings
from driftfield.core.curves import group_sums
from driftfield.core.ranking import OPENNESS, SETTLEDNESS, read_index
from driftfield.core.supply import (
    Competition,
    Concentrated,
    Held,
    Judged,
    Listings,
    competition_of_groups,
    concentrate,
    home_subjects,
    main_pairs,
    read_holdings,
    rolled_up,
)

from .begin import begin, compute_stage
from .data import MarketData
from .figures.figure import Stage
from .kinds import CATEGORY
from .reader import DemandReader
from .tree import CategoryTree
from .workings import CategoryWorkings, MarkedShares, Workings

Progress = Callable[[int, int], None]


def run_categories(
    niches: Workings,
    *,
    every_tree: bool = True,
    planning: date | None = None,
    progress: Progress | None = None,
) -> Workings | None:
    """Read the categories of a market from the workings of its niches, with all their figures.

    The subjects are whole trees: those in which the market has a niche or a listing, and with ``every_tree``
    the others too. None where the market has no categories, or its curves are relative, which cannot be summed.
    """
    data = niches.data
    if data.tree is None or data.category is None or not data.counts or not len(data.tree):
        return None
    own = listing_categories(niches)
    held = np.zeros(len(data.tree), dtype=bool)
    held[data.category[data.category >= 0]] = True
    held[own[own >= 0]] = True
    kept = np.ones(len(held), dtype=bool) if every_tree else data.tree.trees_with(held)
    if not kept.any():
        return None
    tree, place = data.tree.part(kept)
    niche_category = _placed(place, data.category)
    settings, listings, day = niches.settings, _listings(data), data.timeline.end.toordinal()
    # Who is clicked takes about as long as all the rest, and so is read beside it.
    with ThreadPoolExecutor(2) as beside:
        concentrated = beside.submit(_concentrated, niches, tree, niche_category)
        rolled = market_rolled_up(data, tree, niche_category, settings)
        reader = DemandReader(rolled, settings, len(tree))
        reader.read_all(progress)
        members = _held(niches, tree, _placed(place, own))
        holdings = beside.submit(
            read_holdings, members, listings, niches.supply.units, niches.supply.revenue, day
        )
        supply = competition_of_groups(
            concentrated, members, listings, niches.supply.units, niches.supply.revenue,
            judged_by_niches(niches.supply, members, listings, day), day, settings,
        )  # fmt: skip
    unknown = np.full(len(tree), np.nan)
    work = begin(
        rolled, settings, reader, supply, MarkedShares(unknown, unknown, unknown), planning
    )
    work.category = CategoryWorkings(
        tree=tree,
        niches=_many(tree, niche_category),
        terms=_many(tree, niche_category[data.term_subject]),
    )
    work.holdings = holdings.result()
    compute_stage(work, Stage.READ)
    work.category.openness = read_index(work.figures, OPENNESS, settings)
    work.category.settledness = read_index(work.figures, SETTLEDNESS, settings)
    compute_stage(work, Stage.RANKED)
    return work


def listing_categories(niches: Workings) -> Ints:
    """The category of each listing, (listings,), −1 for unknown, as its place in the tree.

    Where a listing names none it is that of the niche which brings most of its clicks.
    """
    data = niches.data
    own = _listings(data).category.copy()
    if data.category is None:
        return own
    niche = main_niches(niches)
    lent = np.where(niche >= 0, data.category[niche], -1)
    return np.where(own >= 0, own, lent)


def main_niches(niches: Workings) -> Ints:
    """The niche that brings most of each listing's clicks, (listings,), −1 for none."""
    return home_subjects(niches.supply.clicked, len(_listings(niches.data)))


def _listings(data: MarketData) -> Listings:
    if data.listings is not None:
        return data.listings
    seen = data.observed
    return Listings.unknown(0 if seen is None else int(seen.listing.max(initial=-1)) + 1)


def _placed(place: Ints, categories: Ints) -> Ints:
    """Places in a part of the tree, −1 for none."""
    return np.where(categories >= 0, place[categories], -1)


def _many(tree: CategoryTree, category: Ints) -> Floats:
    """How many of something lie in each category and below it; ``category`` is where each one lies."""
    direct = np.bincount(category[category >= 0], minlength=len(tree)).astype(np.float64)
    node, above = tree.lineage()
    many: np.ndarray = np.bincount(above, weights=direct[node], minlength=len(tree))
    return many


def market_rolled_up(
    data: MarketData, tree: CategoryTree, niche_category: Ints, settings: Settings
) -> MarketData:
    """The market with every category a subject whose curves are the sums over all terms below it.

    ``niche_category`` is (subjects,), the place of each niche's category in ``tree``, −1 for none.
    """
    category = niche_category[data.term_subject]
    inside = np.flatnonzero(category >= 0)
    longest = int(settings.bridge_periods)
    node, above = tree.lineage()

    def rolled(values: Floats | None) -> Floats | None:
        if values is None:
            return None
        rows = values if len(inside) == len(values) else values[inside]
        direct = group_sums(rows, category[inside], len(tree), longest)
        return direct.rolled_up(node, above, len(tree)).curves

    searches = rolled(data.searches)
    assert searches is not None, "a market has searches"
    return replace(
        data, kind=CATEGORY, subjects=tree.ids, term_subject=np.arange(len(tree)), searches=searches,
        clicks=rolled(data.clicks), purchases=rolled(data.purchases), impressions=rolled(data.impressions),
        branded=None, protected=None, observed=None, category=None, tree=tree, interest=None, prior=None,
        niche=None,
    )  # fmt: skip


def _held(niches: Workings, tree: CategoryTree, listing_category: Ints) -> Held:
    """What lies in each category."""
    data = niches.data
    listings, day = _listings(data), data.timeline.end.toordinal()
    # What is launched later is not there yet.
    there = np.where(listings.launched > day, -1, listing_category)
    known = niches.supply.clicked.weight.sum(axis=0) > 0
    return Held.by(there, len(tree), tree.lineage(), received_clicks(niches), known)


def received_clicks(niches: Workings) -> Floats:
    """Clicks that each listing got after any term, (listings, windows of ``CLICK_WINDOWS``)."""
    members = niches.supply.clicked
    many = len(_listings(niches.data))
    clicks = np.zeros((many, members.share.shape[1]), order="F")
    for column in np.flatnonzero(members.weight.any(axis=0)).tolist():
        got = np.nan_to_num(members.share[:, column]) * members.weight[members.subject, column]
        clicks[:, column] = np.bincount(members.listing, weights=got, minlength=many)
    return clicks


def _concentrated(niches: Workings, tree: CategoryTree, niche_category: Ints) -> Concentrated:
    """How far the clicks after the terms of each category are concentrated."""
    rows = np.flatnonzero(niche_category >= 0)
    groups = Groups(niche_category[rows], len(tree), tree.lineage())
    clicked = rolled_up(niches.supply.clicked, rows, groups)
    return concentrate(clicked, _listings(niches.data).brand, niches.settings)


def judged_by_niches(
    of_niches: Competition, held: Held, listings: Listings, day: int
) -> Judged | None:
    """The launches of each category, or brand, as their own niches judged them.

    A launch is held against the established listings of its niche, not against all that a category holds.
    """
    if of_niches.judged is None:
        return None
    amount, verdict = launch_verdicts(of_niches, len(listings))
    judged, won = verdict >= 0, verdict == 1
    return Judged(
        age=(day - listings.launched)[held.listing],
        amount=amount[held.listing],
        bar=np.full(held.groups.many, np.nan),
        judged=judged[held.listing],
        won=won[held.listing],
    )


def launch_verdicts(of_niches: Competition, listings: int) -> tuple[Floats, Ints]:
    """What the niche that brings most of a listing's clicks makes of it as a launch, (listings,) each.

    Units in four average weeks of a year, NaN for unknown; and 1 for one that worked, 0 for one that did not,
    −1 for one that is not judged.
    """
    amount, verdict = np.full(listings, np.nan), np.full(listings, -1, dtype=np.int64)
    found = of_niches.judged
    if found is not None:
        first = main_pairs(of_niches.clicked)
        page = of_niches.clicked.listing[first]
        amount[page] = found.amount[first]
        verdict[page] = np.where(found.judged[first], found.won[first], -1)
    return amount, verdict
