"""How often two curves that have nothing to do with one another are told to follow.

``python -m benchmarks.lead_claims``. And how often the interval of a lead holds the one that was put in.
"""

from __future__ import annotations

import numpy as np

from driftfield.core.curves.lead import BLOCK, LONGEST, Lead, lead_between

LEVEL = 0.9
SEED = 7


def memory(length: int, phi: float, rng: np.random.Generator) -> np.ndarray:
    """A first-order autoregressive process; with ``phi`` 1 a walk."""
    steps = rng.normal(0, 0.035, length + 200)
    out = np.zeros(length + 200)
    for i in range(1, length + 200):
        out[i] = phi * out[i - 1] + steps[i]
    return out[200:]


def read(x: np.ndarray, y: np.ndarray) -> Lead:
    time = np.arange(len(x))
    x, y = (v - np.polyval(np.polyfit(time, v, 1), time) for v in (x, y))
    return lead_between(x, y, LONGEST, BLOCK, LEVEL)


def unrelated(pairs: int, rng: np.random.Generator) -> None:
    claims = 0
    for i in range(pairs):
        phi = (0.5, 0.75, 0.95, 1.0)[i % 4]
        x, y = (memory(260, phi, rng) + rng.normal(0, 0.05, 260) for _ in range(2))
        claims += read(x, y).ahead != 0
    print(f"{pairs} unrelated pairs of 260 weeks: {claims / pairs:.2%} told to follow")
    claims = 0
    for _ in range(pairs // 4):
        x, y = (memory(260, 0.75, rng) + rng.normal(0, 0.05, 260) for _ in range(2))
        for curve in (x, y):
            curve[rng.integers(30, 230) :] += 0.4
        claims += read(x, y).ahead != 0
    print(
        f"{pairs // 4} unrelated pairs with a step each: {claims / (pairs // 4):.1%} told to follow"
    )


def following(pairs: int, rng: np.random.Generator) -> None:
    for weeks in (0, 6):
        for noise in (0.03, 0.08, 0.15):
            told = held = ahead = 0
            for _ in range(pairs):
                moves = memory(260 + weeks, 0.75, rng)
                x = moves[weeks:] + rng.normal(0, noise, 260)
                y = moves[:260] + rng.normal(0, noise, 260)
                found = read(x, y)
                if found.low is not None and found.high is not None:
                    told += 1
                    held += found.low <= weeks <= found.high
                ahead += found.ahead != 0
            print(
                f"following by {weeks} weeks, noise {noise:.0%}: told {told / pairs:.0%}, "
                f"held {held / max(told, 1):.0%} of those, one said to be first {ahead / pairs:.1%}"
            )


if __name__ == "__main__":
    numbers = np.random.default_rng(SEED)
    unrelated(800, numbers)
    following(150, numbers)
