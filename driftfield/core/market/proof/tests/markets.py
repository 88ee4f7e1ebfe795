"""Markets with a past: niches with seasons, and launches that work by a stated rule."""

from dataclasses import replace
from datetime import date

import numpy as np

from driftfield.core.base import Period, Timeline
from driftfield.core.market import MarketData
from driftfield.core.supply import Clicks, History, Listings, Offers, People

FIRST, LENGTH = date(2021, 1, 4), 264
PAGES = 8  # Established listings of a niche.
YEARS = 156  # Weeks before the end in which launches come.


def past_market(
    niches: int,
    seed: int,
    *,
    tells: float = 0.0,
    launches: float = 6.0,
    step: float = 0.0,
    balance: float = 0.5,
) -> MarketData:
    """A market of so many niches; ``launches`` is how many each has on average.

    A launch works, selling one and a half times what the established ones do and not four tenths of it, with
    log-odds of −0.5 and ``tells`` times how much demand stands above competition: the size of the niche less how
    far one listing holds its clicks, each in standard deviations and with weights that ``balance`` gives, 1 for
    demand alone. ``step``: log size of a level shift in every niche on the last day but 52 weeks.
    """
    rng = np.random.default_rng(seed)
    line = Timeline(Period.WEEK, FIRST, LENGTH)
    size, held = rng.normal(size=(2, niches))
    swing = np.where(rng.random(niches) < 0.5, rng.uniform(0.4, 0.9, niches), 0)[:, None]
    turn = 2 * np.pi * (line.slots - rng.integers(0, 52, (niches, 1))) / 52
    season = np.exp(swing * 2 * np.cos(turn))
    season /= season.mean(axis=1, keepdims=True)
    level = (
        np.exp(6.5 + 0.7 * size)[:, None] * season * np.exp(rng.normal(0, 0.06, (niches, LENGTH)))
    )
    level[:, LENGTH - 52 :] *= np.exp(step)
    searches = rng.poisson(level).astype(float)
    odds = -0.5 + tells * (balance * size - (1 - balance) * held) / np.hypot(balance, 1 - balance)
    many = rng.poisson(launches, niches)
    owner = np.repeat(np.arange(niches), PAGES + many)
    place = np.concatenate([np.arange(PAGES + one) for one in many])
    fresh = place >= PAGES
    begins = np.where(fresh, LENGTH - rng.integers(10, YEARS, len(owner)), 0)
    works = rng.random(len(owner)) < 1 / (1 + np.exp(-odds[owner]))
    # One listing holds more of the clicks, the further competition stands above its middle.
    weight = np.where(place == 0, np.exp(1 + held[owner]), 1.0)
    pull = weight * np.where(fresh, np.where(works, 1.5, 0.4), 1.0)
    on_sale = np.arange(LENGTH) >= begins[:, None]
    units = rng.poisson(0.02 * level[owner] * np.where(fresh, pull, 1.0)[:, None]).astype(
        np.float32
    )
    units[~on_sale] = np.nan
    return MarketData(
        line, [f"n{one}" for one in range(niches)], np.arange(niches), searches,
        clicks=0.7 * searches, purchases=rng.poisson(0.1 * searches).astype(float),
        observed=_clicks(owner, pull, begins, rng), listings=_listings(line, owner, begins, units, rng),
    )  # fmt: skip


def _clicks(
    owner: np.ndarray, pull: np.ndarray, begins: np.ndarray, rng: np.random.Generator
) -> Clicks:
    term, at, listing, share = [], [], [], []
    # One week in each quarter, as a table of clicks may have it.
    for week in range(LENGTH - 1 - 13 * 16, LENGTH, 13):
        here = np.flatnonzero(begins <= week)
        drawn = pull[here] * rng.gamma(200, 1 / 200, len(here))
        whole = np.bincount(owner[here], weights=drawn)
        term.append(owner[here])
        at.append(np.full(len(here), week))
        listing.append(here)
        share.append(0.97 * drawn / whole[owner[here]])
    return Clicks(*map(np.concatenate, (term, at, listing, share)))


def _listings(
    line: Timeline,
    owner: np.ndarray,
    begins: np.ndarray,
    units: np.ndarray,
    rng: np.random.Generator,
) -> Listings:
    n = len(owner)
    first = line.first.toordinal()
    old = rng.integers(400, 2000, n)
    price = np.repeat(rng.lognormal(3, 0.3, n)[:, None], LENGTH, axis=1).astype(np.float32)
    reviews = np.cumsum(np.nan_to_num(units) * 0.05, axis=1).astype(np.float32)
    offers = (1 + rng.poisson(2, (n, LENGTH))).astype(np.float32)
    for measure in (price, reviews, offers):
        measure[np.isnan(units)] = np.nan
    since = first + 7 * begins.astype(float)
    return replace(
        Listings.unknown(n), launched=np.where(begins > 0, since, first - old), price=price[:, -1].astype(float),
        reviews=reviews[:, -1].astype(float), rating=rng.uniform(3, 5, n), quality=rng.uniform(40, 90, n),
        sponsored=(rng.random(n) < 0.2).astype(float), return_rate=rng.uniform(0, 0.1, n),
        weight_g=rng.uniform(100, 900, n), brand=np.arange(n), seller=rng.integers(0, 40, n),
        brand_since=first - rng.integers(-900, 900, n).astype(float),
        seller_since=first - rng.integers(-900, 900, n).astype(float),
        own_retail=np.zeros(n), brands=People([f"b{i}" for i in range(n)], [""] * n, np.full(n, np.nan), np.zeros(n)),
        history=History(line, {"price": price, "units": units, "reviews": reviews, "offers": offers}),
        offers=Offers(
            np.repeat(np.arange(n), 2), rng.integers(0, 40, 2 * n), first + rng.integers(0, 7 * LENGTH, 2 * n).astype(float),
            np.where(rng.random(2 * n) < 0.5, np.inf, first + 7.0 * LENGTH), None,
        ),
    )  # fmt: skip
