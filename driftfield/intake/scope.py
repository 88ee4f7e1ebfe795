"""Some niches of what is loaded, with all that is known of them."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass

from django.db.models import Q, QuerySet
from django.db.models.expressions import RawSQL

from driftfield.market.models import (
    Brand,
    Category,
    ClickCurve,
    Feedback,
    Listing,
    Market,
    Niche,
    Offer,
    ProtectedWord,
    Seller,
    Term,
    Voice,
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Scope:
    """Some niches with all that is known of them: what is read of each table."""

    niches: QuerySet[Niche]
    whole: bool

    @property
    def terms(self) -> QuerySet[Term]:
        return Term.objects.filter(niche__in=self.niches)

    @property
    def clicks(self) -> QuerySet[ClickCurve]:
        return ClickCurve.objects.filter(subject__in=self.terms)

    @property
    def listings(self) -> QuerySet[Listing]:
        """All, or those that took clicks of the terms."""
        if self.whole:
            return Listing.objects.all()
        return Listing.objects.filter(pk__in=self.clicks.values("listing"))

    @property
    def categories(self) -> QuerySet[Category]:
        """All, or those of the niches and listings, with those above them."""
        if self.whole:
            return Category.objects.all()
        parents = dict(Category.objects.values_list("pk", "parent_id"))
        at = [*self.niches.values_list("category__pk", flat=True).distinct(),
              *self.listings.values_list("category__pk", flat=True).distinct()]  # fmt: skip
        wanted: set[int] = set()
        while at:
            own = at.pop()
            if own is not None and own not in wanted:
                wanted.add(own)
                at.append(parents[own])
        return Category.objects.filter(pk__in=wanted)

    @property
    def offers(self) -> QuerySet[Offer]:
        return Offer.objects.filter(listing__in=self.listings)

    @property
    def feedback(self) -> QuerySet[Feedback]:
        return Feedback.objects.filter(listing__in=self.listings)

    @property
    def voices(self) -> QuerySet[Voice]:
        """All, or those of the listings, niches or terms."""
        if self.whole:
            return Voice.objects.all()
        own = Q(niche_id__in=self.niches.values("niche_id")) | Q(term__in=self.terms.values("term"))
        return Voice.objects.filter(own | Q(listing__in=self.listings))

    @property
    def markets(self) -> QuerySet[Market]:
        return Market.objects.filter(pk__in=self.niches.values("market"))

    @property
    def protected_words(self) -> QuerySet[ProtectedWord]:
        """All: they belong to no niche."""
        return ProtectedWord.objects.all() if self.whole else ProtectedWord.objects.none()

    @property
    def brands(self) -> QuerySet[Brand]:
        used = self.listings.values("brand")
        return Brand.objects.all() if self.whole else Brand.objects.filter(pk__in=used)

    @property
    def sellers(self) -> QuerySet[Seller]:
        """All, or those of the listings and of offers on them."""
        if self.whole:
            return Seller.objects.all()
        own = Seller.objects.filter(pk__in=self.listings.values("seller_id"))
        return own | Seller.objects.filter(pk__in=self.offers.values("seller_id"))


def everything() -> Scope:
    """All that is loaded."""
    return Scope(Niche.objects.all(), whole=True)


def only(niches: QuerySet[Niche]) -> Scope:
    """Some niches, their terms, the listings clicked after them, and what belongs to those."""
    return Scope(niches, whole=False)


def of_market(market: Market) -> Scope:
    """One market."""
    return only(Niche.objects.filter(market=market))


def of_niches(keys: Sequence[int]) -> Scope:
    """Niches by their keys, of which there may be more than a query takes values."""
    listed = RawSQL("SELECT value FROM json_each(%s)", [json.dumps(list(keys))])
    return only(Niche.objects.filter(pk__in=listed))
