"""How far the drift part of a change is from the truth, against counting noise alone.

    .venv/bin/python benchmarks/drift_error.py [--curves 2000]

Curves with a known calendar, five years long. The truth is the change of the expected level; what
counting noise alone gives is the error of who knows the calendar exactly and sees the same counts.
The ratio of the two medians is printed by shape and window, and how often the drift part's 90%
interval holds the truth.
"""

from __future__ import annotations

import argparse

import numpy as np
from known_curves import FIRST, WEEKS, draw

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves import read_curves

SHAPES = ("Evergreen", "Leaning", "Seasonal")


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--curves", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=90417)
    options = parser.parse_args()
    timeline = Timeline(Period.WEEK, FIRST, WEEKS)
    for uneven in (0.0, 1.0):
        print(
            "\nyears alike"
            if not uneven
            else "\nyears unlike, a wandering level (the calendar itself errs)"
        )
        print(f"  {'shape':10}{'weeks':>6}{'ours':>9}{'counts':>9}{'ratio':>7}{'holds':>7}")
        for shape in SHAPES:
            rng = np.random.default_rng([options.seed, len(shape)])
            made = [draw(shape, "plain", rng, uneven) for _ in range(options.curves)]
            values = np.stack([one.values for one in made])
            expected = np.stack([one.expected for one in made])
            calendar = np.stack([one.calendar for one in made])
            found = read_curves(values, timeline, DEFAULTS).growth
            for window, split in found.items():
                late, early = slice(-window, None), slice(-2 * window, -window)

                def change(of: np.ndarray, late: slice = late, early: slice = early) -> np.ndarray:
                    return of[:, late].sum(axis=1) / of[:, early].sum(axis=1)

                season = change(calendar)
                truth = change(expected) / season
                ours = np.abs(np.log1p(split.drift) - np.log(truth))
                oracle = np.abs(np.log(change(values) / season) - np.log(truth))
                holds = np.mean((split.low <= truth - 1) & (truth - 1 <= split.high))
                a, b = np.nanmedian(ours), np.nanmedian(oracle)
                print(f"  {shape:10}{window:>6}{a:>9.4f}{b:>9.4f}{a / b:>7.2f}{holds:>7.0%}")


if __name__ == "__main__":
    main()
