"""Query parameters: declared once as fields, which check what comes and describe themselves."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import cache
from typing import Any, TypeVar

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request

from driftfield.core.market import BRAND, KINDS, KINDS_BY_PLURAL, NICHE, SELLER, Kind
from driftfield.market.models import Listing, Market, Term
from driftfield.readings.linked import niche_of
from driftfield.readings.reading import (
    HolderReading,
    ListingReading,
    Reading,
    TermReading,
    reading_of_holder,
    reading_of_listing,
    reading_of_term,
)
from driftfield.readings.reading import reading_of as find_reading

from .errors import Problem
from .fields import Text

Q = TypeVar("Q", bound="Query")


class Query(serializers.Serializer[Any]):
    """What an address takes in its query; a parameter that no field declares is refused by name."""

    @classmethod
    def asked(cls, request: Request) -> dict[str, Any]:
        """The parameters of a request, checked. Raises Problem or ValidationError."""
        declared = _declared(cls)
        found: dict[str, Any] = declared.run_validation(_given(declared, request))
        return found


@cache
def _declared(query: type[Query]) -> Query:
    """The fields of a query, which keep nothing of what they check; copying them took longer than asking."""
    return query()


def _given(declared: Query, request: Request) -> dict[str, Any]:
    known = declared.fields
    if unknown := sorted(set(request.query_params) - set(known)):
        raise Problem(
            400, "There is no such parameter",
            f"Unknown: {', '.join(unknown)}. Known: {', '.join(sorted(known)) or 'none'}.",
        )  # fmt: skip
    found: dict[str, Any] = {}
    for name in request.query_params:
        several = isinstance(known[name], serializers.ListField)
        given = [text for text in request.query_params.getlist(name) if text]
        # A parameter without a value is as good as none.
        if given:
            found[name] = given if several else given[-1]
    return found


class ChoiceQuery(serializers.ChoiceField):
    """One of some words."""

    def __init__(self, choices: Any, **options: Any) -> None:
        super().__init__(choices, required=False, **options)
        self.error_messages["invalid_choice"] = (
            f"It takes {', '.join(map(str, self.choices))}; got “{{input}}”."
        )


class KindQuery(ChoiceQuery):
    """A kind, by its plural as on the command line; niches where it is left out."""

    def __init__(self, among: Sequence[Kind] = KINDS) -> None:
        super().__init__(
            [kind.plural for kind in among], default=NICHE.plural, help_text="What rows stand for."
        )

    def to_internal_value(self, data: Any) -> Any:
        plural = super().to_internal_value(data)
        return KINDS_BY_PLURAL[plural]

    def get_default(self) -> Any:
        return NICHE


class WholeQuery(serializers.IntegerField):
    """A whole number from 0 to ``most``."""

    def __init__(self, most: int, **options: Any) -> None:
        super().__init__(min_value=0, max_value=most, required=False, **options)
        self.most = most

    def to_internal_value(self, data: Any) -> int:
        if not re.fullmatch("[0-9]{1,9}", data) or int(data) > self.most:
            raise serializers.ValidationError(
                f"It takes a whole number from 0 to {self.most:,}; got “{data[:40]}”."
            )
        return int(data)


def grammar_field(name: str) -> type[Text]:
    """A text of a grammar that stands once in the description; who reads it says what is wrong with it."""
    return extend_schema_field({"$ref": f"#/components/schemas/{name}"})(
        type(f"{name}Text", (Text,), {"__doc__": f"A text as the grammar {name} has it."})
    )


class MarketQuery(Query):
    """A market."""

    market = Text(
        required=False, default="", max_length=200, help_text="Id of the market; default the first."
    )


class TermQuery(MarketQuery):
    """One term of a market."""

    term = Text(max_length=500, help_text="The term.")


class ListingQuery(MarketQuery):
    """One listing of a market."""

    listing = Text(max_length=200, help_text="Id of the listing.")


class BrandQuery(MarketQuery):
    """One brand of a market."""

    brand = Text(max_length=200, help_text="Id of the brand.")


class SellerQuery(MarketQuery):
    """One seller of a market."""

    seller = Text(max_length=200, help_text="Id of the seller.")


class NicheQuery(MarketQuery):
    """One niche of a market."""

    niche = Text(max_length=500, help_text="Id of the niche.")


def market_named(name: str) -> Market:
    """The analysed market of that id, or the first one. Raises Problem where there is none."""
    # With its run in the same question: an import may be undone between two.
    markets = Market.objects.filter(run__isnull=False).select_related("run").order_by("pk")
    market = markets.filter(market_id=name).first() if name else markets.first()
    if market is None:
        what = f"There is no analysed market “{name}”." if name else "No figures are loaded yet."
        raise Problem(
            404, "Nothing to show", f"{what} Load a folder with bin/driftfield import FOLDER."
        )
    return market


def reading_named(wanted: dict[str, Any]) -> Reading:
    """The reading of the niche that a ``NicheQuery`` names. Raises Problem where there is none."""
    market, niche_id = market_named(wanted["market"]), wanted["niche"]
    niche = niche_of(market, niche_id)
    reading = None if niche is None else find_reading(market.run, niche)
    if reading is None:
        raise Problem(404, "There is no such niche", f"“{niche_id}” is not in {market.name}.")
    return reading


def term_named(wanted: dict[str, Any]) -> TermReading:
    """The reading of the term that a ``TermQuery`` names. Raises Problem where there is none."""
    market, text = market_named(wanted["market"]), wanted["term"]
    own = Term.objects.filter(market=market, term=text)
    term = own.select_related("niche__category__parent").first()
    reading = None if term is None else reading_of_term(market.run, term)
    if reading is None:
        raise Problem(404, "There is no such term", f"“{text}” is not typed in {market.name}.")
    return reading


def listing_named(wanted: dict[str, Any]) -> ListingReading:
    """The reading of the listing that a ``ListingQuery`` names. Raises Problem where there is none."""
    market, listing_id = market_named(wanted["market"]), wanted["listing"]
    own = Listing.objects.filter(listing_id=listing_id)
    listing = own.select_related("category__parent").first()
    reading = None if listing is None else reading_of_listing(market.run, listing)
    if reading is None:
        raise Problem(404, "There is no such listing", f"“{listing_id}” is not in {market.name}.")
    return reading


def holder_named(wanted: dict[str, Any]) -> HolderReading:
    """The reading of whom a ``BrandQuery`` or a ``SellerQuery`` names. Raises Problem where there is none."""
    kind = BRAND if BRAND.key in wanted else SELLER
    market, subject = market_named(wanted["market"]), wanted[kind.key]
    reading = reading_of_holder(market.run, kind, subject)
    if reading is None:
        raise Problem(
            404, f"There is no such {kind.name}", f"“{subject}” sells nothing in {market.name}."
        )
    return reading
