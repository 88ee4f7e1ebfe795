"""A mark of all that was known of a market on a day, by which a day that was replayed before is recognised.

It is a sum over facts, each mixed with the ids it belongs to, so that the order of rows, and rows of which
nothing was known yet, make no difference: a listing that comes later leaves the marks of earlier days alone.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import fields
from hashlib import blake2b

import numpy as np
from numpy.typing import NDArray

from driftfield.core.base import Floats, Ints, Timeline
from driftfield.core.supply import History, Listings

from ..data import MarketData

Hashes = NDArray[np.uint64]
ROWS = 20_000  # Rows that are mixed at a time.


def known_mark(known: MarketData, listings: Sequence[str]) -> str:
    """Mark what is known of a market, 16 hexadecimal digits.

    Parameters
    ----------
    known : MarketData
        As it was known on a day, see ``known_on``.
    listings : sequence of str
        Ids of its listings.

    Returns
    -------
    str
        The same for the same facts of the same ids, in whatever order.
    """
    subjects = _of_words(known.subjects)
    owner = subjects[known.term_subject]
    total = int(_salt(f"period {known.timeline.period.value}"))
    for name in ("searches", "clicks", "purchases", "impressions"):
        matrix: Floats | None = getattr(known, name)
        if matrix is not None:
            total += _cells(_salt(name) ^ owner, known.timeline, matrix)
    heard = ~np.isnan(known.searches).all(axis=1)
    for name in ("branded", "protected"):
        marks: Floats | None = getattr(known, name)
        if marks is not None:
            total += _sum(_mixed(_salt(name) ^ owner[heard]) ^ _bits(marks[heard]))
    if known.interest is not None:
        interest = known.interest
        line = interest.timeline.upto(known.timeline.end)
        ids = _salt("interest") ^ subjects[interest.niche]
        total += _cells(ids, line, interest.index[:, : line.length])
    seen = np.zeros(len(subjects), dtype=bool)
    seen[known.term_subject[heard]] = True
    if known.category is not None and known.tree is not None:
        ids = _of_words(known.tree.ids)
        above = _by_code(ids, known.tree.parent)
        total += _sum(_mixed(ids) ^ above)
        mine = _by_code(ids, known.category)
        total += _sum(_mixed(_salt("category") ^ subjects[seen]) ^ mine[seen])
    if known.listings is not None:
        total += _of_listings(known, owner, _of_words(listings))
    return f"{total % 2**64:016x}"


def _of_listings(known: MarketData, owner: Hashes, ids: Hashes) -> int:
    listings, seen = known.listings, known.observed
    assert listings is not None
    day = known.timeline.end.toordinal()
    there = listings.launched <= day
    total = 0
    if seen is not None:
        there[seen.listing] = True
        days = _days(known.timeline)[seen.at]
        rows = _mixed(_mixed(owner[seen.term]) ^ ids[seen.listing]) ^ _mixed(days)
        total += _sum(rows ^ _bits(seen.share))
    history = listings.history
    if history is not None:
        for name, values in history.measures.items():
            there |= ~np.isnan(values).all(axis=1)
            told = _salt(name) ^ ids
            total += _cells(told, history.timeline, _named(name, values, listings, history))
    offers = listings.offers
    if offers is not None:
        sellers = _by_code(_of_words(listings.sellers.ids), offers.seller)
        rows = _mixed(_mixed(ids[offers.listing]) ^ sellers) ^ _bits(offers.since)
        total += _sum(_mixed(rows) ^ _bits(offers.until))
        if offers.sent is not None:
            total += _sum(_mixed(rows ^ _salt("sent")) ^ _bits(offers.sent))
    known_here = np.flatnonzero(there)
    for field in fields(Listings):
        if field.type == "Floats":
            total += _sum(
                _mixed(_salt(field.name) ^ ids[known_here])
                ^ _bits(getattr(listings, field.name)[known_here])
            )
    codes_of = {"brand": _by_code(_of_words(listings.brands.ids), listings.brand[known_here])}
    if known.tree is not None:
        codes_of["category"] = np.append(_of_words(known.tree.ids), np.uint64(0))[
            listings.category[known_here]
        ]
    for name, codes in listings.attributes.items():
        codes_of[name] = _by_code(_of_words(listings.words[name]), codes[known_here])
    for name, hashes in codes_of.items():
        total += _sum(_mixed(_salt(name) ^ ids[known_here]) ^ hashes)
    return total


def _named(name: str, values: np.ndarray, listings: Listings, history: History) -> np.ndarray:
    """A measure as it is, but for sellers, whose codes are those of the day it was read: their ids'."""
    if name != "lead_seller":
        return values
    known = ~np.isnan(values)
    out = np.full(values.shape, np.nan)
    # As many digits of each id as a float holds.
    codes = values[known].astype(np.int64)
    out[known] = _by_code(_of_words(listings.sellers.ids), codes) >> np.uint64(12)
    return out


def _cells(rows: Hashes, timeline: Timeline, values: np.ndarray) -> int:
    """The sum of what is known of some rows in periods, (rows, length)."""
    days = _mixed(_days(timeline))
    total = 0
    for start in range(0, len(rows), ROWS):
        part = values[start : start + ROWS]
        row, column = np.nonzero(~np.isnan(part))
        total += _sum(_mixed(rows[start + row] ^ days[column]) ^ _bits(part[row, column]))
    return total


def _days(timeline: Timeline) -> Hashes:
    starts = [timeline.start(place).toordinal() for place in range(timeline.length)]
    return np.array(starts, dtype=np.uint64)


def _bits(values: np.ndarray) -> Hashes:
    """Numbers as they stand in memory; all that is unknown the same."""
    plain = np.where(np.isnan(values), np.nan, values).astype(np.float64)
    return _mixed(plain.view(np.uint64))


def _sum(values: Hashes) -> int:
    return int(_mixed(values).sum(dtype=np.uint64))


def _mixed(values: Hashes) -> Hashes:
    """Spread over all bits, as splitmix64 ends (Steele, Lea & Flood 2014, OOPSLA)."""
    out = values + np.uint64(0x9E3779B97F4A7C15)
    out = (out ^ (out >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    out = (out ^ (out >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    mixed: Hashes = out ^ (out >> np.uint64(31))
    return mixed


def _salt(word: str) -> np.uint64:
    return np.uint64(int.from_bytes(blake2b(word.encode(), digest_size=8).digest(), "little"))


def _of_words(words: Iterable[str]) -> Hashes:
    return np.array([_salt(word) for word in words], dtype=np.uint64)


def _by_code(names: Hashes, codes: Ints) -> Hashes:
    """What codes stand for; those that stand for nothing named, by themselves."""
    named = (codes >= 0) & (codes < len(names))
    out = _mixed(codes.astype(np.uint64))
    out[named] = names[codes[named]]
    return out
