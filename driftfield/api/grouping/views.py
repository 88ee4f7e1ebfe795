"""Views of niches from terms: proposed by the program, made and changed by the researcher."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

from drf_spectacular.utils import extend_schema, extend_schema_view
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.grouping import serializers as s
from driftfield.api.intake.serializers import JobRow
from driftfield.api.intake.views import describe_job
from driftfield.api.parameters import FURTHEST
from driftfield.api.queries import MarketQuery, WholeQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import CoreError
from driftfield.desk.actions import (
    make_niche,
    merge_niches,
    move_terms,
    rename_niche,
    take_out,
    take_over,
    undo_change,
)
from driftfield.market.models import Category, Market, Niche, NicheChange, Placement, Term
from driftfield.market.own_niches import niches_mark
from driftfield.readings.actions import proposed_tables, stale
from driftfield.readings.models import Proposal
from driftfield.work.actions import start
from driftfield.work.models import Kind

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)
SHOWN = 100  # Niches of a proposal that come at once.
LISTED = 12  # Terms that are listed of each.
CHANGES = 50  # Changes that are told, the latest first.


class GroupingQuery(MarketQuery):
    """A market, and from which niche of its proposal on."""

    start = WholeQuery(FURTHEST, default=0, help_text=f"The first of {SHOWN} niches proposed.")


class GroupingView(APIView):
    """How the terms of a market are grouped, what is proposed, and what was changed."""

    @extend_schema(
        operation_id="grouping", parameters=[GroupingQuery], responses={200: s.Grouping, **_PROBLEMS}
    )  # fmt: skip
    def get(self, request: Request) -> Response:
        wanted = GroupingQuery.asked(request)
        market = market_named(wanted["market"])
        terms = Term.objects.filter(market=market)
        by_hand = Placement.objects.filter(market_id=market.market_id, by_hand=True)
        mark = niches_mark(market.market_id)
        proposal = Proposal.objects.filter(market_id=market.market_id).first()
        return Response(
            {
                "terms": terms.count(),
                "alone": terms.filter(niche__of_term=True, niche__own=False).count(),
                "by_hand": terms.filter(term__in=by_hand.values("term")).count(),
                "pending": market.run.niches_mark != mark,
                "changes": s.NicheChangeRow(
                    NicheChange.objects.filter(market_id=market.market_id)[:CHANGES], many=True
                ).data,
                "proposal": proposal and _proposal(market, proposal, mark, wanted["start"]),
            }
        )


def _proposal(market: Market, proposal: Proposal, mark: str, first: int) -> dict[str, Any]:
    rows, terms = proposed_tables(proposal)
    some = rows.slice(first, SHOWN)
    moving: dict[str, list[tuple[str, str]]] = {}
    shown = set(some["niche_id"])
    for term, niche, leaves in terms.iter_rows():
        if niche in shown and len(moving.setdefault(niche, [])) < LISTED:
            moving[niche].append((term, leaves))
    left = {leaves for listed in moving.values() for _, leaves in listed}
    names = dict(
        Niche.objects.filter(market=market, niche_id__in=left)
        .exclude(of_term=True, own=False)
        .values_list("niche_id", "name")
    )
    categories = {
        one.category_id: one.path
        for one in Category.objects.filter(
            category_id__in=set(some["category_id"].drop_nulls())
        ).select_related("parent")
    }
    return {
        "made_at": proposal.made_at,
        "anew": proposal.anew,
        "outdated": proposal.niches_mark != mark,
        "notes": proposal.notes,
        "count": rows.height,
        "terms": terms.height,
        "niches": [
            {
                **row,
                "niche": row["niche_id"],
                "category": categories.get(row["category_id"], ""),
                "listed": [
                    {"term": term, "leaves": names.get(leaves)}
                    for term, leaves in moving[row["niche_id"]]
                ],
            }
            for row in some.iter_rows(named=True)
        ],
    }


class Propose(APIView):
    """Groups the terms of a market, as a job; nothing changes before the outcome is taken over."""

    @extend_schema(
        operation_id="propose_niches",
        request=s.ProposeRequest,
        responses={201: JobRow, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.ProposeRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        market = market_named(asked.validated_data["market_id"])
        job = start(
            Kind.PROPOSE, f"Niches of {market.name}", market=market.market_id,
            options={"anew": asked.validated_data["anew"]},
        )  # fmt: skip
        return Response(describe_job(job), status=201)


class Change(APIView):
    """A change of the niches; the market is analysed anew after it."""

    asks: type[serializers.Serializer[Any]]

    def change(self, market: Market, wanted: dict[str, Any]) -> NicheChange:
        """Make the change that was asked for. Raises CoreError where it cannot be made."""
        raise NotImplementedError

    def post(self, request: Request) -> Response:
        asked = self.asks(data=request.data)
        asked.is_valid(raise_exception=True)
        market = market_named(asked.validated_data["market_id"])
        done = self.change(market, asked.validated_data)
        made = list(done.after.get("niches", ()))
        went = [place[0] for place in done.after.get("places", {}).values() if place and place[0]]
        job = None
        if stale().filter(pk=market.pk).exists():  # A name alone needs no analysis.
            # While other work runs there is none, and the page says that the market has to be analysed.
            with suppress(CoreError):
                job = describe_job(start(Kind.ANALYSE, market.name, market=market.market_id))
        return Response(
            {
                "change": s.NicheChangeRow(done).data,
                "niche": next(iter([*made, *went]), None),
                "job": job,
            }
        )


def _described(name: str, request: Any) -> Any:
    described = extend_schema(
        operation_id=name, request=request, responses={200: s.NichesChanged, **_PROBLEMS}
    )
    return extend_schema_view(post=described)


@_described("take_over_niches", s.TakeOverRequest)
class TakeOver(Change):
    """Lets niches of the proposal hold."""

    asks = s.TakeOverRequest

    def change(self, market: Market, wanted: dict[str, Any]) -> NicheChange:
        return take_over(market, None, wanted.get("names"), wanted.get("besides", ()))


@_described("make_niche", s.MakeRequest)
class Make(Change):
    """Makes a niche of terms."""

    asks = s.MakeRequest

    def change(self, market: Market, wanted: dict[str, Any]) -> NicheChange:
        return make_niche(market, wanted["name"], wanted["terms"])


@_described("rename_niche", s.RenameRequest)
class Rename(Change):
    """Calls a niche otherwise."""

    asks = s.RenameRequest

    def change(self, market: Market, wanted: dict[str, Any]) -> NicheChange:
        return rename_niche(market, wanted["niche_id"], wanted["name"])


@_described("merge_niches", s.MergeRequest)
class Merge(Change):
    """Puts niches into another one."""

    asks = s.MergeRequest

    def change(self, market: Market, wanted: dict[str, Any]) -> NicheChange:
        return merge_niches(market, wanted["niches"], wanted["into"])


@_described("move_terms", s.MoveRequest)
class Move(Change):
    """Puts terms into a niche, or takes them out of theirs."""

    asks = s.MoveRequest

    def change(self, market: Market, wanted: dict[str, Any]) -> NicheChange:
        if wanted["niche_id"] is None:
            return take_out(market, wanted["terms"])
        return move_terms(market, wanted["terms"], wanted["niche_id"])


@_described("undo_niches", s.UndoChangeRequest)
class Undo(Change):
    """Undoes the latest change of the niches."""

    asks = s.UndoChangeRequest

    def change(self, market: Market, wanted: dict[str, Any]) -> NicheChange:
        return undo_change(market, wanted["change"])
