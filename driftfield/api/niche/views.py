"""Views of one niche: its foot on the Field, and the parts of its dossier."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.desk import serializers as costs
from driftfield.api.errors import Problem
from driftfield.api.fields import Text
from driftfield.api.files import LISTED, FormQuery, file_response
from driftfield.api.niche import serializers as s
from driftfield.api.previews import ShownCurve, preview_of
from driftfield.api.queries import ChoiceQuery, NicheQuery, reading_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import CoreError
from driftfield.core.curves import Time
from driftfield.core.economics import money_workings
from driftfield.core.market import FIGURES_BY_KEY
from driftfield.core.sentences import (
    does_it_pay,
    what_buyers_type,
    what_they_complain_of,
    who_holds,
)
from driftfield.desk.actions import save_costs
from driftfield.desk.profitability import read_profitability
from driftfield.exchange.leads import Leads
from driftfield.exchange.lists import Column
from driftfield.exchange.terms import TERM_COLUMNS
from driftfield.readings.actions import OVERRULED
from driftfield.readings.chosen import overruled
from driftfield.readings.curves import KEYS, niche_curves
from driftfield.readings.demand_detail import read_demand_detail
from driftfield.readings.feedback import read_feedback
from driftfield.readings.holders import clicked_listings, read_holders
from driftfield.readings.leads import leads_of
from driftfield.readings.listing_history import read_listing
from driftfield.readings.reading import Reading
from driftfield.readings.terms import GROWTH, destinations, read_terms_detail, term_rows

CLICKED = 10  # Listings of a niche that are listed.
LISTINGS_SHOWN = 20  # Listings that the dossier shows.
_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


class NicheView(APIView):
    """One niche close up, for the foot of the Field."""

    @extend_schema(
        operation_id="niche",
        parameters=[NicheQuery],
        responses={200: s.NichePreview, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        reading = reading_named(NicheQuery.asked(request))
        niche = reading.niche
        answer = {
            **preview_of(reading, niche.niche_id, niche.name, niche),
            **{key: reading.settings.as_dict()[key] for key in OVERRULED},
            "overruled": sorted(overruled(reading.market.market_id, niche.niche_id)),
        }
        return Response(s.NichePreview(answer).data)


class DemandView(APIView):
    """What is behind a niche's demand figures, and what may come."""

    @extend_schema(
        operation_id="niche_demand",
        parameters=[NicheQuery],
        responses={200: s.DemandDetail, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        return Response(
            s.DemandDetail(read_demand_detail(reading_named(NicheQuery.asked(request)))).data
        )


class CurvesQuery(NicheQuery):
    """Which curves, and whether their calendar is taken out."""

    season = ChoiceQuery(["in", "out"], default="in", help_text="out: without its calendar.")
    curve = serializers.ListField(
        child=ChoiceQuery(KEYS), required=False, default=list, help_text="Only these."
    )


class Curves(APIView):
    """The curves of a niche, demand and supply, with or without their seasons."""

    @extend_schema(
        operation_id="niche_curves",
        parameters=[CurvesQuery],
        responses={200: ShownCurve(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = CurvesQuery.asked(request)
        made = niche_curves(
            reading_named(wanted), wanted["curve"] or KEYS, without_season=wanted["season"] == "out"
        )
        return Response(ShownCurve(made, many=True).data)


class HoldersView(APIView):
    """Who holds a niche: listings, launches, how their facts are spread."""

    @extend_schema(
        operation_id="niche_holders",
        parameters=[NicheQuery],
        responses={200: s.Holders, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        reading = reading_named(NicheQuery.asked(request))
        answer = asdict(read_holders(reading, LISTINGS_SHOWN))
        settings = reading.settings
        verdict = who_holds(reading.figures, settings)
        return Response(s.Holders({**answer, "verdict": verdict}).data)


class Listings(APIView):
    """The most clicked listings of one niche."""

    @extend_schema(
        operation_id="niche_listings",
        parameters=[NicheQuery],
        responses={200: s.ListingRow(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        reading = reading_named(NicheQuery.asked(request))
        return Response(s.ListingRow(clicked_listings(reading, CLICKED), many=True).data)


class ListingQuery(NicheQuery):
    """A listing of a niche."""

    listing = Text(max_length=200, help_text="Id of the listing.")


class ListingView(APIView):
    """One listing of a niche over time."""

    @extend_schema(
        operation_id="listing_history",
        parameters=[ListingQuery],
        responses={200: s.ListingHistory, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = ListingQuery.asked(request)
        made = read_listing(reading_named(wanted), wanted["listing"])
        if made is None:
            raise Problem(
                404, "There is no such listing", f"No listing has the id “{wanted['listing']}”."
            )
        return Response(s.ListingHistory(made).data)


class LeadsQuery(NicheQuery):
    """A niche, and when."""

    month = Text(
        required=False, default="", max_length=7,
        help_text="As in 2025-10; by default its last season, or the last year where it has none.",
    )  # fmt: skip


class LeadsView(APIView):
    """Who held the lead offers on the goods of a niche over a time."""

    @extend_schema(
        operation_id="lead_holders",
        parameters=[LeadsQuery],
        responses={200: s.LeadHolders, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = LeadsQuery.asked(request)
        reading = reading_named(wanted)
        if not wanted["month"]:
            return Response(s.LeadHolders(_last_season(reading)).data)
        found = leads_of(reading, Time.of_month(wanted["month"]))
        return Response(s.LeadHolders(_told(found)).data)


def _last_season(reading: Reading) -> dict[str, Any]:
    """What every dossier asks for; that it is not known is an answer there and no fault."""
    try:
        return _told(leads_of(reading))
    except CoreError as unknown:
        return {"sentence": str(unknown), "first": None, "last": None, "rows": []}


def _told(found: Leads) -> dict[str, Any]:
    return {
        "sentence": f"{found.sentence}.", "first": found.time.first, "last": found.time.last,
        "rows": found.rows,
    }  # fmt: skip


class Terms(APIView):
    """The terms of one niche, most searched first."""

    @extend_schema(
        operation_id="niche_terms",
        parameters=[NicheQuery],
        responses={200: s.TermRow(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        reading = reading_named(NicheQuery.asked(request))
        return Response(s.TermRow(term_rows(reading), many=True).data)


class TermsDetail(APIView):
    """What buyers of a niche type: its terms close up, and the words that recur in them."""

    @extend_schema(
        operation_id="terms_detail",
        parameters=[NicheQuery],
        responses={200: s.TermsDetail, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        reading = reading_named(NicheQuery.asked(request))
        made = read_terms_detail(reading)
        verdict = what_buyers_type(reading.figures, made.terms)
        answer = {"verdict": verdict, "terms": made.terms, "words": made.words}
        return Response(s.TermsDetail(answer).data)


_TERM_COLUMNS = [
    Column("term", "Term"),
    *(Column(name, FIGURES_BY_KEY[key].label) for name, key in TERM_COLUMNS.items()),
    Column("rate_low", "purchases ÷ searches, low end of the interval"),
    Column("rate_high", "purchases ÷ searches, high end of the interval"),
    *(Column(f"growth_{name}", FIGURES_BY_KEY[key].label) for name, key in GROWTH.items()),
    Column("unserved", "wanted, not served"),
    Column("misspelt_of", "likely a mistyping of"),
]


class TermsFileQuery(NicheQuery, FormQuery):
    """Which terms, and the form of the file."""

    term = serializers.ListField(
        child=Text(max_length=500), required=False, default=list, help_text="Only these terms."
    )


class TermsFile(APIView):
    """The terms of a niche, or the chosen ones, as a file."""

    @extend_schema(
        operation_id="terms_file",
        parameters=[TermsFileQuery],
        responses={**LISTED, **_PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = TermsFileQuery.asked(request)
        reading, chosen = reading_named(wanted), set(wanted["term"])
        rows: list[dict[str, Any]] = read_terms_detail(reading).terms
        if missing := chosen - {row["term"] for row in rows}:
            raise _no_such_term(min(missing))
        kept = [row for row in rows if not chosen or row["term"] in chosen]
        return file_response(wanted["as"], f"terms {reading.niche.name}", _TERM_COLUMNS, kept)


def _no_such_term(term: str) -> Problem:
    return Problem(404, "There is no such term", f"The niche has no term “{term}”.")


class TermQuery(NicheQuery):
    """A term of a niche."""

    term = Text(max_length=500)


class DestinationsView(APIView):
    """Where the clicks of a term go."""

    @extend_schema(
        operation_id="destinations",
        parameters=[TermQuery],
        responses={200: s.Destination(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = TermQuery.asked(request)
        found = destinations(reading_named(wanted), wanted["term"])
        if found is None:
            raise _no_such_term(wanted["term"])
        return Response(s.Destination(found, many=True).data)


class FeedbackView(APIView):
    """What buyers of a niche praise, complain of and send back."""

    @extend_schema(
        operation_id="niche_feedback",
        parameters=[NicheQuery],
        responses={200: s.FeedbackDetail, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        reading = reading_named(NicheQuery.asked(request))
        made = read_feedback(reading, LISTINGS_SHOWN)
        verdict = what_they_complain_of(reading.figures, made.themes)
        return Response(s.FeedbackDetail({**asdict(made), "verdict": verdict}).data)


class Costs(APIView):
    """Does a niche pay? Unit economics with costs that are kept."""

    @extend_schema(
        operation_id="niche_costs",
        parameters=[NicheQuery],
        responses={
            200: costs.Profitability,
            400: ProblemDetail,
            404: ProblemDetail,
            409: ProblemDetail,
        },
    )
    def get(self, request: Request) -> Response:
        return self._answer(reading_named(NicheQuery.asked(request)))

    @extend_schema(
        operation_id="save_costs",
        request=costs.CostsRequest,
        responses={
            200: costs.Profitability,
            400: ProblemDetail,
            404: ProblemDetail,
            409: ProblemDetail,
        },
    )
    def put(self, request: Request) -> Response:
        asked = costs.CostsRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        save_costs(wanted["market_id"], wanted["niche_id"], dict(wanted["costs"]))
        return self._answer(
            reading_named({"market": wanted["market_id"], "niche": wanted["niche_id"]})
        )

    def _answer(self, reading: Reading) -> Response:
        made = read_profitability(reading)
        if made is None:
            return Response(
                {
                    "paying": None,
                    "missing": "No price is known: import listings, or enter one.",
                }
            )
        lowest = made.lowest_price
        verdict = does_it_pay(
            made.costs,
            made.result,
            assumed=made.assumed,
            worst=made.worst,
            lowest=None if lowest is None or made.lowest is None else (lowest, made.lowest),
            target=(made.target_income, made.target_units),
            typical=made.typical_units,
            currency=reading.market.currency,
        )
        workings = money_workings(made.costs, made.result, made.classes)
        answer = {**asdict(made), "verdict": verdict, "workings": workings}
        return Response(costs.Profitability({"paying": answer, "missing": ""}).data)
