"""Whole markets as the arrays the core reads, from packed curves."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace
from datetime import date

import numpy as np
from django.db.models import Exists, OuterRef, QuerySet

from driftfield.core.base import CoreError, Floats, Period, Timeline
from driftfield.core.curves import Interest
from driftfield.core.market import CategoryTree, MarketData
from driftfield.core.market.protected import ProtectedWord as Protected
from driftfield.core.market.protected import marks_of
from driftfield.core.supply import Clicks
from driftfield.market.curves import matrix, spanning, unpack
from driftfield.market.models import (
    Category,
    ClickCurve,
    Listing,
    Market,
    Niche,
    ProtectedWord,
    Term,
    TermCurve,
)
from driftfield.market.own_niches import emptied

from .load_listings import load_listings, load_own_sales


@dataclass(frozen=True, slots=True)
class Part:
    """One market's counts, or its relative curves: the arrays, and who their rows stand for.

    niches, niche_names, categories: key, name and category's key of each niche. terms, term_names:
    of each term. listings: keys, in the order of the arrays. tree: keys of the categories of ``data.tree``.
    """

    data: MarketData
    niches: list[int]
    niche_names: list[str]
    categories: list[int | None]
    terms: list[int]
    term_names: list[str]
    listings: list[int]
    tree: list[int]


def protected_words() -> list[Protected]:
    """The words one must not sell under, as the core reads them."""
    return [one.as_read for one in ProtectedWord.objects.all()]


def load_market(market: Market) -> list[Part]:
    """A market's arrays: its counts, and the niches of which there are only relative curves.

    Raises CoreError when there is neither.
    """
    searches, index = _rows(market, "searches"), _rows(market, "index")
    if not searches and not index:
        raise CoreError(f"{market.name} has no searches to analyse.")
    owner = dict(Term.objects.filter(market=market).values_list("pk", "niche_id"))
    counted = {owner[subject] for subject, _, _, _ in searches}
    relative = {owner[subject] for subject, _, _, _ in index}
    interest = _matrix(index, [*dict.fromkeys(row[0] for row in index)]) if index else None
    parts = []
    if searches:
        part = _part(market, searches, exclude=relative - counted)
        if interest is not None:
            part = _beside(part, interest, owner)
        parts.append(part)
    if relative - counted:
        alone = [row for row in index if owner[row[0]] not in counted]
        parts.append(_part(market, alone, only=relative - counted, counts=False))
    return parts


@dataclass(frozen=True, slots=True)
class _Curves:
    timeline: Timeline
    terms: list[int]
    values: Floats


def _matrix(rows: list[tuple[int, int, bytes, str]], terms: list[int]) -> _Curves:
    """Packed rows as a matrix of ``terms``, NaN where a term has none."""
    timeline = _timeline(rows)
    place = {pk: i for i, pk in enumerate(terms)}
    packed = ((place[subject], first, values) for subject, first, values, _ in rows)
    return _Curves(timeline, terms, matrix(packed, len(terms), timeline))


def _part(
    market: Market,
    rows: list[tuple[int, int, bytes, str]],
    *,
    exclude: Collection[int] = (),
    only: Collection[int] | None = None,
    counts: bool = True,
    niche: Niche | None = None,
) -> Part:
    found = Niche.objects.filter(market=market).exclude(emptied()).order_by("pk")
    own = Term.objects.filter(market=market)
    if niche is not None:
        found, own = found.filter(pk=niche.pk), own.filter(niche=niche)
    niches = [
        row
        for row in found.values_list("pk", "niche_id", "category_id", "name")
        if row[0] not in exclude and (only is None or row[0] in only)
    ]
    place = {row[0]: i for i, row in enumerate(niches)}
    terms = [
        row
        for row in own.order_by("niche_id", "pk").values_list("pk", "niche_id", "branded", "term")
        if row[1] in place
    ]
    keys = [row[0] for row in terms]
    wanted = set(keys)
    curves = _matrix([row for row in rows if row[0] in wanted], keys)

    def measure(name: str) -> Floats | None:
        more = _rows(market, name, niche) if counts else []
        inside = {pk: i for i, pk in enumerate(keys)}
        packed = ((inside[s], first, v) for s, first, v, _ in more if s in inside)
        return matrix(packed, len(keys), curves.timeline) if more else None

    tree, tree_keys = (None, []) if niche is not None else load_tree()
    if niche is None:
        category = {pk: i for i, pk in enumerate(tree_keys)}
    else:
        category = {row[2]: 0 for row in niches if row[2]}
    clicks, pages = (
        _clicks(market, {pk: i for i, pk in enumerate(keys)}, curves.timeline, niche)
        if counts
        else (None, [])
    )
    # Figures of one niche's terms do not look at what its listings are.
    listings = None
    if counts and niche is None:
        pages = [*pages, *_unclicked(market, tree, category)]
        listings = load_listings({pk: i for i, pk in enumerate(pages)}, tree) if pages else None
    data = MarketData(
        timeline=curves.timeline,
        subjects=[row[1] for row in niches],
        term_subject=np.array([place[row[1]] for row in terms], dtype=np.int64),
        searches=curves.values,
        clicks=measure("clicks"),
        purchases=measure("purchases"),
        impressions=measure("impressions"),
        branded=np.array([np.nan if b is None else float(b) for _, _, b, _ in terms]),
        protected=marks_of([row[3] for row in terms], protected_words()),
        observed=clicks,
        listings=listings,
        counts=counts,
        category=np.array([category.get(row[2], -1) for row in niches], dtype=np.int64),
        tree=tree,
        own_sales=load_own_sales({row[0]: i for i, row in enumerate(niches)})
        if counts and niche is None
        else None,
    )
    return Part(
        data,
        niches=[row[0] for row in niches],
        niche_names=[row[3] for row in niches],
        categories=[row[2] for row in niches],
        terms=keys,
        term_names=[row[3] for row in terms],
        listings=pages,
        tree=tree_keys,
    )


def load_tree() -> tuple[CategoryTree | None, list[int]]:
    """All categories as a tree, and their keys in its order; none where there are no categories."""
    rows = list(
        Category.objects.order_by("pk").values_list(
            "pk", "category_id", "name", "parent__category_id"
        )
    )
    tree = CategoryTree.of((own, name, above) for _, own, name, above in rows) if rows else None
    return tree, [row[0] for row in rows]


def _unclicked(market: Market, tree: CategoryTree | None, places: dict[int, int]) -> list[int]:
    """Keys of listings that nobody clicks and that belong to the market.

    Where it is the only one, all of them; else those whose categories no other market's niches lie in.
    """
    clicked = ClickCurve.objects.filter(listing=OuterRef("pk"))
    found = Listing.objects.filter(~Exists(clicked)).order_by("pk")
    if not Market.objects.exclude(pk=market.pk).exists():
        return list(found.values_list("pk", flat=True))
    if tree is None:
        return []
    top = tree.top
    served: dict[int, set[int]] = {}
    named = Niche.objects.exclude(category=None).values_list("category_id", "market_id").distinct()
    for category, owner in named:
        served.setdefault(int(top[places[category]]), set()).add(owner)
    return [
        pk
        for pk, category in found.exclude(category=None).values_list("pk", "category_id")
        if served.get(int(top[places[category]])) == {market.pk}
    ]


def _beside(part: Part, interest: _Curves, owner: dict[int, int]) -> Part:
    """The same counts with the relative curves of their niches beside them."""
    place = {pk: i for i, pk in enumerate(part.niches)}
    niche = np.array([place.get(owner[t], -1) for t in interest.terms], dtype=np.int64)
    rows = np.flatnonzero(niche >= 0)
    if not rows.size:
        return part
    beside = Interest(interest.timeline, niche[rows], interest.values[rows])
    return replace(part, data=replace(part.data, interest=beside))


def load_niche(niche: Niche, as_of: date) -> Part | None:
    """One niche's own terms up to ``as_of``, without what its listings are; None without counts."""
    searches = _rows(niche.market, "searches", niche)
    if not searches:
        return None
    part = _part(niche.market, searches, only={niche.pk}, niche=niche)
    return replace(part, data=part.data.upto(as_of))


def terms_of(niche: Niche) -> QuerySet[Term]:
    """A niche's terms, to ask for their curves; a join instead would walk the curves of all terms."""
    return Term.objects.filter(niche=niche)


def _rows(
    market: Market, measure: str, niche: Niche | None = None
) -> list[tuple[int, int, bytes, str]]:
    curves = TermCurve.objects.filter(measure=measure)
    if niche is None:
        curves = curves.filter(subject__market=market)
    else:
        curves = curves.filter(subject__in=terms_of(niche))
    found = curves.values_list("subject_id", "first", "values", "period")
    return [(subject, first, bytes(values), period) for subject, first, values, period in found]


def _timeline(rows: list[tuple[int, int, bytes, str]]) -> Timeline:
    periods = {period for _, _, _, period in rows}
    if len(periods) > 1:
        raise CoreError(
            "Weekly and monthly searches are mixed in one market; import them as two markets."
        )
    return spanning(Period(periods.pop()), [(first, len(v) // 4) for _, first, v, _ in rows])


def _clicks(
    market: Market, rows: dict[int, int], timeline: Timeline, niche: Niche | None
) -> tuple[Clicks | None, list[int]]:
    """The observed clicks of some terms, and the keys of the listings in their order."""
    curves = ClickCurve.objects.filter(measure="click_share")
    if niche is None:
        curves = curves.filter(subject__market=market)
    else:
        curves = curves.filter(subject__in=terms_of(niche))
    columns = ("subject_id", "listing_id", "first", "values", "period")
    found = [row for row in curves.values_list(*columns) if row[0] in rows]
    if not found:
        return None, []
    listings = {pk: i for i, pk in enumerate(dict.fromkeys(row[1] for row in found))}
    seen_parts: list[tuple[np.ndarray, ...]] = []
    for subject, listing, first, values, period in found:
        share = unpack(bytes(values))
        seen = np.flatnonzero(~np.isnan(share))
        numbers = first + seen
        if period != timeline.period.value:
            own = Period(period)
            numbers = np.array([timeline.period.number(own.start(int(n))) for n in numbers])
        at = numbers - timeline.first_number
        same = np.ones_like(seen)
        seen_parts.append((same * rows[subject], at, same * listings[listing], share[seen]))
    term, when, page, held = (np.concatenate(parts) for parts in zip(*seen_parts, strict=True))
    inside = (when >= 0) & (when < timeline.length)
    clicks = Clicks(term[inside], when[inside], page[inside], held[inside].astype(float))
    return clicks, list(listings)
