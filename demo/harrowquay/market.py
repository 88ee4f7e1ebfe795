"""Builds the exchange tables of Harrow Quay; deterministic: one seed a niche, by its name."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from zlib import crc32

import numpy as np
import polars as pl

from .catalogue import Further, Niche, described, read_further, read_niches, seeded, singular, slug
from .curves import FIRST, MONDAYS, WEEKS, price_path, weekly_demand
from .people import (
    OWN_BRAND,
    OWN_SELLER,
    RESELLERS,
    RESOLD,
    SEASONAL,
    brand_names,
    kin_names,
    seller_names,
)  # fmt: skip
from .supply import LAST, LAST_DAY, STREAMED, Supply
from .voices import written


class Tables:
    """Rows of each table, collected niche by niche."""

    def __init__(self) -> None:
        self.rows: dict[str, list[tuple[Any, ...]]] = {}

    def add(self, table: str, *rows: tuple[Any, ...]) -> None:
        self.rows.setdefault(table, []).extend(rows)


def terms_of(niche: Niche, brands: list[str], rng: np.random.Generator) -> list[tuple[str, bool]]:
    """Phrases buyers type for a niche, most searched first, and whether they hold a brand."""
    base = niche.goods.lower().replace(",", "")
    one = singular(niche.goods)
    forms = [base, one, *(described(w, niche) for w in niche.features)]
    forms += [f"{base} for {('beginners', 'small spaces', 'daily use')[int(rng.integers(3))]}"]
    forms += [f"best {base}", f"{one} set", f"replacement {one}"]
    seen = list(dict.fromkeys(forms))
    want = int(rng.integers(8, 12))
    plain = [(t, False) for t in seen[: want - 1]]
    return [*plain, (f"{brands[0].lower()} {one}", True)]


def build() -> dict[str, pl.DataFrame]:
    """Every exchange table of the market but term_weeks' sums, as frames in the tables' layout."""
    tables = Tables()
    brands, sellers = brand_names(), seller_names()
    for i, name in enumerate(brands):
        first = (FIRST + timedelta(days=int(seeded("brand", name).integers(0, 1200)))).isoformat()
        tables.add("brands", (slug(name), name, first, int(i == len(brands) - 1)))
    for i, name in enumerate(sellers):
        first = (FIRST + timedelta(days=int(seeded("seller", name).integers(0, 1500)))).isoformat()
        tables.add("sellers", (f"s{i:03d}", name, first, int(i == len(sellers) - 1)))
    niches = read_niches()
    named = {niche.name: niche for niche in reversed(niches)}
    further = read_further()
    for family in dict.fromkeys(n.options["kin"] for n in niches if "kin" in n.options):
        for name in kin_names(family):
            tables.add("brands", (slug(name), name, FIRST.isoformat(), 0))
    seen_categories: set[str] = set()
    launched: list[tuple[str, tuple[Any, ...]]] = []
    for market in dict.fromkeys(n.market for n in niches):
        tables.add(
            "markets",
            (market.market_id, market.name, market.currency, market.region, market.country),
        )
    for niche in niches:
        root = slug(f"{niche.market.market_id} {niche.root}")
        if root not in seen_categories:
            tables.add("categories", (root, None, niche.root))
        if niche.above_id not in seen_categories:
            tables.add("categories", (niche.above_id, root, niche.category))
        seen_categories |= {root, niche.above_id}
        if niche.category_id not in seen_categories:
            tables.add("categories", (niche.category_id, niche.above_id, niche.branch))
        seen_categories.add(niche.category_id)
        if "loose" not in niche.options:
            tables.add(
                "niches", (niche.niche_id, niche.name, niche.category_id, niche.market.market_id)
            )
        # A further term is of the first niche that is called so.
        own = [
            one
            for one in further
            if one.niches == [niche.name] and not one.loose and niche is named[niche.name]
        ]
        before = len(tables.rows.get("listings", ()))
        launched += _add_niche(tables, niche, brands, len(sellers), own)
        listings = [row[0] for row in tables.rows.get("listings", ())[before:]]
        tables.add("voices", *written(niche, listings))
    for one in further:
        if one.loose:
            _add_between(tables, one, [n for n in niches if n.name in one.niches])
    tables.add("protected_words", *PROTECTED)
    _add_resellers(tables)
    _add_seasonal_sellers(tables)
    _add_own_goods(tables)
    for table, row in launched:
        tables.add(table, row)
    return {name: _frame(name, rows) for name, rows in tables.rows.items()}


# Names one must not sell under, all of them invented.
PROTECTED = [
    ("tarnhook", "exact", "a registered buckle, of Tarn & Hook"),
    ("lodelock", "contains", "a registered brand"),
    ("skepwright", "contains", "a registered brand"),
    ("frostbell", "exact", "a registered shape of bell"),
]


def _add_niche(
    tables: Tables, niche: Niche, brands: list[str], sellers: int, further: list[Further]
) -> list[tuple[str, tuple[Any, ...]]]:
    """All rows of a niche but those of its late launches, which are returned: others choose among the rest."""
    rng = seeded(niche.niche_id)
    demand = weekly_demand(niche, rng)
    own = [brands[i] for i in rng.choice(len(brands) - 1, 9, replace=False)]
    if "kin" in niche.options:
        own[:6] = kin_names(niche.options["kin"])
    terms = terms_of(niche, own, rng)
    share = np.arange(1, len(terms) + 1) ** -1.1 * np.exp(rng.normal(0, 0.2, len(terms)))
    if "brandwords" in niche.options:
        share[-1] = share[:-1].sum() * 1.2
    share /= share.sum()
    gap = range(0)
    if "gap" in niche.options:
        back, width = (int(x) for x in niche.options["gap"].split(":"))
        gap = range(WEEKS - back, WEEKS - back + width)
    rate = float(np.exp(rng.normal(np.log(0.035), 0.3)))
    rate *= {"unmet": 0.25, "bought": 0.25, "willing": 3.0}.get(_first(niche.options), 1.0)
    prices = price_path(niche, seeded(niche.niche_id, "prices"))
    rates = (
        np.minimum(rate * prices**-3.0, 0.3) if "waits" in niche.options else np.full(WEEKS, rate)
    )
    lag = int(niche.options.get("lag", 0))
    bought = np.roll(demand, lag) * rates
    home = None if "loose" in niche.options else niche.niche_id
    for (term, branded), part in zip(terms, share, strict=True):
        tables.add("terms", (term, home, int(branded)))
        expected = np.maximum(demand * part, 0)
        searches = rng.poisson(expected)
        clicks = rng.binomial(searches, 0.72)
        # Who looks buys some weeks later where purchases trail.
        purchases = rng.binomial(
            np.roll(searches, lag), np.minimum(rates * (1.6 if branded else 1), 0.3)
        )
        for i, monday in enumerate(MONDAYS):
            if expected[i] > 0 and i not in gap:
                tables.add(
                    "term_weeks",
                    (term, monday.isoformat(), int(searches[i]), int(clicks[i]), int(purchases[i])),
                )
    for one in further:
        tables.add("terms", (one.term, niche.niche_id, 0))
        _add_weeks(tables, one.term, demand * one.part, rate)
    if "misspelt" in niche.options:
        _add_misspelt(tables, niche, terms[1][0], demand * share[1] * 0.06)
    if "interest" in niche.options:
        _add_interest(tables, niche, [term for term, _ in terms[:2]], demand)
    supply = Supply(niche, own, brands[-1], sellers, bought, demand, prices)
    # Each term is clicked by itself, so that further ones change nothing of the others.
    clicked = [*terms, *((one.term, False) for one in further)]
    for row in supply.rows(clicked, rng):
        tables.add(*row)
    return list(supply.launched(clicked))


def _add_weeks(tables: Tables, term: str, expected: np.ndarray, rate: float) -> None:
    """Weeks of a term by itself, with a stream of its own."""
    rng = seeded("further", term)
    for monday, mean in zip(MONDAYS, expected.tolist(), strict=True):
        looked = int(rng.poisson(max(mean, 0)))
        clicks, bought = int(rng.binomial(looked, 0.72)), int(rng.binomial(looked, min(rate, 0.3)))
        tables.add("term_weeks", (term, monday.isoformat(), looked, clicks, bought))


def _add_between(tables: Tables, one: Further, niches: list[Niche]) -> None:
    """A term of no niche: its buyers click what those of several niches click."""
    demand = weekly_demand(niches[0], seeded(niches[0].niche_id))
    tables.add("terms", (one.term, None, 0))
    _add_weeks(tables, one.term, demand * one.part, 0.03)
    like = {niche.name.lower() for niche in niches}
    rows = [row for row in tables.rows["term_clicks"] if row[0] in like]
    tables.add(
        "term_clicks", *((one.term, *row[1:3], round(row[3] / len(niches), 4)) for row in rows)
    )


def _add_misspelt(tables: Tables, niche: Niche, term: str, expected: np.ndarray) -> None:
    """The same term with two letters swapped, typed now and then; it hardly converts."""
    rng = seeded(niche.niche_id, "misspelt")
    word = max(term.split(), key=len)
    wrong = term.replace(word, word[:3] + word[4] + word[3] + word[5:])
    tables.add("terms", (wrong, niche.niche_id, 0))
    searches = rng.poisson(np.maximum(expected, 0))
    for monday, looked in zip(MONDAYS, searches.tolist(), strict=True):
        clicks, bought = int(rng.binomial(looked, 0.4)), int(rng.binomial(looked, 0.005))
        tables.add("term_weeks", (wrong, monday.isoformat(), looked, clicks, bought))


def _add_interest(tables: Tables, niche: Niche, terms: list[str], demand: np.ndarray) -> None:
    """How much is asked for elsewhere, as a relative curve: the same calendar, and noise of its own."""
    rng = seeded(niche.niche_id, "interest")
    for term in terms:
        drawn = demand * np.exp(rng.normal(0, 0.08, WEEKS))
        index = np.round(100 * drawn / drawn.max()).astype(int)
        for monday, value in zip(MONDAYS, index.tolist(), strict=True):
            tables.add("interest", (term, monday.isoformat(), value))


def _add_resellers(tables: Tables) -> None:
    """Sellers who carry much the same of one brand, and gave the same two of its listings up last autumn."""
    home = f"{tables.rows['markets'][0][0]}-"
    listings = [row for row in tables.rows["listings"] if row[4].startswith(home)]
    theirs = [row for row in listings if row[2] == slug(RESOLD)]
    dropped, kept = theirs[:2], theirs[2:]
    # Of two of them nobody counted what they sold; their ranks are known all the same.
    uncounted = {row[0] for row in kept[-2:]}
    tables.rows["listing_weeks"] = [
        (*row[:3], None, *row[4:]) if row[0] in uncounted else row
        for row in tables.rows["listing_weeks"]
    ]
    given_up = MONDAYS[LAST - 30].isoformat()
    for seller, name in RESELLERS.items():
        rng = seeded("reseller", seller)
        tables.add("sellers", (seller, name, FIRST.isoformat(), 0))
        some = [row for row in kept if rng.random() < 0.8]
        rest = [listings[int(i)] for i in rng.choice(len(listings), 20, replace=False)]
        for row in dropped + some + rest:
            launched = date.fromisoformat(row[8])
            since = launched + timedelta(days=int(rng.integers(0, 60)))
            if since < LAST_DAY - timedelta(days=450):
                end = given_up if row in dropped else None
                tables.add("offers", (seller, row[0], since.isoformat(), end))


# Roots of categories whose goods are stocked for a season, with its first and last month.
STOCKED = {
    "preserving": (7, 11),
    "brewing": (8, 11),
    "bees": (3, 7),
    "water": (4, 8),
    "growing": (2, 6),
}


QUIET = "bean row netting"  # Goods of a niche in which some are dearer now.


def _add_seasonal_sellers(tables: Tables) -> None:
    """Sellers who stock goods for their season and clear them after it, over five years; much the same ones."""
    home = f"{tables.rows['markets'][0][0]}-"
    first_year = LAST_DAY.year - 5
    old = date(first_year, 1, 31).isoformat()
    known = [row for row in tables.rows["listings"] if row[4].startswith(home) and row[8] < old]
    shared = [known[int(i)] for i in seeded("stocked").choice(len(known), 40, replace=False)]
    for at, (seller, name) in enumerate(SEASONAL.items()):
        rng = seeded("seasonal", seller)
        tables.add("sellers", (seller, name, date(first_year, 2, 1).isoformat(), 0))
        # The first one had what is quiet now, and dearer.
        quiet = [row for row in tables.rows["listings"] if QUIET in row[1]][:5]
        for row in shared if at else [*shared, *quiet]:
            root = row[4].removeprefix(home).split("-")[0]
            if root not in STOCKED or (row in shared and rng.random() > 0.75):
                continue
            begin, end = STOCKED[root]
            launched = date.fromisoformat(row[8]).year
            for year in range(max(first_year, launched + 1), LAST_DAY.year + (row in shared)):
                since = date(year, begin, 1) + timedelta(days=int(rng.integers(0, 25)))
                until = date(year, end, 1) + timedelta(days=int(rng.integers(0, 25)))
                # Now and then one is left out for a year.
                if since <= LAST_DAY and rng.random() < 0.9:
                    last = until.isoformat() if until <= LAST_DAY else None
                    tables.add("offers", (seller, row[0], since.isoformat(), last))


SOLD_ABOVE = 1.4  # Times what goods of the same rank are counted to sell.
COUNTED_ABOVE = 1.08  # Times what one sold that is counted of one's listings among others.


def _add_own_goods(tables: Tables) -> None:
    """Goods that the first of the seasonal sellers alone makes and sells, and what it sold of them.

    Nobody else counted those of one niche; by their ranks one would take them to sell less than they do. In two
    more niches a listing of its own stands among others.
    """
    seller, rng = OWN_SELLER, seeded("own goods")
    listings, months = tables.rows["listings"], tables.rows["listing_weeks"]
    home = next(row[4] for row in listings if row[2] == slug(RESOLD))
    names = {row[0]: row[1] for row in tables.rows["brands"]}
    weeks: dict[str, list[tuple[Any, ...]]] = {}
    for row in months:
        weeks.setdefault(row[0], []).append(row)
    weeks = {listing: rows[-STREAMED:] for listing, rows in weeks.items()}
    whole = [
        row
        for row in listings
        if row[4] == home and row[2] != slug(RESOLD) and len(weeks[row[0]]) == STREAMED
        and all(None not in one[2:5] and one[3] for one in weeks[row[0]])
    ]  # fmt: skip
    tables.add("brands", (slug(OWN_BRAND), OWN_BRAND, FIRST.isoformat(), 0))
    theirs = {row[0] for row in listings if row[2] == slug(OWN_BRAND)}
    for listing in sorted(theirs):
        drawn = seeded("own part", listing)
        for _, month, price, units, *_ in weeks[listing]:
            sold = int(drawn.poisson(units / COUNTED_ABOVE))
            tables.add("own_sales", (listing, month, sold, round(sold * price, 2)))
    for at, row in enumerate(whole[:7]):
        listing = f"hq-lantern-{at + 1}"
        title = row[1].replace(names[row[2]], OWN_BRAND)
        tables.add("listings", (listing, title, slug(OWN_BRAND), seller, *row[4:]))
        tables.add("offers", (seller, listing, row[8], None))
        for _, month, price, units, rank, reviews, _, stock, _ in weeks[row[0]]:
            sold = int(units * SOLD_ABOVE * float(np.exp(rng.normal(0, 0.15))))
            tables.add("own_sales", (listing, month, sold, round(sold * price, 2)))
            tables.add(
                "listing_weeks", (listing, month, price, None, rank, reviews, 1, stock, seller)
            )


def _first(options: dict[str, str]) -> str:
    return next((o for o in ("unmet", "bought", "willing") if o in options), "")


COLUMNS = {
    "markets": "market_id name currency region country",
    "categories": "category_id parent_id name",
    "niches": "niche_id name category_id market_id",
    "terms": "term niche_id branded",
    "term_weeks": "term week searches clicks purchases",
    "term_clicks": "term week listing_id click_share",
    "listings": "listing_id title brand seller_id category_id price rating reviews launched_on "
    "weight_g length_mm width_mm height_mm quality sponsored return_rate attr_colour attr_material attr_size "
    "attr_build",
    "listing_weeks": "listing_id week price units sales_rank reviews offers in_stock lead_seller_id",
    "sellers": "id name first_seen own_retail",
    "brands": "id name first_seen own_retail",
    "offers": "seller_id listing_id first_seen last_seen",
    "feedback": "listing_id kind theme tone mentions week",
    "interest": "term week index",
    "protected_words": "word match note",
    "own_sales": "listing_id week units revenue",
    "voices": "voice_id kind text rating day listing_id language",
}


def _frame(name: str, rows: list[tuple[Any, ...]]) -> pl.DataFrame:
    columns = COLUMNS[name].split()
    frame = pl.DataFrame(rows, schema=columns, orient="row", infer_schema_length=None)
    if name == "term_weeks":
        # So many listings are shown after each search; by the term, so that nothing else changes.
        shown = {term: 9 + crc32(term.encode()) % 14 for term in frame["term"].unique()}
        factor = pl.col("term").replace_strict(shown, return_dtype=pl.Int64)
        frame = frame.with_columns((pl.col("searches") * factor).alias("impressions"))
    if name == "term_clicks":
        # Shares of a term and week are brought to at most the part that is accounted for.
        total = pl.col("click_share").sum().over("term", "week")
        frame = frame.with_columns(
            (pl.col("click_share") / total * pl.min_horizontal(total, 0.94)).round(3)
        ).filter(pl.col("click_share") > 0)
    if name == "offers":
        # By the seller and the goods, so that it is the same in every build.
        sent = [
            "marketplace" if crc32(f"{seller} {listing}".encode()) % 3 else "seller"
            for seller, listing in zip(frame["seller_id"], frame["listing_id"], strict=True)
        ]
        frame = frame.with_columns(pl.Series("fulfilment", sent)).unique(
            ["seller_id", "listing_id", "first_seen"], maintain_order=True
        )
    return frame
