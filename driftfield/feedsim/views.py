"""The requests that a market feed answers."""

from __future__ import annotations

import base64
import json
import secrets
from collections.abc import Sequence
from datetime import date
from typing import Any

import numpy as np
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import APIException, NotFound, ParseError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.core.base import Period

from . import serializers as s
from .faults import FaultMiddleware
from .state import STATE
from .world import FIGURES, SimulatedMarket

MAX_ROWS = 5_000  # Rows of a page at most.
LIVES = 3600  # Seconds for which a token is good, unless it is used up before.
# What every request may be answered with.
FAILURES = dict.fromkeys((400, 401, 404, 410, 429, 500, 503), s.Refusal)
LIMIT = OpenApiParameter(
    "limit", int, description=f"Rows of a page, at most {MAX_ROWS}; default 500."
)
CURSOR = OpenApiParameter(
    "cursor", str, description="Of the page before; its other parameters stay the same."
)


class UnauthorisedError(APIException):
    status_code = 401
    default_detail = "The token is not known, or it ended. Sign in."


class GoneError(APIException):
    status_code = 410
    default_detail = "This cursor is not known any more. Begin again, since the last position."


class FeedView(APIView):
    """A request that needs a token."""

    def initial(self, request: Request, *args: Any, **kwargs: Any) -> None:
        super().initial(request, *args, **kwargs)
        kind, _, token = request.headers.get("Authorization", "").partition(" ")
        if kind != "Bearer" or not STATE.uses(token, FaultMiddleware.faults.token_for):
            raise UnauthorisedError


def _limit(request: Request) -> int:
    text = request.query_params.get("limit", "500")
    if not text.isdigit() or not 1 <= int(text) <= MAX_ROWS:
        raise ParseError(f"limit is a number from 1 to {MAX_ROWS}; got “{text[:20]}”.")
    return int(text)


def _opened(request: Request) -> dict[str, Any]:
    """What a cursor stands for; empty on the first page."""
    text = request.query_params.get("cursor")
    if text is None:
        return {}
    if FaultMiddleware._falls(FaultMiddleware.faults.gone):
        raise GoneError
    try:
        return dict(json.loads(base64.urlsafe_b64decode(text)))
    except (ValueError, TypeError):
        raise ParseError("This is no cursor of this feed.") from None


def _cursor(**stands: Any) -> str:
    return base64.urlsafe_b64encode(json.dumps(stands).encode()).decode()


def _paged(request: Request, rows: Sequence[Any]) -> Response:
    at, limit = int(_opened(request).get("at", 0)), _limit(request)
    after = at + limit
    start = max(at - FaultMiddleware.faults.overlap, 0)
    more = after < len(rows)
    return Response({"rows": rows[start:after], "next": _cursor(at=after) if more else None})


def _market(market_id: str) -> SimulatedMarket:
    found = STATE.world.markets.get(market_id)
    if found is None:
        raise NotFound("There is no such market.")
    return found


class SignIn(APIView):
    """A token for the client and its secret."""

    @extend_schema(
        operation_id="sign_in", request=s.SignIn, responses={200: s.Token, **FAILURES}, auth=[]
    )
    def post(self, request: Request) -> Response:
        asked = s.SignIn(data=request.data)
        asked.is_valid(raise_exception=True)
        if not all(
            secrets.compare_digest(asked.validated_data[key], getattr(STATE, key))
            for key in ("client_id", "secret")
        ):
            raise UnauthorisedError("No such client, or another secret.")
        return Response({"token": STATE.new_token(), "expires_in": LIVES})


class Markets(FeedView):
    """The markets of the feed."""

    @extend_schema(
        operation_id="markets",
        parameters=[LIMIT, CURSOR],
        responses={200: s.MarketPage, **FAILURES},
    )
    def get(self, request: Request) -> Response:
        until = STATE.clock.complete_until.isoformat()
        found = STATE.world.markets.values()
        return _paged(request, [{**market.row, "complete_until": until} for market in found])


class Niches(FeedView):
    """The niches of a market."""

    @extend_schema(
        operation_id="niches", parameters=[LIMIT, CURSOR], responses={200: s.NichePage, **FAILURES}
    )
    def get(self, request: Request, market_id: str) -> Response:
        return _paged(request, _market(market_id).niches)


class Terms(FeedView):
    """The terms of a market."""

    @extend_schema(
        operation_id="terms", parameters=[LIMIT, CURSOR], responses={200: s.TermPage, **FAILURES}
    )
    def get(self, request: Request, market_id: str) -> Response:
        return _paged(request, _market(market_id).terms)


class Changes(FeedView):
    """New, late and revised figures of a market by term and week, in the order in which they came to be."""

    @extend_schema(
        operation_id="changes",
        parameters=[
            OpenApiParameter("since", str, description="A position; only what came after it is told."),
            OpenApiParameter("from_week", date, description="Nothing of earlier weeks is told."),
            LIMIT, CURSOR,
        ],
        responses={200: s.ChangePage, **FAILURES},
    )  # fmt: skip
    def get(self, request: Request, market_id: str) -> Response:
        market, limit, asked = _market(market_id), _limit(request), request.query_params
        page = _opened(request)
        # What is told while someone reads page after page comes after the last one of them.
        end = int(page.get("end", market.known(STATE.clock.week)))
        at = int(page.get("at", _position(asked.get("since"))))
        log = market.log
        first = _week(asked.get("from_week"))
        wanted = at + np.flatnonzero(log.week[at:end] >= first)[:limit]
        after = int(wanted[-1]) + 1 if len(wanted) == limit else end
        faults = FaultMiddleware.faults
        again = np.arange(max(at - faults.overlap, 0), at) if page else np.arange(0)
        rows = [_row(market, int(place), added=faults.added) for place in [*again, *wanted]]
        more = bool((log.week[after:end] >= first).any())
        return Response(
            {
                "rows": rows,
                "next": _cursor(at=after, end=end) if more else None,
                "position": f"p{after}",
            }
        )


def _row(market: SimulatedMarket, place: int, *, added: bool) -> dict[str, Any]:
    log = market.log
    figures = {
        name: None if np.isnan(value) else float(value)
        for name, value in zip(FIGURES, log.figures[place], strict=True)
    }
    row = {
        "term": market.terms[log.term[place]]["term"],
        "week": Period.WEEK.start(int(log.week[place])).isoformat(),
        **figures,
        "change": place,
    }
    return row | {"page_one_views": 0} if added else row


def _position(text: str | None) -> int:
    if text is None:
        return 0
    if not (text.startswith("p") and text[1:].isdigit()):
        raise ParseError("since is a position that this feed told.")
    return int(text[1:])


def _week(text: str | None) -> int:
    if text is None:
        return 0
    try:
        return Period.WEEK.number(date.fromisoformat(text))
    except ValueError:
        raise ParseError("from_week is a date, written as 2026-11-09.") from None


class Clock(APIView):
    """Steers the simulation; no part of a feed."""

    @extend_schema(exclude=True)
    def get(self, request: Request) -> Response:
        return Response({"complete_until": STATE.clock.complete_until.isoformat()})

    @extend_schema(exclude=True)
    def post(self, request: Request) -> Response:
        asked = s.Forward(data=request.data)
        asked.is_valid(raise_exception=True)
        STATE.clock.forward(asked.validated_data["weeks"])
        return self.get(request)
