"""Asking for long work."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.db import transaction

from driftfield.core.base import CoreError
from driftfield.market.models import Market
from driftfield.work.keeper import ensure_worker
from driftfield.work.models import AT_WORK, Job, Kind
from driftfield.work.router import WORK
from driftfield.work.tasks import do_job


def start(
    kind: Kind,
    source: str,
    folder: Path | None = None,
    batch: int | None = None,
    mappings: dict[str, Any] | None = None,
    market: str = "",
    options: dict[str, Any] | None = None,
) -> Job:
    """Put a job in the queue; ``mappings``: how its files are read, by key of the layout; ``market``: of
    which market new niches are that name none, or which one is worked on; ``options``: what else is asked for.

    Raises CoreError while another one is at work on the market. One at a time: each would wait for the
    other's hold on the database, and its check would not be true any more when its turn came.
    """
    ensure_worker()
    # Of several who ask at the same time one is first: the transaction holds the database from its start.
    with transaction.atomic(using=WORK):
        other = Job.objects.filter(state__in=AT_WORK).first()
        if other is not None:
            raise CoreError(f"{other.source} is still running. Wait for it, or stop it.")
        job = Job.objects.create(
            kind=kind, source=source, folder=str(folder) if folder else "", batch=batch,
            mappings=mappings or {}, market=market, options=options or {},
        )  # fmt: skip
        do_job.enqueue(job.pk)
    job.refresh_from_db()
    return job


def start_replay(market: Market, kind: str, every: int, *, anew: bool = False) -> Job:
    """Ask for the track record of a market's ``kind``, by its plural; ``anew``: no day is taken over.

    Raises CoreError as ``start`` does.
    """
    return start(
        Kind.REPLAY, market.name, market=market.market_id,
        options={"of": kind, "every": every, "anew": anew},
    )  # fmt: skip
