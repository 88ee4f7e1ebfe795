"""Views of the almanac: what passes on a calendar, as rows, as a list, and as a calendar to subscribe to."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import date
from typing import Any
from urllib.parse import urlencode

import numpy as np
from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.almanac import serializers as s
from driftfield.api.errors import Problem
from driftfield.api.files import LISTED, FormQuery, file_answers, file_response
from driftfield.api.ledger.conditions import condition_rows
from driftfield.api.ledger.query import (
    AT_ONCE,
    MAX_PAGE,
    Asked,
    LedgerQuery,
    blocked_row,
    read_asked,
)
from driftfield.api.queries import ChoiceQuery, WholeQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import CoreError, Ints
from driftfield.core.market import (
    CATEGORY,
    FIGURES_BY_KEY,
    LISTING,
    NICHE,
    AlmanacRow,
    Window,
    check_planning,
    feasts_in,
    knows_holidays,
)
from driftfield.core.sentences import almanac_sentences
from driftfield.desk.orders import market_orders
from driftfield.exchange.almanac import (
    CALENDAR_TYPE,
    COLUMNS,
    Entry,
    PlannedDay,
    calendar_file,
    happening_records,
    planned_days,
)
from driftfield.exchange.lists import named_columns
from driftfield.market.models import Market
from driftfield.readings.almanac import almanac_at, next_deadlines

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)
FURTHEST = 10_000_000
MOST_ENTRIES = 2_000  # Subjects that a calendar or a list holds at most.
MOST_TOLD = 1_000  # Lines of the list by week.
BY = ("next", "rank", "name", "category")
_OF_SEASON = tuple(str(key) for key in s.AlmanacSeason().fields)
_TOLD = tuple(str(key) for key in s.AlmanacHappening().fields)
# Kinds whose rows can be opened, with the address of their page.
PAGES = {NICHE.key: ("/dossier", "niche"), LISTING.key: ("/listing", "listing")}


class AlmanacQuery(LedgerQuery):
    """What passes, by what it is sorted, and the day of ordering."""

    by = ChoiceQuery(BY, default="next", help_text="Sorted by; default the next deadline.")
    on = serializers.DateField(
        required=False, help_text="A day of ordering to look from; default the planning date."
    )


class AlmanacPage(AlmanacQuery):
    """A page of it."""

    offset = WholeQuery(FURTHEST, default=0)
    limit = WholeQuery(MAX_PAGE, default=MAX_PAGE, help_text=f"Default {MAX_PAGE}.")


class AlmanacFileQuery(AlmanacQuery, FormQuery):
    """The same as a list, and its form."""


@dataclass(frozen=True, slots=True)
class _Shown:
    """What was asked for: places of all that passes in order, the day, and the days that are shown."""

    market: Market
    asked: Asked
    places: Ints
    on: date
    window: Window

    def rows(self, places: Ints) -> list[AlmanacRow]:
        return almanac_at(self.asked.field.columns, places, self.on, self.window)


def _read(wanted: dict[str, Any]) -> _Shown:
    market = market_named(wanted["market"])
    run = market.run
    on = wanted.get("on") or run.planning
    try:
        check_planning(on, run.as_of)
    except CoreError as error:
        raise Problem(409, "Nothing is known of that day", str(error)) from None
    asked = read_asked(wanted, market)
    if (many := asked.field.count) > AT_ONCE:
        told = asked.field.columns.kind.many(many)
        raise Problem(
            409, "These are too many",
            f"The almanac reads the seasons of all {told}; it is made of up to {AT_ONCE:,}.",
        )  # fmt: skip
    return _Shown(
        market, asked, _ordered(asked, wanted["by"], on), on, Window.from_month_of(run.planning)
    )


def _ordered(asked: Asked, by: str, on: date) -> Ints:
    """Places of all that passes. What has no deadline comes last, otherwise as in the ledger."""
    columns, places = asked.field.columns, asked.places
    if by == "next":
        days = next_deadlines(columns, on)[places]
        return places[np.argsort(days, kind="stable")]
    if by == "name":
        return asked.field.order([("name", False)], asked.among)
    if by == "category" and columns.kind != CATEGORY:
        paths = [columns.category_path(at) or "" for at in places.tolist()]
        days = next_deadlines(columns, on)[places]
        return places[np.lexsort((days, np.array(paths, dtype=object)))]
    return places


class AlmanacView(APIView):
    """Fifteen months of what passes."""

    @extend_schema(
        operation_id="almanac", parameters=[AlmanacPage], responses={200: s.Almanac, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        wanted = AlmanacPage.asked(request)
        shown = _read(wanted)
        asked, run = shown.asked, shown.market.run
        places = shown.places[wanted["offset"] : wanted["offset"] + wanted["limit"]]
        rows = shown.rows(places)
        lines = _lines(shown, places, rows)
        country = shown.market.country if knows_holidays(shown.market.country) else ""
        # Plain values as they are: a serializer takes longer than finding them.
        return Response(
            {
                "first": shown.window.first, "last": shown.window.last, "on": shown.on,
                "planning_date": run.planning, "as_of": run.as_of,
                "lead_days": int(run.settings["lead_days"]), "holidays_of": country,
                "feasts": [asdict(one) for one in feasts_in(shown.window, country)],
                "sentences": _due(shown),
                "rows": lines,
                "count": int(asked.sifted.passes.sum()), "near": int((asked.sifted.near >= 0).sum()),
                "total": asked.field.count, "offset": wanted["offset"],
                "conditions": condition_rows(
                    asked.conditions, asked.sifted.removes, shown.market.currency
                ),
                "blocked": blocked_row(asked, shown.market.currency),
            }
        )  # fmt: skip


def _due(shown: _Shown) -> list[str]:
    """What is due: of what comes first by date, whatever page and order is shown."""
    columns = shown.asked.field.columns
    first = shown.places
    if len(first) > MAX_PAGE:
        days = next_deadlines(columns, shown.on)[first]
        first = first[np.argsort(days, kind="stable")[:MAX_PAGE]]
    names = [columns.names[at] for at in first.tolist()]
    told = almanac_sentences(list(zip(names, shown.rows(first), strict=True)), shown.on)
    if len(first) < len(shown.places):
        told.append(f"These are of the first {MAX_PAGE} by date.")
    return told


def _lines(shown: _Shown, places: Ints, rows: list[AlmanacRow]) -> list[dict[str, Any]]:
    columns, decisions = shown.asked.field.columns, shown.asked.field.decisions
    shapes = columns.cells(FIGURES_BY_KEY["shape"], places)
    found = []
    for at, (place, row) in enumerate(zip(places.tolist(), rows, strict=True)):
        due = row.next(shown.on)
        above = columns.path_above if columns.kind == CATEGORY else columns.category_path
        found.append(
            {
                "id": columns.ids[place], "name": columns.names[place], "category": above(place),
                "niche": columns.owners[place], "decision": decisions.get(columns.ids[place]),
                "shape": shapes[at], "lead_days": row.lead_days,
                "next": due and {"what": due.what, "day": due.day, "caught": due.season.caught},
                "seasons": [
                    {key: getattr(one, key) for key in _OF_SEASON} for one in row.seasons
                ],
                "levels": row.levels,
            }
        )  # fmt: skip
    return found


def _entries(shown: _Shown, base: str = "") -> list[Entry]:
    """What a file holds: of many those that come first."""
    columns = shown.asked.field.columns
    places = shown.places[:MOST_ENTRIES]
    market_id = shown.market.market_id
    page = PAGES.get(columns.kind.key)

    def url(subject: str) -> str:
        if not base or page is None:
            return ""
        return f"{base}{page[0]}?{urlencode({'market': market_id, page[1]: subject})}"

    return [
        Entry(market_id, columns.kind, columns.ids[at], columns.names[at], row, url(columns.ids[at]))
        for at, row in zip(places.tolist(), shown.rows(places), strict=True)
    ]  # fmt: skip


def _planned(shown: _Shown, base: str) -> list[PlannedDay]:
    """The days of the market's plans, which go with the calendar of its niches."""
    market = shown.market
    if shown.asked.field.columns.kind != NICHE:
        return []

    def url(one: dict[str, Any]) -> str:
        query = {"market": market.market_id, "niche": one["niche_id"], "plan": one["key"]}
        return f"{base}/plan?{urlencode(query)}"

    return planned_days(market_orders(market)["plans"], shown.on, url)


class AlmanacWeeksView(APIView):
    """What is to be done and happens, by day; of many rows those of the first 2,000."""

    @extend_schema(
        operation_id="almanac_weeks",
        parameters=[AlmanacQuery],
        responses={200: s.AlmanacWeeks, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        shown = _read(AlmanacQuery.asked(request))
        records = happening_records(_entries(shown), shown.on, shown.window.last)
        told = [{key: one[key] for key in _TOLD} for one in records[:MOST_TOLD]]
        return Response({"on": shown.on, "happenings": told, "count": len(records)})


class AlmanacFile(APIView):
    """What is to be done and happens, by day, as a file; of many rows the first 2,000."""

    @extend_schema(
        operation_id="almanac_file",
        parameters=[AlmanacFileQuery],
        responses={**LISTED, **_PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = AlmanacFileQuery.asked(request)
        shown = _read(wanted)
        records = happening_records(_entries(shown), shown.on, shown.window.last)
        columns = named_columns(COLUMNS)
        return file_response(wanted["as"], f"almanac {shown.market.name}", columns, records)


class AlmanacCalendar(APIView):
    """The same as a calendar (RFC 5545), planned from the market's planning date; to subscribe to."""

    @extend_schema(
        operation_id="almanac_calendar",
        parameters=[AlmanacQuery],
        responses={**file_answers([CALENDAR_TYPE]), **_PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        shown = _read(AlmanacQuery.asked(request))
        kind = shown.asked.field.columns.kind
        title = f"{shown.market.name}: {kind.plural}"
        base = request.build_absolute_uri("/").rstrip("/")
        made = calendar_file(
            title, _entries(shown, base), shown.on, shown.window.last, shown.market.run.planned_at,
            _planned(shown, base),
        )  # fmt: skip
        response = HttpResponse(made, content_type=CALENDAR_TYPE)
        response["Content-Disposition"] = 'inline; filename="almanac.ics"'
        response["Cache-Control"] = "no-store"
        return response
