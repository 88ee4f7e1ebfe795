"""Figures of the most clicked listings, and questions about them.

A subject's average hides what its first page looks like, so any figure of a listing can be asked as
“at least k of the top n by clicks are above (below) v”. A listing without the figure answers no.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, CoreError, Floats, places_in, plain_number, ratio

from .held import Grouped
from .listings import Listings, window_mean, window_sum
from .sales import yearly

TOP_LISTINGS_KEPT = 20  # Listings a subject that are kept for questions.


@dataclass(frozen=True, slots=True)
class ListingFigure:
    """A figure of a listing: its key, label and unit, and how it is read at a day (an ordinal)."""

    key: str
    label: str
    unit: str
    read: Callable[[Listings, int], Floats]


def _latest(measure: str) -> Callable[[Listings, int], Floats]:
    return lambda listings, _: window_mean(listings, measure, 4)


def _age(since: Floats, day: int) -> Floats:
    return np.where(since <= day, day - since, np.nan)


LISTING_FIGURES = (
    ListingFigure("price", "Price", "currency", lambda x, _: x.price),
    ListingFigure("units", "Units in four weeks", "units", lambda x, _: window_sum(x, "units", 4)),
    ListingFigure("units_year", "Units a year", "units a year", lambda x, _: yearly(x)[0]),
    ListingFigure("revenue", "Revenue a year", "currency a year", lambda x, _: yearly(x)[1]),
    ListingFigure("reviews", "Reviews", "reviews", lambda x, _: x.reviews),
    ListingFigure("rating", "Rating", "stars, 0–5", lambda x, _: x.rating),
    ListingFigure("quality", "Quality of the page", "0–100", lambda x, _: x.quality),
    ListingFigure("age_days", "Age", "days", lambda x, day: _age(x.launched, day)),
    ListingFigure("brand_age_days", "Age of the brand", "days", lambda x, day: _age(x.brand_since, day)),
    ListingFigure("weight_g", "Weight", "g", lambda x, _: x.weight_g),
    ListingFigure("size_mm", "Longest side", "mm", lambda x, _: x.size_mm),
    ListingFigure("sponsored", "Sponsored", "0 or 1", lambda x, _: x.sponsored),
    ListingFigure("return_rate", "Return rate", "share", lambda x, _: x.return_rate),
    ListingFigure("offers", "Offers", "offers", _latest("offers")),
    ListingFigure("in_stock", "Time in stock", "share", _latest("in_stock")),
    ListingFigure("sales_rank", "Sales rank", "place, 1 is best", _latest("sales_rank")),
    ListingFigure("units_per_review", "Units a review", "units a year by reviews",
                  lambda x, _: ratio(yearly(x)[0], x.reviews)),
)  # fmt: skip
LISTING_FIGURES_BY_KEY = {figure.key: figure for figure in LISTING_FIGURES}
CLICK_SHARE = "click_share"
LISTING_KEYS = (*LISTING_FIGURES_BY_KEY, CLICK_SHARE)


def top_tables(members: Grouped, listings: Listings, day: int) -> dict[str, Floats]:
    """Every listing figure of the most clicked listings, by key; NaN for unknown.

    Each is (subjects, TOP_LISTINGS_KEPT).

    Columns go by clicks now, most first; ``click_share`` is the share itself.
    """
    group, row = members.foremost(TOP_LISTINGS_KEPT)
    place = places_in(group)

    def table(values: Floats) -> Floats:
        out = np.full((members.groups.many, TOP_LISTINGS_KEPT), np.nan)
        out[group, place] = values
        return out

    tables = {f.key: table(f.read(listings, day)[members.listing[row]]) for f in LISTING_FIGURES}
    return {**tables, CLICK_SHARE: members.share_of(table(members.clicked(0)[row]), 0)}


@dataclass(frozen=True, slots=True)
class TopQuestion:
    """At least ``least`` of the ``of`` most clicked listings have a figure above (below) a value.

    inclusive: whether the value itself counts.
    """

    least: int
    of: int
    figure: str
    above: bool
    value: float
    inclusive: bool = False

    @classmethod
    def parse(cls, text: str) -> TopQuestion:
        """Read “4 of 10 reviews < 120”; raises CoreError that says what is wrong and how to write it."""
        found = re.fullmatch(
            r"\s*([0-9]{1,3})\s+of\s+([0-9]{1,3})\s+(\w+)\s*([<>]=?)\s*(-?[0-9]{1,15}(?:\.[0-9]{1,9})?)\s*",
            text,
        )
        if found is None:
            raise CoreError(
                f"“{text}” is not a question about the top listings: write it as "
                "“4 of 10 reviews < 120”."
            )
        least, of, key, sign, value = found.groups()
        question = cls(int(least), int(of), key, sign[0] == ">", float(value), "=" in sign)
        if key not in LISTING_KEYS:
            raise CoreError(f"Listings have no figure “{key}”. Known: {', '.join(LISTING_KEYS)}.")
        return question.checked()

    def checked(self) -> TopQuestion:
        """Itself; raises CoreError where it asks for more listings than there can be."""
        if not 1 <= self.least <= self.of <= TOP_LISTINGS_KEPT:
            raise CoreError(
                f"It asks for {self.least} of {self.of}; at most {TOP_LISTINGS_KEPT} listings are kept, "
                "and at least 1 and no more than all of them can be asked for."
            )
        return self

    def __str__(self) -> str:
        sign = (">" if self.above else "<") + ("=" if self.inclusive else "")
        return f"{self.least} of {self.of} {self.figure} {sign} {plain_number(self.value)}"

    def answer(self, table: Floats) -> Bools:
        """Which subjects say yes, (subjects,), from the figure's table of ``top_tables``."""
        asked = table[:, : self.of]
        with np.errstate(invalid="ignore"):
            yes = asked > self.value if self.above else asked < self.value
            if self.inclusive:
                yes |= asked == self.value
        return np.asarray(yes.sum(axis=1) >= self.least)
