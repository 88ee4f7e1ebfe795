"""How often the watch tells a change where there is none, and how soon one that was planted.

    PYTHONPATH=. .venv/bin/python benchmarks/watch_claims.py [--niches 2000] [--imports 20]

A market whose niches differ by chance alone is analysed after each of so many weeks, and each analysis is held
against the one before. Every demand, price and share of a brand jitters around its own course: demand by 8% a
week with a memory of 0.3, half of the niches with a season, in half of these one that swings by a tenth more or
less from year to year; prices by 2% a week and listing; clicks by counting. A digest counts as false when it
tells anything but a fact of the calendar (a date, a launch), or what was told within half a year.

In a second market of the same make, of 5% of the niches each, demand steps up by 25%, a brand that had 40% of
the clicks takes 65%, and every price falls by a fifth, all in the third week. Told is the share of them that
some digest told by then; wrong is the share of everything told that was not planted. A rank is not counted
there: it moves in truth when others do.
"""

from __future__ import annotations

import argparse
from collections import Counter
from dataclasses import replace
from datetime import date

import numpy as np

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.market import NICHE, MarketData, run_market
from driftfield.core.market.figures import FIGURES_BY_KEY
from driftfield.core.market.watch import Side, compare
from driftfield.core.supply import Clicks, History, Listings, People
from driftfield.exchange.changes import figures_compared, values_of
from driftfield.exchange.columns import series_of

FIRST, HISTORY, PAGES, CLICKED, PRICED = date(2021, 5, 17), 260, 10, 78, 104
CALENDAR = {"order_missed", "order_soon", "launch"}
PLANTED = {"demand": "step of 25%", "brand_over_half": "brand past half", "prices": "price war"}
# Which fourths of the niches have a season, and one that is uneven.
SEASONS = {", no season": (0, 2), ", a season": (1,), ", an uneven season": (3,)}
AGAIN_WEEKS = 26  # That of ``driftfield/desk/watch/telling.py``.
PLANTED_AT = 2  # Imports after the first at which what is planted begins.


def market(
    niches: int, weeks: int, seed: int, planted: bool
) -> tuple[MarketData, dict[str, np.ndarray]]:
    """A market of so many weeks, and which niches each planted change was put into."""
    rng = np.random.default_rng(seed)
    timeline = Timeline(Period.WEEK, FIRST, weeks)
    start = HISTORY + PLANTED_AT
    marks = {what: np.zeros(niches, dtype=bool) for what in PLANTED}
    if planted:
        order = rng.permutation(niches)
        for place, what in enumerate(PLANTED):
            marks[what][order[place * niches // 20 : (place + 1) * niches // 20]] = True
    noise = np.zeros((niches, weeks))
    for week in range(1, weeks):
        noise[:, week] = 0.3 * noise[:, week - 1] + rng.normal(0, 0.08 * np.sqrt(1 - 0.09), niches)
    size = np.where(np.arange(niches) % 2, rng.uniform(0.3, 0.8, niches), 0)[:, None]
    years = np.arange(weeks) // 52
    swings = np.where(np.arange(niches) % 4 == 3, 0.1, 0)[:, None]
    uneven = 1 + swings * rng.normal(0, 1, (niches, years.max() + 1))[:, years]
    turn = 2 * np.pi * (timeline.slots - rng.uniform(0, 52, (niches, 1))) / 52
    season = 1 + size * uneven * np.cos(turn)
    level = rng.lognormal(6.5, 0.8, niches)[:, None] * np.maximum(season, 0.02) * np.exp(noise)
    level[marks["demand"], start:] *= 1.25
    searches = rng.poisson(level).astype(float)
    draw = rng.dirichlet(np.full(PAGES, 6.0), niches)
    give(draw, np.where(marks["brand_over_half"], 0.4, draw[:, :4].sum(axis=1)))
    # The first four listings are of one brand, the others each of its own.
    brand = np.arange(niches * PAGES)
    brand = np.where(np.arange(niches * PAGES) % PAGES < 4, brand - brand % PAGES, brand)
    owner, at, page, share = [], [], [], []
    for week in range(max(weeks - CLICKED - weeks + HISTORY, 0), weeks):
        now = draw.copy()
        if week >= start:
            give(now, np.where(marks["brand_over_half"], 0.65, now[:, :4].sum(axis=1)))
        got = rng.multinomial(np.maximum(0.7 * searches[:, week], 20).astype(int), now)
        niche, listing = np.nonzero(got)
        owner.append(niche)
        at.append(np.full(len(niche), week))
        page.append(niche * PAGES + listing)
        share.append(got[niche, listing] / got.sum(axis=1)[niche] * 0.97)
    n = niches * PAGES
    first = weeks - (PRICED + weeks - HISTORY)
    priced = Timeline(Period.WEEK, timeline.start(first), weeks - first)
    price = rng.lognormal(3, 0.4, n)[:, None] * np.exp(rng.normal(0, 0.02, (n, priced.length)))
    price[np.repeat(marks["prices"], PAGES), start - first :] *= 0.8
    offers = 1 + rng.poisson(np.repeat(rng.uniform(1, 8, n)[:, None], priced.length, axis=1))
    units = rng.poisson(np.repeat(rng.gamma(4, 5, n)[:, None], priced.length, axis=1))
    listings = replace(
        Listings.unknown(n), price=price[:, -1], brand=brand, seller=rng.integers(0, 400, n),
        launched=timeline.end.toordinal() - rng.integers(500, 3000, n).astype(float),
        reviews=rng.lognormal(5.8, 0.6, n),
        brands=People([f"b{i}" for i in range(n)], [""] * n, np.full(n, np.nan), np.zeros(n)),
        history=History(
            priced,
            {"price": price.astype(np.float32), "offers": offers.astype(np.float32),
             "units": units.astype(np.float32)},
        ),
    )  # fmt: skip
    data = MarketData(
        timeline, [f"n{i}" for i in range(niches)], np.arange(niches), searches,
        clicks=0.7 * searches, listings=listings,
        observed=Clicks(*map(np.concatenate, (owner, at, page, share))),
    )  # fmt: skip
    return data, marks


def give(draw: np.ndarray, share: np.ndarray) -> None:
    """Let the first four listings of each niche, which are of one brand, take such a share of its clicks."""
    held = draw[:, :4].sum(axis=1)
    draw[:, :4] *= (share / held)[:, None]
    draw[:, 4:] *= ((1 - share) / (1 - held))[:, None]


def look(data: MarketData, weeks: int) -> Side:
    """A look at a market after so many weeks."""
    work = run_market(
        data,
        DEFAULTS,
        as_of=data.timeline.start(weeks - 1).fromordinal(
            data.timeline.start(weeks - 1).toordinal() + 6
        ),
    )
    columns = {
        key: values_of(key, series_of(FIGURES_BY_KEY[key], work.figures[key]))
        for key in figures_compared(NICHE)
    }
    end = work.timeline.end.toordinal()
    return Side(NICHE, "m", data.subjects, data.subjects, end, end, columns)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--niches", type=int, default=2000)
    parser.add_argument("--imports", type=int, default=20)
    parser.add_argument("--seed", type=int, default=20261130)
    wanted = parser.parse_args()
    weeks = HISTORY + wanted.imports
    data, _ = market(wanted.niches, weeks, wanted.seed, planted=False)
    before, false, what = look(data, HISTORY), 0, Counter[str]()
    lately: dict[str, int] = {}
    for week in range(HISTORY + 1, weeks + 1):
        after = look(data, week)
        new = [c for c in compare([(before, after)], 0.05).changes if c.aspect.key not in CALENDAR]
        # As the application tells it: what was told within half a year is not told again.
        told = [c for c in new if c.further or lately.get(c.key, 0) < week - AGAIN_WEEKS]
        lately |= {c.key: week for c in told}
        false += bool(told)
        what.update(c.aspect.key for c in told)
        before = after
    print(
        f"By chance alone: {false} of {wanted.imports} digests told a change; in all {dict(what) or 'none'}."
    )
    data, marks = market(wanted.niches, weeks, wanted.seed + 1, planted=True)
    before, wrong, right = look(data, HISTORY), Counter[str](), 0
    found: dict[str, dict[str, int]] = {kind: {} for kind in PLANTED}
    for week in range(HISTORY + 1, weeks + 1):
        after = look(data, week)
        for one in compare([(before, after)], 0.05).changes:
            kind = {"price_slide": "prices", "level_shift": "demand", "drift": "demand"}.get(
                one.aspect.key, one.aspect.key
            )
            if kind in CALENDAR or kind == "rank":
                continue
            if kind in marks and marks[kind][int(one.id[1:])]:
                found[kind].setdefault(one.id, week - HISTORY - PLANTED_AT)
                right += 1
            elif not any(mark[int(one.id[1:])] for mark in marks.values()):
                wrong[one.aspect.key] += 1
        before = after
    print("| planted | told within 4 weeks | 8 | 13 | 26 | 30 | 52 | at all | weeks, median |")
    print("|---|---:|---:|---:|---:|---:|---:|---:|---:|")
    for kind, name in PLANTED.items():
        # Which niches have a season only matters to demand.
        parts = SEASONS if kind == "demand" else {"": (0, 1, 2, 3)}
        for more, fourths in parts.items():
            label = name + more
            mine = [i for i in np.flatnonzero(marks[kind]).tolist() if i % 4 in fourths]
            took = np.array([found[kind].get(f"n{i}", np.inf) for i in mine])
            cells = [f"{(took <= most).mean():.0%}" for most in (4, 8, 13, 26, 30, 52, weeks)]
            told = took[np.isfinite(took)]
            middle = f"{np.median(told):.0f}" if len(told) else "–"
            print(f"| {label} | {' | '.join(cells)} | {middle} |")
    print(
        f"Of {right + wrong.total()} told, {wrong.total()} were where nothing was planted: {dict(wrong)}."
    )


if __name__ == "__main__":
    main()
