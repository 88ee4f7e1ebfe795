"""The listings of each subject: who was clicked after its terms, how much, now and before."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

import numpy as np

from driftfield.core.base import (
    Bools,
    Floats,
    Groups,
    Ints,
    Period,
    first_of_each,
    in_groups,
    joined,
    on_grid,
    order_of,
    order_within,
    places_in,
    ties_in_order,
)

CLICK_WINDOWS = (0, 13, 52)  # weeks back from the latest clicks at which a window ends
REACH = 40  # Listings up to which it is said what the largest can hold at most.


@dataclass(frozen=True, slots=True)
class Clicks:
    """Observed shares of clicks after terms, one row an observation.

    term, at, listing: (observations,) indices of term, column of the timeline and listing.
    share: (observations,) fraction of the term's clicks in that period, 0–1. latest: column of the latest
    observation of the market, where these are some of them; −1 where they are all there is.
    """

    term: Ints
    at: Ints
    listing: Ints
    share: Floats
    latest: int = -1

    def of(self, rows: Bools) -> Clicks:
        """Some of the observations."""
        return replace(
            self, term=self.term[rows], at=self.at[rows], listing=self.listing[rows], share=self.share[rows]
        )  # fmt: skip

    @property
    def end(self) -> int:
        """Column of the latest observation of the market, from which windows are counted back."""
        return max(self.latest, int(self.at.max(initial=0)))


@dataclass(frozen=True, slots=True)
class Rest:
    """What the data leave unaccounted in a window, (groups,), NaN where nothing was observed.

    A part is a term in a period; each counts by its clicks. share: mean of the parts' clicks that
    belong to no known listing. largest: mean of the parts' smallest known share, which no unknown
    listing exceeds when a part's known listings are its most clicked. norm: mean Euclidean norm of
    the rest, at most. squares: mean sum of squared shares of a part, rest included, at most.
    """

    share: Floats
    largest: Floats
    norm: Floats
    squares: Floats


@dataclass(frozen=True, slots=True)
class Members:
    """Niche and listing pairs, (pairs,), by subject and, within it, most clicked now first.

    share: (pairs, windows) fraction of the subject's clicks, NaN where the window has none of it.
    place: 0 for the most clicked now. portion: fraction of the listing's clicks that this subject
    brings, by which its units are divided among subjects. rest: by window. reach: see ``reach_of``.
    weight: (subjects, windows) clicks of which the shares are fractions.
    """

    subjects: int
    subject: Ints
    listing: Ints
    share: Floats
    place: Ints
    portion: Floats
    rest: tuple[Rest, ...]
    reach: Floats
    weight: Floats

    @property
    def now(self) -> Bools:
        """Pairs that were clicked in the latest window."""
        return self.share[:, 0] > 0

    @property
    def groups(self) -> Groups:
        """The subjects as groups of the pairs."""
        return Groups(self.subject, self.subjects)

    def clicked(self, window: int) -> Floats:
        """The share of the subject's clicks."""
        found: Floats = self.share[:, window]
        return found

    def share_of(self, clicked: Floats, window: int) -> Floats:
        """What is a share already."""
        return clicked

    def divided(self, values: Floats) -> Floats:
        """By the clicks that the subjects bring."""
        return values * self.portion

    def foremost(self, n: int) -> tuple[Ints, Ints]:
        """The ``n`` most clicked now of each subject: subject and pair."""
        first = np.flatnonzero(self.now & (self.place < n))
        return self.subject[first], first


def part_weights(seen: Clicks, searches: Floats, clicks: Floats | None) -> Floats:
    """Clicks of each observation's term in its period; its searches where unknown, else one."""
    looked = searches[seen.term, seen.at]
    clicked = looked if clicks is None else clicks[seen.term, seen.at]
    weight = np.where(np.isnan(clicked), looked, clicked)
    return np.where(np.isnan(weight), 1.0, weight)


@dataclass(frozen=True, slots=True)
class Parts:
    """Terms in periods, (parts,): group, weight, sum and smallest of the known shares, and of squares."""

    group: Ints
    weight: Floats
    known: Floats
    least: Floats
    squares: Floats


def parts_of(seen: Clicks, weight: Floats, group: Ints, length: int) -> Parts:
    """The parts behind observations; ``group`` is (observations,), the group of each one's term."""
    _, first, part = np.unique(seen.term * length + seen.at, return_index=True, return_inverse=True)
    least = np.full(len(first), np.inf)
    np.minimum.at(least, part, seen.share)
    squares: np.ndarray = np.bincount(part, weights=np.square(seen.share))
    return Parts(
        group=group[first],
        weight=weight[first],
        known=np.minimum(np.bincount(part, weights=seen.share), 1),
        least=least,
        squares=squares,
    )


def rest_of(parts: Parts, groups: int) -> Rest:
    """What the parts of each group leave unaccounted."""
    left = 1 - parts.known
    # The rest is the more concentrated, the fewer holders of the largest possible share make it up.
    cap = np.where(parts.least > 0, parts.least, 1)
    full = np.floor(left / cap + 1e-12)
    squares = full * cap**2 + np.maximum(left - full * cap, 0) ** 2
    total = np.bincount(parts.group, weights=parts.weight, minlength=groups)

    def mean(values: Floats) -> Floats:
        sums = np.bincount(parts.group, weights=parts.weight * values, minlength=groups)
        return np.where(total > 0, sums / np.where(total > 0, total, 1), np.nan)

    return Rest(
        share=mean(left),
        largest=mean(np.minimum(cap, 1)),
        norm=mean(np.sqrt(squares)),
        squares=mean(parts.squares + squares),
    )


def reach_of(seen: Clicks, weight: Floats, group: Ints, groups: int, length: int) -> Floats:
    """What the k most clicked listings of each group can hold at most, (groups, REACH), k from 1.

    The parts' own k largest, known ones first and then unknown ones as large as the smallest known,
    averaged by clicks: the k largest of a mean are never more than the mean of the k largest.
    """
    if not len(seen.term):
        return np.full((groups, REACH), np.nan)
    key = seen.term * length + seen.at
    order = np.lexsort((-seen.share, key))
    key, share, taken, own = key[order], seen.share[order], weight[order], group[order]
    new = np.ones(len(key), dtype=bool)
    new[1:] = key[1:] != key[:-1]
    part = np.cumsum(new) - 1
    first = np.flatnonzero(new)
    size = np.diff(np.append(first, len(key)))
    place = np.arange(len(key)) - np.repeat(first, size)
    inside = place < REACH
    held = np.bincount(
        own[inside] * REACH + place[inside],
        weights=(taken * share)[inside],
        minlength=groups * REACH,
    ).reshape(groups, REACH)
    left = np.maximum(1 - np.bincount(part, weights=share), 0)
    cap = share[first + size - 1]
    for k in range(REACH):
        more = np.clip(left - (k - size) * cap, 0, cap) * (k >= size)
        held[:, k] += np.bincount(own[first], weights=taken[first] * more, minlength=groups)
    total = np.bincount(own[first], weights=taken[first], minlength=groups)
    known = total > 0
    reach = np.cumsum(held, axis=1) / np.where(known, total, 1)[:, None]
    return np.where(known[:, None], np.minimum(reach, 1), np.nan)


def in_window(seen: Clicks, back: int, weeks: int, period: Period) -> Bools:
    """Observations of the ``weeks`` weeks that end ``back`` weeks before the latest observation.

    Clicks may come as occasional snapshots, so windows are counted from the latest one.
    """
    end = seen.end - (period.span(back) if back else 0)
    inside: Bools = (seen.at > end - period.span(weeks)) & (seen.at <= end)
    return inside


@dataclass(frozen=True, slots=True)
class Brought:
    """What subjects bring each listing, (listings,): clicks of late, and how many of them were clicked so."""

    clicks: Floats
    subjects: Ints

    @classmethod
    def of(
        cls, seen: Clicks, weight: Floats, term_subject: Ints, weeks: int, period: Period
    ) -> Brought:
        """By observations; arguments as of ``read_members``."""
        recent = _recent(seen, weeks, period)
        seen, weight = seen.of(recent), weight[recent]
        listings = int(seen.listing.max(initial=-1)) + 1
        keys = np.unique(term_subject[seen.term] * max(listings, 1) + seen.listing)
        taken = on_grid(seen.share * weight)
        clicks = np.bincount(seen.listing, weights=taken, minlength=listings)
        return cls(
            clicks.astype(np.float64),
            np.bincount(keys % max(listings, 1), minlength=listings),
        )


def _recent(seen: Clicks, weeks: int, period: Period) -> Bools:
    """Observations since the start of the oldest window."""
    return in_window(seen, 0, CLICK_WINDOWS[-1] + weeks, period) & (seen.share > 0)


def read_members(
    seen: Clicks, weight: Floats, term_subject: Ints, subjects: int, length: int, weeks: int, period: Period,
    brought: Brought | None = None,
) -> Members:  # fmt: skip
    """Subjects' listings and their shares in the windows of ``CLICK_WINDOWS``.

    ``weight`` is (observations,), the clicks of each one's term in its period; ``weeks`` the width
    of a window. A listing belongs to a subject when it was clicked since the start of the oldest
    window. A term's share counts by its clicks. ``brought``: what all subjects of the market bring each
    listing, where these are some of them.
    """
    recent = _recent(seen, weeks, period)
    seen, weight = seen.of(recent), weight[recent]
    subject = term_subject[seen.term]
    listings = int(seen.listing.max(initial=-1)) + 1
    keys, pair = np.unique(subject * max(listings, 1) + seen.listing, return_inverse=True)
    owner, listing = keys // max(listings, 1), keys % max(listings, 1)
    taken = seen.share * weight

    share = np.full((len(keys), len(CLICK_WINDOWS)), np.nan)
    latest = in_window(seen, 0, weeks, period)
    reach = reach_of(seen.of(latest), weight[latest], subject[latest], subjects, length)
    rest = []
    clicked = np.zeros((subjects, len(CLICK_WINDOWS)))
    for column, back in enumerate(CLICK_WINDOWS):
        rows = in_window(seen, back, weeks, period)
        parts = parts_of(seen.of(rows), weight[rows], subject[rows], length)
        total = np.bincount(parts.group, weights=parts.weight, minlength=subjects)
        got = np.bincount(pair[rows], weights=taken[rows], minlength=len(keys))
        clicked[:, column] = total
        base = total[owner]
        share[:, column] = np.where(base > 0, got / np.where(base > 0, base, 1), np.nan)
        rest.append(rest_of(parts, subjects))

    # On the same grid as the whole, so that who is clicked here alone is so to the last digit.
    mine = np.bincount(pair, weights=on_grid(taken), minlength=len(keys))
    if brought is None:
        clicks = np.bincount(listing, weights=mine, minlength=listings).astype(np.float64)
        brought = Brought(clicks, np.bincount(listing, minlength=listings))
    whole = brought.clicks[listing]
    even = 1 / brought.subjects[listing] if len(keys) else whole
    portion = np.where(whole > 0, mine / np.where(whole > 0, whole, 1), even)

    # Pairs come by subject and listing, so equal shares stay in the order of their listings.
    order = order_within(owner, -np.nan_to_num(share[:, 0]))
    owner = owner[order]
    return Members(
        subjects=subjects,
        subject=owner,
        listing=listing[order],
        share=share[order],
        place=places_in(owner),
        portion=portion[order],
        rest=tuple(rest),
        reach=reach,
        weight=clicked,
    )


def rolled_up(members: Members, rows: Ints, groups: Groups) -> Members:
    """Members of groups of subjects, say of the categories above niches.

    ``rows`` are the subjects that count, in order, and ``groups`` the groups of these. Shares, rest and reach
    of a group are the means of its subjects', by their clicks: what reading the clicks of their terms at once
    would give.
    """
    above, at = groups.pairs()
    order = in_groups(at)
    subject, above = rows[at[order]], above[order]
    windows = members.share.shape[1]
    clicks = [
        np.nan_to_num(members.share[:, column])
        * np.nan_to_num(members.weight[members.subject, column])
        for column in range(windows)
    ]
    found = _merged(members, subject, above, groups.many, clicks[0])
    owner = found.group
    weight = np.zeros((groups.many, windows))
    share = np.full((len(owner), windows), np.nan, order="F")  # Read a window at a time.
    for column in range(windows):
        weight[:, column] = np.nan_to_num(groups.sum(members.weight[rows, column]))
        if not weight[:, column].any():
            continue
        got = found.added(clicks[column])
        base = weight[owner, column]
        share[:, column] = np.where(base > 0, got / np.where(base > 0, base, 1), np.nan)

    def mean(values: Floats, column: int) -> Floats:
        return groups.mean(values[rows], members.weight[rows, column])

    return Members(
        subjects=groups.many,
        subject=owner,
        listing=found.listing,
        share=share,
        place=places_in(owner),
        portion=found.added(members.portion),
        rest=tuple(
            Rest(*(mean(getattr(rest, one.name), column) for one in fields(Rest)))
            for column, rest in enumerate(members.rest)
        ),
        reach=_mean_rows(members.reach[rows], members.weight[rows, 0], groups),
        weight=weight,
    )


@dataclass(frozen=True, slots=True)
class _Merged:
    """Pairs of groups and listings, (pairs,), by group, most clicked first, made of those of subjects.

    lone: the one that each of the first pairs is made of. rows: those that the rest are made of, one after the
    other, with where each begins. order: of all of them together.
    """

    group: Ints
    listing: Ints
    lone: Ints
    rows: Ints
    start: Ints
    order: Ints

    def added(self, values: Floats) -> Floats:
        """Sums over what each pair is made of, (pairs,)."""
        single = values[self.lone]
        if not len(self.rows):
            return single
        return np.concatenate([single, np.add.reduceat(values[self.rows], self.start)])[self.order]


def _merged(members: Members, subject: Ints, above: Ints, groups: int, clicks: Floats) -> _Merged:
    """The pairs of groups; arguments as of ``rolled_up``, pairs of subjects and groups in order.

    ``clicks`` of the members now, (members,). Equal ones come by listing.
    """
    many = np.bincount(members.listing)
    # A listing of one subject alone is once in each group above that, and most are: so these are put in order
    # before they are put into groups, which costs a fraction of doing it after.
    place = np.empty(len(many), dtype=np.int64)
    place[members.listing] = np.arange(len(members.listing))
    first = place[many == 1]
    first = first[order_of(-clicks[first])]
    row, at = joined(subject, members.subject[first])
    lone, group = first[row], above[at]
    listing = members.listing[lone]
    several = np.flatnonzero(many[members.listing] > 1)
    nothing = np.empty(0, dtype=np.int64)
    if not len(several):
        by = in_groups(group)
        return _Merged(group[by], listing[by], lone[by], nothing, nothing, nothing)
    row, at = joined(subject, members.subject[several])
    pairs = members.listing[several[row]] * groups + above[at]
    order, start = first_of_each(pairs)
    keys = pairs[order[start]]
    group, listing = np.append(group, keys % groups), np.append(listing, keys // groups)
    rows = several[row[order]]
    got = np.append(clicks[lone], np.add.reduceat(clicks[rows], start))
    order = np.argsort(-got, kind="stable")
    order = ties_in_order(order[in_groups(group[order])], group, got, listing)
    return _Merged(group[order], listing[order], lone, rows, start, order)


def _mean_rows(rows: Floats, weight: Floats, groups: Groups) -> Floats:
    """Weighted means of rows, (rows, columns), by group; a row of which nothing is known counts in none."""
    heavy = np.where(np.isnan(rows[:, 0]), 0, weight)
    total = np.nan_to_num(groups.sum(heavy))
    known = total > 0
    sums = groups.sum_rows(np.nan_to_num(rows), heavy)
    return np.where(known[:, None], sums / np.where(known, total, 1)[:, None], np.nan)


def main_pairs(members: Members) -> Ints:
    """Of each listing the pair with the subject that brings most of its clicks, (listings that have any,)."""
    order = np.lexsort((members.subject, -members.portion, members.listing))
    first = np.ones(len(order), dtype=bool)
    first[1:] = np.diff(members.listing[order]) != 0
    return order[first]


def home_subjects(members: Members, listings: int) -> Ints:
    """The subject that brings most of each listing's clicks, (listings,), −1 for none."""
    first = main_pairs(members)
    home = np.full(listings, -1, dtype=np.int64)
    home[members.listing[first]] = members.subject[first]
    return home
