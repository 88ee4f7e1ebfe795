"""Keeping the database: a copy of it while it is in use, and a copy put back in its place.

By SQLite's online backup interface (sqlite.org/backup.html), which copies a consistent state page by
page, whatever is written meanwhile, and lets programs that have the database open go on.
"""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Collection
from contextlib import closing
from datetime import datetime
from pathlib import Path

from driftfield.core.base import CoreError
from driftfield.home import OWN, put_aside

PAGES = 4_096  # Copied at once; between two such steps others may write.
KEPT = 5  # Automatic copies of each kind that stay.
WAIT = 20.0  # Seconds to wait for a writer.


def back_up(database: Path, to: Path, *, replace: bool = False) -> int:
    """Copy ``database`` to the file ``to`` and check the copy; bytes written.

    Whole or not at all: it is written beside its place and moved there when it has passed. Raises
    CoreError where there is no database, no room or no such folder, and where ``to`` exists, unless
    ``replace``.
    """
    if not database.exists() or not database.stat().st_size:
        raise CoreError(f"There is nothing to back up yet: {database} does not exist.")
    if to.exists() and not replace:
        raise CoreError(f"{to} exists. Choose another name, or add --replace.")
    if not to.parent.is_dir():
        raise CoreError(f"There is no folder {to.parent}; make it first.")
    part = to.with_name(f".{to.name}.part")
    try:
        part.touch(mode=OWN)
        with closing(sqlite3.connect(part)) as copy:
            _copy(database, copy)
            # One file that needs no other beside it.
            copy.execute("PRAGMA journal_mode=DELETE")
        _check_whole(part)
        os.replace(part, to)
    except (OSError, sqlite3.Error) as error:
        raise CoreError(f"{to} could not be written: {error}. Nothing was changed.") from None
    finally:
        part.unlink(missing_ok=True)
    return to.stat().st_size


def restore(file: Path, database: Path, migrations: Collection[tuple[str, str]]) -> Path | None:
    """Put the copy ``file`` in the place of ``database``; where the state before was kept, if any.

    ``migrations`` are the (app, name) this program knows. A database that is damaged itself is put aside
    as it is; programs that have it open then have to be started again. Raises CoreError, and changes
    nothing, where ``file`` is damaged, no database of Driftfield's, or made by a newer one.
    """
    _check_whole(file)
    _check_ours(file, migrations)
    database.parent.mkdir(parents=True, exist_ok=True)
    before = None
    if database.exists() and database.stat().st_size:
        try:
            _check_whole(database)
        except CoreError:
            before = put_aside(database)
        else:
            before = keep_before(database, "restore")
    try:
        replace_with(file, database)
    except (OSError, sqlite3.Error) as error:
        kept = f" What was there is {before}." if before else ""
        raise CoreError(f"{database} could not be written: {error}.{kept}") from None
    return before


def replace_with(file: Path, database: Path) -> None:
    """Write the database in ``file`` over another one, which programs may have open."""
    database.touch(mode=OWN)
    with closing(sqlite3.connect(database, timeout=WAIT)) as live:
        # Pages of another size, as earlier versions had them, cannot go through a write-ahead log.
        with closing(sqlite3.connect(f"{file.absolute().as_uri()}?mode=ro", uri=True)) as opened:
            same = _page_size(opened) == _page_size(live)
        if not same:
            live.execute("PRAGMA journal_mode=DELETE")
        _copy(file, live)
        live.execute("PRAGMA journal_mode=WAL")


def keep_before(database: Path, what: str) -> Path:
    """An automatic copy beside the database before something that changes much; the oldest go."""
    folder = database.parent / "backups"
    folder.mkdir(exist_ok=True, mode=0o700)
    stamp = datetime.now().strftime("%Y%m%d-%H%M%S-%f")
    made = folder / f"before-{what}-{stamp}.sqlite3"
    back_up(database, made)
    for old in sorted(folder.glob(f"before-{what}-*.sqlite3"))[:-KEPT]:
        old.unlink()
    return made


def _copy(source: Path, to: sqlite3.Connection) -> None:
    with closing(
        sqlite3.connect(f"{source.absolute().as_uri()}?mode=ro", uri=True, timeout=WAIT)
    ) as opened:
        opened.backup(to, pages=PAGES)


def _page_size(opened: sqlite3.Connection) -> int:
    (size,) = opened.execute("PRAGMA page_size").fetchone()
    return int(size)


def _check_whole(file: Path) -> None:
    """Raise CoreError unless the file is a database without damage."""
    if not file.is_file():
        raise CoreError(f"There is no file {file}.")
    try:
        with closing(sqlite3.connect(f"{file.absolute().as_uri()}?mode=ro", uri=True)) as opened:
            (verdict,) = opened.execute("PRAGMA integrity_check(1)").fetchone()
            broken = opened.execute("PRAGMA foreign_key_check").fetchone()
    except sqlite3.DatabaseError as error:
        raise CoreError(
            f"{file} is not a complete database: {error}. Nothing was changed."
        ) from None
    if verdict != "ok" or broken is not None:
        what = (
            verdict
            if verdict != "ok"
            else f"a row of {broken[0]} refers to a row that does not exist"
        )
        raise CoreError(f"{file} is damaged: {what}. Nothing was changed; take another copy.")


def _check_ours(file: Path, migrations: Collection[tuple[str, str]]) -> None:
    with closing(sqlite3.connect(f"{file.absolute().as_uri()}?mode=ro", uri=True)) as opened:
        try:
            applied = set(opened.execute("SELECT app, name FROM django_migrations"))
        except sqlite3.DatabaseError:
            applied = set()
    if ("market", "0001_initial") not in applied:
        raise CoreError(f"{file} is not a copy of a Driftfield database. Nothing was changed.")
    earlier = ("readings", "0003_weight_and_size") in applied  # ``renewal`` brings it over.
    if (newer := applied - set(migrations)) and not earlier:
        app, name = min(newer)
        raise CoreError(
            f"{file} was made by a newer Driftfield ({app} {name}). Update this one first; nothing was changed."
        )
