"""A small market with listings that sleep, each for its reason."""

from datetime import date, timedelta

import numpy as np

from driftfield.core.curves.tests.synthetic import LENGTH, TIMELINE, hump

from .packages import table, weekly

BEGIN = TIMELINE.first
MONTHS = [date(2024 + (4 + m) // 12, (4 + m) % 12 + 1, 1) for m in range(24)]


def season(week: float) -> np.ndarray:
    shape = 0.03 + hump(week, 5.0)
    return np.asarray(shape / shape.mean())


def by_month(weekly_shape: np.ndarray, level: float, seed: int) -> list[int]:
    """Units of each of the 24 months up to April 2026."""
    days = [BEGIN + timedelta(weeks=i) for i in range(LENGTH)]
    rng = np.random.default_rng(seed)
    out = []
    for month in MONTHS:
        inside = [
            i for i, day in enumerate(days) if (day.year, day.month) == (month.year, month.month)
        ]
        out.append(int(rng.poisson(level * weekly_shape[inside].sum())))
    return out


def sleepy_market() -> dict[str, str]:
    """Strainers that are wanted in July, lures that are wanted now; listings that sleep, each for its reason."""
    july, may = season(29), season(18)
    rng = np.random.default_rng(4)
    rows = []
    units = {
        "l1": by_month(july, 30, 1), "l2": by_month(july, 20, 2), "l3": by_month(may, 25, 3),
        "l4": by_month(may, 25, 4), "l5": by_month(np.ones(LENGTH), 9, 5), "l6": by_month(july, 12, 6),
    }  # fmt: skip
    for key, sold in units.items():
        for at, (month, many) in enumerate(zip(MONTHS, sold, strict=True)):
            late = at >= 21
            empty = key == "l4" and late
            price = 12.0 if key == "l2" and late else 8.0
            rows.append(
                (
                    key,
                    month.isoformat(),
                    price,
                    0 if empty else many,
                    900,
                    40 + at,
                    2,
                    0.02 if empty else 0.97,
                    ("s1" if at < 15 else "s2") if key == "l3" else "",
                )
            )
    days = [(BEGIN + timedelta(weeks=i)).isoformat() for i in range(LENGTH - 60, LENGTH)]
    clicked = [
        ("honey strainer", "l1"),
        ("honey strainer", "l2"),
        ("swarm lure", "l3"),
        ("swarm lure", "l4"),
    ]
    return {
        "markets": table("market_id,name,currency", ("north", "Harrow Quay North", "GBP")),
        "categories": table("category_id,parent_id,name", ("bees", "", "Bees"), ("honey", "bees", "Honey")),
        "niches": table(
            "niche_id,name,category_id", ("hs", "Honey strainers", "honey"), ("sl", "Swarm lures", "bees")
        ),
        "terms": table("term,niche_id", ("honey strainer", "hs"), ("swarm lure", "sl")),
        "term_weeks": table(
            "term,week,searches",
            *weekly("honey strainer", rng.poisson(800 * july).tolist(), BEGIN),
            *weekly("swarm lure", rng.poisson(900 * may).tolist(), BEGIN),
        ),
        "listings": table(
            "listing_id,title,brand,seller_id,category_id,price,reviews,attr_colour,attr_Made_of",
            ("l1", "Steel honey strainer", "skep", "s1", "honey", 8, 63, "red", "steel"),
            ("l2", "Double honey strainer", "withy", "s1", "honey", 12, 63, "Red", ""),
            ("l3", "Swarm lure vial", "skep", "s2", "bees", 8, 63, "", ""), ("l4", "Swarm lure gel", "skep", "s2", "bees", 8, 63, "blue", ""),
            ("l5", "Hive strap", "lode", "s2", "bees", 8, 63, "blue", "cotton"), ("l6", "Comb cutter", "", "", "honey", 8, 63, "", ""),
        ),
        "listing_weeks": table(
            "listing_id,week,price,units,sales_rank,reviews,offers,in_stock,lead_seller_id", *rows
        ),
        "term_clicks": table(
            "term,week,listing_id,click_share",
            *((term, day, key, 0.4) for term, key in clicked for day in days),
        ),
    }  # fmt: skip


def peopled_market() -> dict[str, str]:
    """The same market with those who sell in it: four sellers and what each of them has, or had.

    Wick and Comb held the lead offer of the strainers in the last July, by turns; Wick and Loft gave up what
    they had for that season. Nobody is known for l5 and l6 but whom these name.
    """
    made = sleepy_market()
    lines = made["listing_weeks"].splitlines()
    told = [lines[0]]
    for line in lines[1:]:
        key, month, *rest = line.split(",")
        if key in ("l1", "l2"):
            rest[-1] = "wick" if (key == "l1") == (month < "2025-08") else "comb"
        told.append(",".join([key, month, *rest]))
    return made | {
        "listing_weeks": "\n".join(told) + "\n",
        "sellers": table(
            "id,name,first_seen,own_retail",
            ("wick", "Wick & Daughter", "2022-03-01", 0), ("comb", "Comb Lane", "2024-01-05", 0),
            ("loft", "Loft End", "2025-11-20", 0), ("s2", "Harrow Quay", "2016-01-01", 1),
            ("s1", "Skep Yard", "", ""),
        ),
        "brands": table(
            "id,name,first_seen,own_retail", ("skep", "Skep", "2019-05-01", 0), ("withy", "Withy", "", ""),
            ("lode", "Lode", "", ""),
        ),
        "offers": table(
            "seller_id,listing_id,first_seen,last_seen,fulfilment",
            ("wick", "l1", "2023-01-10", "", "marketplace"), ("wick", "l2", "2024-05-01", "2025-09-10", ""),
            ("wick", "l3", "2025-10-01", "", ""), ("comb", "l1", "2024-02-01", "", "seller"),
            ("comb", "l2", "2024-02-01", "", "seller"), ("comb", "l3", "2024-02-01", "", ""),
            ("loft", "l2", "2025-05-01", "2025-09-30", "marketplace"), ("loft", "l1", "2025-12-01", "", ""),
        ),
    }  # fmt: skip
