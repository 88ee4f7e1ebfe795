"""The ledger's columns, conditions and orders, each declared in one row."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from django.db.models import Exists, F, OuterRef, Q, QuerySet, Subquery
from django.db.models.expressions import RawSQL
from rest_framework.request import Request

from driftfield.api.errors import Problem
from driftfield.core.errors import CoreError
from driftfield.core.figures import BY_KEY, Figure, Kind
from driftfield.core.lens import PARTS
from driftfield.core.signals import BY_KEY as SIGNALS
from driftfield.core.top_listings import KEYS as LISTING_KEYS
from driftfield.core.top_listings import TopQuestion
from driftfield.desk.models import Choice, Decision
from driftfield.market.models import Market, Term
from driftfield.readings.actions import Ranked
from driftfield.readings.matrices import niches_that_answer
from driftfield.readings.models import RaisedSignal, Reading

# Figures a row of the ledger carries; the rest is in the preview.
COLUMNS: tuple[Figure, ...] = tuple(
    BY_KEY[key]
    for key in (
        "rank", "rank_low", "rank_high", "season_profile", "shape", "shape_family",
        "shape_confidence", "provisional", "feast", "drift", "drift_rate_year", "drift_low", "drift_high",
        "growth_13w.raw", "growth_13w.season", "growth_13w.drift", "searches_52w",
        "purchases_52w", "sales.price_median", "competition_parts.click_breadth", "demand", "competition",
        "headroom", "frontier", "coverage",
    )
)  # fmt: skip
_UNSORTED = {Kind.PROFILE, Kind.WEEKS, Kind.SHIFTS, Kind.SIGNALS, Kind.FLAG, Kind.SENTENCE}
SORTS = {f.column: f.column for f in COLUMNS if f.kind not in _UNSORTED} | {"name": "niche__name"}
PAGE = 100
MOST = 500


@dataclass(frozen=True, slots=True)
class Condition:
    """A query parameter that narrows the ledger of a market."""

    name: str
    help: str
    apply: Callable[[list[str], Market], Q]
    choices: tuple[str, ...] = ()
    many: bool = False


def _text(values: list[str], market: Market) -> Q:
    """Niches whose name, or any of whose terms, holds every word given."""
    found = Q()
    for word in " ".join(values).split():
        terms = Term.objects.filter(niche=OuterRef("niche"), term__icontains=word)
        found &= Q(niche__name__icontains=word) | Q(Exists(terms))
    return found


def _signals(values: list[str], market: Market) -> Q:
    """Niches of which every signal given was raised."""
    found = Q()
    for signal in values:
        found &= Q(Exists(RaisedSignal.objects.filter(reading=OuterRef("pk"), signal=signal)))
    return found


def _top(values: list[str], market: Market) -> Q:
    """Niches that say yes to every question about their most clicked listings."""
    try:
        questions = [TopQuestion.parse(text) for text in values]
    except CoreError as error:
        raise Problem(400, "A parameter is not right", f"top: {error}") from None
    kept = niches_that_answer(market.run, questions)
    # One bound list, however long: SQLite limits the number of parameters.
    return Q(pk__in=RawSQL("SELECT value FROM json_each(%s)", [kept]))


def _decision(values: list[str], market: Market) -> Q:
    chosen = [v for v in values if v != Choice.OPEN]
    found = Q(decision__in=chosen) if chosen else Q(pk__in=[])
    return found | Q(decision=None) if Choice.OPEN in values else found


CONDITIONS: tuple[Condition, ...] = (
    Condition("q", "Words that the niche's name or one of its terms holds.", _text),
    Condition(
        "shape", "One or more shapes.", lambda v, _: Q(shape__in=v), BY_KEY["shape"].choices, many=True,
    ),
    Condition(
        "drift", "One or more drift words.", lambda v, _: Q(drift__in=v), BY_KEY["drift"].choices,
        many=True,
    ),
    Condition("signal", "Signals that were all raised.", _signals, tuple(SIGNALS), many=True),
    Condition(
        "top",
        "Questions about the most clicked listings, as in “4 of 10 reviews < 120”; all must hold. "
        f"Figures: {', '.join(LISTING_KEYS)}.",
        _top,
        many=True,
    ),
    Condition(
        "decision", "One or more decisions; open means none.", _decision, tuple(Choice.values),
        many=True,
    ),
)  # fmt: skip


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


def market_of(request: Request, name: str | None = None) -> Market:
    """The market the request names, or the first one that was analysed."""
    markets = Market.objects.filter(run__isnull=False).order_by("pk")
    name = name or request.query_params.get("market")
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


def passing(request: Request, market: Market) -> QuerySet[Reading]:
    """Readings of a market that pass the conditions of a request, with their decisions."""
    current = Decision.objects.filter(
        current=True, market_id=market.market_id, niche_id=OuterRef("niche__niche_id")
    )
    rows: QuerySet[Reading] = Reading.objects.filter(market=market).annotate(
        decision=Subquery(current.values("choice")[:1])
    )
    for condition in CONDITIONS:
        values = [v for v in request.query_params.getlist(condition.name) if v]
        wrong = [v for v in values if condition.choices and v not in condition.choices]
        if wrong:
            raise Problem(
                400, "A parameter is not right",
                f"{condition.name} is one of {', '.join(condition.choices)}; “{wrong[0]}” came.",
            )  # fmt: skip
        if values:
            rows = rows.filter(condition.apply(values, market))
    return rows


def read_ledger(request: Request, market: Market) -> Slice:
    """The rows a request asks for, in the order it asks for; ties go by searches, then by id."""
    names = {c.name for c in CONDITIONS}
    check_parameters(request, {"market", "sort", "offset", "limit"} | names)
    every = Reading.objects.filter(market=market)
    rows = passing(request, market)
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


def rank_rows(made: Ranked, offset: int, limit: int) -> list[dict[str, object]]:
    """A page of a ranking as rows, with the rank of the run beside the new one."""
    page = made.order[offset : offset + limit]
    keys = made.niches[page].tolist()
    stored = Reading.objects.filter(pk__in=keys).values_list(
        "pk", "niche__niche_id", "niche__name", "rank"
    )
    known = {pk: rest for pk, *rest in stored}
    ranking, bands = made.ranking, made.bands

    def number(values: np.ndarray, at: int) -> float | None:
        return None if np.isnan(values[at]) else float(values[at])

    rows = []
    for at, key in zip(page.tolist(), keys, strict=True):
        niche_id, name, before = known[key]
        row: dict[str, object] = {"niche_id": niche_id, "name": name, "before": before,
               "rank": int(ranking.rank[at]), "frontier": bool(ranking.frontier[at])}  # fmt: skip
        for figure in ("demand", "competition", "headroom", "known"):
            row[figure] = number(getattr(ranking, figure), at)
        row["rank_low"] = None if bands is None else int(bands.rank_low[at])
        row["rank_high"] = None if bands is None else int(bands.rank_high[at])
        row["top_ten"] = None if bands is None else number(bands.top_ten, at)
        row["contributions"] = {
            part.key: number(ranking.contributions[:, i], at) for i, part in enumerate(PARTS)
        }
        rows.append(row)
    return rows
