"""Conditions on niches: what each asks, how it is written and which niches pass it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Ints, format_number, plain_number
from driftfield.core.market import FIGURES_BY_KEY, FigureType
from driftfield.core.signals import SIGNALS_BY_KEY
from driftfield.core.supply import TopQuestion

from .asked import (
    DATED,
    MAX_WORDS,
    MONTHS,
    NEAR,
    SINGLE,
    Asked,
    Columns,
    format_bound,
    listed,
    name_of,
    quoted,
    written,
)
from .listing_names import TOP_FIGURES
from .names import short_name, words_of
from .of_listings import HasAttribute, InTime, LedBy, Whose


@dataclass(frozen=True, slots=True)
class Range(Asked):
    """A figure lies between two bounds, either of which may be open. Unknown does not pass."""

    figure: str
    low: float | None
    high: float | None

    @property
    def text(self) -> str:
        figure = FIGURES_BY_KEY[self.figure]
        low, high = written((self.low, self.high), figure)
        return f"{short_name(figure)} {low}..{high}"

    def sentence(self, currency: str = "") -> str:
        figure = FIGURES_BY_KEY[self.figure]
        if self.low is None and self.figure in DATED:
            return f"{DATED[self.figure]} within {self._bounds(currency)} days"
        if self.low is None or self.high is None:
            sign = "≥" if self.high is None else "≤"
            return f"{name_of(figure)} {sign} {self._bounds(currency)}"
        return f"{name_of(figure)} {self._bounds(currency)}"

    def denied(self, currency: str = "") -> str:
        how = "<" if self.high is None else ">" if self.low is None else "outside"
        return f"{name_of(FIGURES_BY_KEY[self.figure])} {how} {self._bounds(currency)}"

    def _bounds(self, currency: str) -> str:
        figure = FIGURES_BY_KEY[self.figure]
        bounds = dict.fromkeys(b for b in (self.low, self.high) if b is not None)
        return " to ".join(format_bound(one, figure, currency) for one in bounds)

    def known(self, columns: Columns) -> Bools:
        known: Bools = ~np.isnan(columns.figure(self.figure))
        return known

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

    def near(self, columns: Columns, places: Ints) -> Ints:
        """Those of some that pass, or miss a bound by no more than a tenth of it."""
        near: Ints = places[self._within(columns.figure(self.figure)[places], NEAR)]
        return near


@dataclass(frozen=True, slots=True)
class OneOf(Asked):
    """A figure is one of some words."""

    figure: str
    words: tuple[str, ...]

    @property
    def text(self) -> str:
        return f"{short_name(FIGURES_BY_KEY[self.figure])} = {' or '.join(self.words)}"

    def sentence(self, currency: str = "") -> str:
        figure = FIGURES_BY_KEY[self.figure]
        if figure.type is FigureType.FLAG:
            return f"{name_of(figure)}: {listed(self.words)}"
        return f"{name_of(figure)} is {listed(self.words)}"

    def denied(self, currency: str = "") -> str:
        return f"{name_of(FIGURES_BY_KEY[self.figure])} is not {listed(self.words)}"

    def known(self, columns: Columns) -> Bools:
        known: Bools = ~np.isnan(columns.figure(self.figure))
        return known

    def passes(self, columns: Columns) -> Bools:
        choices = words_of(FIGURES_BY_KEY[self.figure])
        places = [choices.index(word) for word in self.words]
        # A figure has a handful of words; what is unknown is NaN, and none of them.
        values = columns.figure(self.figure)
        inside: Bools = np.logical_or.reduce([values == place for place in places])
        return inside


@dataclass(frozen=True, slots=True)
class Peak(Asked):
    """The peak falls in one of some months, 1–12."""

    months: tuple[int, ...]

    @property
    def text(self) -> str:
        return f"peak in {' or '.join(MONTHS[m - 1] for m in self.months)}"

    def sentence(self, currency: str = "") -> str:
        return f"the peak is in {listed([MONTHS[m - 1] for m in self.months])}"

    def denied(self, currency: str = "") -> str:
        return f"the peak is not in {listed([MONTHS[m - 1] for m in self.months])}"

    def known(self, columns: Columns) -> Bools:
        known: Bools = ~np.isnan(columns.figure("peak_weeks"))
        return known

    def passes(self, columns: Columns) -> Bools:
        marks = columns.figure("peak_weeks")
        wanted = sum(1 << (month - 1) for month in self.months)
        known = ~np.isnan(marks)
        inside: Bools = known & ((np.where(known, marks, 0).astype(np.int64) & wanted) > 0)
        return inside


@dataclass(frozen=True, slots=True)
class SignalIs(Asked):
    """A signal is raised, or is not."""

    signal: str
    raised: bool = True

    @property
    def text(self) -> str:
        return f"{'' if self.raised else 'no '}signal {self.signal}"

    def sentence(self, currency: str = "") -> str:
        return (
            f"“{SIGNALS_BY_KEY[self.signal].name}” is {'raised' if self.raised else 'not raised'}"
        )

    def denied(self, currency: str = "") -> str:
        return SignalIs(self.signal, not self.raised).sentence(currency)

    def passes(self, columns: Columns) -> Bools:
        raised = columns.raised(self.signal)
        return raised if self.raised else ~raised


_DOES = {
    "contain": "contains",
    "contain exactly": "contains exactly",
    "start with": "starts with",
}


@dataclass(frozen=True, slots=True)
class Terms(Asked):
    """The niche's name or one of its terms does something with words; see HOW."""

    how: str
    words: str

    @property
    def text(self) -> str:
        return f"terms {self.how} {quoted(self.words)}"

    def sentence(self, currency: str = "") -> str:
        if self.how == "lack":
            return f"neither name nor search terms contain “{self.words}”"
        return f"name or search term {_DOES[self.how]} “{self.words}”"

    def denied(self, currency: str = "") -> str:
        if self.how == "lack":
            return Terms("contain", self.words).sentence(currency)
        return f"neither name nor search terms {self.how} “{self.words}”"

    def passes(self, columns: Columns) -> Bools:
        return columns.terms(self.how, self.words)


@dataclass(frozen=True, slots=True)
class TermWords(Asked):
    """One of the niche's terms has a number of words; high: None for any more."""

    low: int
    high: int | None

    @property
    def text(self) -> str:
        return f"term words {self.low}..{'' if self.high is None else self.high}"

    def sentence(self, currency: str = "") -> str:
        if self.high is None:
            return f"a term has {self.low} words or more"
        if self.low == self.high:
            return f"a term has {self.low} {'word' if self.low == 1 else 'words'}"
        return f"a term has {self.low} to {self.high} words"

    def denied(self, currency: str = "") -> str:
        return f"no {self.sentence().removeprefix('a ')}"

    def passes(self, columns: Columns) -> Bools:
        return columns.term_words(self.low, MAX_WORDS if self.high is None else self.high)


@dataclass(frozen=True, slots=True)
class Top(Asked):
    """At least k of the top n listings."""

    question: TopQuestion

    @property
    def text(self) -> str:
        return f"top {self.question}"

    def sentence(self, currency: str = "") -> str:
        return f"at least {self.question.least} of {self._rest(currency)}"

    def denied(self, currency: str = "") -> str:
        if self.question.least == 1:
            return f"none of {self._rest(currency)}"
        return f"fewer than {self.question.least} of {self._rest(currency)}"

    def _rest(self, currency: str) -> str:
        q = self.question
        figure = TOP_FIGURES[q.figure]
        side = (
            ("at least" if q.above else "at most")
            if q.inclusive
            else ("over" if q.above else "under")
        )
        bound = format_bound(q.value, figure, currency)
        return f"the top {q.of} have {figure.label.lower()} {side} {bound}"

    def known(self, columns: Columns) -> Bools:
        table = columns.top(self.question.figure)
        if table is None:
            return np.zeros(columns.count, dtype=bool)
        known: Bools = ~np.isnan(table[:, : self.question.of]).all(axis=1)
        return known

    def passes(self, columns: Columns) -> Bools:
        table = columns.top(self.question.figure)
        if table is None:
            return np.zeros(columns.count, dtype=bool)
        return self.question.answer(table)


@dataclass(frozen=True, slots=True)
class InCategory(Asked):
    """The niche lies in a category or below it."""

    category: str

    @property
    def text(self) -> str:
        # A name that begins as conditions do is told apart from them.
        begins = "is " if self.category.lower().startswith("is ") else ""
        return f"category {begins}{quoted(self.category)}"

    def sentence(self, currency: str = "") -> str:
        return f"the category is {self.category}"

    def denied(self, currency: str = "") -> str:
        return f"the category is not {self.category}"

    def passes(self, columns: Columns) -> Bools:
        return columns.category(self.category)


# Decisions as they are typed and as they are read.
DECISIONS = {"keep": "kept", "park": "parked", "pass": "passed", "open": "undecided"}


@dataclass(frozen=True, slots=True)
class Decided(Asked):
    """The decision is one of some; open means none."""

    choices: tuple[str, ...]

    @property
    def text(self) -> str:
        return f"decided {' or '.join(self.choices)}"

    def sentence(self, currency: str = "") -> str:
        return f"it is {listed([DECISIONS[c] for c in self.choices])}"

    def denied(self, currency: str = "") -> str:
        return f"it is not {listed([DECISIONS[c] for c in self.choices])}"

    def passes(self, columns: Columns) -> Bools:
        return columns.decided(self.choices)


@dataclass(frozen=True, slots=True)
class Drawn(Asked):
    """The niche lies inside an area of the chart. corners: (competition, demand), 0–100.

    Edges are straight as they are drawn: along competition, and along the logarithm of demand. Inside
    is where a ray crosses the edges an odd number of times (the even-odd rule).
    """

    corners: tuple[tuple[float, float], ...]

    @property
    def text(self) -> str:
        return f"drawn {' '.join(f'{plain_number(x)}:{plain_number(y)}' for x, y in self.corners)}"

    def sentence(self, currency: str = "") -> str:
        return f"it lies in the area drawn between {self._edges()}"

    def denied(self, currency: str = "") -> str:
        return f"it lies outside the area drawn between {self._edges()}"

    def _edges(self) -> str:
        across, up = zip(*self.corners, strict=True)
        return (
            f"competition {format_number(min(across))} and {format_number(max(across))}, "
            f"demand {format_number(min(up))} and {format_number(max(up))}"
        )

    def known(self, columns: Columns) -> Bools:
        known: Bools = ~np.isnan(columns.figure("competition")) & ~np.isnan(
            columns.figure("demand")
        )
        return known

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


Atom = (
    Range
    | OneOf
    | Peak
    | SignalIs
    | Terms
    | TermWords
    | Top
    | InCategory
    | Whose
    | InTime
    | HasAttribute
    | LedBy
    | Decided
    | Drawn
)
