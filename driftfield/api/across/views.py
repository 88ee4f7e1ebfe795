"""Views of rows side by side, in one market or in several, and of what is the same in them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any, TypeVar

import numpy as np
from drf_spectacular.utils import extend_schema, extend_schema_view
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.across import serializers as s
from driftfield.api.errors import Problem
from driftfield.api.fields import Text
from driftfield.api.parameters import FURTHEST
from driftfield.api.queries import KindQuery, MarketQuery, WholeQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.economics import Rate
from driftfield.core.market import (
    FIGURES_BY_KEY,
    OF_TERMS,
    Across,
    Beside,
    Demand,
    Kind,
    Line,
    Proposed,
    figures_of,
    side_by_side,
)
from driftfield.core.sentences import across_said, plain
from driftfield.desk.across import across
from driftfield.desk.actions import MatchDecision, match, set_rate, undo_matches
from driftfield.desk.matches import (
    Pair,
    analysed_markets,
    decided_between,
    matched_pairs,
    proposed_pairs,
)
from driftfield.desk.rates import current_rates
from driftfield.market.models import Market
from driftfield.readings.columns import RunColumns, columns_of
from driftfield.readings.plain import plain_list
from driftfield.readings.store import read_rows

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)
MOST = 6  # Rows that stand side by side.
SHOWN = 100  # Pairs that come at once.


class SideQuery(MarketQuery):
    """Rows of a market to lay side by side."""

    of = KindQuery()
    row = serializers.ListField(
        child=Text(max_length=500), required=False, default=list, help_text=f"Ids, up to {MOST}."
    )


class SideBySideView(APIView):
    """Rows of one market side by side."""

    @extend_schema(
        operation_id="side_by_side",
        parameters=[SideQuery],
        responses={200: s.SideBySide, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = SideQuery.asked(request)
        market, kind = market_named(wanted["market"]), wanted["of"]
        columns = columns_of(market.run, kind)
        ids = [one for one in dict.fromkeys(wanted["row"]) if one in columns.places][:MOST]
        places = [columns.places[one] for one in ids]
        rows = read_rows(market.run, kind, figures_of(kind), places)
        found = side_by_side(kind, [Beside(market.market_id, 1.0, row) for row in rows])
        return Response({"ids": ids, "lines": _lines(found)})


def _lines(lines: Any) -> list[dict[str, Any]]:
    def told(line: Line) -> dict[str, Any]:
        cells = [{**asdict(c), "value": plain(line.figure, c.value)} for c in line.cells]
        return {
            "head": line.head, "figure": line.figure.key, "apart": line.apart, "cells": cells,
        }  # fmt: skip

    return [told(line) for line in lines]


class AcrossQuery(MarketQuery):
    """A row of a market, to be looked up in all others."""

    of = KindQuery(OF_TERMS)
    row = Text(max_length=500, help_text="Id of the row.")
    into = Text(
        required=False, default="", max_length=3, help_text="Currency of amounts; default the market’s."
    )  # fmt: skip


class AcrossView(APIView):
    """One row in every market that has it."""

    @extend_schema(
        operation_id="across",
        parameters=[AcrossQuery],
        responses={200: s.AcrossMarkets, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = AcrossQuery.asked(request)
        market, kind, row = market_named(wanted["market"]), wanted["of"], wanted["row"]
        if row not in columns_of(market.run, kind).places:
            raise Problem(404, f"There is no such {kind.name}", f"“{row}” is not in {market.name}.")
        found, rates = across(kind, market, row, wanted["into"].upper())
        return Response(s.AcrossMarkets(_told(kind, found, rates)).data)


def _told(kind: Kind, found: Across, rates: list[Rate]) -> dict[str, Any]:
    said, first = across_said(found), found.markets[0]
    every = {one.market_id: one for one in analysed_markets()}
    there = {one.market_id for one in found.markets}
    numbers = {
        one.market_id: decided.key
        for one in found.markets[1:]
        for decided in decided_between(kind, first.market_id, one.market_id)
        if decided.same and (decided.first, decided.second) == (first.id, one.id)
    }
    return {
        "currency": found.into,
        "markets": [
            {
                "market_id": one.market_id, "market": one.market, "id": one.id, "name": one.name,
                "how": one.how, "match_id": numbers.get(one.market_id), "currency": one.currency,
                "rate": rate.rate, "day": rate.day, "as_of": every[one.market_id].run.as_of,
                "curve": one.demand and _curve(one.demand),
            }
            for one, rate in zip(found.markets, rates, strict=True)
        ],
        "without": [
            {"market_id": key, "market": one.name}
            for key, one in every.items()
            if key not in there
        ],
        "lines": _lines(found.lines),
        "competition": said.competition,
        "against": [
            _against(one.market_id, apart, seasons, lead)
            for one, apart, seasons, lead in zip(
                found.markets[1:], found.apart, said.seasons, said.lead, strict=True
            )
        ],
    }  # fmt: skip


def _curve(one: Demand) -> dict[str, Any]:
    return {
        "period": one.timeline.period.value,
        "first": one.timeline.start(0),
        "values": plain_list(one.values, 2),
        "without": plain_list(one.without, 2),
    }


def _against(market_id: str, apart: Any, seasons: str, lead: str) -> dict[str, Any]:
    shift, moves = (apart.seasons, apart.lead) if apart is not None else (None, None)
    return {
        "market_id": market_id,
        "seasons": seasons,
        "shift": shift and shift.weeks,
        "shift_low": shift and shift.low,
        "shift_high": shift and shift.high,
        "lead_sentence": lead,
        "lead": moves and moves.periods,
        "lead_low": moves and moves.low,
        "lead_high": moves and moves.high,
    }


class PairsQuery(MarketQuery):
    """Two markets, and which of their pairs."""

    of = KindQuery(OF_TERMS)
    other = Text(max_length=200, help_text="Id of the other market.")
    offset = WholeQuery(FURTHEST, default=0, help_text=f"The first of {SHOWN} pairs.")
    find = Text(
        required=False, default="", max_length=200, help_text="Letters that either name must have."
    )


def _markets(wanted: dict[str, Any]) -> tuple[Market, Market]:
    one, other = market_named(wanted["market"]), market_named(wanted["other"])
    if one.pk == other.pk:
        raise Problem(400, "There is one market", "Name two markets: market and other.")
    return one, other


def _pairs(
    first: RunColumns, second: RunColumns, pairs: Sequence[Pair | Proposed], keys: Sequence[str]
) -> list[dict[str, Any]]:
    """Rows of pairs: ids, names and some figures of both, those of the second under names with a prefix."""
    rows: list[dict[str, Any]] = [{} for _ in pairs]
    for columns, prefix, places in (
        (first, "", [pair.first for pair in pairs]),
        (second, "other_", [pair.second for pair in pairs]),
    ):
        at = np.array(places, dtype=np.int64)
        cells = {key: columns.cells(FIGURES_BY_KEY[key], at) for key in keys}
        for i, place in enumerate(places):
            rows[i] |= {f"{prefix}id": columns.ids[place], f"{prefix}name": columns.names[place]}
            rows[i] |= {f"{prefix}{key}": values[i] for key, values in cells.items()}
    return rows


PAIR = ("searches_52w",)
MATCHED = (*PAIR, "drift", "drift_rate_year", "drift_low", "drift_high", "shape", "season_profile")
P = TypeVar("P", Pair, Proposed)


def _page(
    wanted: dict[str, Any],
    first: RunColumns,
    second: RunColumns,
    pairs: Sequence[P],
    keys: Sequence[str],
) -> tuple[list[tuple[P, dict[str, Any]]], int]:
    """The pairs of a page that have the letters asked for, each with its row, and how many there are."""
    low = wanted["find"].casefold()
    if low:
        names = [[name.casefold() for name in columns.names] for columns in (first, second)]
        pairs = [
            pair for pair in pairs if low in names[0][pair.first] or low in names[1][pair.second]
        ]
    some = pairs[wanted["offset"] :][:SHOWN]
    return list(zip(some, _pairs(first, second, some, keys), strict=True)), len(pairs)


class Matched(APIView):
    """What two markets have both."""

    @extend_schema(
        operation_id="matched",
        parameters=[PairsQuery],
        responses={200: s.MatchedRows, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = PairsQuery.asked(request)
        (one, other), kind = _markets(wanted), wanted["of"]
        first, second = columns_of(one.run, kind), columns_of(other.run, kind)
        searches = np.nan_to_num(first.figure("searches_52w"), nan=-1)
        every = sorted(
            matched_pairs(kind, one, other), key=lambda pair: (-searches[pair.first], pair.first)
        )
        page, total = _page(wanted, first, second, every, MATCHED)
        decided = decided_between(kind, one.market_id, other.market_id)
        keys = {(match.first, match.second): match.key for match in decided if match.same}
        return Response(
            {
                "rows": [
                    {**row, "how": pair.how, "match_id": keys.get((row["id"], row["other_id"]))}
                    for pair, row in page
                ],
                "total": total,
                "rejected": [
                    {"match_id": match.key, "id": match.first, "other_id": match.second}
                    for match in decided
                    if not match.same
                ],
            }
        )


class ProposedQuery(PairsQuery):
    """Two markets, and which of the possible matches."""

    row = Text(
        required=False, default="", max_length=500, help_text="Only those of this row of the first."
    )


class ProposedView(APIView):
    """Possible matches of two markets."""

    @extend_schema(
        operation_id="proposed_matches",
        parameters=[ProposedQuery],
        responses={200: s.ProposedPairs, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = ProposedQuery.asked(request)
        (one, other), kind = _markets(wanted), wanted["of"]
        first, second = columns_of(one.run, kind), columns_of(other.run, kind)
        every = [
            pair
            for pair in proposed_pairs(kind, one, other)
            if wanted["row"] in ("", first.ids[pair.first])
        ]
        page, total = _page(wanted, first, second, every, PAIR)
        return Response({"rows": [{**row, "why": pair.why} for pair, row in page], "total": total})


class MatchesView(APIView):
    """Confirms or rejects matches."""

    @extend_schema(
        operation_id="match", request=s.MatchRequests, responses={200: s.MatchIds, **_PROBLEMS}
    )
    def post(self, request: Request) -> Response:
        asked = s.MatchRequests(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data["matches"]
        kinds = {one["of"] for one in wanted}
        if len(kinds) > 1:
            raise Problem(400, "More than one kind", "Send matches of one kind at a time.")
        made = match(
            kinds.pop(),
            [
                MatchDecision(
                    one["market_id"],
                    one["id"],
                    one["other_market_id"],
                    one["other_id"],
                    one["same"],
                )
                for one in wanted
            ],
        )
        return Response({"match_ids": [one.pk for one in made]})


class UndoMatches(APIView):
    """Undoes decisions on matches."""

    @extend_schema(
        operation_id="undo_matches", request=s.MatchIds, responses={204: None, **_PROBLEMS}
    )
    def post(self, request: Request) -> Response:
        asked = s.MatchIds(data=request.data)
        asked.is_valid(raise_exception=True)
        undo_matches(asked.validated_data["match_ids"])
        return Response(status=204)


@extend_schema_view(
    get=extend_schema(operation_id="rates", responses={200: s.RateRow(many=True)}),
    post=extend_schema(
        operation_id="set_rate",
        request=s.RateRequest,
        responses={200: s.RateRow(many=True), **_PROBLEMS},
    ),
)
class Rates(APIView):
    """What currencies are worth."""

    def get(self, request: Request) -> Response:
        return Response(s.RateRow(current_rates(), many=True).data)

    def post(self, request: Request) -> Response:
        asked = s.RateRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        set_rate(wanted["currency"].upper(), wanted["into"].upper(), wanted["rate"], wanted["day"])
        return self.get(request)
