"""The listings of a niche: who offers what, since when, at what price, and what came of it."""

from __future__ import annotations

import zlib
from collections.abc import Iterator
from datetime import date, timedelta
from typing import Any

import numpy as np

from .catalogue import Niche, described, seeded, slug
from .curves import FIRST, MONDAYS, WEEKS
from .launches import Launch, drawn_by, launches_of
from .people import OWN_BRAND, OWN_SELLER

OURS = 1  # Place of the listing that is one's own in a niche that has one.
SNAPSHOTS = (0, 13, 26, 39, 52, 104)  # weeks back at which clicks were observed
EARLIER = tuple(back for back in range(65, 209, 13) if back != 104)  # the same, of some terms alone
EARLIER_TERMS = 3
LAST = WEEKS - 2  # last complete week
LAST_DAY = MONDAYS[LAST] + timedelta(days=6)
GONE = 22  # weeks ago at which a dead listing ended
QUIET = 4  # months at the end in which some listings are quiet, the running one among them
THEMES = {
    "complaint": ["arrived bent", "smaller than shown", "rusts in a season", "thin metal", "no instructions",
                  "lid does not fit", "seam splits", "smell of varnish"],
    "praise": ["lasts for years", "easy to clean", "good weight", "well packed", "does what it says",
               "handsome finish"],
}  # fmt: skip
RUSTS = THEMES["complaint"][2]
QUARTERS = 6
RANKED = 4  # units a month from which a launch has a rank
MONTHS = 48  # whole months of a listing's record
STREAMED = 24  # the last of them, which have the niche's stream of numbers
COLOURS = ["green", "black", "natural", "grey", "terracotta", "blue"]
SIZES = ["small", "medium", "large"]
BUILDS = ["cedar", "poly", "galvanised", "beech"]
# By category or, where that has none, by what is above it.
RETURNED = {
    "Hive ware": "does not fit a national hive", "Bees": "sticky on arrival", "Water": "lets water in",
    "Sky": "arrived misaligned", "Brewing": "seal leaks", "Hills": "heavier than stated",
    "Preserving": "will not close", "Growing": "blew over in wind", "Blades": "would not take an edge",
}  # fmt: skip
MATERIALS = ["steel", "copper", "ash wood", "stoneware", "cotton", "recycled plastic"]
Row = tuple[str, tuple[Any, ...]]


class Supply:
    """The supply side of one niche.

    bought: (WEEKS,) expected units. demand: (WEEKS,) expected searches, 0 where the niche is not searched yet.
    prices: (WEEKS,) price over list price.
    """

    def __init__(
        self, niche: Niche, brands: list[str], house_brand: str, sellers: int, bought: np.ndarray,
        demand: np.ndarray, prices: np.ndarray,
    ) -> None:  # fmt: skip
        self.niche, self.brands, self.house_brand = niche, brands, house_brand
        self.sellers, self.bought, self.prices = sellers, bought, prices
        self.lived = demand > 0
        self.searches = float(np.nanmean(demand[self.lived]))
        self.launches: list[Launch] = []
        rng = seeded(niche.niche_id, "supply")
        self.rng = rng
        self.has = niche.options.__contains__
        self.count = (
            0 if self.has("nolist") else 40 if self.has("wide") else int(rng.integers(8, 20))
        )
        self.price = float(np.exp(rng.normal(np.log(19), 0.55)))
        self.reviews = 35.0 if self.has("fresh") else float(np.exp(rng.normal(np.log(380), 0.55)))
        self.quality = 30.0 if self.has("weak") else float(rng.normal(64, 6))

    def shares(self) -> tuple[np.ndarray, np.ndarray]:
        """How strongly each listing draws clicks, now and a year ago."""
        n, rng = self.count, self.rng
        noise = np.exp(rng.normal(0, 0.2, n))
        steep = rng.uniform(0.35, 1.4)

        def spread(steepness: float) -> np.ndarray:
            weights = np.arange(1, n + 1) ** -steepness * noise
            return np.asarray(weights / weights.sum())

        now = then = spread(0.05 if self.has("wide") else steep)
        if self.has("opening"):
            now, then = spread(0.15), spread(1.6)
        if self.has("closing"):
            now, then = spread(1.7), spread(0.3)
        if self.has("bought"):
            then = np.where(np.arange(n) < 5, now * 0.3, now)
        if self.has("brand"):
            held = int(self.niche.options["brand"]) / 100 * now.sum()
            first = np.arange(n) < max(3, n // 3)
            now = then = np.where(
                first, now / now[first].sum() * held,
                now / now[~first].sum() * (now.sum() - held),
            )  # fmt: skip
        if self.has("ours"):
            then, now = (self._with_ours(now, place) for place in (0, 1))
        return now, then

    def _with_ours(self, drawn: np.ndarray, place: int) -> np.ndarray:
        """Shares in which the listing of one's own has what the option says: a year ago, or now."""
        part = int(self.niche.options["ours"].split(":")[place]) / 100
        rest = np.where(np.arange(self.count) == OURS, 0, drawn)
        return np.where(np.arange(self.count) == OURS, part, rest / rest.sum() * (1 - part))

    def owners(self) -> list[str]:
        """The brand of each listing."""
        rng, n = self.rng, self.count
        chance = np.array([0.2, 0.16, 0.13, 0.12, 0.1, 0.09, 0.08, 0.07, 0.05])
        brand = [self.brands[int(i)] for i in rng.choice(9, n, p=chance)]
        if self.has("brand"):
            first = np.arange(n) < max(3, n // 3)
            rest = [b if b != self.brands[0] else self.brands[1] for b in brand]
            brand = [self.brands[0] if f else b for f, b in zip(first, rest, strict=True)]
        if self.has("house"):
            brand[0] = brand[1] = self.house_brand
        if self.has("ours"):
            brand[OURS] = OWN_BRAND
        return brand

    def ages(self) -> np.ndarray:
        """Days since each listing began: the most clicked tend to be the oldest."""
        rng, n = self.rng, self.count
        age = np.sort(rng.integers(20, 3600, n))[::-1] + rng.integers(-400, 400, n)
        if self.has("newcomers"):
            # Nobody has been there for long, and the best sold are among the youngest.
            age = seeded(self.niche.niche_id, "newcomers").integers(45, 620, n)
        if self.has("entrenched"):
            age = seeded(self.niche.niche_id, "entrenched").integers(1900, 3600, n)
        if self.has("ours"):
            age[OURS] = 1700
        return np.asarray(np.clip(age, 25, 3600))

    def rows(self, terms: list[tuple[str, bool]], rng: np.random.Generator) -> Iterator[Row]:
        """Rows of every table that speaks of listings."""
        if not self.count:
            return
        now, then = self.shares()
        brand, age = self.owners(), self.ages()
        failed = int(self.niche.options.get("failed", 0))
        if failed:
            # Launches of the last months that hardly anybody clicks.
            age[-failed:] = rng.integers(60, 180, failed)
            now[-failed:] = then[-failed:] = 0.004
        winners = int(self.niche.options.get("winners", 0))
        if winners:
            age[1 : 1 + winners] = rng.integers(90, 340, winners)
        if self.has("dead"):
            now, then = np.append(now, 0.8), np.append(then, 0.8)
            brand, age = [*brand, self.brands[2]], np.append(age, 900)
        drawn, level = self._drawn(now, then, age)
        self.launches = launches_of(self.niche, self.searches, self.reviews, LAST)
        fresh = drawn_by(self.launches, drawn, LAST)
        alone = drawn / np.maximum(drawn.sum(axis=0), 1e-9) * level
        everyone = np.concatenate((drawn, fresh))
        held = everyone / np.maximum(everyone.sum(axis=0), 1e-9) * level
        self.fresh = held[len(drawn) :]
        for i in range(len(now)):
            dead = self.has("dead") and i == self.count
            mark = "copper" if 1 <= i <= winners else None
            yield from self._listing(
                i, terms, held[i], brand[i], int(age[i]), rng, dead, mark, before=alone[i]
            )

    def launched(self, terms: list[tuple[str, bool]]) -> Iterator[Row]:
        """Rows of launches of the last years, once those of the listings that were there before are made."""
        for place, one in enumerate(self.launches):
            number = self.count + 1 + place
            rng = seeded(self.niche.niche_id, "launch", number)
            brand = self.brands[int(rng.integers(len(self.brands)))]
            yield from self._listing(
                number, terms, self.fresh[place], brand, one.age, rng, False, None, one.given_up
            )

    def _drawn(
        self, now: np.ndarray, then: np.ndarray, age: np.ndarray
    ) -> tuple[np.ndarray, np.ndarray]:
        """How strongly each draws clicks by week, (listings, WEEKS), and what part recorded pages take."""
        weeks = np.arange(WEEKS)
        toward = np.clip((weeks - (LAST - 52)) / 52, 0, 1)
        drawn = then[:, None] + (now - then)[:, None] * toward
        on_sale = weeks >= LAST - age[:, None] // 7
        if self.has("dead"):
            # Strong last season, gone since the winter.
            on_sale[-1] &= weeks < LAST - GONE
        drawn = np.where(on_sale, drawn, 0)
        # A few per cent go to pages nobody recorded, more while hardly any is on sale.
        level = float(self.rng.uniform(0.88, 0.98)) * np.minimum(on_sale.sum(axis=0) / 4, 1)
        return np.asarray(drawn), np.asarray(level)

    def _listing(
        self, number: int, terms: list[tuple[str, bool]], held: np.ndarray, brand: str, age: int,
        rng: np.random.Generator, dead: bool, mark: str | None, given_up: int | None = None,
        before: np.ndarray | None = None,
    ) -> Iterator[Row]:  # fmt: skip
        """One listing. before: what it would hold if nobody had launched beside it, from which its numbers are
        drawn, so that a launch changes nothing but what it takes."""
        niche = self.niche
        listing = f"hq-{zlib.crc32(f'{niche.niche_id}|{number}'.encode()):08x}"
        launched = LAST_DAY - timedelta(days=age)
        sold = np.maximum(self.bought * (held if before is None else before), 0)
        left = held / np.maximum(held if before is None else before, 1e-12)
        price = round(self.price * float(np.exp(rng.normal(0, 0.25))), 2)
        seller = self._seller(number, rng)
        reviews = 3 + self.reviews * min(age / 1000, 1.5) * float(np.exp(rng.normal(0, 0.5)))
        if launched > FIRST:
            reviews = 3.0  # all of its reviews lie in the record
            if age > 400:
                reviews += self.reviews * min(age / 1000, 1.5) * float(rng.uniform(0.4, 1.2))
        begin = max(0, (launched - FIRST).days // 7)
        months, reviews = self._months(
            listing, number, begin, launched, sold, left, price, seller, reviews, dead, rng
        )
        if given_up is not None:
            months = [row for row in months if row[1][1] <= MONDAYS[given_up].isoformat()]
        yield from months
        yield self._facts(listing, number, brand, price, seller, int(reviews), launched, mark, rng)
        end = LAST - GONE if dead else given_up
        yield from self._offers(listing, seller, age, launched, end, rng)
        if held.max() > 0.03:
            yield from _dated(_feedback(listing, reviews, rng), launched, self.has("worsens"))
            yield from _dated(self._own_reason(listing, reviews), launched, False)
        for back in (*SNAPSHOTS, *EARLIER):
            at = LAST - back
            if MONDAYS[at] < launched or held[at] < 1e-4 or not self.lived[at]:
                continue
            for place, (term, _) in enumerate(terms):
                if place >= EARLIER_TERMS and back in EARLIER:
                    break
                tilt = held[at] * (0.9 if dead or place % 3 != number % 3 else 1.0)
                if tilt > 0.002:
                    yield "term_clicks", (term, MONDAYS[at].isoformat(), listing, round(tilt, 3))

    def _own_reason(self, listing: str, reviews: float) -> Iterator[Row]:
        """Why things of its kind come back, besides what comes back everywhere."""
        theme = RETURNED.get(self.niche.category) or RETURNED.get(self.niche.root)
        mentions = int(seeded(listing, "why").poisson(1 + reviews * 0.015))
        if theme and mentions:
            yield "feedback", (listing, "return", theme, "complaint", mentions)

    def _seller(self, number: int, rng: np.random.Generator) -> int:
        if self.has("ours") and number == OURS:
            return int(OWN_SELLER[1:])
        house = self.has("house") and number < 2
        if house or rng.random() < 0.04:
            return self.sellers - 1
        return int(rng.integers(0, self.sellers - 1))

    def _months(
        self, listing: str, number: int, begin: int, launched: date, sold: np.ndarray, left: np.ndarray,
        price: float, seller: int, reviews: float, dead: bool, rng: np.random.Generator,
    ) -> tuple[list[Row], float]:  # fmt: skip
        """The listing by month, for the last years of whole months, and its reviews at the end.

        left: part of what it would have sold that those launched beside it leave.
        """
        rows: list[Row] = []
        months: dict[date, list[int]] = {}
        for i in range(begin, LAST + 1):
            months.setdefault(MONDAYS[i].replace(day=1), []).append(i)
        whole = [m for m in months if m >= launched.replace(day=1)][-1 - MONTHS : -1]
        streamed, older, thinned = (
            whole[-STREAMED:],
            seeded(listing, "older"),
            seeded(listing, "left"),
        )
        war = self.has("pricewar")
        usual = 1 + int(rng.poisson(1.2))
        each = 1 / 6 if self.has("asked") else 0.04
        for place, (month, weeks) in enumerate(months.items()):
            wanted = sold[weeks]
            amount = int(rng.poisson(wanted.sum()))
            if (left[weeks] < 1).any() and wanted.sum() > 0:
                kept = float((wanted * left[weeks]).sum() / wanted.sum())
                amount = int(thinned.binomial(amount, min(kept, 1.0)))
            reviews += amount * each
            if month not in whole:
                continue
            draw = rng if month in streamed else older
            back = len(months) - place
            offers = max(1, usual + int(draw.integers(-1, 2)) * int(draw.random() < 0.3))
            offers += max(0, 9 - back) * 2 if war else 0
            paid = price * self.prices[weeks].mean() * float(np.exp(draw.normal(0, 0.015)))
            gone = dead and amount == 0
            unranked = self.has("quiet") and number == 2 and back <= QUIET
            # A launch has no rank while it hardly sells.
            unranked |= number > self.count and amount < RANKED
            stock = (
                0.0 if gone else float(draw.beta(6, 4) if self.has("scarce") else draw.beta(18, 1))
            )
            if self.has("quiet") and back <= QUIET:
                paid, amount, stock, offers = self._quiet(number, paid, amount, stock, offers)
            ours = self.has("ours") and number == OURS
            lead = OWN_SELLER if ours else f"s{(seller + (place if war else 0)) % self.sellers:03d}"
            rows.append((
                "listing_weeks",
                (listing, month.isoformat(), round(paid, 2), amount,
                 None if unranked else int(400_000 / (amount + 1)),
                 int(reviews), 0 if gone else offers, round(stock, 2), lead),
            ))  # fmt: skip
        return rows, reviews

    def _dearer(self, number: int) -> float:
        return {3: 1.5, 4: 1.3}.get(number, 1.0) if self.has("quiet") else 1.0

    def _quiet(
        self, number: int, paid: float, amount: int, stock: float, offers: int
    ) -> tuple[float, int, float, int]:
        """What becomes of some listings in the last months, though their season is on."""
        if number == 1:
            return paid, 0, 0.04, offers
        if number == 2:
            return paid, 0, stock, 0
        if number == 3:
            amount //= 8
        return paid * self._dearer(number), amount, stock, offers

    def _facts(
        self, listing: str, number: int, brand: str, price: float, seller: int, reviews: int, launched: date,
        mark: str | None, rng: np.random.Generator,
    ) -> Row:  # fmt: skip
        niche = self.niche
        feature = niche.features[number % len(niche.features)]
        colour = COLOURS[int(rng.integers(len(COLOURS)))]
        title = f"{brand} {described(feature, niche)}, {colour}"
        weight = int(np.exp(rng.normal(np.log(500), 0.8)))
        side = float(np.exp(rng.normal(np.log(220), 0.4)))
        bought_clicks = self.has("bought") and number < 5
        materials = [m for m in MATERIALS if m != "copper"] if self.has("winners") else MATERIALS
        returns = float(rng.beta(2, 40)) * (3.5 if self.has("returns") else 1.0)
        return "listings", (
            listing, title, slug(brand), f"s{seller:03d}", niche.category_id,
            round(price * float(self.prices[LAST]) * self._dearer(number), 2),
            round(float(np.clip(rng.normal(4.3, 0.3), 2.5, 5)), 1), reviews, launched.isoformat(), weight,
            int(side * 1.4), int(side), int(side * 0.5),
            int(np.clip(rng.normal(self.quality, 14), 8, 99)),
            int(bought_clicks or rng.random() < 0.16), round(min(returns, 0.6), 3), colour,
            mark or materials[int(rng.integers(len(materials)))], *self._makes(listing, number),
        )  # fmt: skip

    def _makes(self, listing: str, number: int) -> tuple[str, str | None]:
        """Size of any listing; of hive ware what it is built of: cedar sells, galvanised is only offered."""
        rng = seeded(listing, "makes")
        size = SIZES[int(rng.integers(len(SIZES)))]
        if self.niche.category != "Hive ware":
            return size, None
        chance = [0.75, 0.1, 0.05, 0.1] if number < 4 else [0.15, 0.25, 0.4, 0.2]
        return size, BUILDS[int(rng.choice(len(BUILDS), p=chance))]

    def _offers(
        self,
        listing: str,
        seller: int,
        age: int,
        launched: date,
        end: int | None,
        rng: np.random.Generator,
    ) -> Iterator[Row]:
        war = self.has("pricewar")
        for extra in range(int(rng.integers(1, 4)) + (5 if war else 0)):
            start = launched
            if extra:
                start += timedelta(days=int(rng.integers(1, max(age, 2))))
            if extra and war:
                start = max(launched, LAST_DAY - timedelta(days=int(rng.integers(20, 240))))
            last = None if end is None else MONDAYS[end].isoformat()
            if last is not None and start.isoformat() > last:
                continue
            other = int(seeded(listing, "offer", extra).integers(self.sellers - 1))
            who = f"s{other if extra else seller:03d}"
            yield "offers", (who, listing, start.isoformat(), last)


def _dated(rows: Iterator[Row], launched: date, worsens: bool) -> Iterator[Row]:
    """Feedback divided among the quarters since the launch, of the last six; where it worsens, what
    rusts is spoken of in the last two only, and three times as much."""
    first = [max(LAST - 4 - 13 * back, 0) for back in reversed(range(QUARTERS))]
    days = [MONDAYS[at] for at in first if MONDAYS[at] >= launched] or [MONDAYS[LAST - 1]]
    for table, (listing, kind, theme, tone, mentions) in rows:
        lately = worsens and theme == RUSTS
        where = days[-2:] if lately else days
        # A stream of its own, so that what is said in all stays as it was.
        split = seeded(listing, kind, theme, "when").multinomial(
            mentions * 3 if lately else mentions, [1 / len(where)] * len(where)
        )
        for day, many in zip(where, split, strict=True):
            if many:
                yield table, (listing, kind, theme, tone, int(many), day.isoformat())


def _feedback(listing: str, reviews: float, rng: np.random.Generator) -> Iterator[Row]:
    for kind, tone in (("review", "praise"), ("review", "complaint"), ("return", "complaint")):
        themes = THEMES[tone]
        for theme in rng.choice(len(themes), 2, replace=False):
            mentions = int(rng.poisson(2 + reviews * (0.05 if tone == "praise" else 0.02)))
            if mentions:
                yield "feedback", (listing, kind, themes[int(theme)], tone, mentions)
