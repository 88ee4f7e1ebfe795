"""A small seller's market: it gains in one niche, loses in another while both grow, and holds its part of a third."""

from pathlib import Path

import numpy as np

from .packages import START, table, weekly, write

WEEKS, TURNS = 156, 143  # Weeks, and the one from which its shares are others.
GAINS, LOSES, HOLDS = "gains", "loses", "holds"
SHARES = {GAINS: (0.1, 0.25), LOSES: (0.3, 0.12), HOLDS: (0.2, 0.2)}
PAGES = 4


def selling(weeks: int = WEEKS) -> dict[str, str]:
    """The tables as they were after so many weeks; own sales of LOSES are told by the niche, others by listing.

    Each niche sells some 200 a week and a third more a year; of the first listing, one's own, what is told is 10%
    above what it sold.
    """
    rng = np.random.default_rng(4)
    days = [row[1] for row in weekly("", np.zeros(weeks))]
    demand: list[tuple] = []
    history: list[tuple] = []
    clicks: list[tuple] = []
    sold: list[tuple] = []
    for niche, (before, after) in SHARES.items():
        expected = 200 * 1.33 ** (np.arange(WEEKS) / 52)
        units = rng.poisson(expected)
        searches = rng.poisson(expected * 20)
        demand += [(*row, row[2] // 2) for row in weekly(f"term {niche}", searches[:weeks])]
        for week in range(weeks):
            share = before if week < TURNS else after
            own = int(rng.binomial(units[week], share))
            told = round(own * 1.1)
            rest = units[week] - own
            for page in range(PAGES):
                listing = f"{niche}-{page}"
                many = told if page == 0 else rest // (PAGES - 1)
                history.append((listing, days[week], 20, many))
                if week % 4 == 3:
                    held = share if page == 0 else (0.9 - share) / (PAGES - 1)
                    clicks.append((f"term {niche}", days[week], listing, round(held, 4)))
            by_niche = niche == LOSES
            sold.append(
                (
                    niche if by_niche else "",
                    "" if by_niche else f"{niche}-0",
                    days[week],
                    own,
                    own * 20,
                )
            )
    return {
        "markets": table("market_id,name,currency", ("m", "Harrow Quay", "GBP")),
        "niches": table("niche_id,name,market_id", *((one, one.title(), "m") for one in SHARES)),
        "terms": table("term,niche_id", *((f"term {one}", one) for one in SHARES)),
        "term_weeks": table("term,week,searches,clicks", *demand),
        "listings": table(
            "listing_id,title", *((f"{one}-{page}", f"Thing {page} that {one}") for one in SHARES for page in range(PAGES))
        ),
        "listing_weeks": table("listing_id,week,price,units", *history),
        "term_clicks": table("term,week,listing_id,click_share", *clicks),
        "own_sales": table("niche_id,listing_id,week,units,revenue", *sold),
    }  # fmt: skip


def selling_in(folder: Path, weeks: int = WEEKS) -> Path:
    """The tables written into a folder."""
    return write(folder, **selling(weeks))


assert START.weekday() == 0, "weeks are Mondays"
