"""A market of many niches in a database of its own, for the benchmarks of the desk.

    PYTHONPATH=. .venv/bin/python benchmarks/big_market.py /tmp/big [--niches 100000]
    DRIFTFIELD_DATA=/tmp/big bin/driftfield serve --port 8124

Every niche has one term of weekly searches, clicks and purchases, and eight listings with clicks and
facts; a category holds fifty.
"""

from __future__ import annotations

import argparse
import os
import tempfile
import time
from datetime import date, timedelta
from pathlib import Path

import numpy as np
import polars as pl

WEEKS, PAGES = 130, 8
FIRST = date(2023, 11, 27)
WORDS = ["glass", "copper", "oak", "linen", "tin", "slate", "wool", "brass", "clay", "ash"]
THINGS = ["jar", "hook", "tray", "lamp", "peg", "press", "lid", "frame", "brush", "stand"]


def tables(n: int, seed: int = 0) -> dict[str, pl.DataFrame]:
    """The exchange tables of the market."""
    rng = np.random.default_rng(seed)
    names = [f"{WORDS[i % 10]} {THINGS[i // 10 % 10]} {i}" for i in range(n)]
    weeks = np.arange(WEEKS)
    level = rng.lognormal(4.5, 1, (n, 1)) * (1 + rng.normal(0, 0.2, (n, 1))) ** (weeks / 52)
    season = 1 + rng.uniform(0, 0.95, (n, 1)) * np.cos(
        2 * np.pi * (weeks - rng.uniform(0, 52, (n, 1))) / 52
    )
    searches = rng.poisson(level * season)
    days = [(FIRST + timedelta(weeks=int(i))) for i in weeks]
    term = pl.Series(names)
    clicks = rng.binomial(searches, 0.7)
    rate = np.exp(rng.normal(np.log(0.035), 0.4, (n, 1)))
    term_weeks = pl.DataFrame(
        {
            "term": term.gather(np.repeat(np.arange(n), WEEKS)),
            "week": pl.Series(days * n),
            "searches": searches.ravel(),
            "clicks": clicks.ravel(),
            "purchases": rng.binomial(searches, rate).ravel(),
        }
    )
    pages = n * PAGES
    owner = np.repeat(np.arange(n), PAGES)
    listing = pl.Series([f"l{i}" for i in range(pages)])
    share = rng.dirichlet(np.full(PAGES, 1.5), n).ravel() * 0.95
    return {
        "niches": pl.DataFrame({"niche_id": [f"n{i}" for i in range(n)], "name": names,
                                "category_id": [f"c{i // 50}" for i in range(n)]}),
        "categories": pl.DataFrame({"category_id": [f"c{i}" for i in range(n // 50 + 1)],
                                    "name": [f"Category {i}" for i in range(n // 50 + 1)]}),
        "terms": pl.DataFrame({"term": names, "niche_id": [f"n{i}" for i in range(n)]}),
        "term_weeks": term_weeks,
        "listings": pl.DataFrame({
            "listing_id": listing, "title": listing, "price": np.round(rng.lognormal(3, 0.5, pages), 2),
            "reviews": rng.lognormal(5, 1, pages).astype(int), "rating": np.round(rng.uniform(3, 5, pages), 1),
            "launched_on": [date(2026, 5, 1) - timedelta(days=int(d)) for d in rng.integers(10, 3000, pages)],
        }),
        "term_clicks": pl.DataFrame({"term": term.gather(owner), "week": [days[-1]] * pages,
                                     "listing_id": listing, "click_share": np.round(share, 4)}),
    }  # fmt: skip


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("data", type=Path)
    parser.add_argument("--niches", type=int, default=100_000)
    wanted = parser.parse_args()
    os.environ["DRIFTFIELD_DATA"] = str(wanted.data)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "driftfield.settings")
    import django
    from django.core.management import call_command

    django.setup()
    call_command("migrate", verbosity=0)
    from driftfield.intake.actions import import_folder
    from driftfield.readings.actions import analyse_all

    with tempfile.TemporaryDirectory() as folder:
        for name, frame in tables(wanted.niches).items():
            frame.write_csv(Path(folder) / f"{name}.csv")
        started = time.perf_counter()
        import_folder(Path(folder))
        print(f"imported after {time.perf_counter() - started:.0f} s", flush=True)
        for run in analyse_all():
            print(f"{run.sentence} {time.perf_counter() - started:.0f} s", flush=True)


if __name__ == "__main__":
    main()
