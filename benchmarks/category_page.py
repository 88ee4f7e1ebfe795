"""How soon the tree and a category answer on a large market, against a niche's preview in the same run.

    PYTHONPATH=.:benchmarks .venv/bin/python benchmarks/category_page.py /tmp/big-catalogue [--niches 100000]

The market of ``category_speed``, in a database of its own; made once, asked again as it is. The bar is 150 ms
at the 95th percentile.
"""

from __future__ import annotations

import argparse
import os
import tempfile
import time
from pathlib import Path

import numpy as np
from big_market import tables
from category_speed import LEAF, with_tree


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("data", type=Path)
    parser.add_argument("--niches", type=int, default=100_000)
    parser.add_argument("--leaf", type=int, default=LEAF, help="niches of a lowest category")
    parser.add_argument("--asked", type=int, default=300)
    wanted = parser.parse_args()
    os.environ["DRIFTFIELD_DATA"] = str(wanted.data)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "driftfield.settings")
    import django
    from django.core.management import call_command

    django.setup()
    call_command("migrate", verbosity=0)
    from django.test import Client

    from driftfield.intake.actions import import_folder
    from driftfield.market.models import Market
    from driftfield.readings.actions import analyse_all

    if not Market.objects.exists():
        with tempfile.TemporaryDirectory() as folder:
            for name, frame in with_tree(tables(wanted.niches), wanted.leaf).items():
                frame.write_csv(Path(folder) / f"{name}.csv")
            import_folder(Path(folder))
            list(analyse_all())
    client = Client(SERVER_NAME="localhost")
    rng = np.random.default_rng(0)
    leaves = wanted.niches // wanted.leaf
    branches, areas = leaves // 10, leaves // 100
    # As often as there are of each: a walk over the whole tree.
    ids = (
        [f"c{i}" for i in range(leaves)]
        + [f"b{i}" for i in range(branches)]
        + [f"a{i}" for i in range(areas)]
    )
    picked = rng.choice(ids, wanted.asked).tolist()
    asked = {
        "a niche's preview": [
            f"/api/niche/?niche=n{i}" for i in rng.integers(0, wanted.niches, wanted.asked)
        ],
        "the tree": [
            f"/api/catalogue/?open=a{i % areas}&open=b{i % branches}" for i in range(wanted.asked)
        ],
        "a category": [f"/api/catalogue/category/?category={one}" for one in picked],
        "what is sold": [f"/api/catalogue/sold/?category={one}" for one in picked],
        "its ranges": [f"/api/catalogue/ranges/?category={one}" for one in picked],
    }
    for name, addresses in asked.items():
        took = []
        for address in addresses:
            started = time.perf_counter()
            answer = client.get(address)
            took.append((time.perf_counter() - started) * 1000)
            assert answer.status_code == 200, (address, answer.content[:200])
        # The first one loads what is held in memory from then on.
        middle, late = np.percentile(took[1:], [50, 95])
        print(
            f"{name:18} {middle:6.1f} ms in the median, {late:6.1f} at the 95th percentile; first {took[0]:.0f}"
        )


if __name__ == "__main__":
    main()
