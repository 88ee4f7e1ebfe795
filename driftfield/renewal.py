"""Bringing over a database that an earlier version made, whose readings lay in rows.

Its tables are copied into a database of the present make: figures, decisions, notes, sieves, lenses,
costs and the record of imports. Readings are left behind and made anew, for they are derived.
"""

from __future__ import annotations

import os
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from pathlib import Path

from driftfield.core.base import CoreError
from driftfield.home import DATABASE
from driftfield.keeping import keep_before, replace_with

# What an earlier database must have come to before it can be brought over.
LAST = {
    ("desk", "0004_costs_and_fees"),
    ("intake", "0003_mappings_and_feed"),
    ("market", "0002_lead_sellers"),
    ("readings", "0003_weight_and_size"),
}
LEFT = ("django_", "sqlite_", "readings_")  # Beginnings of the tables that are not copied.
# Columns that are called otherwise now, and new ones with what is put into them.
RENAMED = {("desk_decision", "subject"): "niche_id", ("desk_remark", "subject"): "niche_id"}
ADDED = {
    ("desk_decision", "kind"): "'niche'", ("desk_remark", "kind"): "'niche'",
    ("desk_savedlens", "kind"): "'niche'", ("desk_savedlens", "purpose"): "''",
    ("market_niche", "given_name"): "name", ("market_niche", "own"): "0",
    ("market_term", "given_id"): "niche_id", ("market_market", "country"): "''",
    ("intake_batch", "linked_to"): "''",
}  # fmt: skip
# Fields that are called otherwise now in what undoes an import, by the table they are of.
REKEYED = {"Term": ("niche_id", "given_id"), "Niche": ("name", "given_name")}


def is_earlier(database: Path) -> bool:
    """Whether a database was made by a version that kept readings in rows."""
    if not database.exists() or not database.stat().st_size:
        return False
    try:
        with closing(
            sqlite3.connect(f"{database.absolute().as_uri()}?mode=ro", uri=True)
        ) as opened:
            return "readings_reading" in _tables(opened)
    except sqlite3.DatabaseError:
        return False  # Damaged or locked: said elsewhere.


def bring_over(database: Path) -> Path:
    """Put a database of the present make in the place of an earlier one; where that is kept.

    All or nothing. Raises CoreError, and changes nothing, where the database comes from before the last
    of the earlier versions, or a row of it cannot be taken.
    """
    with closing(sqlite3.connect(database)) as opened:
        applied = set(opened.execute("SELECT app, name FROM django_migrations"))
    if missing := sorted(LAST - applied):
        app, name = missing[0]
        raise CoreError(
            f"{database} comes from a version before the last one ({app} {name} is missing). Start the last "
            "version once, which brings it up to date, and renew again. Nothing was changed."
        )
    with tempfile.TemporaryDirectory(dir=database.parent) as folder:
        made = Path(folder) / DATABASE
        _make_empty(made)
        try:
            with closing(sqlite3.connect(made)) as new:
                new.execute("ATTACH ? AS earlier", [str(database)])
                with new:
                    _copy_tables(new)
                broken = new.execute("PRAGMA foreign_key_check").fetchone()
        except sqlite3.Error as error:
            raise CoreError(
                f"{database} could not be updated: {error}. Nothing was changed."
            ) from None
        if broken is not None:
            raise CoreError(
                f"A row of {broken[0]} refers to a row that does not exist. Nothing was changed."
            )
        kept = keep_before(database, "renew")
        replace_with(made, database)
    return kept


def _make_empty(database: Path) -> None:
    """A database of the present make with nothing in it, by a program of its own."""
    program = [sys.executable, str(Path(__file__).resolve().parents[1] / "manage.py"), "migrate"]
    made = subprocess.run(
        [*program, "--verbosity=0", "--no-input"],
        env={**os.environ, "DRIFTFIELD_DATA": str(database.parent)},
        capture_output=True,
        text=True,
        check=False,
    )
    if made.returncode:
        raise CoreError(f"A new database could not be made: {made.stderr.strip()[-500:]}")


def _copy_tables(new: sqlite3.Connection) -> None:
    known = _tables(new, "earlier")
    for table in sorted(_tables(new)):
        if table.startswith(LEFT) or table not in known:
            continue
        had = set(_columns(new, "earlier", table))
        wanted, taken = [], []
        for column in _columns(new, "main", table):
            before = RENAMED.get((table, column), column)
            source = f'"{before}"' if before in had else ADDED.get((table, column))
            if source is not None:
                wanted.append(f'"{column}"')
                taken.append(source)
        new.execute(
            f'INSERT INTO main."{table}" ({", ".join(wanted)}) SELECT {", ".join(taken)} '
            f'FROM earlier."{table}"'
        )
    for table, (before, now) in REKEYED.items():
        new.execute(
            "UPDATE main.intake_rowbefore SET fields = json_set(json_remove(fields, ?), ?, "
            'json_extract(fields, ?)) WHERE "table" = ? AND json_type(fields, ?) IS NOT NULL',
            [f"$.{before}", f"$.{now}", f"$.{before}", table, f"$.{before}"],
        )
    # Ids that were given once are not given again.
    new.execute("DELETE FROM main.sqlite_sequence")
    new.execute(
        "INSERT INTO main.sqlite_sequence SELECT name, seq FROM earlier.sqlite_sequence "
        "WHERE name IN (SELECT name FROM main.sqlite_master)"
    )


def _tables(opened: sqlite3.Connection, schema: str = "main") -> set[str]:
    found = opened.execute(f"SELECT name FROM {schema}.sqlite_master WHERE type = 'table'")
    return {name for (name,) in found}


def _columns(opened: sqlite3.Connection, schema: str, table: str) -> list[str]:
    return [row[1] for row in opened.execute(f'PRAGMA {schema}.table_info("{table}")')]
