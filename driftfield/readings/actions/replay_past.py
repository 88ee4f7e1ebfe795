"""Hold what was said on past days against what came, and keep it until more is known."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date
from functools import partial

from django.db import transaction
from django.db.models import F

from driftfield.core.base import format_day
from driftfield.core.market import CATEGORY, NICHE, TERM, Kind
from driftfield.core.market.proof import EVERY, KeptDays, way_of
from driftfield.core.ranking import DEFAULT_LENS
from driftfield.core.signals import SIGNALS
from driftfield.exchange.completeness import last_complete
from driftfield.exchange.market_data import MarketInput
from driftfield.exchange.proof import record_rows, replay_market
from driftfield.market.models import Market
from driftfield.readings.as_told import as_told
from driftfield.readings.chosen import chosen_for
from driftfield.readings.linked import check_not_linked
from driftfield.readings.load import Part, load_market
from driftfield.readings.load_listings import listing_names
from driftfield.readings.method import method_digest
from driftfield.readings.models import KeptRecord, ReplayedDay

# Of more subjects packed days would fill the database; they are replayed each time.
MOST_KEPT = 50_000


@dataclass(frozen=True, slots=True)
class _Store:
    """Days of a market and kind in the database."""

    market: Market
    kind: Kind

    def find(self, day: date, mark: str) -> bytes | None:
        found = ReplayedDay.objects.filter(
            market=self.market, kind=self.kind.plural, as_of=day, mark=mark
        ).first()
        return None if found is None else bytes(found.packed)

    def keep(self, day: date, mark: str, packed: bytes) -> None:
        ReplayedDay.objects.update_or_create(
            market=self.market, kind=self.kind.plural, as_of=day,
            defaults={"mark": mark, "packed": packed},
        )  # fmt: skip


def replay_past(
    market: Market,
    kind: Kind = NICHE,
    *,
    every: int = EVERY,
    anew: bool = False,
    resumed: bool = False,
    progress: Callable[[int, int], None] | None = None,
) -> KeptRecord:
    """Make the track record of a market's niches, terms or categories, in place of an earlier one.

    Days that were replayed before are taken over while the same is known of them; ``anew``: none are, but for
    those that the same work kept before it was cut off, where it is ``resumed``. They lie ``every``
    weeks apart, and whole steps from the latest that was replayed so. ``progress`` is told (done, all) days.
    Raises CoreError where the record is too short.
    """
    check_not_linked(market)
    settings = chosen_for(market.market_id).settings
    before = KeptRecord.objects.filter(market=market, kind=kind.plural).first()
    if anew and not resumed:
        ReplayedDay.objects.filter(market=market, kind=kind.plural).delete()
    part = _read(market)
    found = MarketInput(
        market.market_id, part.niche_names, part.term_names, part.data, market.currency
    )
    listings = [one or "" for one in listing_names(part.listings)["listing_id"]]
    tree = part.data.tree
    subjects = {TERM: part.term_names, CATEGORY: tree.ids if tree else []}.get(
        kind, part.data.subjects
    )
    memory = None
    if len(subjects) <= MOST_KEPT:
        way = way_of(settings, DEFAULT_LENS, SIGNALS, method_digest())
        memory = KeptDays(_Store(market, kind), way, subjects, listings)
    going_on = before is not None and before.every == every and not anew
    made = replay_market(
        found, settings, every=every, kind=kind, memory=memory, progress=progress,
        as_told=partial(as_told, part),
        through=before.last_day if before and going_on else None,
    )  # fmt: skip
    assert made.record is not None
    days = made.record.days
    with transaction.atomic():
        record, _ = KeptRecord.objects.update_or_create(
            market=market, kind=kind.plural,
            defaults={
                "as_of": found.data.timeline.end, "every": every, "last_day": days[-1], "days": len(days),
                "taken": memory.taken if memory else 0, "rows": record_rows(made, settings),
                "settings": settings.as_dict(), "method": method_digest(),
            },
        )  # fmt: skip
        kept = ReplayedDay.objects.filter(market=market, kind=kind.plural)
        kept.exclude(as_of__in=days).delete()
    return record


def _read(market: Market) -> Part:
    """A market's counts, or its relative curves where it has none, up to its last complete period."""
    parts = load_market(market)
    part = next((one for one in parts if one.data.counts), parts[0])
    end, _ = last_complete(part.data.searches, part.data.timeline, None, market.complete_until)
    return replace(part, data=part.data.upto(end))


def replay_sentence(record: KeptRecord) -> str:
    """What was replayed, in a sentence."""
    taken = f", {record.taken:,} of them as they were kept" if record.taken else ""
    return f"{record.days:,} days replayed{taken}, up to {format_day(record.last_day)}."


def claim_due_replay() -> KeptRecord | None:
    """A record that can go on by a day, with figures for which that was not tried; that it is tried is noted,
    whatever comes of it."""
    records = KeptRecord.objects.defer("rows").select_related("market")
    for record in records.exclude(tried=F("market__run__as_of")):
        run = getattr(record.market, "run", None)
        if run is not None and record.due <= run.as_of:
            record.tried = run.as_of
            record.save(update_fields=["tried"])
            return record
    return None
