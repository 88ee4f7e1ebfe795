"""Orders and joins of numbers in groups."""

from __future__ import annotations

import numpy as np

from .periods import Floats, Ints


def joined(keys: Ints, wanted: Ints) -> tuple[Ints, Ints]:
    """Every pair of equal numbers: its place in ``wanted``, in that order, and its place in ``keys``.

    ``keys`` are in order; a number may stand in both as often as it likes.
    """
    start, many = _runs(keys, wanted)
    row = np.repeat(np.arange(len(wanted)), many)
    return row, np.arange(len(row)) + np.repeat(start - (np.cumsum(many) - many), many)


def _runs(keys: Ints, wanted: Ints) -> tuple[Ints, Ints]:
    """Where the run of each wanted number begins in keys that are in order, and how long it is."""
    high = int(keys[-1]) if len(keys) else -1
    if not len(keys) or keys[0] < 0 or high > 4 * (len(keys) + len(wanted)):
        start = np.searchsorted(keys, wanted, side="left")
        return start, np.searchsorted(keys, wanted, side="right") - start
    # Places of small numbers are looked up and not sought.
    many = np.bincount(keys, minlength=high + 2)
    start = np.cumsum(many) - many
    at = np.where((wanted >= 0) & (wanted <= high), wanted, high + 1)
    return start[at], many[at]


def is_in_order(group: Ints, values: Floats | Ints) -> bool:
    """Whether values stand by group and, within it, upwards already."""
    step = np.diff(group)
    return bool(((step > 0) | ((step == 0) & (np.diff(values) >= 0))).all())


def order_within(group: Ints, values: Floats | Ints, *, ties: bool = True) -> Ints:
    """Places of values by group and, within it, upwards: ``np.lexsort((values, group))``, and faster.

    ``ties``: whether equal values keep their order. Whole numbers are 0 or more.
    """
    if is_in_order(group, values):
        return np.arange(len(group))
    if values.dtype.kind == "i":
        return _by_digits(group, _by_digits(values.astype(np.int64, copy=False)))
    # Sorting with ties in any order takes half the time; what is tied is put back where it is asked for.
    order = _by_digits(group, np.argsort(values))
    return ties_in_order(order, group, values, None) if ties else order


def ties_in_order(order: Ints, group: Ints, values: Floats | Ints, by: Ints | None) -> Ints:
    """An order by group and value in which equal ones stand by a number of theirs; as they came for None."""
    value, own = values[order], group[order]
    same = (value[1:] == value[:-1]) & (own[1:] == own[:-1])
    tied = np.append(same, False) | np.append(False, same)
    run = np.cumsum(np.append(False, ~same))[tied] if len(order) else np.empty(0, dtype=np.int64)
    places = np.flatnonzero(tied)
    out = order.copy()
    tie = order[places]
    out[places] = tie[np.lexsort((tie if by is None else by[tie], run))]
    return out


def order_of(values: Floats) -> Ints:
    """Places of values upwards, equal ones as they came: ``np.argsort(values, kind="stable")``, and faster.

    Values are known.
    """
    order = np.argsort(values)
    value = values[order]
    # One number says which of the different values it is, and its place: whole numbers are sorted fast.
    bits = max(len(values) - 1, 1).bit_length()
    keys = order
    keys[1:] |= np.cumsum(value[1:] != value[:-1]) << bits
    keys.sort()
    return keys & ((1 << bits) - 1)


def first_of_each(keys: Ints) -> tuple[Ints, Ints]:
    """An order in which equal whole numbers stand together, and where each of them begins in it."""
    order = np.argsort(keys)
    ordered = keys[order]
    return order, np.flatnonzero(np.append(True, ordered[1:] != ordered[:-1])[: len(keys)])


def in_groups(group: Ints) -> Ints:
    """Places by group, those of a group as they came."""
    return _by_digits(group)


def places_in(group: Ints) -> Ints:
    """The place of each within its group, from 0; equal groups stand together."""
    first = np.flatnonzero(np.append(True, group[1:] != group[:-1])[: len(group)])
    many = np.diff(np.append(first, len(group)))
    return np.arange(len(group)) - np.repeat(first, many)


def _by_digits(numbers: Ints, order: Ints | None = None) -> Ints:
    """An order brought into that of whole numbers, equal ones as they were: a radix sort.

    ``order``: that in which they are, from the first to the last where it is left out.
    """
    high = int(numbers.max(initial=0))
    for shift in range(0, max(high.bit_length(), 1), 16):
        # Narrow before they are gathered: numbers that lie close together come quickly.
        digits = (numbers >> shift if shift else numbers).astype(np.uint16)
        if order is None:
            order = np.argsort(digits, kind="stable")
        else:
            order = order[np.argsort(digits[order], kind="stable")]
    return np.arange(len(numbers)) if order is None else order


def distinct_pairs(group: Ints, codes: Ints) -> tuple[Ints, Ints]:
    """The different codes of 0 and more that each group has, (pairs,): group and code, in order."""
    known = codes >= 0
    span = int(codes.max(initial=0)) + 1
    pairs = np.unique(group[known] * span + codes[known])
    return pairs // span, pairs % span


def ratio(above: Floats, below: Floats) -> Floats:
    """Divide, where there is something to divide by.

    Parameters
    ----------
    above, below : array (n,)
        Numerator and denominator in their own units, NaN where unknown.

    Returns
    -------
    array (n,)
        ``above`` ÷ ``below``; NaN where either is unknown or ``below`` is not above 0.
    """
    whole = below > 0
    return np.where(whole, above / np.where(whole, below, 1), np.nan)
