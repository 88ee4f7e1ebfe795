"""What moved of late on the supply side: prices, offers, and how much of the clicks the first brand takes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from scipy import stats

from driftfield.core.base import (
    Floats,
    Ints,
    Period,
    RateRatio,
    Timeline,
    VarianceSums,
    moderated,
    rate_ratio,
)
from driftfield.core.curves import Recent, recent_move

from .held import Grouped
from .listings import Listings, window_mean
from .members import Clicks, Members, in_window

QUARTERS = 8  # Quarters of clicks, latest first, in which the share of a brand is followed.
LATELY, BEFORE = 7 * 26, 7 * 39  # Days of launches that are held against those before.
LEAST_PRICES = 3  # Listings from which it is said how their prices moved.
WHOLE = 0.995  # A share of clicks above it, or below what is left, is judged as it.


@dataclass(frozen=True, slots=True)
class BrandMove:
    """The brand that takes most clicks of each subject now, (subjects,): its code, −1 for none known.

    share: of the clicks now, and its interval by ``interval``. move: how far the log-odds of it stand off the
    year before. over, under: chance that a brand with half of the clicks, or less (more), would seem to have
    as much (little). then: its share in the year before.
    """

    brand: Ints
    share: Floats
    then: Floats
    error: Floats
    move: Recent
    over: Floats
    under: Floats

    def interval(self, coverage: float) -> tuple[Floats, Floats]:
        """Ends of the interval of the share, (subjects,) each."""
        with np.errstate(invalid="ignore"):
            reach = stats.t.ppf(0.5 + coverage / 2, self.move.df) * self.error
            middle = _log_odds(self.share)
        return _share(middle - reach), _share(middle + reach)


@dataclass(frozen=True, slots=True)
class Moves:
    """What moved of each subject.

    price, offers: recent moves of their logarithms. slide: of prices in 26 weeks, by how they differ between
    listings. launches: in 26 weeks against the rate of the 39 before. brand: the first one. leader_stock:
    (subjects,) time in stock of the most clicked listing in its
    last four weeks, 0–1.
    """

    price: Recent
    slide: Recent
    offers: Recent
    launches: RateRatio
    brand: BrandMove
    leader_stock: Floats


@dataclass(frozen=True, slots=True)
class Noise:
    """How far something scatters in each subject by its own values, (subjects,), with degrees of freedom."""

    variance: Floats
    df: Floats

    @property
    def sums(self) -> VarianceSums:
        """What is usual is told from these."""
        return VarianceSums.of(self.variance, self.df)

    def steadied(self, usual: VarianceSums) -> tuple[Floats, Floats]:
        """Held against what is usual among all subjects of the market."""
        return moderated(self.variance, self.df, usual.prior)


@dataclass(frozen=True, slots=True)
class BrandPath:
    """The first brand of each subject, (subjects,), −1 for none known.

    shares: of the clicks by quarter, (subjects, QUARTERS), latest first. then: mean log-odds of the year before
    the latest, of so many quarters as ``before`` says.
    """

    brand: Ints
    shares: Floats
    then: Floats
    before: Ints
    noise: Noise


@dataclass(frozen=True, slots=True)
class MovesAlone:
    """What moved of each subject by its own values, before its noise is held against what is usual; see
    ``Moves``. price, offers: None where their history is not known."""

    price: Recent | None
    offers: Recent | None
    slide: Recent
    slide_noise: Noise
    launches: RateRatio
    brand: BrandPath | None
    leader_stock: Floats

    @property
    def noises(self) -> dict[str, Noise]:
        """By what scatters."""
        found = {"slide": self.slide_noise}
        for name, recent in (("price", self.price), ("offers", self.offers)):
            if recent is not None:
                found[name] = Noise(recent.error**2, np.nan_to_num(recent.df))
        if self.brand is not None:
            found["brand"] = self.brand.noise
        return found

    @property
    def sums(self) -> dict[str, VarianceSums]:
        """What is told of them to the whole market."""
        return {name: noise.sums for name, noise in self.noises.items()}

    def steadied(self, usual: Mapping[str, VarianceSums]) -> Moves:
        """The moves, their noise held against what is usual among all subjects of the market."""
        n = len(self.leader_stock)
        noises = self.noises
        steady = {name: noise.steadied(usual[name]) for name, noise in noises.items()}

        def pooled(found: Recent | None, name: str) -> Recent:
            return Recent.unknown(n) if found is None else _pooled(found, *steady[name])

        return Moves(
            price=pooled(self.price, "price"),
            slide=_slide(self.slide, *steady["slide"]),
            offers=pooled(self.offers, "offers"),
            launches=self.launches,
            brand=_unknown_brand(n) if self.brand is None else _brand_move(self.brand, *steady["brand"]),
            leader_stock=self.leader_stock,
        )  # fmt: skip


def _pooled(found: Recent, variance: Floats, df: Floats) -> Recent:
    """Moves with the noise of each held against what is usual among them; the chances follow."""
    error = np.where(np.isnan(found.size), np.nan, np.sqrt(variance))
    with np.errstate(invalid="ignore", divide="ignore"):
        t = np.where(error > 0, found.size / error, np.where(found.size == 0, 0, np.inf))
        p = np.minimum(2 * stats.t.sf(np.abs(t), df) * np.fmax(found.tried, 1), 1)
    unknown = np.isnan(found.size)
    return replace(
        found, error=error, df=np.where(unknown, np.nan, df), p=np.where(unknown, np.nan, p)
    )


def read_moves(
    members: Grouped, listings: Listings, seen: Clicks, weight: Floats, term_subject: Ints, timeline: Timeline,
    coverage: float,
) -> MovesAlone:  # fmt: skip
    """What moved of late; ``weight`` is (observations,), the clicks behind each of ``seen``."""
    slide, noise = _slides(members, listings)
    return MovesAlone(
        price=_history_move(members, listings, "price"),
        offers=_history_move(members, listings, "offers"),
        slide=slide,
        slide_noise=noise,
        launches=_launches(members, listings, timeline.end.toordinal(), coverage),
        brand=_brand_path(members, listings, seen, weight, term_subject, timeline.period),
        leader_stock=_leader_stock(members, listings),
    )


def _launches(members: Grouped, listings: Listings, day: int, coverage: float) -> RateRatio:
    """Launches of the last LATELY days against the rate of those in the BEFORE days before, by Poisson's
    chance.

    Members reach no further back; a launch that nobody ever clicked is in neither. The ratio is that of counts
    with half a launch added to each (Anscombe 1956), so that it has an end where there were none.
    """
    groups = members.groups
    age = day - listings.launched[members.listing]
    now = groups.sum(np.where((age >= 0) & (age < LATELY), 1.0, 0.0))
    then = groups.sum(np.where((age >= LATELY) & (age < LATELY + BEFORE), 1.0, 0.0))
    dated = groups.count(age) > 0
    n = groups.many
    found = rate_ratio(
        np.where(dated, now, np.nan), np.full(n, float(LATELY)), np.where(dated, then, np.nan),
        np.full(n, float(BEFORE)), np.ones(n), np.full(n, np.inf), coverage,
    )  # fmt: skip
    value = (now + 0.5) / LATELY / ((then + 0.5) / BEFORE)
    return replace(found, value=np.where(np.isnan(found.value), np.nan, value))


def _slides(members: Grouped, listings: Listings) -> tuple[Recent, Noise]:
    """The mean log change of prices in 26 weeks over the listings clicked now, and how far they differ.

    Of the move only its size and, in ``tried``, over how many listings it goes.
    """
    now = np.flatnonzero(members.now)
    groups, page = members.groups.of(now), members.listing[now]
    with np.errstate(invalid="ignore", divide="ignore"):
        each = np.log(window_mean(listings, "price", 4) / window_mean(listings, "price", 4, 26))[
            page
        ]
    number = groups.count(each)
    mean = groups.mean(each)
    squares = np.nan_to_num(groups.sum((each - mean[groups.own]) ** 2))
    few = number < LEAST_PRICES
    with np.errstate(invalid="ignore", divide="ignore"):
        noise = Noise(squares / (number - 1), np.where(few, 0.0, number - 1))
    nothing = np.full(len(few), np.nan)
    size = np.where(few, np.nan, mean)
    return Recent(
        size, nothing, nothing, nothing, np.zeros(len(few), dtype=np.int64), number
    ), noise


def _slide(alone: Recent, variance: Floats, df: Floats) -> Recent:
    """The mean log change of prices with its noise; ``alone`` as of ``_slides``."""
    with np.errstate(invalid="ignore", divide="ignore"):
        error = np.sqrt(variance / alone.tried)
        t = np.where(error > 0, alone.size / error, np.where(alone.size == 0, 0, np.inf))
        p = 2 * stats.t.sf(np.abs(t), df)
    error, df, p = (np.where(np.isnan(alone.size), np.nan, one) for one in (error, df, p))
    return Recent(alone.size, error, df, p, alone.blocks, np.ones(len(error)))


def _leader_stock(members: Grouped, listings: Listings) -> Floats:
    held = window_mean(listings, "in_stock", 4)
    group, first = members.foremost(1)
    found = np.full(members.groups.many, np.nan)
    found[group] = held[members.listing[first]]
    return found


def _history_move(members: Grouped, listings: Listings, measure: str) -> Recent | None:
    """The move of a measure of the listings clicked now, each against itself, by clicks."""
    history = listings.history
    values = None if history is None else history.measures.get(measure)
    if history is None or values is None:
        return None
    block = history.timeline.period.block
    index = _index(members, values, block)
    return recent_move(index, history.timeline.period.per_year // block)


def _index(members: Grouped, values: np.ndarray, block: int) -> Floats:
    """By blocks, (groups, blocks), the mean log of listings against their own mean, weighted by clicks now.

    A listing that comes or goes moves it by nothing but what its own values did. NaN where listings with under
    half of the clicks have a value.
    """
    now = np.flatnonzero(members.now)
    listing, clicks = members.listing[now], members.clicked(0)[now]
    groups = members.groups.of(now)
    blocks = values.shape[1] // block
    used, place = np.unique(listing, return_inverse=True)
    logs = np.full((len(used), blocks), np.nan, dtype=np.float32)
    first = values.shape[1] - blocks * block
    for column in range(blocks):
        part = values[used, first + column * block : first + (column + 1) * block].astype(
            np.float64
        )
        known = part > 0
        number = known.sum(axis=1)
        with np.errstate(invalid="ignore", divide="ignore"):
            logs[:, column] = np.log(np.where(known, part, 0).sum(axis=1) / number)
    have = np.isfinite(logs)
    logs[~have] = np.nan
    number = have.sum(axis=1)
    own = np.where(have, logs, 0).sum(axis=1) / np.maximum(number, 1)
    logs -= own[:, None]
    # A listing of a single block says nothing against itself.
    told = number > 1
    whole = np.nan_to_num(groups.sum(np.where(told[place], clicks, np.nan)))
    index = np.full((groups.many, blocks), np.nan)
    for column in range(blocks):
        each = np.where(told, logs[:, column], np.nan)[place]
        covered = np.nan_to_num(groups.sum(np.where(np.isnan(each), np.nan, clicks)))
        index[:, column] = np.where(covered >= whole / 2, groups.mean(each, clicks), np.nan)
    return index


def _log_odds(share: Floats) -> Floats:
    inside = np.clip(share, 1 - WHOLE, WHOLE)
    found: Floats = np.log(inside / (1 - inside))
    return found


def _share(log_odds: Floats) -> Floats:
    found: Floats = 1 / (1 + np.exp(-log_odds))
    return found


def _brand_path(
    members: Grouped, listings: Listings, seen: Clicks, weight: Floats, term_subject: Ints, period: Period
) -> BrandPath | None:  # fmt: skip
    """The first brand of now, quarter by quarter; None where members are not those of clicks."""
    if not isinstance(members, Members) or not len(seen.term):
        return None
    lead = _first_brand(members, listings.brand)
    shares = _by_quarter(lead, listings.brand, seen, weight, term_subject, period)
    odds = _log_odds(shares)
    steps = odds[:, 1:-1] - odds[:, 2:]
    known, before = ~np.isnan(steps), ~np.isnan(odds[:, 1:5])
    df, number = known.sum(axis=1).astype(np.float64), before.sum(axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        variance = (np.where(known, steps, 0) ** 2).sum(axis=1) / df / 2
        then = np.where(before, odds[:, 1:5], 0).sum(axis=1) / number
    return BrandPath(lead, shares, then, number, Noise(variance, df))


def _brand_move(path: BrandPath, steadied: Floats, free: Floats) -> BrandMove:
    odds = _log_odds(path.shares)
    with np.errstate(invalid="ignore", divide="ignore"):
        size = odds[:, 0] - path.then
        error = np.where(np.isnan(odds[:, 0]) | (steadied <= 0), np.nan, np.sqrt(steadied))
        apart = error * np.sqrt(1 + 1 / path.before)
        p = 2 * stats.t.sf(np.abs(size / apart), free)
        over: Floats = np.asarray(stats.t.sf(odds[:, 0] / error, free))
    free = np.where(np.isnan(error), np.nan, free)
    move = Recent(
        size=size, error=np.where(np.isnan(size), np.nan, apart), df=free,
        p=np.where(np.isnan(size), np.nan, p),
        blocks=np.where(np.isnan(size) | np.isnan(error), 0, 1), tried=np.ones(len(size)),
    )  # fmt: skip
    return BrandMove(path.brand, path.shares[:, 0], _share(path.then), error, move, over, 1 - over)


def _unknown_brand(n: int) -> BrandMove:
    nothing = np.full(n, np.nan)
    nobody = np.full(n, -1, dtype=np.int64)
    return BrandMove(nobody, nothing, nothing, nothing, Recent.unknown(n), nothing, nothing)


def _first_brand(members: Members, brand: Ints) -> Ints:
    """The brand with most clicks now of each subject, (subjects,), −1 where none is known."""
    now = np.flatnonzero(members.now & (brand[members.listing] >= 0))
    subject, code = members.subject[now], brand[members.listing[now]]
    span = int(brand.max(initial=0)) + 1
    pairs, pair = np.unique(subject * span + code, return_inverse=True)
    clicks = np.bincount(pair, weights=members.share[now, 0], minlength=len(pairs))
    order = np.argsort(clicks, kind="stable")
    lead = np.full(members.subjects, -1, dtype=np.int64)
    lead[pairs[order] // span] = pairs[order] % span
    return lead


def _by_quarter(
    lead: Ints, brand: Ints, seen: Clicks, weight: Floats, term_subject: Ints, period: Period
) -> Floats:
    """Share of the clicks that went to a brand of each subject, (subjects, QUARTERS), latest first."""
    shares = np.full((len(lead), QUARTERS), np.nan)
    length = int(seen.at.max()) + 1
    for quarter in range(QUARTERS):
        rows = np.flatnonzero(in_window(seen, 13 * quarter, 13, period))
        if not rows.size:
            continue
        subject = term_subject[seen.term[rows]]
        mine = (brand[seen.listing[rows]] == lead[subject]) & (lead[subject] >= 0)
        taken = np.where(mine, seen.share[rows] * weight[rows], 0)
        _, part = np.unique(seen.term[rows] * length + seen.at[rows], return_index=True)
        whole = np.bincount(subject[part], weights=weight[rows][part], minlength=len(lead))
        got = np.bincount(subject, weights=taken, minlength=len(lead))
        known = (whole > 0) & (lead >= 0)
        shares[known, quarter] = np.minimum(got[known] / whole[known], 1)
    return shares
