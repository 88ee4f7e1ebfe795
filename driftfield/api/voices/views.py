"""Views of what buyers write about a niche, and of the decisions on it."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.errors import Problem
from driftfield.api.fields import Text
from driftfield.api.files import LISTED, FormQuery, file_response
from driftfield.api.queries import (
    ChoiceQuery,
    MarketQuery,
    NicheQuery,
    holder_named,
    listing_named,
    market_named,
    reading_named,
)
from driftfield.api.shared import ProblemDetail
from driftfield.api.voices import serializers as s
from driftfield.core.market import KINDS_BY_PLURAL, LISTING, SELLING
from driftfield.core.sentences import what_they_write
from driftfield.core.voices import Act
from driftfield.desk.actions import ThemeAct, decide_theme, pin, undo_theme, unpin
from driftfield.desk.voices import (
    lay,
    read_themes,
    sentences_of_theme,
    theme_rows,
    voices_beside,
)
from driftfield.exchange.lists import named_columns
from driftfield.exchange.voices import COLUMNS
from driftfield.readings.holder_page import goods_ids

PAGE = 50
_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


class VoicesQuery(NicheQuery):
    """A niche, and a language; by default that of most texts."""

    language = Text(max_length=40, required=False, default="")


class SentencesQuery(VoicesQuery):
    """A page of the sentences of a theme."""

    theme = Text(max_length=300)
    offset = serializers.IntegerField(
        required=False, default=0, min_value=0, max_value=10_000_000, help_text="Sentences before."
    )


class VoicesView(APIView):
    """Themes, questions, wishes and broken promises of a niche, and the decisions on them."""

    @extend_schema(
        operation_id="niche_voices",
        parameters=[VoicesQuery],
        responses={200: s.NicheVoices, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = VoicesQuery.asked(request)
        found = read_themes(reading_named(wanted), wanted["language"])
        told = {name: getattr(found, name) for name in found.__dataclass_fields__}
        rows = [asdict(one) for one in found.themes if not one.hidden]
        told["verdict"] = what_they_write(rows, found.texts, found.leaders)
        return Response(s.NicheVoices(told).data)


class VoicesFileQuery(VoicesQuery, FormQuery):
    """The same as a list, and its form."""


class VoicesFile(APIView):
    """The themes of a niche as a list, with the rows of the command."""

    @extend_schema(
        operation_id="niche_voices_file",
        parameters=[VoicesFileQuery],
        responses={**LISTED, **_PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = VoicesFileQuery.asked(request)
        reading = reading_named(wanted)
        found = read_themes(reading, wanted["language"])
        columns = named_columns(COLUMNS)
        title = f"themes {reading.niche.name} {found.language}"
        return file_response(
            wanted["as"], title, columns, theme_rows(reading.niche.niche_id, found)
        )


class SentencesView(APIView):
    """All sentences that say a theme, a page at a time."""

    @extend_schema(
        operation_id="voice_sentences",
        parameters=[SentencesQuery],
        responses={200: s.VoiceSentences, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = SentencesQuery.asked(request)
        laid = lay(reading_named(wanted), wanted["language"])
        theme = None if laid is None else laid.theme(wanted["theme"])
        if laid is None or theme is None:
            raise Problem(
                404, "There is no such theme", "Its texts are others by now. Reload the page."
            )
        page = sentences_of_theme(laid, theme, wanted["offset"], PAGE)
        return Response(s.VoiceSentences({"total": len(theme.sentences), "sentences": page}).data)


class RivalQuery(MarketQuery):
    """A listing, a brand or a seller."""

    of = ChoiceQuery([kind.plural for kind in SELLING], default=LISTING.plural)
    id = Text(max_length=200)


class VoicesBesideView(APIView):
    """What buyers say of a listing, or of a brand's or a seller's, against the others of their niches."""

    @extend_schema(
        operation_id="voices_beside",
        parameters=[RivalQuery],
        responses={200: s.VoicesBeside(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = RivalQuery.asked(request)
        kind, asked = KINDS_BY_PLURAL[wanted["of"]], {"market": wanted["market"]}
        if kind == LISTING:
            reading = listing_named({**asked, "listing": wanted["id"]})
            ids = [reading.listing.listing_id]
        else:
            ids = goods_ids(holder_named({**asked, kind.key: wanted["id"]}))
        found = voices_beside(market_named(wanted["market"]), ids)
        return Response(s.VoicesBeside(found, many=True).data)


class ThemeDecisions(APIView):
    """Decide on a theme."""

    @extend_schema(
        operation_id="decide_theme",
        request=s.ThemeActRequest,
        responses={201: s.ThemeActMade, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.ThemeActRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = dict(asked.validated_data)
        reading = reading_named(
            {"market": wanted.pop("market_id"), "niche": wanted.pop("niche_id")}
        )
        language = wanted.pop("language")
        made = decide_theme(reading, language, ThemeAct(Act(wanted.pop("act")), **wanted))
        return Response(s.ThemeActMade(made).data, status=201)


class UndoTheme(APIView):
    """Undo a decision on a theme."""

    @extend_schema(
        operation_id="undo_theme",
        request=s.KeyRequest,
        responses={200: s.ThemeActMade, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.KeyRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        return Response(s.ThemeActMade(undo_theme(asked.validated_data["key"])).data)


class Pins(APIView):
    """Keep a sentence with a niche's note."""

    @extend_schema(
        operation_id="pin",
        request=s.PinRequest,
        responses={201: s.PinnedSentence, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.PinRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        reading = reading_named({"market": wanted["market_id"], "niche": wanted["niche_id"]})
        made = pin(reading, wanted["voice_id"], wanted["said"], wanted["theme"])
        return Response(s.PinnedSentence(made).data, status=201)


class Unpin(APIView):
    """Remove a pinned sentence."""

    @extend_schema(
        operation_id="unpin",
        request=s.KeyRequest,
        responses={200: s.PinnedSentence, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.KeyRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        return Response(s.PinnedSentence(unpin(asked.validated_data["key"])).data)
