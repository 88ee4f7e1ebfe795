"""What a figure is, and the small functions that rows of the registry share."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import Enum, StrEnum

import numpy as np

from driftfield.core.curves import SeasonPlan

from ..kinds import BY_CLICKS, KINDS, Kind
from ..workings import Workings


class FigureType(StrEnum):
    """What a figure is and so how it is stored and shown."""

    WORD = "word"
    SENTENCE = "sentence"
    DATE = "date"
    FLAG = "flag"
    COUNT = "count"  # whole number, null when unknown
    AMOUNT = "amount"  # number, no fixed range
    SHARE = "share"  # fraction 0–1, shown in percent
    CHANGE = "change"  # signed fraction, shown in percent with its sign
    RATIO = "ratio"  # number on a scale of its own, such as a correlation
    SIGNED = "signed"  # number of either sign, no fixed range
    INDEX = "index"  # 0–100
    PROFILE = "profile"  # a number for each slot of the year
    WEEKS = "weeks"  # a list of weeks (or months) of the year
    SHIFTS = "shifts"  # a list of dated changes: {"from": date, "size": signed fraction}
    SEASONS = "seasons"  # a list of seasons with their dates: {"rise": date, …, "caught": 0–1}
    SIGNALS = "signals"  # a list of raised signals: {"signal": key, "severity": 0–1}


class Stage(Enum):
    """When a figure is computed: what it needs of the others decides."""

    READ = 1  # from the data
    RANKED = 2  # from the composite, which needs figures of the whole market
    SIGNALS = 3  # from all other figures


Compute = Callable[[Workings], np.ndarray]


OWN = "Driftfield’s definition"


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """One figure of a reading.

    key: path in the record, dotted where nested. direction: +1 more is better for an entrant, −1
    less is, 0 neither. needs: the exchange table it is made from. stage: when it is computed. kinds:
    what it holds for. of_plan: how it is made from a plan of the seasons alone, where it can be.
    """

    key: str
    label: str
    type: FigureType
    formula: str
    compute: Compute
    unit: str = ""
    direction: int = 0
    source: str = OWN
    needs: str = "term_weeks"
    digits: int = 3
    stage: Stage = Stage.READ
    choices: tuple[str, ...] = ()
    kinds: tuple[Kind, ...] = BY_CLICKS
    of_plan: Callable[[SeasonPlan], np.ndarray] | None = None

    @property
    def column(self) -> str:
        """Name of the column in a table, in CSV and in the store."""
        return self.key.replace(".", "_")

    @property
    def is_money(self) -> bool:
        """Whether it is an amount of the market's currency."""
        return self.type is FigureType.AMOUNT and self.unit.startswith("currency")


def of_every_kind(*figures: Figure) -> tuple[Figure, ...]:
    """The same figures, declared for every kind."""
    return tuple(replace(figure, kinds=KINDS) for figure in figures)


def words(values: np.ndarray) -> np.ndarray:
    """Words as plain text, None where there is none."""
    return np.array([None if v is None else str(v) for v in values], dtype=object)


def unknown_below(values: np.ndarray, least: int) -> np.ndarray:
    """Whole numbers as floats, NaN below ``least``."""
    return np.where(values >= least, values, np.nan).astype(np.float64)


def slots_between(start: np.ndarray, length: np.ndarray, slots: int) -> np.ndarray:
    """Weeks (months) of the year of windows round it, numbered from 1; None where length is 0."""
    out = np.empty(len(start), dtype=object)
    windows = start * (slots + 1) + length
    for code in np.unique(windows[length > 0]):
        first, many = divmod(int(code), slots + 1)
        weeks = [(first + k) % slots + 1 for k in range(many)]
        for row in np.flatnonzero(windows == code):
            out[row] = weeks
    return out


def marked(values: Callable[[Workings], np.ndarray | None]) -> Compute:
    """1 and 0 as words, None for unknown; without values for all."""

    def compute(work: Workings) -> np.ndarray:
        found = values(work)
        out = np.full(work.count, None, dtype=object)
        if found is not None:
            out[found == 0], out[found == 1] = "no", "yes"
        return out

    return compute


def same(value: Callable[[Workings], object]) -> Compute:
    """A figure that is the same for all subjects of a market."""

    def compute(work: Workings) -> np.ndarray:
        out = np.empty(len(work.searches_52w), dtype=object)
        out[:] = value(work)
        return out

    return compute
