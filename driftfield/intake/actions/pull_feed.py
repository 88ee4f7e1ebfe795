"""Bring the market up to date from the feed: what is new, late and revised."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from datetime import date, timedelta
from pathlib import Path

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from driftfield.core.base import Period
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.progress import Progress, untold
from driftfield.feed.address import check_address
from driftfield.feed.client import FeedClient, Row
from driftfield.feed.errors import FeedError
from driftfield.feed.pull import Pulled, forget, markets_of, pull
from driftfield.intake.models import Batch, FeedState
from driftfield.market.models import Market, TermCurve

from .import_folder import import_folder, import_turn

BACK = (
    12  # Weeks before the last known one that are asked for at first: they may have been revised.
)


def feed_client(progress: Progress = untold) -> FeedClient:
    """One who asks the feed of the settings. Raises FeedError where there is none or it may not be asked."""
    if not settings.FEED_URL:
        raise FeedError("No feed is set. Set DRIFTFIELD_FEED_URL; README.md says how.")
    address = check_address(settings.FEED_URL, anywhere=settings.FEED_ANYWHERE)
    return FeedClient(
        address, settings.FEED_ID, settings.FEED_SECRET, progress=progress, timeout=settings.FEED_TIMEOUT,
        patience=settings.FEED_PATIENCE, first_wait=settings.FEED_FIRST_WAIT,
    )  # fmt: skip


def pull_feed(*, progress: Progress = untold, client: FeedClient | None = None) -> Iterator[Batch]:
    """Pull every market of the feed, one transaction each; yields a batch a market.

    ``client``: who asks, by default one made by the settings.

    A pull that broke off goes on with the page it was at; the same pull again changes nothing. A batch
    without changes is not saved. Raises FeedError; what was whole before stays.
    """
    client = client or feed_client(progress)
    for row in markets_of(client):
        yield _pull_market(client, row, progress)


def _pull_market(client: FeedClient, row: Row, progress: Progress) -> Batch:
    state, _ = FeedState.objects.get_or_create(
        address=client.address, market_id=str(row["market_id"])
    )
    folder = _folder(client.address, state.market_id)
    before = state.position or None
    came = pull(client, row, folder, since=before, from_week=None if before else _first_week(row))
    try:
        batch = _kept(client, state, came, f"Feed, {row['name']}", progress)
    except ExchangeError:
        # It told what cannot be right; when it is asked again it may have been mended.
        forget(folder)
        raise
    forget(folder)
    return batch


def _kept(
    client: FeedClient, state: FeedState, came: Pulled, source: str, progress: Progress
) -> Batch:
    """What came, imported together with the position at which it ends."""
    before = state.position
    with import_turn(progress), transaction.atomic():
        if came.tables is None:
            batch = Batch(source=source, notes=came.notes)
        else:
            batch = import_folder(came.tables, progress=progress, source=source, in_turn=True)
            batch.notes = [*came.notes, *batch.notes]
            batch.feed = {"address": client.address, "market": state.market_id, "position": before}
            if batch.pk is not None:
                batch.save(update_fields=["notes", "feed"])
        state.position, state.asked_at = came.position or before, timezone.now()
        state.save()
    return batch


def _folder(address: str, market: str) -> Path:
    name = hashlib.blake2b(f"{address} {market}".encode(), digest_size=8).hexdigest()
    return Path(settings.DATA_DIR) / "feed" / name


def _first_week(row: Row) -> date | None:
    """From when on figures are wanted of a market that was never pulled: all, unless some are loaded."""
    market = Market.objects.filter(market_id=row["market_id"]).first()
    if market is None:
        return None
    week = Period.WEEK.value
    curves = TermCurve.objects.filter(subject__market=market, measure="searches", period=week)
    ends = [first + len(v) // 4 for first, v in curves.values_list("first", "values").iterator()]
    return Period.WEEK.start(max(ends)) - timedelta(weeks=BACK) if ends else None
