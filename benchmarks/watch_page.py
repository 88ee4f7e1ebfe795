"""How long the watch takes after an analysis, how long its page, and how much a look keeps.

    PYTHONPATH=. .venv/bin/python benchmarks/big_market.py /tmp/big
    PYTHONPATH=. .venv/bin/python benchmarks/watch_page.py /tmp/big [--sieves 20] [--kept 2000]

On the big market, of which some niches are kept and so many sieves saved, the figures are kept twice, as if
after two imports, and what changed is told. The time of writing a column of a run, which analyses end with,
is the reference in the same run.
"""

from __future__ import annotations

import argparse
import os
import time
from pathlib import Path


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--sieves", type=int, default=20)
    parser.add_argument("--kept", type=int, default=2000)
    wanted = parser.parse_args()
    os.environ["DRIFTFIELD_DATA"] = str(wanted.folder)
    os.environ["DJANGO_SETTINGS_MODULE"] = "driftfield.settings"
    import django

    django.setup()
    from django.core.management import call_command
    from django.test import Client

    call_command("migrate", verbosity=0)
    import numpy as np
    import polars as pl
    from django.utils import timezone

    from driftfield.core.market import NICHE
    from driftfield.desk.actions import decide_all, save_sieves
    from driftfield.desk.models import Choice, Look, LookColumn, Told
    from driftfield.desk.watch import keep_look, tell
    from driftfield.intake.models import Batch
    from driftfield.market.models import Market
    from driftfield.readings.columns import columns_of
    from driftfield.readings.models import Run
    from driftfield.readings.store import read_columns, replace_columns

    market = Market.objects.order_by("pk")[0]
    run = Run.objects.select_related("market").get(market=market)
    ids = columns_of(run, NICHE).ids
    Look.objects.all().delete()
    decide_all(market.market_id, ids[: wanted.kept], Choice.KEEP)
    save_sieves(
        [
            (f"Sieve {i}", [f"searches >= {500 * (i + 1)}", "drift >= -10%"])
            for i in range(wanted.sieves)
        ]
    )
    figures = ["searches_52w", "drift_rate_year", "moved.demand", "moved.demand_beyond"]
    before = time.perf_counter()
    held = dict(read_columns(run, NICHE, figures))
    replace_columns(run, NICHE, held)
    written = (time.perf_counter() - before) / len(figures)
    rng = np.random.default_rng(1)
    took = []
    for turn in range(2):
        Batch.objects.create(source=f"week {turn}", digest=str(turn))
        # Some move from one import to the next.
        jitter = rng.normal(1, 0.05, len(ids))
        far = np.where(np.arange(len(ids)) % 100 == turn, 9.0, 0.1)
        moved = {
            "searches_52w": held["searches_52w"] * jitter,
            "moved.demand_beyond": pl.Series(far),
        }
        replace_columns(run, NICHE, moved)
        run.planned_at = timezone.now()
        run.save()
        before = time.perf_counter()
        look = keep_look(run)
        kept = time.perf_counter()
        told = tell(run, look)
        took.append((kept - before, time.perf_counter() - kept, len(told)))
    replace_columns(run, NICHE, {name: held[name] for name in moved})
    size = sum(
        len(bytes(one))
        for one in LookColumn.objects.filter(look=look).values_list("values", flat=True)
    )
    client = Client(SERVER_NAME="127.0.0.1")
    pages = []
    for _ in range(12):
        before = time.perf_counter()
        answer = client.get(f"/api/watch/?market={market.market_id}")
        pages.append(time.perf_counter() - before)
        assert answer.status_code == 200, answer.content
    keep, say, many = took[-1]
    print(f"{len(ids):,} niches, {wanted.kept:,} kept, {wanted.sieves} sieves: {many} told")
    print(
        f"a look kept in {keep:.2f} s, what changed told in {say:.2f} s; a column written in {written:.3f} s"
    )
    middle, most = sorted(pages)[6], max(pages)
    print(f"the page answers in {1000 * middle:.0f} ms in the middle, {1000 * most:.0f} ms at most")
    print(f"a look takes {size / 1e6:.1f} MB, 104 of them {104 * size / 1e9:.2f} GB")
    print(f"{Told.objects.count()} rows told in all")


if __name__ == "__main__":
    main()
