"""The simulated feed at its worst settings against the truth: what it took, and whether anything differs.

    PYTHONPATH=. .venv/bin/python benchmarks/feed_at_worst.py [WEEKS]

The demo market is pulled into a new database while the feed tells its last WEEKS (default 12) and four more
one after the other, a pull a week. Slow answers take longer than the client waits (3 s against 2 s). Told
are requests, failures by kind, seconds waited, and the figures in which database and truth differ, which are
to be none. The reference is the same with a feed that never fails.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path

from driftfield.feedsim.world import LATEST

FURTHER, SEED = 4, 3
AFTER = 2 * LATEST + 1  # Pulls after the last week: what came late is revised as late again.
DEMO = Path(__file__).resolve().parents[1] / "demo" / "harrow-quay.zip"


def main(weeks: int, faults: str) -> int:
    """Figures that differ in the end."""
    from django.core.management import call_command
    from django.test import override_settings

    from driftfield.feedsim.tests.simulated import clock, simulated
    from driftfield.feedsim.world import build
    from driftfield.intake.actions import feed_client, pull_feed
    from driftfield.intake.tests.test_feed import stored, truth

    call_command("flush", interactive=False, verbosity=0)
    asked, waited, failed = 0, 0.0, Counter[str]()
    plan = {"further": FURTHER, "seed": SEED, "told": weeks, "faults": faults, "delay": 3.0}
    started = time.perf_counter()
    with simulated(DEMO, **plan) as address, override_settings(FEED_URL=address, FEED_TIMEOUT=2.0):
        client = feed_client()
        for week in range(weeks + FURTHER + AFTER):
            if week:
                clock(address, forward=1)
            for _ in pull_feed(client=client):
                asked, waited = asked + client.tally.requests, waited + client.tally.waited
                failed.update(client.tally.failed or {})
    took = time.perf_counter() - started
    wanted, found = truth(build(DEMO, further=FURTHER, seed=SEED)), stored()
    differ = sum(
        len(set(wanted.get(key, {}).items()) ^ set(found.get(key, {}).items()))
        for key in set(wanted) | set(found)
    )
    told = (
        ", ".join(f"{many:,} × {reason}" for reason, many in sorted(failed.items()))
        or "none failed"
    )
    print(f"{faults}: {took:,.0f} s, {asked:,} requests; {told}; {waited:,.0f} s waited")
    print(f"{sum(map(len, wanted.values())):,} figures in truth, {differ} differ", flush=True)
    return differ


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as holder:
        os.environ["DRIFTFIELD_DATA"] = holder
        os.environ.setdefault("DJANGO_SETTINGS_MODULE", "driftfield.settings")
        import django
        from django.core.management import call_command

        django.setup()
        call_command("migrate", verbosity=0)
        given = int(sys.argv[1]) if len(sys.argv) > 1 else 12
        sys.exit(int(any([main(given, "none"), main(given, "worst")])))
