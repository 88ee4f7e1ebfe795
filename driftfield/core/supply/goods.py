"""The goods of brands and sellers: what each has on sale, what came and went, and what it sells of it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Groups, Ints, ratio
from driftfield.core.curves import bridge, group_sums

from .held import Held
from .listings import Listings, unsponsored_sum
from .record import ListingRecord
from .storefronts import all_offers

YEAR = 364  # Days.
GONE_WEEKS = 4  # A listing without a figure for so long is gone.
CHUNK = 32_768  # Listings whose curves are added up at once.


@dataclass(frozen=True, slots=True)
class Goods:
    """Listings of brands or of sellers, (rows,): of each one those that it has on sale, or had.

    codes: (groups,) who they are. groups, listing: whose a row is, and of which listing. now: whether it is on
    sale on the day. came, went: 1 where it came, or went, within 52 weeks, 0 where not, NaN for unknown.
    portion: the part of the units that the listing sold in 52 weeks that is this one's. shared: whether several
    may have a listing, as sellers do.
    """

    codes: Ints
    groups: Groups
    listing: Ints
    now: Bools
    came: Floats
    went: Floats
    portion: Floats
    shared: bool

    def held(self, clicks: Floats) -> Held:
        """The same as groups that hold listings; ``clicks`` is (listings, windows)."""
        # Of what one never held the lead offer of it is not told that one sold none.
        told = np.where(self.portion > 0, self.portion, np.nan)
        got = clicks[self.listing] * self.portion[:, None]
        weight = np.stack([np.nan_to_num(self.groups.sum(one)) for one in got.T], axis=1)
        return Held(self.groups, self.listing, got, weight, told)


@dataclass(frozen=True, slots=True)
class Carried:
    """Figures of brands or sellers, (groups,), NaN for unknown; money in the market's currency.

    listings: on sale now; ever: now or before; came, went: within 52 weeks. brands, sellers, categories: of
    those on sale now. category: the place of the one that most units come from (of most listings, where none
    are known), −1 for none; top_category, top_brand: share of the units that come from it, and from the
    foremost brand. units, revenue: a year of those known; estimated: units a year that are estimated from
    ranks, and estimated_share their part of both. price: median of those on sale; price_change: median change
    in 13 weeks; price_falling: share of those that fell. reviews, new_reviews: of all on sale, and gained in 52
    weeks; rating: median. unsponsored_…: the same sums of those known not to be sponsored. asleep: those on
    sale that sleep until their season. lead_share: of sellers, share of the 52 weeks' periods of their listings
    with a known lead offer in which they held it.
    """

    listings: Floats
    ever: Floats
    came: Floats
    went: Floats
    brands: Floats
    sellers: Floats
    categories: Floats
    category: Ints
    top_category: Floats
    top_brand: Floats
    units: Floats
    revenue: Floats
    estimated: Floats
    estimated_share: Floats
    price: Floats
    price_change: Floats
    price_falling: Floats
    reviews: Floats
    new_reviews: Floats
    unsponsored_units: Floats
    unsponsored_revenue: Floats
    unsponsored_estimated: Floats
    unsponsored_reviews: Floats
    unsponsored_new_reviews: Floats
    rating: Floats
    asleep: Floats
    lead_share: Floats


def goods_of_brands(listings: Listings, day: int) -> Goods:
    """What each brand has on sale on ``day``, an ordinal, or had; wholly its own."""
    rows = np.flatnonzero((listings.brand >= 0) & ~(listings.launched > day))
    now, last = _on_sale(listings, day)
    launched = listings.launched[rows]
    came = np.where(np.isnan(launched), np.nan, launched > day - YEAR)
    seen = last[rows]
    left = np.where(np.isnan(seen), np.nan, ~now[rows] & (seen > day - YEAR))
    codes, own = np.unique(listings.brand[rows], return_inverse=True)
    return Goods(
        codes,
        Groups(own, len(codes)),
        rows,
        now[rows],
        came,
        left,
        np.ones(len(rows)),
        shared=False,
    )


def _on_sale(listings: Listings, day: int) -> tuple[Bools, Floats]:
    """Whether each listing is on sale on a day, and the day on which it was seen last, NaN for unknown.

    By its offers where they are known of it; else by whether its history goes on; else it is.
    """
    n = len(listings)
    there, last = np.ones(n, dtype=bool), np.full(n, np.nan)
    history = listings.history
    if history is not None:
        known = np.zeros((n, history.timeline.length), dtype=bool)
        for name in ("price", "units"):
            if name in history.measures:
                known |= ~np.isnan(history.measures[name])
        some = known.any(axis=1)
        gap = known[:, ::-1].argmax(axis=1)
        there = ~some | (gap < _gone_after(listings))
        days = np.array(
            [history.timeline.start(at + 1).toordinal() - 1 for at in range(known.shape[1])],
            dtype=np.float64,
        )
        last = np.where(some, days[known.shape[1] - 1 - gap], np.nan)
    offers = listings.offers
    if offers is not None:
        begun = np.flatnonzero(offers.since <= day)
        of = offers.listing[begun]
        stands = np.zeros(n, dtype=bool)
        stands[of[offers.until[begun] >= day]] = True
        until = np.full(n, -np.inf)
        np.maximum.at(until, of, np.minimum(offers.until[begun], day))
        offered = until > -np.inf
        there = np.where(offered, stands, there)
        last = np.where(offered, until, last)
    return there, last


def goods_of_sellers(listings: Listings, day: int) -> Goods:
    """What each seller offers on ``day``, an ordinal, or did, and the part of its units that is the seller's.

    The units of a period are those of who held the lead offer in it, or of the seller whom the listing names
    where that is not known: an assumption.
    """
    offers = all_offers(listings)
    begun = offers.take(np.flatnonzero(~(offers.since > day)))
    span = len(listings.sellers.ids)
    sold_key, portion = _portions(listings, span)
    key, at = np.unique(
        np.concatenate([begun.listing * span + begun.seller, sold_key]), return_inverse=True
    )
    own = Groups(at[: len(begun.listing)], len(key))
    stands = np.zeros(len(key), dtype=bool)
    stands[own.own[begun.standing(day) | (np.isnan(begun.since) & (begun.until >= day))]] = True
    first, last = own.least(begun.since), np.full(len(key), -np.inf)
    np.maximum.at(last, own.own, np.minimum(begun.until, day))
    part = np.zeros(len(key))
    part[at[len(begun.listing) :]] = portion
    came = np.where(np.isnan(first), np.nan, first > day - YEAR)
    # Of one whom a listing merely names it is not known what it had before.
    went = np.where(np.isnan(first) | np.isinf(last), np.nan, ~stands & (last > day - YEAR))
    codes, seller = np.unique(key % max(span, 1), return_inverse=True)
    groups = Groups(seller, len(codes))
    return Goods(codes, groups, key // max(span, 1), stands, came, went, part, shared=True)


def _portions(listings: Listings, sellers: int) -> tuple[Ints, Floats]:
    """Pairs of listing and seller, as listing × sellers + seller, and the part of a year's units of each."""
    history = listings.history
    units = None if history is None else history.measures.get("units")
    if history is None or units is None:
        return np.empty(0, dtype=np.int64), np.empty(0)
    late = slice(max(units.shape[1] - history.timeline.period.span(52), 0), None)
    keys, parts = [], []
    for rows in _chunks(len(listings)):
        holder = _holders(listings, rows, late)
        sold = units[rows, late]
        amount = np.nan_to_num(sold).astype(np.float64)
        # What sold nothing is divided by time, so that of those who held its lead offer 0 is told.
        nothing = amount.sum(axis=1) == 0
        amount[nothing] = ~np.isnan(sold[nothing])
        row, column = np.nonzero((holder >= 0) & (amount > 0))
        key, at = np.unique((row + rows.start) * sellers + holder[row, column], return_inverse=True)
        total = amount.sum(axis=1)
        found = np.bincount(at, weights=amount[row, column], minlength=len(key))
        keys.append(key)
        parts.append(found / total[key // max(sellers, 1) - rows.start])
    return np.concatenate(keys), np.concatenate(parts)


def _chunks(n: int) -> Iterator[slice]:
    for start in range(0, max(n, 1), CHUNK):
        yield slice(start, min(start + CHUNK, n))


def _holders(listings: Listings, rows: slice, columns: slice) -> Ints:
    """Whose the sales of some listings were, (rows, columns): codes of sellers, −1 for unknown."""
    history = listings.history
    assert history is not None, "sales are known"
    named = listings.seller[rows][:, None]
    held = history.measures.get("lead_seller")
    if held is None:
        return np.broadcast_to(named, (named.shape[0], history.timeline.length))[:, columns]
    code = held[rows, columns]
    return np.where(np.isnan(code), named, np.nan_to_num(code, nan=-1)).astype(np.int64)


def curves_of_brands(listings: Listings, units: Floats, longest: int) -> Floats:
    """Units of each brand by period, (brands, length); ``units`` is (listings, length), NaN for absent.

    A listing that is gone sells nothing any more; one whose figures have a longer gap leaves its brand's absent
    with it, for a sum over the others would read as a fall.
    """
    n = len(listings.brands.ids)
    out = np.full((n, units.shape[1]), np.nan)
    rows = np.flatnonzero(listings.brand >= 0)
    rows = rows[np.argsort(listings.brand[rows], kind="stable")]
    own = listings.brand[rows]
    start, gone = 0, _gone_after(listings)
    while start < len(rows):
        # As many whole brands as fit, at least one.
        end = start + CHUNK
        if end < len(rows):
            whole = int(np.searchsorted(own, own[end], side="left"))
            end = whole if whole > start else int(np.searchsorted(own, own[start], side="right"))
        here = rows[start:end]
        curves = _ended(units[here].astype(np.float64), gone)
        brands, place = np.unique(own[start:end], return_inverse=True)
        out[brands] = group_sums(curves, place, len(brands), longest).curves
        start += len(here)
    return out


def curves_of_sellers(listings: Listings, units: Floats, longest: int) -> Floats:
    """Units of each seller by period, (sellers, length), as ``goods_of_sellers`` divides them.

    Absent before a seller's first sale, and where no listing's units are known.
    """
    n, length = len(listings.sellers.ids), units.shape[1]
    sums = np.zeros((n, length))
    known = np.zeros(length, dtype=bool)
    if listings.history is None:
        return np.full((n, length), np.nan)
    for rows in _chunks(len(listings)):
        holder = _holders(listings, rows, slice(None))
        sold = bridge(units[rows].astype(np.float64), longest).values
        known |= ~np.isnan(sold).all(axis=0)
        for column in range(length):
            mine = holder[:, column] >= 0
            sums[:, column] += np.bincount(
                holder[mine, column], weights=np.nan_to_num(sold[mine, column]), minlength=n
            )
    begun = np.maximum.accumulate(sums > 0, axis=1)
    return np.where(begun & known, sums, np.nan)


def _gone_after(listings: Listings) -> int:
    """Periods without a figure at its end after which a listing is gone; one alone may yet be told."""
    history = listings.history
    return 2 if history is None else max(history.timeline.period.span(GONE_WEEKS), 2)


def _ended(curves: Floats, gone: int) -> Floats:
    """Curves that ended long enough ago with 0 from there on; changes them in place."""
    known = ~np.isnan(curves)
    tail = np.where(known.any(axis=1), known[:, ::-1].argmax(axis=1), 0)
    ended = np.flatnonzero(tail >= gone)
    columns = np.arange(curves.shape[1])
    after = columns >= (curves.shape[1] - tail[ended])[:, None]
    curves[ended] = np.where(after, 0.0, curves[ended])
    return curves


def read_carried(
    goods: Goods,
    listings: Listings,
    record: ListingRecord,
    estimate: Floats,
    category: Ints,
    asleep: Bools,
    day: int,
    *,
    price_fall: float,
) -> Carried:
    """Figures of what each carries.

    ``estimate`` is a year's units from ranks, (listings,), NaN where others are known; ``category`` the place
    of each one's category, −1 for none; ``asleep`` whether it sleeps until its season; ``price_fall`` the part
    by which a price must have fallen to count as one that did.
    """
    groups, page, portion = goods.groups, goods.listing, goods.portion
    here, on = groups.of(goods.now), page[goods.now]
    told = np.where(portion > 0, portion, np.nan)
    units, guess = record.units[page] * told, estimate[page]
    if goods.shared:
        # Whose the units of a listing with a rank alone are is told by its lead offers, not by units.
        part = _lead_part(listings, goods)
        guess = np.where(part > 0, guess * part, np.nan)
    known, guessed = groups.sum(units), groups.sum(guess)
    earned, sponsored = record.revenue[page] * told, listings.sponsored[page]
    weight = np.where(np.isnan(units), np.nan_to_num(guess), np.nan_to_num(units))
    place, top_category = _foremost(groups, category[page], weight)
    _, top_brand = _foremost(groups, listings.brand[page], weight)
    both = np.nan_to_num(known) + np.nan_to_num(guessed)
    fell = np.where(np.isnan(record.price_change), np.nan, record.price_change < -price_fall - 1e-9)
    return Carried(
        listings=here.size().astype(np.float64), ever=groups.size().astype(np.float64),
        came=groups.sum(goods.came), went=groups.sum(goods.went),
        brands=here.distinct(listings.brand[on]), sellers=_sellers(goods, here, on, listings, day),
        categories=here.distinct(category[on]), category=place, top_category=top_category, top_brand=top_brand,
        units=known, revenue=groups.sum(earned), estimated=guessed,
        estimated_share=ratio(np.nan_to_num(guessed), both), price=here.median(listings.price[on]),
        price_change=here.median(record.price_change[on]), price_falling=here.mean(fell[on]),
        reviews=here.sum(listings.reviews[on]), new_reviews=here.sum(record.new_reviews[on]),
        unsponsored_units=unsponsored_sum(groups, sponsored, units),
        unsponsored_revenue=unsponsored_sum(groups, sponsored, earned),
        unsponsored_estimated=unsponsored_sum(groups, sponsored, guess),
        unsponsored_reviews=unsponsored_sum(here, listings.sponsored[on], listings.reviews[on]),
        unsponsored_new_reviews=unsponsored_sum(here, listings.sponsored[on], record.new_reviews[on]),
        rating=here.median(listings.rating[on]), asleep=here.sum(asleep[on].astype(np.float64)),
        lead_share=_lead_share(listings, goods),
    )  # fmt: skip


def _foremost(groups: Groups, code: Ints, weight: Floats) -> tuple[Ints, Floats]:
    """The code with the most weight in each group, −1 for none, and its share of it, NaN where all is 0.

    Where nothing has a weight the code of most rows comes first.
    """
    rows = np.flatnonzero(code >= 0)
    span = int(code.max(initial=0)) + 1
    key, at = np.unique(groups.own[rows] * span + code[rows], return_inverse=True)
    heavy = np.bincount(at, weights=weight[rows], minlength=len(key))
    many = np.bincount(at, minlength=len(key))
    owner = key // span
    order = np.lexsort((key, -many, -heavy, owner))
    first = order[np.flatnonzero(np.diff(owner[order], prepend=-1))]
    out, share = np.full(groups.many, -1, dtype=np.int64), np.full(groups.many, np.nan)
    out[owner[first]] = key[first] % span
    total = np.bincount(groups.own, weights=weight, minlength=groups.many)
    share[owner[first]] = heavy[first]
    return out, ratio(share, np.where(total > 0, total, np.nan))


def _sellers(goods: Goods, here: Groups, on: Ints, listings: Listings, day: int) -> Floats:
    """Different sellers of the listings of each group on a day; NaN of sellers, who are those themselves."""
    if goods.shared:
        return np.full(here.many, np.nan)
    offers = all_offers(listings)
    stands = ~(offers.since > day) & (offers.until >= day)
    order = np.argsort(offers.listing[stands], kind="stable")
    of, seller = offers.listing[stands][order], offers.seller[stands][order]
    first, last = np.searchsorted(of, on, side="left"), np.searchsorted(of, on, side="right")
    many = last - first
    row = np.repeat(np.arange(len(on)), many)
    at = np.arange(len(row)) + np.repeat(first - (np.cumsum(many) - many), many)
    return here.of(row).distinct(seller[at])


def _lead_part(listings: Listings, goods: Goods) -> Floats:
    """The part of the last 52 weeks in which a row's seller held the lead offer of its listing, (rows,).

    1 for the seller whom a listing names where nobody is known to have held it.
    """
    held, known = _led(listings, goods)
    named = listings.seller[goods.listing] == goods.codes[goods.groups.own]
    return np.where(known > 0, held / np.maximum(known, 1), named.astype(np.float64))


def _lead_share(listings: Listings, goods: Goods) -> Floats:
    if not goods.shared:
        return np.full(goods.groups.many, np.nan)
    held, known = _led(listings, goods)
    return ratio(goods.groups.sum(held), goods.groups.sum(known))


def _led(listings: Listings, goods: Goods) -> tuple[Floats, Floats]:
    """In how many of the last 52 weeks' periods each row's own held the lead offer, and of how many it is
    known who did, (rows,) each."""
    history = listings.history
    held = None if history is None else history.window("lead_seller", 52)
    if held is None:
        nothing = np.zeros(len(goods.listing))
        return nothing, nothing
    mine, known = np.zeros(len(goods.listing)), np.zeros(len(goods.listing))
    for rows in _chunks(len(goods.listing)):
        codes = held[goods.listing[rows]]
        known[rows] = (~np.isnan(codes)).sum(axis=1)
        own = goods.codes[goods.groups.own[rows]]
        mine[rows] = (codes == own[:, None]).sum(axis=1)
    return mine, known
