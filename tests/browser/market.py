"""Markets for browser tests."""

import sqlite3
import tempfile
from pathlib import Path

import numpy as np
from django.db import connection

from driftfield.exchange.tests.packages import supplied_market, table, weekly, write
from driftfield.intake.actions import import_folder
from driftfield.intake.models import Batch
from driftfield.readings.actions import analyse_all

# What an empty database came to with some files, by the files: many tests begin with the same market.
_LOADED: dict[str, sqlite3.Connection] = {}


def load(files: dict[str, str]) -> None:
    """Import files and analyse; what an empty database came to with them before is put into it again."""
    first = not Batch.objects.exists()
    key = repr(sorted(files.items()))
    connection.ensure_connection()
    database: sqlite3.Connection = connection.connection
    if first and key in _LOADED:
        _LOADED[key].backup(database)
        return
    with tempfile.TemporaryDirectory() as holder:
        import_folder(write(Path(holder) / "in", **files))
    list(analyse_all())
    if first:
        _LOADED[key] = sqlite3.connect(":memory:", check_same_thread=False)
        database.backup(_LOADED[key])


def wide_market(niches: int = 24) -> dict[str, str]:
    """The supplied market among many niches of one term each, with clicks of their own."""
    files = supplied_market()
    rng = np.random.default_rng(8)
    rows: list[tuple] = []
    for i in range(niches):
        wave = 1 + 0.5 * np.cos(2 * np.pi * (np.arange(156) - 2 * i) / 52)
        searches = rng.poisson((60 + 25 * i) * wave)
        rows += [
            (*row, row[2] // 2, row[2] // 20) for row in weekly(f"canal hook {i:02}", searches)
        ]
    files["term_weeks"] += table("term,week,searches,clicks,purchases", *rows).split("\n", 1)[1]
    clicks = [
        (f"canal hook {i:02}", "2025-12-01", f"l{1 + (i + k) % 5}", share)
        for i in range(niches)
        for k, share in enumerate((0.5 - 0.015 * i, 0.2, 0.1))
    ]
    head = files["term_clicks"].split("\n", 1)[0]
    assert head == "term,week,listing_id,click_share"
    files["term_clicks"] += table(head, *clicks).split("\n", 1)[1]
    return files
