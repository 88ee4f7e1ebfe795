"""Taking from a feed what is new, kept on disk page by page, so that what broke off goes on where it was."""

from __future__ import annotations

import json
import os
import shutil
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from typing import Any
from urllib.parse import quote

import polars as pl

from .client import FeedClient, Page, Row, Tally
from .errors import CursorGoneError, EndlessError, FeedError

KEY = ("term", "week")
FIGURES = ("searches", "clicks", "purchases")
KNOWN = {*KEY, *FIGURES, "change"}
STATE, CHANGES, TABLES = "state.json", "changes.jsonl", "tables"


@dataclass(slots=True)
class State:
    """How far a pull is. since: the position from which changes are asked for; cursor: of the page that
    comes next; length: bytes of the changes that are whole; position: where the feed was after them."""

    market: str
    since: str | None
    from_week: str | None
    cursor: str | None = None
    length: int = 0
    rows: int = 0
    position: str | None = None
    whole: bool = False
    other: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Pulled:
    """What came. tables: a folder of exchange tables; None where nothing is new. notes: what the feed also
    told, and what it took to get it."""

    tables: Path | None
    position: str | None
    rows: int
    notes: list[str]


def pull(
    client: FeedClient,
    market: Mapping[str, Any],
    folder: Path,
    *,
    since: str | None,
    from_week: date | None,
) -> Pulled:
    """Take all changes of a market since a position, and write them as exchange tables.

    ``market`` is one of those the feed named. ``from_week``: of earlier weeks nothing is wanted. What is
    in ``folder`` of the same pull is not asked for again. Raises FeedError; what came stays in the folder.
    """
    client.tally = Tally()
    state = _state_of(folder, market["market_id"], since, from_week)
    while not state.whole:
        try:
            _take(client, state, folder)
        except CursorGoneError:
            # What came before the last whole page is kept: its position stands for the cursor.
            state.cursor = None
            _save(state, folder)
        except EndlessError:
            # Asked again later it may have been mended; from where it is now it would go on.
            forget(folder)
            raise
    if state.rows == 0:
        return Pulled(None, state.position, 0, _notes(client, state))
    tables = _write(client, market, state, folder)
    return Pulled(tables, state.position, state.rows, _notes(client, state))


def forget(folder: Path) -> None:
    """What was pulled is imported; it is not needed any more."""
    shutil.rmtree(folder, ignore_errors=True)


def _state_of(folder: Path, market: str, since: str | None, from_week: date | None) -> State:
    wanted = State(market, since, from_week.isoformat() if from_week else None)
    try:
        found = State(**json.loads((folder / STATE).read_text("utf-8")))
    except (OSError, ValueError, TypeError):
        found = wanted
    if (found.market, found.since) != (wanted.market, wanted.since):
        found = wanted
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / CHANGES).open("ab") as out:
        # A page that was being written when the program ended is asked for again.
        out.truncate(found.length)
    return found


def _take(client: FeedClient, state: State, folder: Path) -> None:
    query = {"since": state.position or state.since or ""}
    if state.from_week:
        query["from_week"] = state.from_week
    query = {key: value for key, value in query.items() if value}
    client.step = f"Fetching changes of {state.market}"
    path = f"{_at(state.market)}/changes"
    for page in client.pages(path, (*KEY, "searches", "change"), cursor=state.cursor, **query):
        if page.position is None:
            raise FeedError(f"{path} of the feed answered without a position.")
        _keep(page, state, folder)
        client.progress(f"{client.step}: {state.rows:,} rows", 0, 0)
    state.whole = True
    _save(state, folder)


def _at(market: str) -> str:
    """Where a market is told of. Its id is the feed's, which may hold any character."""
    return f"/v1/markets/{quote(market, safe='')}"


def _keep(page: Page, state: State, folder: Path) -> None:
    """The rows of a page, written before it is noted that they are there."""
    others = {key for row in page.rows for key in row} - KNOWN
    state.other = sorted({*state.other, *others})
    lines = [json.dumps({k: row.get(k) for k in (*KEY, *FIGURES, "change")}) for row in page.rows]
    with (folder / CHANGES).open("ab") as out:
        out.write("".join(line + "\n" for line in lines).encode())
        out.flush()
        os.fsync(out.fileno())
        state.length = out.tell()
    state.rows += len(page.rows)
    state.cursor, state.position = page.next, page.position
    _save(state, folder)


def _save(state: State, folder: Path) -> None:
    part = folder / f".{STATE}"
    part.write_text(json.dumps(asdict(state)), "utf-8")
    part.replace(folder / STATE)


def _write(client: FeedClient, market: Mapping[str, Any], state: State, folder: Path) -> Path:
    """The changes as exchange tables: of each term and week what was told last."""
    tables = folder / TABLES
    shutil.rmtree(tables, ignore_errors=True)
    tables.mkdir()
    types = (
        dict.fromkeys(KEY, pl.String) | dict.fromkeys(FIGURES, pl.Float64) | {"change": pl.Int64}
    )
    try:
        frame = pl.read_ndjson(folder / CHANGES, schema=types)
    except pl.exceptions.PolarsError as error:
        # Asked for again it would be the same; but not with what is here.
        forget(folder)
        raise FeedError(f"The feed told changes that are no figures: {str(error)[:120]}.") from None
    latest = frame.sort("change").unique(KEY, keep="last").sort(KEY)
    latest.select(*KEY, *(f for f in FIGURES if latest[f].null_count() < latest.height)).write_csv(
        tables / "term_weeks.csv"
    )
    at = _at(state.market)
    told = set(latest["term"])
    client.step = f"Fetching terms of {state.market}"
    terms = [row for row in _all(client, f"{at}/terms", ("term",)) if row["term"] in told]
    wanted = {row.get("niche_id") for row in terms}
    client.step = f"Fetching niches of {state.market}"
    niches = [
        r for r in _all(client, f"{at}/niches", ("niche_id", "name")) if r["niche_id"] in wanted
    ]
    _table(tables, "markets", ("market_id", "name", "currency", "region"), [dict(market)])
    _table(tables, "niches", ("niche_id", "name"), niches, market_id=state.market)
    _table(tables, "terms", ("term", "niche_id", "branded"), terms)
    if market.get("complete_until"):
        try:
            over = date.fromisoformat(str(market["complete_until"])) + timedelta(days=1)
        except (ValueError, OverflowError):
            raise FeedError(
                f"The feed names a day until which {state.market} is complete that is none: "
                f"{str(market['complete_until'])[:40]}."
            ) from None
        created = datetime(over.year, over.month, over.day, tzinfo=UTC).isoformat()
        (tables / "datapackage.json").write_text(json.dumps({"created": created}), "utf-8")
    return tables


def _all(client: FeedClient, path: str, needed: tuple[str, ...]) -> list[Row]:
    """All rows of a list that is short enough to be asked for at once; rows may come twice."""
    while True:
        found: dict[Any, Row] = {}
        try:
            for page in client.pages(path, needed):
                found |= {row[needed[0]]: row for row in page.rows}
        except CursorGoneError:
            continue
        return list(found.values())


def _table(folder: Path, name: str, columns: tuple[str, ...], rows: list[Row], **same: str) -> None:
    if not rows:
        return
    told = [column for column in columns if any(row.get(column) is not None for row in rows)]
    frame = pl.DataFrame(
        {column: [_text(row.get(column)) for row in rows] for column in told}
        | {column: [value] * len(rows) for column, value in same.items()},
        schema=dict.fromkeys([*told, *same], pl.String),
    )
    frame.write_csv(folder / f"{name}.csv")


def _text(value: Any) -> str | None:
    if isinstance(value, bool):
        return str(int(value))
    return None if value is None else str(value)


def _notes(client: FeedClient, state: State) -> list[str]:
    notes = []
    if state.other:
        notes.append(f"The feed also tells {', '.join(state.other)}, which is not used.")
    failed = client.tally.failed or {}
    if failed:
        told = ", ".join(f"{many} × {reason}" for reason, many in sorted(failed.items()))
        notes.append(
            f"The feed was asked {client.tally.requests} times; {told}; "
            f"{client.tally.waited:.0f} s were waited."
        )
    return notes


def markets_of(client: FeedClient) -> list[Row]:
    """The markets that the feed tells of. Raises FeedError."""
    client.step = "Asking the feed for its markets"
    return _all(client, "/v1/markets", ("market_id", "name", "currency"))
