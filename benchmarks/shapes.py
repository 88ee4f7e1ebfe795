"""How often the shape is right on curves whose shape is known.

    .venv/bin/python benchmarks/shapes.py [--curves 1200] [--seed 2026]

Prints the share of right shapes by kind of curve and the confusion matrix. The curves are those of
known_curves.py; no threshold of the core was set by them.
"""

from __future__ import annotations

import argparse
from collections import Counter

from known_curves import FIRST, HARD, PLAIN, WEEKS, as_matrix, sample

from driftfield.core.demand import read_demand
from driftfield.core.periods import Period, Timeline
from driftfield.core.settings import DEFAULTS


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--curves", type=int, default=1200)
    parser.add_argument("--seed", type=int, default=2026)
    options = parser.parse_args()
    timeline = Timeline(Period.WEEK, FIRST, WEEKS)
    for kind in ("plain", *HARD):
        curves = sample(kind, options.curves, options.seed)
        found = read_demand(as_matrix(curves), timeline, DEFAULTS).shape.shape
        pairs = Counter((one.shape, str(word)) for one, word in zip(curves, found, strict=True))
        right = sum(n for (truth, word), n in pairs.items() if truth == word)
        print(f"\n{kind}: {right / len(curves):.1%} of {len(curves)} right")
        words = [w for w in PLAIN if any(p[1] == w for p in pairs)]
        print(f"  {'made as':12}" + "".join(f"{w:>11}" for w in words))
        for truth in PLAIN:
            row = [pairs[truth, w] for w in words]
            if sum(row):
                print(f"  {truth:12}" + "".join(f"{n:>11}" for n in row))


if __name__ == "__main__":
    main()
