"""Figures of listings as conditions name them: “top 4 of 10 reviews < 120”."""

from __future__ import annotations

from dataclasses import dataclass

from driftfield.core.market import FigureType
from driftfield.core.supply import CLICK_SHARE, LISTING_FIGURES_BY_KEY


@dataclass(frozen=True, slots=True)
class TopFigure:
    """A figure of a listing, with what bounds on it are read and written by."""

    key: str
    label: str
    unit: str

    @property
    def type(self) -> FigureType:
        return FigureType.SHARE if self.unit.startswith("share") else FigureType.AMOUNT

    @property
    def is_money(self) -> bool:
        return self.unit.startswith("currency")


TOP_FIGURES = {
    **{key: TopFigure(key, one.label, one.unit) for key, one in LISTING_FIGURES_BY_KEY.items()},
    CLICK_SHARE: TopFigure(CLICK_SHARE, "Share of clicks", "share of clicks"),
}
# Every way to name one, in lower case.
TOP_NAMES = {
    **{one.label.lower(): key for key, one in TOP_FIGURES.items()},
    **{key.replace("_", " "): key for key in TOP_FIGURES},
    **{key: key for key in TOP_FIGURES},
    "prices": "price", "review": "reviews", "number of reviews": "reviews", "stars": "rating",
    "ratings": "rating", "weight": "weight_g", "size": "size_mm", "longest side": "size_mm",
    "age": "age_days", "returns": "return_rate", "clicks": CLICK_SHARE, "turnover": "revenue",
    "seller offers": "offers",
}  # fmt: skip
