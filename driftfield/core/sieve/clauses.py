"""Conditions on niches: what each asks, how it is written and which niches pass it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from driftfield.core.base import MINUS, Bools, format_number, plain_number
from driftfield.core.market import FIGURES_BY_KEY, Figure, FigureType
from driftfield.core.signals import SIGNALS_BY_KEY
from driftfield.core.supply import CLICK_SHARE, TopQuestion
from driftfield.core.supply import LISTING_FIGURES_BY_KEY as LISTING_FIGURES

from .names import short_name

SINGLE = (
    1.2e-7  # What single precision, in which curves are kept, may add to a figure at its bound.
)
NEAR = 0.1  # How far beyond a bound, as a part of it, a near miss may lie.
MAX_WORDS = 1_000  # No term has more.
HOW = ("hold", "hold exactly", "start with", "lack")  # what the terms of a niche do with words
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

    def decided(self, choices: tuple[str, ...]) -> Bools: ...


def listed(words: tuple[str, ...] | list[str], joint: str = "or") -> str:
    """Words as a list in a sentence."""
    return f" {joint} ".join(filter(None, [", ".join(words[:-1]), *words[-1:]]))


def format_bound(value: float, figure: Figure) -> str:
    """A bound as it is read: percent for shares and changes."""
    if figure.type in {FigureType.SHARE, FigureType.CHANGE}:
        text = f"{value * 100:.4g}%"
        return (f"+{text}" if figure.type is FigureType.CHANGE and value > 0 else text).replace(
            "-", MINUS
        )
    return format_number(value).replace("-", MINUS)


@dataclass(frozen=True, slots=True)
class Range:
    """A figure lies between two bounds, either of which may be open. Unknown does not pass."""

    figure: str
    low: float | None
    high: float | None

    @property
    def text(self) -> str:
        low, high = ("" if b is None else plain_number(b) for b in (self.low, self.high))
        return f"{short_name(FIGURES_BY_KEY[self.figure])} {low}..{high}"

    @property
    def sentence(self) -> str:
        figure = FIGURES_BY_KEY[self.figure]
        name = figure.label[0].lower() + figure.label[1:]
        if self.low is None or self.high is None:
            sign, bound = ("≥", self.low) if self.high is None else ("≤", self.high)
            assert bound is not None
            return f"{name} {sign} {format_bound(bound, figure)}"
        return f"{name} {format_bound(self.low, figure)} to {format_bound(self.high, figure)}"

    def _within(self, values: np.ndarray, slack: float) -> Bools:
        # What is unknown is NaN, and lies on no side of a bound.
        inside: list[Bools] = []
        if self.low is not None:
            inside.append(values >= self.low - (slack + SINGLE) * abs(self.low))
        if self.high is not None:
            inside.append(values <= self.high + (slack + SINGLE) * abs(self.high))
        return np.logical_and.reduce(inside) if len(inside) > 1 else inside[0]

    def passes(self, columns: Columns) -> Bools:
        return self._within(columns.figure(self.figure), 0.0)

    def near(self, columns: Columns) -> Bools:
        """Niches that pass, or miss a bound by no more than a tenth of it."""
        return self._within(columns.figure(self.figure), NEAR)


@dataclass(frozen=True, slots=True)
class OneOf:
    """A figure is one of some words."""

    figure: str
    words: tuple[str, ...]

    @property
    def text(self) -> str:
        return f"{short_name(FIGURES_BY_KEY[self.figure])} = {' or '.join(self.words)}"

    @property
    def sentence(self) -> str:
        figure = FIGURES_BY_KEY[self.figure]
        if figure.type is FigureType.FLAG:
            yes = "yes" in self.words
            return f"{figure.label[0].lower()}{figure.label[1:]}: {'yes' if yes else 'no'}"
        return f"{figure.label[0].lower()}{figure.label[1:]} is {listed(self.words)}"

    def passes(self, columns: Columns) -> Bools:
        figure = FIGURES_BY_KEY[self.figure]
        choices = ("no", "yes") if figure.type is FigureType.FLAG else figure.choices
        places = [choices.index(word) for word in self.words]
        inside: Bools = np.isin(columns.figure(self.figure), places)
        return inside


@dataclass(frozen=True, slots=True)
class Peak:
    """The peak falls in one of some months, 1–12."""

    months: tuple[int, ...]

    @property
    def text(self) -> str:
        return f"peak in {' or '.join(MONTHS[m - 1] for m in self.months)}"

    @property
    def sentence(self) -> str:
        return f"the peak is in {listed([MONTHS[m - 1] for m in self.months])}"

    def passes(self, columns: Columns) -> Bools:
        marks = columns.figure("peak_weeks")
        wanted = sum(1 << (month - 1) for month in self.months)
        known = ~np.isnan(marks)
        inside: Bools = known & ((np.where(known, marks, 0).astype(np.int64) & wanted) > 0)
        return inside


@dataclass(frozen=True, slots=True)
class SignalIs:
    """A signal is raised, or is not."""

    signal: str
    raised: bool = True

    @property
    def text(self) -> str:
        return f"{'' if self.raised else 'no '}signal {self.signal}"

    @property
    def sentence(self) -> str:
        return (
            f"“{SIGNALS_BY_KEY[self.signal].name}” is {'raised' if self.raised else 'not raised'}"
        )

    def passes(self, columns: Columns) -> Bools:
        raised = columns.raised(self.signal)
        return raised if self.raised else ~raised


@dataclass(frozen=True, slots=True)
class Terms:
    """The niche's name or one of its terms does something with words; see HOW."""

    how: str
    words: str

    @property
    def text(self) -> str:
        return f"terms {self.how} {self.words}"

    @property
    def sentence(self) -> str:
        whose = "name and terms" if self.how == "lack" else "name or terms"
        return f"{whose} {self.how} “{self.words}”"

    def passes(self, columns: Columns) -> Bools:
        return columns.terms(self.how, self.words)


@dataclass(frozen=True, slots=True)
class TermWords:
    """One of the niche's terms has a number of words; high: None for any more."""

    low: int
    high: int | None

    @property
    def text(self) -> str:
        return f"term words {self.low}..{'' if self.high is None else self.high}"

    @property
    def sentence(self) -> str:
        if self.high is None:
            return f"a term has {self.low} words or more"
        if self.low == self.high:
            return f"a term has {self.low} {'word' if self.low == 1 else 'words'}"
        return f"a term has {self.low} to {self.high} words"

    def passes(self, columns: Columns) -> Bools:
        return columns.term_words(self.low, MAX_WORDS if self.high is None else self.high)


@dataclass(frozen=True, slots=True)
class Top:
    """At least k of the top n listings."""

    question: TopQuestion

    @property
    def text(self) -> str:
        return f"top {self.question}"

    @property
    def sentence(self) -> str:
        q = self.question
        label = (
            "share of clicks"
            if q.figure == CLICK_SHARE
            else LISTING_FIGURES[q.figure].label.lower()
        )
        side = "over" if q.above else "under"
        return f"at least {q.least} of the top {q.of} have {label} {side} {format_number(q.value)}"

    def passes(self, columns: Columns) -> Bools:
        table = columns.top(self.question.figure)
        if table is None:
            return np.zeros(columns.count, dtype=bool)
        return self.question.answer(table)


@dataclass(frozen=True, slots=True)
class InCategory:
    """The niche lies in a category or below it."""

    category: str

    @property
    def text(self) -> str:
        return f"category {self.category}"

    @property
    def sentence(self) -> str:
        return f"the category is {self.category}"

    def passes(self, columns: Columns) -> Bools:
        return columns.category(self.category)


@dataclass(frozen=True, slots=True)
class Decided:
    """The decision is one of some; open means none."""

    choices: tuple[str, ...]

    @property
    def text(self) -> str:
        return f"decided {' or '.join(self.choices)}"

    @property
    def sentence(self) -> str:
        words = {"keep": "kept", "park": "parked", "pass": "passed", "open": "undecided"}
        return f"it is {listed([words[c] for c in self.choices])}"

    def passes(self, columns: Columns) -> Bools:
        return columns.decided(self.choices)


@dataclass(frozen=True, slots=True)
class Drawn:
    """The niche lies inside an area of the chart. corners: (competition, demand), 0–100.

    Edges are straight as they are drawn: along competition, and along the logarithm of demand. Inside
    is where a ray crosses the edges an odd number of times (the even-odd rule).
    """

    corners: tuple[tuple[float, float], ...]

    @property
    def text(self) -> str:
        return f"drawn {' '.join(f'{plain_number(x)}:{plain_number(y)}' for x, y in self.corners)}"

    @property
    def sentence(self) -> str:
        across, up = zip(*self.corners, strict=True)
        return (
            f"it lies in the area drawn between competition {format_number(min(across))} and "
            f"{format_number(max(across))}, demand {format_number(min(up))} and {format_number(max(up))}"
        )

    def passes(self, columns: Columns) -> Bools:
        x = columns.figure("competition").astype(np.float64)
        with np.errstate(divide="ignore", invalid="ignore"):
            y = np.log(columns.figure("demand").astype(np.float64))
        ends = [(a, float(np.log(b))) for a, b in self.corners]
        inside = np.zeros(columns.count, dtype=bool)
        for (x0, y0), (x1, y1) in zip(ends, [*ends[1:], ends[0]], strict=True):
            if y0 == y1:
                continue
            between = (y0 > y) != (y1 > y)
            inside ^= between & (x < x0 + (y - y0) * (x1 - x0) / (y1 - y0))
        inside &= ~np.isnan(x) & ~np.isnan(y)
        return inside


Clause = Range | OneOf | Peak | SignalIs | Terms | TermWords | Top | InCategory | Decided | Drawn
