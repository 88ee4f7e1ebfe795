"""What the researcher changed in the niches, laid over what the files say of them."""

from __future__ import annotations

from collections import defaultdict

from django.db.models import Exists, F, OuterRef, Q

from .many_rows import insert, update
from .models import Category, Market, Niche, NicheChange, OwnNiche, Placement, Term

IN_QUERY = 5_000  # Ids that one query names.
ALONE = "term:"  # What the id of a term's own niche begins with where the term itself is taken.


def slices(keys: list[str]) -> list[list[str]]:
    """Keys in lots that one query can name."""
    return [keys[at : at + IN_QUERY] for at in range(0, len(keys), IN_QUERY)]


def emptied() -> Q:
    """Niches whose terms went elsewhere: they come back with them, and are not shown until then."""
    here = Exists(Term.objects.filter(niche=OuterRef("pk")))
    given = Exists(Term.objects.filter(given=OuterRef("pk")))
    return (Q(of_term=True) | Q(own=True) | Q(given_name=None) | given) & ~here


def niches_mark(market_id: str) -> str:
    """Another one as soon as the researcher changed the market's niches, or undid a change."""
    changes = NicheChange.objects.filter(market_id=market_id)
    return f"{changes.count()}-{changes.exclude(undone_at=None).count()}"


def follow_files() -> None:
    """Put every term where the files have it, as it must be when an import is undone."""
    Term.objects.exclude(niche=F("given")).update(niche=F("given"))


def follow_own(market_id: str | None = None) -> None:
    """Make names, niches and the niche of each term what the researcher made of them, in one market or all.

    A term that was put into a niche which is not there, for its import was undone, is where the files have
    it until the niche is back.
    """
    markets = (
        Market.objects.all() if market_id is None else Market.objects.filter(market_id=market_id)
    )
    for market in markets:
        _name(market)
        _place(market)


def _name(market: Market) -> None:
    own = {one.niche_id: one for one in OwnNiche.objects.filter(market_id=market.market_id)}
    niches = Niche.objects.filter(market=market)
    # Most are as the files have them, and there may be a million: they are not looked at one by one.
    given = niches.filter(own=False).exclude(given_name=None)
    given.exclude(name=F("given_name")).update(name=F("given_name"))
    there = {one.niche_id: one for one in niches.filter(own=True)}
    for some in slices(list(own)):
        there |= {one.niche_id: one for one in niches.filter(niche_id__in=some)}
    categories = dict(Category.objects.values_list("category_id", "pk"))
    rows = []
    for key, niche in there.items():
        mine = own.get(key)
        name = mine.name if mine else niche.given_name or niche.name
        category = niche.category_id
        if mine and niche.given_name is None:
            category = categories.get(mine.category_id)
        if (niche.name, niche.own, niche.category_id) != (name, mine is not None, category):
            rows.append(
                {"pk": niche.pk, "name": name, "own": mine is not None, "category_id": category}
            )
    update(Niche, ["name", "own", "category_id"], rows)
    insert(
        Niche,
        (
            {"market_id": market.pk, "niche_id": key, "name": mine.name, "own": True,
             "category_id": categories.get(mine.category_id)}
            for key, mine in own.items() if key not in there
        ),
    )  # fmt: skip


def _place(market: Market) -> None:
    placed = dict(
        Placement.objects.filter(market_id=market.market_id).values_list("term", "niche_id")
    )
    moved = Term.objects.filter(market=market)
    if not placed:
        moved.exclude(niche=F("given")).update(niche=F("given"))
        return
    rows = list(moved.values_list("pk", "term", "niche_id", "given_id"))
    alone = _alone(market, [term for _, term, _, _ in rows if placed.get(term) == ""])
    niches = dict(Niche.objects.filter(market=market).values_list("niche_id", "pk"))
    changed = []
    for pk, term, niche, given in rows:
        wanted = given
        if term in placed:
            wanted = alone[term] if placed[term] == "" else niches.get(placed[term], given)
        if wanted != niche:
            changed.append({"pk": pk, "niche_id": wanted})
    update(Term, ["niche_id"], changed)


def _alone(market: Market, terms: list[str]) -> dict[str, int]:
    """Keys of the niches of single terms, which are made where there are none."""
    if not terms:
        return {}
    found: dict[str, dict[str, int]] = defaultdict(dict)
    taken = set()
    for pk, key, single in Niche.objects.filter(market=market).values_list(
        "pk", "niche_id", "of_term"
    ):
        taken.add(key)
        if single:
            found[key.removeprefix(ALONE)][key] = pk
    own = set(
        OwnNiche.objects.filter(market_id=market.market_id).values_list("niche_id", flat=True)
    )

    def standing(term: str) -> int | None:
        return next((pk for key, pk in found[term].items() if key not in own), None)

    lacking = [term for term in terms if standing(term) is None]
    made = [f"{ALONE}{term}" if term in taken else term for term in lacking]
    insert(
        Niche,
        (
            {"market_id": market.pk, "niche_id": key, "name": term, "of_term": True}
            for key, term in zip(made, lacking, strict=True)
        ),
    )
    keys = dict(
        Niche.objects.filter(market=market, niche_id__in=made).values_list("niche_id", "pk")
    )
    here = {term: keys[key] for key, term in zip(made, lacking, strict=True)}
    return {term: here.get(term) or standing(term) or 0 for term in terms}
