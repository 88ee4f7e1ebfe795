"""How often intervals of the track record hold what is true, and what replaying a large market takes.

    PYTHONPATH=. .venv/bin/python benchmarks/proof_claims.py [--markets 200] [--niches 60] [--lenses 50]
        [--large 100000]

Markets are drawn in which launches follow headroom by a stated rule (``past_market`` of the tests) and
replayed every 13 weeks. What is true is told by the same rule in one market of 3,000 niches. Then
``--lenses`` markets of 150 niches each are drawn whose launches follow demand alone, competition alone,
both as the default has it, or nothing: how often other weights are proposed, and whether they name the side
that launches follow. Before all that a market of ``--large`` niches with clicks and listings is replayed on
12 days, and analysed once in the same run: time and memory are told as ratios to that. 0 leaves a part out.
"""

from __future__ import annotations

import argparse
import resource
import time

import numpy as np

from driftfield.core.base import DEFAULTS, Estimate
from driftfield.core.market import run_market
from driftfield.core.market.proof import TrackRecord, days_to_replay, track_record
from driftfield.core.market.proof.tests.markets import past_market
from driftfield.core.ranking import DEMAND, PARTS
from driftfield.core.signals import SIGNALS

SURE = 3_000  # Niches of the market that tells what is true.
TELLS = 1.0
SIDE = np.array([part.side == DEMAND for part in PARTS])
ASKED = (
    ("area under the curve, headroom", ("launch", "area", "headroom", 0)),
    ("area under the curve, demand", ("launch", "area", "demand", 0)),
    ("lift of the best tenth, headroom", ("launch", "lift", "headroom", 0)),
    ("launches that worked", ("launch", "worked", "", 0)),
    ("forecasts within their interval, 13 weeks", ("forecast", "within", "", 13)),
    ("forecasts within their interval, 52 weeks", ("forecast", "within", "", 52)),
)


def recorded(niches: int, seed: int) -> TrackRecord:
    data = past_market(niches, seed, tells=TELLS)
    return track_record(data, days_to_replay(data.timeline), DEFAULTS)


def memory() -> float:
    """The most that was held so far, in gigabytes."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e6


def claims(markets: int, niches: int) -> None:
    truth = recorded(SURE, 1)
    found: dict[str, list[Estimate]] = {name: [] for name, _ in ASKED}
    for seed in range(2, markets + 2):
        record = recorded(niches, seed)
        for name, key in ASKED:
            found[name].append(record.line(*key).estimate)
    print(f"| 90% intervals of {markets} markets of {niches} niches | true | hold it | unknown |")
    print("|---|---:|---:|---:|")
    for name, key in ASKED:
        true = truth.line(*key).estimate.value
        told = [one for one in found[name] if not np.isnan(one.low)]
        held = np.mean([one.low <= true <= one.high for one in told])
        print(f"| {name} | {true:.3f} | {held:.0%} | {len(found[name]) - len(told)} |", flush=True)


def lenses(markets: int) -> None:
    print(f"| {markets} markets whose launches follow | proposed | area gained | name the side |")
    print("|---|---:|---:|---:|")
    for name, tells, balance in (
        ("demand alone", 2.0, 1.0),
        ("competition alone", 2.0, 0.0),
        ("both", 2.0, 0.5),
        ("nothing", 0.0, 0.5),
    ):
        proposed, gains, named = 0, [], 0
        for seed in range(markets):
            data = past_market(150, 10_000 + seed, tells=tells, launches=8, balance=balance)
            found = track_record(data, days_to_replay(data.timeline), DEFAULTS).fitted
            assert found is not None
            proposed += found.lens is not None
            gains.append(found.gain.value)
            weight = float(found.weights[SIDE].sum())
            named += weight > 0.5 if balance == 1 else weight < 0.5
        side = f"{named / markets:.0%}" if balance in (0, 1) else "–"
        print(f"| {name} | {proposed / markets:.0%} | {np.mean(gains):+.3f} | {side} |", flush=True)


def cost(niches: int) -> None:
    data = past_market(niches, 3, launches=2)
    days = days_to_replay(data.timeline)[-12:]
    start = time.perf_counter()
    run_market(data, DEFAULTS, rules=SIGNALS)
    one, held = time.perf_counter() - start, memory()
    start = time.perf_counter()
    track_record(data, days, DEFAULTS, rules=SIGNALS)
    whole = time.perf_counter() - start
    print(
        f"{len(days)} days of {niches:,} niches: {whole:.0f} s, {whole / one:.1f} times one analysis "
        f"({one:.1f} s); memory {memory() / held:.2f} times ({memory():.2f} GB)."
    )


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--markets", type=int, default=200)
    parser.add_argument("--niches", type=int, default=60)
    parser.add_argument("--lenses", type=int, default=50)
    parser.add_argument("--large", type=int, default=100_000)
    wanted = parser.parse_args()
    if wanted.large:
        cost(wanted.large)
    if wanted.markets:
        claims(wanted.markets, wanted.niches)
    if wanted.lenses:
        lenses(wanted.lenses)


if __name__ == "__main__":
    main()
