"""How often the shape is right on curves whose shape is known.

    .venv/bin/python benchmarks/shapes.py [--curves 1200] [--seed 90417] [--months]

Prints the share of right shapes by kind of curve and the confusion matrix, then what is said of demand
that ends. The curves are those of
known_curves.py. The default seed was drawn when the core was done; ``feast_gain`` and the rules for
outliers and fads were chosen with others. With --months the same curves are read as sums by month
(a week belongs to the month of its Thursday, sums are scaled to an average month).
"""

from __future__ import annotations

import argparse
from collections import Counter
from datetime import timedelta

import numpy as np
from known_curves import ENDED, FIRST, HARD, PLAIN, WEEKS, as_matrix, draw_ended, sample

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves import read_curves


def by_month(values: np.ndarray) -> tuple[np.ndarray, Timeline]:
    """Weekly curves as whole months; NaN where any week is absent."""
    days = [FIRST + timedelta(weeks=i, days=3) for i in range(WEEKS)]
    numbers = np.array([Period.MONTH.number(day) for day in days])
    months, weeks = np.unique(numbers, return_counts=True)
    sums = np.stack([values[:, numbers == month].sum(axis=1) for month in months], axis=1)
    whole = slice(1, -1)
    even = np.round(sums / weeks * (52 / 12))[:, whole]
    return even, Timeline(Period.MONTH, Period.MONTH.start(int(months[1])), even.shape[1])


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--curves", type=int, default=1200)
    parser.add_argument("--seed", type=int, default=90417)
    parser.add_argument("--months", action="store_true")
    options = parser.parse_args()
    timeline = Timeline(Period.WEEK, FIRST, WEEKS)
    # Feasts are too short for months.
    for kind in ("plain", *(k for k in HARD if not (options.months and k == "Easter-bound"))):
        curves = sample(kind, options.curves, options.seed)
        values = as_matrix(curves)
        if options.months:
            values, timeline = by_month(values)
        found = read_curves(values, timeline, DEFAULTS).shape.shape
        pairs = Counter((one.shape, str(word)) for one, word in zip(curves, found, strict=True))
        right = sum(n for (truth, word), n in pairs.items() if truth == word)
        print(f"\n{kind}: {right / len(curves):.1%} of {len(curves)} right")
        words = [w for w in PLAIN if any(p[1] == w for p in pairs)]
        print(f"  {'made as':12}" + "".join(f"{w:>11}" for w in words))
        for truth in PLAIN:
            row = [pairs[truth, w] for w in words]
            if sum(row):
                print(f"  {truth:12}" + "".join(f"{n:>11}" for n in row))
    print()
    for kind in ENDED:
        rng = np.random.default_rng([options.seed, *kind.encode()])
        values = np.array([draw_ended(kind, rng) for _ in range(options.curves)])
        found = read_curves(values, Timeline(Period.WEEK, FIRST, WEEKS), DEFAULTS)
        told = Counter(
            f"{shape}, {life}" for shape, life in zip(found.shape.shape, found.life, strict=True)
        )
        lines = ", ".join(f"{n / options.curves:.1%} {words}" for words, n in told.most_common())
        print(f"{kind}: {lines}")


if __name__ == "__main__":
    main()
