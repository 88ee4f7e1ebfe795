"""A market of like niches, of which some change in a known week: what the watch is tried on."""

from datetime import date, timedelta
from pathlib import Path

import numpy as np

from .packages import table, write

FIRST = date(2021, 5, 17)
WEEKS, CHANGES, NICHES, PAGES = 260, 240, 24, 6
SUPPLIED = 70  # Weeks of clicks, prices and stock.
FALLS, WAR, BRAND, EMPTY, LAUNCH = "n1", "n2", "n3", "n4", "n5"


def day(week: int) -> str:
    return (FIRST + timedelta(weeks=week)).isoformat()


def newsy(folder: Path, weeks: int = WEEKS) -> Path:
    """The market as it was after so many weeks.

    From week 240 on demand of n1 falls by 40%, prices of n2 by a quarter, and one brand takes 70% of the clicks of
    n3 instead of 40%; from week 250 on the most clicked listing of n4 is out of stock and n5 has a new one.
    """
    rng = np.random.default_rng(1)
    searches = rng.poisson(600 * np.exp(rng.normal(0, 0.03, (NICHES, WEEKS))))
    searches[1, CHANGES:] = rng.poisson(360, WEEKS - CHANGES)
    demand, clicks, history, listings = [], [], [], []
    for niche in range(NICHES):
        for week in range(weeks):
            demand.append((f"term {niche}", day(week), int(searches[niche, week])))
        for page in range(PAGES):
            one = f"n{niche}-{page}"
            new = niche == 5 and page == PAGES - 1
            brand = f"b{niche}" if page < 2 else f"b{niche}-{page}"
            launched = day(250) if new else "2019-03-01"
            if not (new and weeks <= 250):
                listings.append((one, f"Listing {niche} {page}", brand, launched))
    # Drawn for all weeks, so that what was known earlier is the same later.
    jitter = np.exp(rng.normal(0, 0.01, (NICHES, PAGES, SUPPLIED)))
    wobble = rng.normal(0, 0.01, (NICHES, SUPPLIED))
    for niche in range(NICHES):
        for step in range(SUPPLIED):
            week = WEEKS - SUPPLIED + step
            if week >= weeks:
                continue
            held = 0.4 + wobble[niche, step] + (0.3 if niche == 3 and week >= CHANGES else 0)
            for page in range(PAGES):
                one = f"n{niche}-{page}"
                if niche == 5 and page == PAGES - 1 and week < 250:
                    continue
                share = held * (0.6, 0.4)[page] if page < 2 else (0.95 - held) / (PAGES - 2)
                clicks.append((f"term {niche}", day(week), one, round(share, 4)))
                price = 20 * jitter[niche, page, step]
                price *= 0.75 if niche == 2 and week >= CHANGES else 1
                stock = 0 if niche == 4 and page == 0 and week >= 250 else 1
                history.append((one, day(week), round(price, 2), 30, 2, stock))
    return write(
        folder,
        markets=table("market_id,name,currency", ("m", "Harrow Quay", "GBP")),
        niches=table(
            "niche_id,name,market_id", *((f"n{i}", f"Niche {i}", "m") for i in range(NICHES))
        ),
        terms=table("term,niche_id", *((f"term {i}", f"n{i}") for i in range(NICHES))),
        term_weeks=table("term,week,searches", *demand),
        term_clicks=table("term,week,listing_id,click_share", *clicks),
        listings=table("listing_id,title,brand,launched_on", *listings),
        brands=table(
            "id,name", *((b, f"Brand {b}") for b in dict.fromkeys(row[2] for row in listings))
        ),
        listing_weeks=table("listing_id,week,price,units,offers,in_stock", *history),
    )
