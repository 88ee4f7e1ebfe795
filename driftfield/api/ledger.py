"""The ledger's columns, conditions and orders, each declared in one row."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from django.db.models import Exists, F, OuterRef, Q, QuerySet, Subquery
from rest_framework.request import Request

from driftfield.api.errors import Problem
from driftfield.core.figures import BY_KEY, Figure, Kind
from driftfield.desk.models import Choice, Decision
from driftfield.market.models import Market, Term
from driftfield.readings.models import Reading

# Figures a row of the ledger carries; the rest is in the preview.
COLUMNS: tuple[Figure, ...] = tuple(
    BY_KEY[key]
    for key in (
        "rank", "rank_low", "rank_high", "season_profile", "shape", "shape_family",
        "shape_confidence", "provisional", "feast", "drift", "drift_rate_year", "drift_low", "drift_high",
        "growth_13w.raw", "growth_13w.season", "growth_13w.drift", "searches_52w",
        "purchases_52w", "competition_parts.click_breadth", "demand", "competition", "headroom",
        "frontier", "coverage",
    )
)  # fmt: skip
_UNSORTED = {Kind.PROFILE, Kind.WEEKS, Kind.SHIFTS, Kind.FLAG, Kind.SENTENCE}
SORTS = {f.column: f.column for f in COLUMNS if f.kind not in _UNSORTED} | {"name": "niche__name"}
PAGE = 100
MOST = 500


@dataclass(frozen=True, slots=True)
class Condition:
    """A query parameter that narrows the ledger."""

    name: str
    help: str
    apply: Callable[[list[str]], Q]
    choices: tuple[str, ...] = ()


def _text(values: list[str]) -> Q:
    """Niches whose name, or any of whose terms, holds every word given."""
    found = Q()
    for word in " ".join(values).split():
        terms = Term.objects.filter(niche=OuterRef("niche"), term__icontains=word)
        found &= Q(niche__name__icontains=word) | Q(Exists(terms))
    return found


def _decision(values: list[str]) -> Q:
    chosen = [v for v in values if v != Choice.OPEN]
    found = Q(decision__in=chosen) if chosen else Q(pk__in=[])
    return found | Q(decision=None) if Choice.OPEN in values else found


CONDITIONS: tuple[Condition, ...] = (
    Condition("q", "Words that the niche's name or one of its terms holds.", _text),
    Condition("shape", "One or more shapes.", lambda v: Q(shape__in=v), BY_KEY["shape"].choices),
    Condition(
        "drift", "One or more drift words.", lambda v: Q(drift__in=v), BY_KEY["drift"].choices
    ),
    Condition(
        "decision", "One or more decisions; open means none.", _decision, tuple(Choice.values)
    ),
)


def _whole(request: Request, name: str, default: int, most: int | None = None) -> int:
    text = request.query_params.get(name, str(default))
    if not text.isdigit() or (most is not None and int(text) > most):
        limit = f" up to {most}" if most else ""
        raise Problem(
            400, "A parameter is not right", f"{name} takes a whole number{limit}; “{text}” came."
        )
    return int(text)


def check_parameters(request: Request, known: set[str]) -> None:
    """Refuse unknown query parameters by name."""
    unknown = sorted(set(request.query_params) - known)
    if unknown:
        raise Problem(
            400, "There is no such parameter",
            f"Unknown: {', '.join(unknown)}. Known: {', '.join(sorted(known))}.",
        )  # fmt: skip


def market_of(request: Request) -> Market:
    """The market the request names, or the first one that was analysed."""
    markets = Market.objects.filter(run__isnull=False).order_by("pk")
    name = request.query_params.get("market")
    market = markets.filter(market_id=name).first() if name else markets.first()
    if market is None:
        what = f"There is no analysed market “{name}”." if name else "No figures are loaded yet."
        raise Problem(
            404, "Nothing to show", f"{what} Load a folder with bin/driftfield import FOLDER."
        )
    return market


@dataclass(frozen=True, slots=True)
class Slice:
    """A page of the ledger and how many rows there are in all."""

    rows: list[Reading]
    count: int
    total: int
    offset: int


def read_ledger(request: Request, market: Market) -> Slice:
    """The rows a request asks for, in the order it asks for; ties go by searches, then by id."""
    check_parameters(request, {"market", "sort", "offset", "limit"} | {c.name for c in CONDITIONS})
    current = Decision.objects.filter(
        current=True, market_id=market.market_id, niche_id=OuterRef("niche__niche_id")
    )
    every = Reading.objects.filter(market=market)
    rows: QuerySet[Reading] = every.annotate(decision=Subquery(current.values("choice")[:1]))
    for condition in CONDITIONS:
        values = [v for v in request.query_params.getlist(condition.name) if v]
        wrong = [v for v in values if condition.choices and v not in condition.choices]
        if wrong:
            raise Problem(
                400, "A parameter is not right",
                f"{condition.name} is one of {', '.join(condition.choices)}; “{wrong[0]}” came.",
            )  # fmt: skip
        if values:
            rows = rows.filter(condition.apply(values))
    key = request.query_params.get("sort", "rank")
    column = SORTS.get(key.lstrip("-"))
    if column is None:
        raise Problem(
            400,
            "There is no such order",
            f"sort is one of {', '.join(sorted(SORTS))}; “{key}” came.",
        )
    first = (
        F(column).desc(nulls_last=True) if key.startswith("-") else F(column).asc(nulls_last=True)
    )
    ordered = rows.order_by(first, F("searches_52w").desc(nulls_last=True), "niche__niche_id")
    offset, limit = _whole(request, "offset", 0), _whole(request, "limit", PAGE, MOST)
    page = ordered.select_related("niche__category__parent")[offset : offset + limit]
    return Slice(list(page), rows.count(), every.count(), offset)
