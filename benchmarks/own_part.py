"""Own part on drawn niches: how often 90% intervals hold the truth, and what the reading costs.

    PYTHONPATH=. python benchmarks/own_part.py

Each line is one recipe; three numbers for each comparison: how often the intervals of share, market and own
growth hold the truth. The last line compares the time of reading 1,000 niches with that of statsmodels'
intervals of the same ratios, one by one, in the same run.
"""

from __future__ import annotations

import time
from datetime import date

import numpy as np
from statsmodels.stats.rates import confint_poisson_2indep

from driftfield.core.base import Period, Timeline
from driftfield.core.supply import History, OwnPart, Sources, read_own_part

NICHES, DRAWS = 40, 12
RECIPES: dict[str, dict[str, float]] = {
    "as usual": {},
    "share up by a quarter": {"step": 1.25},
    "share halved": {"step": 0.5},
    "4 units a week": {"level": 4},
    "300 units a week": {"level": 300},
    "hardly a waver": {"waver": 0.05},
    "wavers with memory 0.6": {"memory": 0.6},
    "60 weeks": {"weeks": 60},
    "32 weeks": {"weeks": 32},
    "three niches": {"niches": 3, "draws": 100},
}


def drawn(
    rng: np.random.Generator, *, niches: int = NICHES, weeks: int = 156, step: float = 1.0, memory: float = 0.0,
    waver: float = 0.2, level: float = 30.0,
) -> tuple[OwnPart, np.ndarray, np.ndarray, np.ndarray]:  # fmt: skip
    """What is read of drawn niches; expected market, share and market as drawn, (niches, weeks) each."""
    line = Timeline(Period.WEEK, date(2023, 1, 2), weeks)
    tops = rng.integers(0, 52, niches)[:, None]
    season = 1 + 0.6 * np.cos(2 * np.pi * (np.arange(52) - tops) / 52)
    base = rng.lognormal(7, 1, niches)
    shape = (niches, weeks)
    expected = (
        base[:, None]
        * season[:, line.slots]
        * np.exp(np.cumsum(rng.normal(0, 0.01, shape), axis=1))
    )
    market = rng.poisson(expected * rng.lognormal(-0.005, 0.1, shape)).astype(float)
    share = (rng.lognormal(np.log(level), 1, niches) / base)[:, None] * np.ones(shape)
    share[:, -13:] *= step
    share *= np.exp(np.cumsum(rng.normal(0, 0.004, shape), axis=1))
    noise, off = rng.normal(0, waver, shape), np.zeros(shape)
    for week in range(weeks):
        before = off[:, week - 1] if week else 0.0
        off[:, week] = memory * before + np.sqrt(1 - memory**2) * noise[:, week]
    own = rng.poisson(market * share * np.exp(off - waver**2 / 2)).astype(np.float32)
    sources = Sources(line, lambda at: market[at], History(line, {"units": own}))
    part = read_own_part(sources, season, np.zeros(niches, bool), 0.9)
    assert part is not None
    return part, expected, share, market


def held(name: str, recipe: dict[str, float]) -> None:
    """Print how often the intervals of a recipe hold the truth."""
    options = {
        k: int(v) if k in ("niches", "weeks") else v for k, v in recipe.items() if k != "draws"
    }
    found: dict[str, list[list[bool]]] = {}
    for draw in range(int(recipe.get("draws", DRAWS))):
        part, expected, share, market = drawn(np.random.default_rng(draw), **options)  # type: ignore[arg-type]
        for one in part.comparisons:
            known = ~np.isnan(one.share.low)
            if not known.any():
                continue
            now, then = slice(*one.now), slice(*one.then)
            sold = share * market
            moved = sold[:, now].sum(1) / market[:, now].sum(1)
            moved /= sold[:, then].sum(1) / market[:, then].sum(1)
            grown = expected[:, now].sum(1) / expected[:, then].sum(1)
            rows = found.setdefault(f"{one.weeks} on {one.against}", [[], [], []])
            for row, ratio, truth in zip(
                rows, (one.share, one.market, one.own), (moved, grown, moved * grown), strict=True
            ):
                row += ((ratio.low <= truth) & (truth <= ratio.high))[known].tolist()
    text = "; ".join(
        f"{key}: {' '.join(f'{np.mean(one):.0%}' for one in rows)}" for key, rows in found.items()
    )
    print(f"{name}: {text}")


def main() -> None:
    for name, recipe in RECIPES.items():
        held(name, recipe)
    part, *_ = drawn(np.random.default_rng(0), niches=1000)
    own = History(part.timeline, {"units": np.stack([one.units for one in part.niches])})
    sources = Sources(part.timeline, lambda at: part.niches[at].market, own)
    start = time.perf_counter()
    read_own_part(sources, np.ones((1000, 52)), np.zeros(1000, bool), 0.9)
    ours = time.perf_counter() - start
    start = time.perf_counter()
    for one in part.comparisons:
        for row in np.flatnonzero(one.known).tolist():
            confint_poisson_2indep(
                one.own_now[row], one.market_now[row], one.own_then[row], one.market_then[row], method="score",
                compare="ratio",
            )  # fmt: skip
    theirs = time.perf_counter() - start
    print(f"1,000 niches in {ours:.2f} s, {ours / theirs:.2f} of statsmodels' intervals of them")


if __name__ == "__main__":
    main()
