"""What has changed since a moment, so that an open page learns of what another one did."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db.models import Count, Max, Q

from driftfield.intake.models import Batch
from driftfield.market.models import Market
from driftfield.readings.models import Run

from .models import (
    CostSheet,
    Decision,
    ExchangeRate,
    FeeTable,
    Match,
    Pin,
    Plan,
    Purse,
    Remark,
    SavedLens,
    Sieve,
    ThemeDecision,
    Told,
    WordList,
)

# A change is stamped before it is committed: what is stamped this much earlier may have come later.
OVERLAP = timedelta(seconds=10)


@dataclass(frozen=True, slots=True)
class Version:
    """What stands now. desk: the latest decision, undo or remark. figures, lists: opaque marks that differ
    as soon as readings, imports and settings (sieves, lenses, costs, matches, rates, themes and plans) do."""

    desk: datetime | None
    figures: str
    lists: str


def version() -> Version:
    """The version of everything that a page shows."""
    decided = Decision.objects.aggregate(made=Max("made_at"), undone=Max("undone_at"))
    remarked = Remark.objects.aggregate(at=Max("changed_at"))
    moments = [one for one in (*decided.values(), remarked["at"]) if one is not None]
    analysed = Run.objects.aggregate(
        many=Count("pk"), made=Max("made_at"), planned=Max("planned_at"), newest=Max("pk")
    )
    loaded = Batch.objects.aggregate(many=Count("pk"), undone=Max("undone_at"))
    markets = Market.objects.aggregate(many=Count("pk"), newest=Max("pk"))
    lists = [
        Sieve.objects.aggregate(many=Count("pk"), at=Max("changed_at"), removed=Max("removed_at")),
        WordList.objects.aggregate(
            many=Count("pk"), at=Max("changed_at"), removed=Max("removed_at")
        ),
        SavedLens.objects.aggregate(many=Count("pk"), at=Max("made_at"), removed=Max("removed_at")),
        *(
            model.objects.aggregate(many=Count("pk"), at=Max("changed_at"))
            for model in (CostSheet, FeeTable, ExchangeRate, ThemeDecision, Pin, Purse, Told)
        ),
        *(
            model.objects.aggregate(many=Count("pk"), undone=Max("undone_at"))
            for model in (Match, Plan)
        ),
    ]
    return Version(max(moments, default=None), _mark([analysed, loaded, markets]), _mark(lists))


def _mark(found: list[dict[str, object]]) -> str:
    return "·".join(
        "" if one is None else one.isoformat() if isinstance(one, datetime) else str(one)
        for row in found
        for one in row.values()
    )


@dataclass(frozen=True, slots=True)
class Decided:
    """How it stands with one subject: its decision, None for an open one."""

    market_id: str
    kind: str
    subject: str
    choice: str | None


def decided_since(moment: datetime) -> list[Decided]:
    """Subjects that were decided on, or of which a decision was undone, from shortly before a moment on."""
    since = moment - OVERLAP
    touched = Decision.objects.filter(Q(made_at__gt=since) | Q(undone_at__gt=since))
    keys = set(touched.values_list("market_id", "kind", "subject"))
    current = Decision.objects.filter(
        current=True, subject__in={subject for *_, subject in keys}
    ).values_list("market_id", "kind", "subject", "choice")
    standing = {(market, kind, subject): choice for market, kind, subject, choice in current}
    return [
        Decided(*key, None if (choice := standing.get(key)) == "open" else choice)
        for key in sorted(keys)
    ]


def remarked_since(moment: datetime) -> list[Remark]:
    """Notes and tags that were written from shortly before a moment on."""
    return list(Remark.objects.filter(changed_at__gt=moment - OVERLAP).order_by("pk"))
