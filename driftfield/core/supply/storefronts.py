"""Storefronts: what sellers carry, now and before, and what several of them carry together."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import gammaln
from scipy.stats import false_discovery_control

from driftfield.core.base import Bools, CoreError, Floats, Groups, Ints, distinct_pairs, in_groups

from .listings import Listings, Offers

FALSE = 0.05  # False discoveries among the brands or categories that are said to recur.


@dataclass(frozen=True, slots=True)
class Together:
    """Listings that several chosen sellers carry, or carried, most sellers first.

    listing: (found,). by: (found, sellers) which of the chosen sellers do. since: (found,) ordinal of the day
    from which the first of them did, NaN for unknown. until: that on which the last of them was seen with it,
    infinite while one has it.
    """

    listing: Ints
    by: Bools
    since: Floats
    until: Floats

    @property
    def sellers(self) -> Ints:
        """How many of the chosen sellers, (found,)."""
        return _marked(self.by)


@dataclass(frozen=True, slots=True)
class Recurring:
    """Brands or categories that several chosen sellers carry oftener than chance, rarest by chance first.

    code: (found,). by: (found, sellers) which of the chosen sellers do. expected: how many of them would by
    chance. chance: probability that at least as many do. listings: how many of its listings any of them has;
    market: how many there are.
    """

    code: Ints
    by: Bools
    expected: Floats
    chance: Floats
    listings: Ints
    market: Ints

    @property
    def sellers(self) -> Ints:
        """How many of the chosen sellers, (found,)."""
        return _marked(self.by)


def _marked(by: Bools) -> Ints:
    many: Ints = np.count_nonzero(by, axis=1).astype(np.int64)
    return many


def sellers_named(many: int) -> str:
    """A number of sellers, as in “1 seller”."""
    return f"{many:,} {'seller' if many == 1 else 'sellers'}"


def all_offers(listings: Listings) -> Offers:
    """The offers that are known, and those of sellers whom a listing names without one.

    Of the latter it is not known since when; they stand, since the listing names its present seller.
    """
    own = np.flatnonzero(listings.seller >= 0)
    offers = listings.offers
    if offers is None:
        nothing = np.full(len(own), np.nan)
        return Offers(own, listings.seller[own], nothing, np.full(len(own), np.inf))
    known = offers.seller >= 0
    span = int(max(listings.seller.max(initial=0), offers.seller.max(initial=0))) + 1
    pairs = offers.listing[known] * span + offers.seller[known]
    own = own[~_among(own * span + listings.seller[own], pairs)]
    return Offers(
        np.append(offers.listing[known], own),
        np.append(offers.seller[known], listings.seller[own]),
        np.append(offers.since[known], np.full(len(own), np.nan)),
        np.append(offers.until[known], np.full(len(own), np.inf)),
    )


def _among(wanted: Ints, many: Ints) -> Bools:
    """Which of some numbers are among very many others."""
    if not len(wanted) or not len(many):
        return np.zeros(len(wanted), dtype=bool)
    ordered = np.sort(many)  # A sort costs a tenth of finding what is different.
    at = np.minimum(np.searchsorted(ordered, wanted), len(ordered) - 1)
    found: Bools = ordered[at] == wanted
    return found


@dataclass(frozen=True, slots=True)
class Shelves:
    """Offers in the order of their sellers, so that those of one seller are found without a search.

    start: (sellers + 1,) where the offers of each code begin; the last is how many there are.
    """

    offers: Offers
    start: Ints

    @classmethod
    def of(cls, offers: Offers) -> Shelves:
        """Put offers of known sellers in order."""
        order = in_groups(offers.seller)
        ordered = offers.take(order)
        many = np.bincount(ordered.seller)
        return cls(ordered, np.append(0, np.cumsum(many)))

    def rows_of(self, sellers: Ints) -> tuple[Ints, Ints]:
        """Offers of some sellers, each once, and each one's place among the sellers."""
        known = np.minimum(sellers, len(self.start) - 2) if len(self.start) > 1 else sellers * 0
        inside = (sellers == known) & (len(self.start) > 1)
        start = self.start[known]
        many = np.where(inside, self.start[np.minimum(known + 1, len(self.start) - 1)] - start, 0)
        place = np.repeat(np.arange(len(sellers)), many)
        return np.arange(len(place)) + np.repeat(start - (np.cumsum(many) - many), many), place


def within(offers: Offers, first: float, last: float) -> Bools:
    """Offers that stood on a day from ``first`` to ``last``, ordinals; one of unknown beginning had begun."""
    return ~(offers.since > last) & (offers.until >= first)


def carried_together(
    shelves: Shelves, sellers: Ints, first: float, last: float, least: int
) -> Together:
    """Find the listings that at least so many of some sellers carry.

    Parameters
    ----------
    shelves : Shelves
        All offers of the market (``all_offers``).
    sellers : array (n,)
        Codes of the sellers, each once.
    first, last : float
        Ordinals of days. A seller carries what it offered on any day between them, both included; the same
        day twice asks for what it carries then.
    least : int
        How many of the sellers, 1 to n.

    Returns
    -------
    Together
        Those carried by most sellers first, else in the order of the listings.

    Raises
    ------
    CoreError
        Where ``least`` is not between 1 and n.
    """
    rows, place = shelves.rows_of(sellers)
    offers = shelves.offers.take(rows)
    kept = within(offers, first, last)
    return _by_listing(offers, place, kept, len(sellers), least)


def dropped_together(
    shelves: Shelves, sellers: Ints, first: float, day: float, least: int
) -> Together:
    """Find the listings that at least so many of some sellers carried since ``first`` and do not on ``day``.

    Arguments and errors as of ``carried_together``.
    """
    rows, place = shelves.rows_of(sellers)
    offers = shelves.offers.take(rows)
    before = within(offers, first, day)
    span = int(offers.listing.max(initial=0)) + 1
    pairs = place * span + offers.listing
    still = np.isin(pairs, pairs[within(offers, day, day)])
    return _by_listing(offers, place, before & ~still, len(sellers), least)


def _by_listing(offers: Offers, place: Ints, kept: Bools, sellers: int, least: int) -> Together:
    if not 1 <= least <= sellers:
        raise CoreError(
            f"At least {least} of {sellers_named(sellers)} cannot be asked: choose from 1 to {sellers}."
        )
    offers, place = offers.take(np.flatnonzero(kept)), place[kept]
    listing, at = np.unique(offers.listing, return_inverse=True)
    by = np.zeros((len(listing), sellers), dtype=bool)
    by[at, place] = True
    groups = Groups(at, len(listing))
    since, until = groups.least(offers.since), np.full(len(listing), -np.inf)
    np.maximum.at(until, at, offers.until)
    many = _marked(by)
    rows = np.flatnonzero(many >= least)
    rows = rows[np.argsort(-many[rows], kind="stable")]
    return Together(listing[rows], by[rows], since[rows], until[rows])


def recurring(
    shelves: Shelves, code: Ints, sellers: Ints, first: float, last: float, least: int, false: float = FALSE
) -> Recurring:  # fmt: skip
    """Find the brands or categories that several sellers carry beyond what chance and size explain.

    Chance is that each seller drew as many listings as it has, at random and without putting any back, from
    all that anyone offered: the hypergeometric distribution says how likely it then has none of a brand, the
    less the larger either is. How many of the sellers have the brand is a sum of such draws, each with its own
    probability (Poisson binomial). Of all brands offered those are kept among which at most ``false`` are false
    discoveries.

    Parameters
    ----------
    shelves : Shelves
        All offers of the market (``all_offers``).
    code : array (listings,)
        Brand or category of each listing, −1 for unknown.
    sellers : array (n,)
        Codes of the sellers, each once.
    first, last : float
        Ordinals of days, as of ``carried_together``.
    least : int
        How many of the sellers must have it, 1 to n.
    false : float
        Share of false discoveries, 0–1.

    Returns
    -------
    Recurring
        Rarest by chance first.

    References
    ----------
    Hoeffding, W. (1956), On the distribution of the number of successes in independent trials. Annals of
    Mathematical Statistics 27. Benjamini, Y. & Hochberg, Y. (1995), Controlling the false discovery rate.
    Journal of the Royal Statistical Society B 57.
    """
    offers = shelves.offers
    told = within(offers, first, last) & (code[offers.listing] >= 0)
    offered = np.unique(offers.listing[told])
    codes, own = np.unique(code[offered], return_inverse=True)
    market = np.bincount(own, minlength=len(codes))
    mine, place = shelves.rows_of(sellers)
    mine, place = mine[told[mine]], place[told[mine]]
    seller, at = distinct_pairs(place, np.searchsorted(offered, offers.listing[mine]))
    by = np.zeros((len(codes), len(sellers)), dtype=bool)
    by[own[at], seller] = True
    drawn = np.bincount(seller, minlength=len(sellers))
    having = 1 - _none_drawn(len(offered), market[:, None], drawn[None])
    many = _marked(by)
    chance = at_least(many, having)
    passes = false_discovery_control(chance) <= false if len(codes) else np.zeros(0, dtype=bool)
    kept = np.flatnonzero(passes & (many >= least))
    kept = kept[np.lexsort((-many[kept], chance[kept]))]
    held = np.bincount(own[np.unique(at)], minlength=len(codes))
    return Recurring(
        codes[kept], by[kept], having.sum(axis=1)[kept], chance[kept], held[kept], market[kept]
    )


def _none_drawn(whole: int, marked: Ints, drawn: Ints) -> Floats:
    """Probability that none of the marked ones is among those drawn, hypergeometric."""
    left = whole - marked - drawn
    with np.errstate(invalid="ignore"):
        logs = (
            gammaln(whole - marked + 1) - gammaln(np.maximum(left, 0) + 1)
            + gammaln(whole - drawn + 1) - gammaln(whole + 1)
        )  # fmt: skip
    return np.where(left >= 0, np.exp(np.minimum(logs, 0)), 0.0)


def at_least(many: Ints, probability: Floats) -> Floats:
    """Probability of at least so many successes in trials of unequal probability.

    Parameters
    ----------
    many : array (n,)
        Successes.
    probability : array (n, trials)
        Of success in each trial, 0–1.

    Returns
    -------
    array (n,)
        P(X ≥ many), Poisson binomial, by adding one trial after the other.
    """
    n, trials = probability.shape
    of = np.zeros((n, trials + 1))
    of[:, 0] = 1
    for trial in range(trials):
        p = probability[:, trial : trial + 1]
        of[:, 1:] = of[:, 1:] * (1 - p) + of[:, :-1] * p
        of[:, :1] *= 1 - p
    above = np.cumsum(of[:, ::-1], axis=1)[:, ::-1]
    tail: Floats = np.minimum(above[np.arange(n), many], 1.0)
    return tail
