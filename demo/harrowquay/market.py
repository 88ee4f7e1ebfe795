"""Builds the exchange tables of Harrow Quay; deterministic: one seed a niche, by its name."""

from __future__ import annotations

import zlib
from datetime import date, timedelta
from typing import Any

import numpy as np
import polars as pl

from .catalogue import Niche, read_niches, slug
from .curves import FIRST, MONDAYS, WEEKS, weekly_demand
from .people import brand_names, seller_names

SNAPSHOTS = (0, 13, 26, 39, 52, 104)  # weeks back at which clicks were observed
LAST = WEEKS - 2  # last complete week
THEMES = {
    "complaint": ["arrived bent", "smaller than shown", "rusts in a season", "thin metal", "no instructions",
                  "lid does not fit", "seam splits", "smell of varnish"],
    "praise": ["lasts for years", "easy to clean", "good weight", "well packed", "does what it says",
               "handsome finish"],
}  # fmt: skip
COLOURS = ["green", "black", "natural", "grey", "terracotta", "blue"]
MATERIALS = ["steel", "copper", "ash wood", "stoneware", "cotton", "recycled plastic"]


def _rng(*words: object) -> np.random.Generator:
    return np.random.default_rng(zlib.crc32("|".join(map(str, words)).encode()))


class Tables:
    """Rows of each table, collected niche by niche."""

    def __init__(self) -> None:
        self.rows: dict[str, list[tuple[Any, ...]]] = {}

    def add(self, table: str, *rows: tuple[Any, ...]) -> None:
        self.rows.setdefault(table, []).extend(rows)


def _singular(name: str) -> str:
    first = name.lower().split(",")[0]
    return first[:-1] if first.endswith("s") and not first.endswith(("ss", "us")) else first


def terms_of(niche: Niche, brands: list[str], rng: np.random.Generator) -> list[tuple[str, bool]]:
    """Phrases buyers type for a niche, most searched first, and whether they hold a brand."""
    base = niche.name.lower().replace(",", "")
    one = _singular(niche.name)
    forms = [base, one, *(f"{w} {one}" for w in niche.features)]
    forms += [f"{base} for {('beginners', 'small spaces', 'daily use')[int(rng.integers(3))]}"]
    forms += [f"best {base}", f"{one} set", f"replacement {one}"]
    seen = list(dict.fromkeys(forms))
    want = int(rng.integers(8, 12))
    plain = [(t, False) for t in seen[: want - 1]]
    return [*plain, (f"{brands[0].lower()} {one}", True)]


def _listing_count(niche: Niche, rng: np.random.Generator) -> int:
    if "nolist" in niche.options:
        return 0
    return int(rng.integers(8, 20))


def _shares(n: int, niche: Niche, rng: np.random.Generator) -> np.ndarray:
    """Click shares of a niche's listings; a few per cent go to pages nobody recorded."""
    steepness = rng.uniform(0.35, 1.5)
    weights = np.arange(1, n + 1) ** -steepness * np.exp(rng.normal(0, 0.2, n))
    return np.asarray(weights / weights.sum() * rng.uniform(0.88, 0.98))


def build() -> dict[str, pl.DataFrame]:
    """Every exchange table of the market but term_weeks' sums, as frames in the tables' layout."""
    tables = Tables()
    brands, sellers = brand_names(), seller_names()
    for i, name in enumerate(brands):
        first = (FIRST + timedelta(days=int(_rng("brand", name).integers(0, 1200)))).isoformat()
        tables.add("brands", (slug(name), name, first, int(i == len(brands) - 1)))
    for i, name in enumerate(sellers):
        first = (FIRST + timedelta(days=int(_rng("seller", name).integers(0, 1500)))).isoformat()
        tables.add("sellers", (f"s{i:03d}", name, first, int(i == len(sellers) - 1)))
    niches = read_niches()
    seen_categories: set[str] = set()
    for market in dict.fromkeys(n.market for n in niches):
        tables.add("markets", (market.market_id, market.name, market.currency, market.region))
    for niche in niches:
        root = slug(f"{niche.market.market_id} {niche.root}")
        if root not in seen_categories:
            tables.add("categories", (root, None, niche.root))
        if niche.category_id not in seen_categories:
            tables.add("categories", (niche.category_id, root, niche.category))
        seen_categories |= {root, niche.category_id}
        tables.add(
            "niches", (niche.niche_id, niche.name, niche.category_id, niche.market.market_id)
        )
        _add_niche(tables, niche, brands, len(sellers))
    return {name: _frame(name, rows) for name, rows in tables.rows.items()}


def _add_niche(tables: Tables, niche: Niche, brands: list[str], sellers: int) -> None:
    rng = _rng(niche.niche_id)
    demand = weekly_demand(niche, rng)
    own = [brands[i] for i in rng.choice(len(brands) - 1, 5, replace=False)]
    terms = terms_of(niche, own, rng)
    share = np.arange(1, len(terms) + 1) ** -1.1 * np.exp(rng.normal(0, 0.2, len(terms)))
    share /= share.sum()
    gap = range(0)
    if "gap" in niche.options:
        back, width = (int(x) for x in niche.options["gap"].split(":"))
        gap = range(WEEKS - back, WEEKS - back + width)
    rate = float(np.exp(rng.normal(np.log(0.035), 0.4)))
    for (term, branded), part in zip(terms, share, strict=True):
        tables.add("terms", (term, niche.niche_id, int(branded)))
        expected = np.maximum(demand * part, 0)
        searches = rng.poisson(expected)
        clicks = rng.binomial(searches, 0.72)
        purchases = rng.binomial(searches, min(rate * (1.6 if branded else 1), 0.3))
        for i, monday in enumerate(MONDAYS):
            if expected[i] > 0 and i not in gap:
                tables.add(
                    "term_weeks",
                    (term, monday.isoformat(), int(searches[i]), int(clicks[i]), int(purchases[i])),
                )
    _add_listings(tables, niche, terms, demand * rate, own, sellers, rng)


def _add_listings(
    tables: Tables,
    niche: Niche,
    terms: list[tuple[str, bool]],
    units: np.ndarray,
    own: list[str],
    sellers: int,
    rng: np.random.Generator,
) -> None:
    n = _listing_count(niche, rng)
    if not n:
        return
    share = _shares(n, niche, rng)
    brand = [own[int(rng.choice(5, p=[0.3, 0.25, 0.2, 0.15, 0.1]))] for _ in range(n)]
    if "brand" in niche.options:
        held = int(niche.options["brand"]) / 100 * share.sum()
        first = np.arange(n) < max(3, n // 3)
        share = np.where(
            first,
            share / share[first].sum() * held,
            share / share[~first].sum() * (share.sum() - held),
        )
        brand = [own[0] if f else b for f, b in zip(first, brand, strict=True)]
        brand = [own[1] if not f and b == own[0] else b for f, b in zip(first, brand, strict=True)]
    base_price = float(np.exp(rng.normal(np.log(19), 0.55)))
    age = np.sort(rng.integers(20, 1700, n))[::-1] + rng.integers(0, 200, n)
    failed = int(niche.options.get("failed", 0))
    if failed:
        # Launches of the last half year that nobody clicks.
        age[-failed:] = rng.integers(30, 180, failed)
        share[-failed:] = 0.001
    for i in range(n):
        _add_listing(
            tables,
            niche,
            i,
            terms,
            units,
            share[i],
            brand[i],
            base_price,
            int(age[i]),
            sellers,
            rng,
        )
    if "dead" in niche.options:
        # Strong last season, gone since the winter.
        _add_listing(
            tables, niche, n, terms, units, 0.45, own[2], base_price, 900, sellers, rng, dead=True
        )


def _add_listing(
    tables: Tables, niche: Niche, number: int, terms: list[tuple[str, bool]], units: np.ndarray,
    share: float, brand: str, base_price: float, age: int, sellers: int, rng: np.random.Generator,
    *, dead: bool = False,
) -> None:  # fmt: skip
    listing = f"hq-{zlib.crc32(f'{niche.niche_id}|{number}'.encode()):08x}"
    last_day = MONDAYS[LAST] + timedelta(days=6)
    launched = last_day - timedelta(days=age)
    feature = niche.features[number % len(niche.features)]
    colour = COLOURS[int(rng.integers(len(COLOURS)))]
    title = f"{brand} {feature} {_singular(niche.name)}, {colour}"
    price = round(base_price * float(np.exp(rng.normal(0, 0.25))), 2)
    seller = int(rng.integers(0, sellers - 1)) if rng.random() > 0.06 else sellers - 1
    war = "pricewar" in niche.options
    begin = max(0, (launched - FIRST).days // 7)
    sold = np.maximum(units * share * (0.0 if dead else 1.0), 0)
    if dead:
        sold[: LAST - 22] = (units * 0.5)[: LAST - 22]
    reviews = 3.0
    months: dict[date, list[float]] = {}
    for i in range(begin, LAST + 1):
        months.setdefault(MONDAYS[i].replace(day=1), []).append(float(sold[i]))
    whole = [m for m in months if m >= launched.replace(day=1)][-25:-1]
    rank_base = 400_000.0
    for place, month in enumerate(months):
        amount = int(rng.poisson(sum(months[month])))
        reviews += amount * 0.04
        if month not in whole:
            continue
        back = len(months) - place
        slump = 1.0 if not war else 1 - 0.045 * max(0, 9 - back)
        offers = 1 + int(rng.poisson(1.2)) + (max(0, 9 - back) * 2 if war else 0)
        gone = dead and amount == 0
        tables.add(
            "listing_weeks",
            (listing, month.isoformat(), round(price * slump * float(np.exp(rng.normal(0, 0.015))), 2),
             amount, int(rank_base / (amount + 1)), int(reviews), 0 if gone else offers,
             0.0 if gone else round(float(rng.beta(18, 1)), 2), f"s{(seller + (place if war else 0)) % sellers:03d}"),
        )  # fmt: skip
    now_price = round(price * (0.62 if war else 1), 2)
    weight = int(np.exp(rng.normal(np.log(500), 0.8)))
    side = float(np.exp(rng.normal(np.log(220), 0.4)))
    tables.add(
        "listings",
        (listing, title, slug(brand), f"s{seller:03d}", niche.category_id, now_price,
         round(float(np.clip(rng.normal(4.3, 0.3), 2.5, 5)), 1), int(reviews), launched.isoformat(), weight,
         int(side * 1.4), int(side), int(side * 0.5), int(np.clip(rng.normal(62, 16), 8, 99)),
         int(rng.random() < 0.18), round(float(rng.beta(2, 40)), 3), colour,
         MATERIALS[int(rng.integers(len(MATERIALS)))]),
    )  # fmt: skip
    for extra in range(int(rng.integers(1, 4)) + (5 if war else 0)):
        start = (
            launched if extra == 0 else launched + timedelta(days=int(rng.integers(1, max(age, 2))))
        )
        if extra and war:
            start = max(launched, last_day - timedelta(days=int(rng.integers(20, 240))))
        end = MONDAYS[LAST - 22].isoformat() if dead else None
        who = f"s{(seller + 7 * extra) % sellers:03d}"
        tables.add("offers", (who, listing, start.isoformat(), end))
    if share > 0.03:
        for kind, tone in (("review", "praise"), ("review", "complaint"), ("return", "complaint")):
            themes = THEMES[tone]
            for theme in rng.choice(len(themes), 2, replace=False):
                mentions = int(rng.poisson(2 + reviews * (0.05 if tone == "praise" else 0.02)))
                if mentions:
                    tables.add("feedback", (listing, kind, themes[int(theme)], tone, mentions))
    for back in SNAPSHOTS:
        at = LAST - back
        if MONDAYS[at] < launched or share < 1e-4:
            continue
        held = share if not dead else (0.0 if back < 23 else 0.45)
        for place, (term, _) in enumerate(terms):
            tilt = held * (0.9 if dead or place % 3 != number % 3 else 1.0)
            if tilt > 0.002 and units[at] > 0:
                tables.add("term_clicks", (term, MONDAYS[at].isoformat(), listing, round(tilt, 3)))


COLUMNS = {
    "markets": "market_id name currency region",
    "categories": "category_id parent_id name",
    "niches": "niche_id name category_id market_id",
    "terms": "term niche_id branded",
    "term_weeks": "term week searches clicks purchases",
    "term_clicks": "term week listing_id click_share",
    "listings": "listing_id title brand seller_id category_id price rating reviews launched_on "
    "weight_g length_mm width_mm height_mm quality sponsored return_rate attr_colour attr_material",
    "listing_weeks": "listing_id week price units sales_rank reviews offers in_stock lead_seller_id",
    "sellers": "id name first_seen own_retail",
    "brands": "id name first_seen own_retail",
    "offers": "seller_id listing_id first_seen last_seen",
    "feedback": "listing_id kind theme tone mentions",
}


def _frame(name: str, rows: list[tuple[Any, ...]]) -> pl.DataFrame:
    columns = COLUMNS[name].split()
    frame = pl.DataFrame(rows, schema=columns, orient="row", infer_schema_length=None)
    if name == "term_clicks":
        # Shares of a term and week are brought to at most the part that is accounted for.
        total = pl.col("click_share").sum().over("term", "week")
        frame = frame.with_columns(
            (pl.col("click_share") / total * pl.min_horizontal(total, 0.94)).round(3)
        ).filter(pl.col("click_share") > 0)
    if name == "offers":
        frame = frame.unique(["seller_id", "listing_id", "first_seen"], maintain_order=True)
    return frame
