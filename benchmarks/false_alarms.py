"""How often each signal is raised in a market in which there is nothing to find.

    PYTHONPATH=. .venv/bin/python benchmarks/false_alarms.py [--niches 2000]

Every niche of the market is a draw of one and the same process: level demand, clicks that fall on the
niche's listings at random, listings whose facts are draws of one distribution, prices and offers that
only jitter, launches that sell like the rest. What is raised is chance. In a second, rough market
everything also wanders: demand and its purchase rate by weeks, prices, offers and sales of listings by
months, who is clicked from one snapshot to the next.
"""

from __future__ import annotations

import argparse
from dataclasses import replace
from datetime import date

import numpy as np

from driftfield.core.base import Period, Timeline
from driftfield.core.market import MarketData, compute_figures
from driftfield.core.signals import SIGNALS
from driftfield.core.supply import Clicks, History, Listings, Offers

WEEKS, PAGES, TERMS = 260, 14, 3
TIMELINE = Timeline(Period.WEEK, date(2021, 5, 17), WEEKS)
MONTHS = Timeline(Period.MONTH, date(2024, 5, 1), 24)
SNAPSHOTS = (0, 13, 26, 39, 52)


def wander(
    rng: np.random.Generator, shape: tuple[int, int], step: float, memory: float
) -> np.ndarray:
    """Factors that wander around 1 along the columns: an autoregression of the logarithm."""
    out = np.zeros(shape)
    for column in range(1, shape[1]):
        out[:, column] = memory * out[:, column - 1] + rng.normal(0, step, shape[0])
    return np.exp(out)


def noise_market(niches: int, seed: int = 0, *, rough: bool = False) -> MarketData:
    """A market of ``niches`` niches that differ by chance alone."""
    rng = np.random.default_rng(seed)
    terms = niches * TERMS
    owner = np.repeat(np.arange(niches), TERMS)
    # Its size is a niche's own; all the rest is the same for all.
    size = np.repeat(rng.lognormal(5, 0.6, niches), TERMS)[:, None]
    level, rate = np.ones((2, terms, WEEKS))
    if rough:
        level = wander(rng, (niches, WEEKS), 0.04, 0.97)[owner]
        rate = wander(rng, (niches, WEEKS), 0.03, 0.97)[owner]
    searches = rng.poisson(size * level, (terms, WEEKS))
    clicks = rng.binomial(searches, 0.7)
    purchases = rng.binomial(searches, np.minimum(0.04 * rate, 0.5))
    return MarketData(
        TIMELINE, [f"n{i}" for i in range(niches)], owner, searches.astype(float),
        clicks=clicks.astype(float), purchases=purchases.astype(float),
        branded=(rng.random(terms) < 0.1).astype(float),
        observed=_clicks(rng, clicks, owner, rough), listings=_listings(rng, niches, rough),
        category=rng.integers(0, max(niches // 8, 1), niches),
    )  # fmt: skip


def _clicks(rng: np.random.Generator, clicks: np.ndarray, owner: np.ndarray, rough: bool) -> Clicks:
    """Snapshots of who was clicked: at random among the niche's listings."""
    parts = []
    for back in SNAPSHOTS:
        at = WEEKS - 1 - back
        # Some listings are clicked more; the same ones all the time.
        draw = np.random.default_rng(1).dirichlet(np.full(PAGES, 6.0), owner.max() + 1)[owner]
        if rough:
            draw = draw * np.exp(rng.normal(0, 0.3, (owner.max() + 1, PAGES)))[owner]
            draw /= draw.sum(axis=1, keepdims=True)
        got = rng.multinomial(clicks[:, at], draw)
        term, page = np.nonzero(got)
        share = got[term, page] / clicks[term, at]
        parts.append((term, np.full(len(term), at), owner[term] * PAGES + page, share * 0.95))
    term, when, listing, share = (np.concatenate(column) for column in zip(*parts, strict=True))
    return Clicks(term, when, listing, share)


def _listings(rng: np.random.Generator, niches: int, rough: bool) -> Listings:
    n = niches * PAGES
    day = TIMELINE.end.toordinal()
    price = rng.lognormal(3, 0.4, n)
    # Oldest listings up to ten years old: about one or two launches a year in a niche.
    launched = day - rng.integers(10, 3600, n)
    months = np.array([MONTHS.start(i).toordinal() for i in range(MONTHS.length)])
    lived = months >= launched[:, None]
    sold = rng.gamma(4, 5, n)[:, None] * np.ones(MONTHS.length)
    offered = 1 + rng.poisson(1.2, n)[:, None] + np.zeros(MONTHS.length)
    asked = np.exp(rng.normal(0, 0.015, sold.shape))
    if rough:
        sold *= wander(rng, sold.shape, 0.2, 0.9)
        offered *= wander(rng, sold.shape, 0.15, 0.95)
        asked *= wander(rng, sold.shape, 0.02, 0.98)
    units = rng.poisson(sold)
    offers = np.clip(np.round(offered) + rng.integers(-1, 2, units.shape), 1, None)
    lead = np.where(rng.random(units.shape) < 0.05, 1, 0)
    seller = rng.integers(0, 400, n)
    measures = {
        "price": price[:, None] * asked,
        "units": units,
        "reviews": rng.lognormal(5.8, 0.6, n)[:, None] + np.cumsum(rng.binomial(units, 0.04), axis=1),
        "offers": offers,
        "in_stock": rng.beta(18, 1, units.shape),
        "lead_seller": seller[:, None] + lead,
    }  # fmt: skip
    history = {k: np.where(lived, v, np.nan).astype(np.float32) for k, v in measures.items()}
    extra = rng.integers(0, n, n)
    return replace(
        Listings.unknown(n), price=price, rating=np.clip(rng.normal(4.3, 0.3, n), 1, 5),
        reviews=measures["reviews"][:, -1], launched=launched.astype(float),
        quality=np.clip(rng.normal(63, 14, n), 0, 100), brand=rng.integers(0, 60, n), seller=seller,
        sponsored=(rng.random(n) < 0.16).astype(float), return_rate=rng.beta(2, 40, n),
        own_retail=(rng.random(n) < 0.04).astype(float), history=History(MONTHS, history),
        offers=Offers(extra, seller[extra], launched[extra].astype(float), np.full(n, np.inf)),
    )  # fmt: skip


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--niches", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=20261125)
    wanted = parser.parse_args()
    found = [
        compute_figures(noise_market(wanted.niches, wanted.seed, rough=rough), rules=SIGNALS)[
            "signals"
        ]
        for rough in (False, True)
    ]
    raised = [~np.isnan(severity) for severity in found]
    print("| signal | raised | in the rough market | median severity there |\n|---|---:|---:|---:|")
    for column, rule in enumerate(SIGNALS):
        some = found[1][raised[1][:, column], column]
        middle = f"{np.median(some):.2f}" if some.size else "–"
        rates = " | ".join(f"{r[:, column].mean():.2%}" for r in raised)
        print(f"| {rule.name} | {rates} | {middle} |")
    for r in raised:
        print(f"{r.sum(axis=1).mean():.2f} a niche; none for {(~r.any(axis=1)).mean():.0%}")


if __name__ == "__main__":
    main()
