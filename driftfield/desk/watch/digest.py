"""The digest: what the watch has told and nobody has seen yet, and what else a week asks for."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Any

import numpy as np

from driftfield.core.base import CoreError, format_day
from driftfield.core.market import KINDS_BY_KEY, NICHE
from driftfield.core.market.watch import ASPECTS_BY_KEY
from driftfield.core.market.watch.aspects import SOON
from driftfield.desk.models import Look, Sieve, Told
from driftfield.market.models import Market
from driftfield.readings.columns import columns_of
from driftfield.readings.models import Run

from .looks import look_row, standing_looks
from .telling import SIEVE, changes_since, look_before, sieve_news, told_of
from .watched import watched

ORDER_SOON = "order_soon"
MOST = 500  # Changes that a page shows.


def digest(market: Market, since: int | None = None, *, seen: bool = False) -> dict[str, Any]:
    """What a week asks for: what changed, dates that are due, and sieves with something new.

    Without ``since`` it is what was told and not yet seen; with ``seen`` what was seen as well. ``since`` is
    the key of an earlier look: everything from it to the latest, seen or not. Raises CoreError where there is
    no such look.
    """
    run = market.run
    looks = standing_looks(market.market_id)
    latest = looks[0] if looks else None
    mine = watched(market.market_id)
    if since is None:
        before = None if latest is None else look_before(latest)
        changes, sieves = _standing(looks, seen, run.planning)
        tested = 0 if latest is None else latest.tested
    else:
        before = next((one for one in looks[1:] if one.pk == since), None)
        if before is None or latest is None:
            raise CoreError("There is no such earlier import any more. Choose another one.")
        found = changes_since(before, latest, float(run.made_with.watch_rate), run)
        changes = [_row(told_of(one, latest)) for one in found.changes]
        sieves = [_sieve_row(one) for one in sieve_news(before, latest, run)]
        tested = found.tested
    number = sum(len(ids) for ids in mine.values())
    number += Sieve.objects.filter(removed_at=None).count()
    return {
        "market_id": market.market_id, "market": market.name, "as_of": run.as_of,
        "planning_date": run.planning, "look": None if latest is None else latest.pk,
        "before": None if before is None else look_row(before), "since": since,
        "looks": [look_row(one) for one in looks[:104]], "rate": float(run.made_with.watch_rate),
        "tested": tested, "watched": {k.plural: len(ids) for k, ids in mine.items() if ids},
        "changes": changes[:MOST], "more": max(len(changes) - MOST, 0), "sieves": sieves,
        "due": due_dates(run, mine[NICHE]),
        "sentences": _sentences(run, before, number, len(changes), len(sieves), tested, since is not None),
    }  # fmt: skip


def _standing(
    looks: Sequence[Look], seen: bool, today: date
) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    told = Told.objects.filter(look__in=[one.pk for one in looks]).select_related("look")
    if not seen:
        told = told.filter(seen_at=None)
    rows = [
        one
        for one in told.order_by("weight", "-look", "pk")
        # A date that was coming and has gone by since is told as missed, or need not be told.
        if seen or one.aspect != ORDER_SOON or one.figures["since"] >= today.isoformat()
    ]
    changes = [_row(one) for one in rows if one.aspect != SIEVE]
    return changes, [_sieve_row(one) for one in rows if one.aspect == SIEVE]


def _row(told: Told) -> dict[str, Any]:
    found = told.figures
    return {
        "id": told.pk, "of": KINDS_BY_KEY[told.kind].plural, "subject": told.subject, "name": told.name,
        "aspect": told.aspect, "label": ASPECTS_BY_KEY[told.aspect].label, "sentence": told.sentence,
        **{key: found.get(key) for key in ("then", "now", "low", "high", "chance", "since")},
        "told_as_of": told.look.as_of, "seen_at": told.seen_at, "key": told.key,
    }  # fmt: skip


def _sieve_row(told: Told) -> dict[str, Any]:
    return {
        "id": told.pk, "of": KINDS_BY_KEY.get(told.kind, NICHE).plural, "name": told.name,
        "sentence": told.sentence, "told_as_of": told.look.as_of, "seen_at": told.seen_at, **told.figures,
    }  # fmt: skip


def due_dates(run: Run, ids: set[str]) -> list[dict[str, Any]]:
    """Order-by dates of watched niches in the next four weeks, the first one first."""
    columns = columns_of(run, NICHE)
    rows = []
    days = columns.figure("act.order_in_days")
    caught = columns.figure("act.caught")
    for id_ in ids:
        place = columns.places.get(id_)
        if place is None or np.isnan(days[place]) or not 0 <= days[place] <= SOON:
            continue
        left = int(days[place])
        rows.append(
            {"subject": id_, "name": columns.names[place], "day": run.planning + timedelta(days=left),
             "days": left, "caught": None if np.isnan(caught[place]) else float(caught[place])}
        )  # fmt: skip
    return sorted(rows, key=lambda one: (one["day"], one["name"]))


def _sentences(
    run: Run, before: Look | None, number: int, changes: int, sieves: int, tested: int, live: bool
) -> list[str]:
    """How it ends: that nothing else changed, and among how many comparisons that was looked for."""
    if not number:
        return [
            "Nothing is watched yet. Keep or park niches, terms, listings, brands or sellers, or save a sieve; "
            "what changes about them is told after the next import."
        ]
    if before is None:
        return [
            f"These are the first figures the watch has kept, as of {format_day(run.as_of)}. What changes is "
            "told after the next import."
        ]
    rate = float(run.made_with.watch_rate)
    held = f"{tested:,} comparisons were held to a false discovery rate of {rate:.0%}"
    else_ = "Nothing else" if changes or sieves else "Nothing"
    since = format_day(before.as_of)
    if live:
        return [f"{else_} changed beyond noise from {since} to {format_day(run.as_of)}: {held}."]
    return [f"{else_} that you have not seen changed beyond noise: with the latest import, {held}."]
