"""What any condition is asked of, and how its words and bounds are written."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

import numpy as np

from driftfield.core.base import MINUS, Bools, format_money, format_number, plain_number
from driftfield.core.curves import Time
from driftfield.core.market import Figure, FigureType

from .quantities import Measured

SINGLE = (
    1.2e-7  # What single precision, in which curves are kept, may add to a figure at its bound.
)
NEAR = 0.1  # How far beyond a bound, as a part of it, a near miss may lie.
MAX_WORDS = 1_000  # No term has more.
# What the terms of a niche do with words.
HOW = ("contain", "contain exactly", "start with", "lack")
# Who is behind a listing, and how a condition begins that asks for one.
ROLES = {"brand": "made by", "seller": "sold by"}
# What a listing did in a time, as a condition begins that asks for it.
DONE = {"sold": "units", "ranked": "sales_rank"}
MONTHS = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October",
    "November", "December",
)  # fmt: skip


class Columns(Protocol):
    """What conditions are asked of: the niches of a market, column by column."""

    @property
    def count(self) -> int: ...

    def figure(self, key: str) -> np.ndarray:
        """(niches,) NaN for unknown; a word as its place among the figure's choices, a date as its
        ordinal, a flag as 0 or 1, weeks (months) of the year as a sum of 2^(month − 1)."""

    def raised(self, signal: str) -> Bools: ...

    def top(self, figure: str) -> np.ndarray | None:
        """(niches, most) a figure of the most clicked listings; None where there are none."""

    def terms(self, how: str, words: str) -> Bools:
        """Niches whose name or one of whose terms does with the words as ``how`` of HOW says."""

    def term_words(self, low: int, high: int) -> Bools:
        """Niches one of whose terms has from ``low`` to ``high`` words."""

    def category(self, wanted: str) -> Bools:
        """Niches of a category, by id or name, or below it."""

    def whose(self, role: str, wanted: str | None) -> Bools:
        """Listings whose brand or seller, as ``role`` of ROLES says, is the one of that id or name; with None
        those of which it is known."""

    def attribute(self, name: str, wanted: str | None) -> Bools:
        """Listings that have a value of an attribute, in capitals or not; with None those that have any."""

    def led_by(self, seller: str) -> np.ndarray:
        """Share of the last 52 weeks' periods with a known lead offer in which the seller of an id or name held
        it, NaN where it is known of none."""

    def in_time(self, measure: str, time: Time) -> np.ndarray:
        """What listings sold in a time (“units”), or their best rank in it (“sales_rank”), NaN for unknown."""

    def decided(self, choices: tuple[str, ...]) -> Bools: ...


def joins(words: str) -> bool:
    """Whether one of some words joins conditions."""
    return not {"or", "|"}.isdisjoint(words.lower().split())


def quoted(words: str) -> str:
    """Words as a condition has them: between quotation marks where one of them joins conditions."""
    return f'"{words}"' if joins(words) else words


def listed(words: tuple[str, ...] | list[str], joint: str = "or") -> str:
    """Words as a list in a sentence."""
    return f" {joint} ".join(filter(None, [", ".join(words[:-1]), *words[-1:]]))


def written(bounds: Sequence[float | None], figure: Figure) -> list[str]:
    """Bounds as a condition has them, nothing for an open one.

    A change of as much again and more is written in percent, as it is asked for, and the other bound with it:
    the sign would be read for both.
    """
    percent = figure.type is FigureType.CHANGE and any(abs(one or 0) >= 1 for one in bounds)
    texts = (
        None if one is None else f"{plain_number(round(one * 100, 8))}%" if percent else plain_number(one)
        for one in bounds
    )  # fmt: skip
    return [text or "" for text in texts]


def format_bound(value: float, figure: Measured, currency: str = "") -> str:
    """A bound as it is read: percent for shares and changes, amounts with the market's currency sign."""
    if currency and figure.is_money:
        return format_money(value, currency, whole=value == round(value))
    if figure.type in {FigureType.SHARE, FigureType.CHANGE}:
        text = f"{value * 100:.4g}%"
        return (f"+{text}" if figure.type is FigureType.CHANGE and value > 0 else text).replace(
            "-", MINUS
        )
    return format_number(value).replace("-", MINUS)


def name_of(figure: Measured) -> str:
    """A figure's label inside a sentence; an abbreviation keeps its capitals."""
    label = figure.label
    return label if label[:2].isupper() else label[0].lower() + label[1:]


# Days to a date, as what the date is.
DATED = {
    "order_in_days": "order-by date of the next full season",
    "act.order_in_days": "order-by date",
    "act.open_days": "last day to catch half of it",
}


class Asked:
    """What is asked of each niche. Where nothing is known, neither a clause nor its denial holds."""

    __slots__ = ()

    def known(self, columns: Columns) -> Bools:
        """Niches of which it can be told."""
        return np.ones(columns.count, dtype=bool)
