"""Views of the track record: what was said on past days, how far it held, and the lens it proposes."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.desk.serializers import LensRow
from driftfield.api.desk.views import lens_row
from driftfield.api.errors import Problem
from driftfield.api.files import LISTED, FormQuery, file_response
from driftfield.api.intake.serializers import JobRow
from driftfield.api.intake.views import describe_job
from driftfield.api.proof import serializers as s
from driftfield.api.queries import KindQuery, MarketQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import format_day
from driftfield.core.market import CATEGORY, NICHE, TERM, Kind
from driftfield.desk.actions import save_lens
from driftfield.exchange.lists import named_columns
from driftfield.exchange.proof import COLUMNS
from driftfield.market.models import Category, Market, Niche, Term
from driftfield.readings.models import KeptRecord
from driftfield.readings.proof import lens_of, outdated, rows_of, told_elsewhere
from driftfield.work.actions import start_replay

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


class RecordQuery(MarketQuery):
    """A market, and of what."""

    of = KindQuery(s.KINDS)


class RecordFileQuery(RecordQuery, FormQuery):
    """The same as a list, and its form."""


def _found(market: Market, kind: Kind) -> KeptRecord | None:
    return KeptRecord.objects.filter(market=market, kind=kind.plural).first()


class TrackRecordView(APIView):
    """What was said on past days, and how far it held."""

    @extend_schema(
        operation_id="track_record", parameters=[RecordQuery],
        responses={200: s.TrackRecordFound, **_PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request) -> Response:
        wanted = RecordQuery.asked(request)
        market = market_named(wanted["market"])
        record = _found(market, wanted["of"])
        about = {
            "market_id": market.market_id, "market": market.name, "currency": market.currency,
            "as_of": market.run.as_of,
        }  # fmt: skip
        if record is None:
            return Response(
                {**about, "made": None, "lines": [], "misses": [], "lens": None, "limits": []}
            )
        misses, lens = rows_of(record, "miss"), lens_of(record)
        there = _there(market, wanted["of"], [one["id"] for one in misses])
        return Response(
            {
                **about,
                "made": _made(record, market),
                "lines": s.TrackLine(rows_of(record, "held"), many=True).data,
                "misses": [
                    s.TrackMiss({**one, "there": one["id"] in there}).data for one in misses
                ],
                "lens": lens and s.FittedLensRow(lens).data,
                "limits": [one["sentence"] for one in rows_of(record, "limit")],
            }
        )


def _made(record: KeptRecord, market: Market) -> dict[str, Any]:
    return {
        "made_at": record.made_at, "as_of": record.as_of, "every": record.every, "days": record.days,
        "taken": record.taken, "last_day": record.last_day, "outdated": outdated(record),
        "due": record.due <= market.run.as_of,
    }  # fmt: skip


def _there(market: Market, kind: Kind, ids: list[str]) -> set[str]:
    """Which of some niches, terms or categories there still are."""
    if kind == TERM:
        terms = Term.objects.filter(market=market, term__in=ids)
        return set(terms.values_list("term", flat=True))
    if kind == CATEGORY:
        categories = Category.objects.filter(category_id__in=ids)
        return set(categories.values_list("category_id", flat=True))
    niches = Niche.objects.filter(market=market, niche_id__in=ids)
    return set(niches.values_list("niche_id", flat=True))


class TrackLinesView(APIView):
    """Lines of the record that other pages show with a forecast, a date or a rank."""

    @extend_schema(
        operation_id="track_lines", parameters=[RecordQuery],
        responses={200: s.TrackLines, **_PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request) -> Response:
        wanted = RecordQuery.asked(request)
        record = _found(market_named(wanted["market"]), wanted["of"])
        told = [] if record is None else told_elsewhere(record)
        lines = s.ToldLine(told, many=True).data
        return Response({"days": record.days if record and told else 0, "lines": lines})


class TrackRecordFile(APIView):
    """The record as a list, with the rows of the command."""

    @extend_schema(
        operation_id="track_record_file", parameters=[RecordFileQuery],
        responses={**LISTED, **_PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        wanted = RecordFileQuery.asked(request)
        market = market_named(wanted["market"])
        record = _found(market, wanted["of"])
        if record is None:
            raise Problem(404, "There is no record yet", "The past was not replayed yet.")
        title = f"track record {market.name} {record.as_of}"
        columns = named_columns(COLUMNS)
        return file_response(wanted["as"], title, columns, record.rows)


class ReplayPast(APIView):
    """Replays the past of a market, as a job; days that were kept are taken over."""

    @extend_schema(
        operation_id="replay_past", request=s.ReplayRequest, responses={201: JobRow, **_PROBLEMS}
    )
    def post(self, request: Request) -> Response:
        asked = s.ReplayRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        job = start_replay(
            market_named(wanted["market_id"]),
            wanted["of"].plural,
            wanted["every"],
            anew=wanted["anew"],
        )
        return Response(describe_job(job), status=201)


class TakeFittedLens(APIView):
    """Keeps the lens that launches propose among one's own, with what it was fitted to."""

    @extend_schema(
        operation_id="take_fitted_lens", request=s.TakeLensRequest,
        responses={201: LensRow, **_PROBLEMS},
    )  # fmt: skip
    def post(self, request: Request) -> Response:
        asked = s.TakeLensRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        market = market_named(asked.validated_data["market_id"])
        record = _found(market, NICHE)
        found = None if record is None else lens_of(record)
        if record is None or found is None or not found["weights"]:
            raise Problem(
                409, "No lens is proposed", "There is no evidence for other weights here."
            )
        if why := outdated(record):
            raise Problem(
                409, "The record is outdated", f"{why} Replay the past, then take the lens."
            )
        name = asked.validated_data["name"] or f"{found['name']}, {market.name}"
        purpose = f"{market.name}, {format_day(record.as_of)}: {found['sentence']}"[:500]
        return Response(
            lens_row(save_lens(name[:120], found["weights"], NICHE, purpose)), status=201
        )
