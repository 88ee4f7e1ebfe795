"""What a signal is: conditions on figures, evidence in a sentence, and what to look at next."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np

from driftfield.core.base import (
    Floats,
    Settings,
    Threshold,
    format_change,
    format_limit,
    format_money,
    format_number,
    format_share,
    format_signed,
)


class Tone(StrEnum):
    """What a signal means for who would enter."""

    CHANCE = "chance"
    CAUTION = "caution"
    NOTE = "note"


Bar = Threshold | str | float


def value_of(bar: Bar, settings: Settings) -> float:
    """The signal's own threshold, a setting that others go by too, or a number as it stands."""
    if isinstance(bar, Threshold):
        return settings[bar]
    return float(getattr(settings, bar)) if isinstance(bar, str) else bar


@dataclass(frozen=True, slots=True)
class Clause:
    """A figure lies above (below) a threshold: a setting's name or a number, times a figure ``of``.

    ``reach`` is how far beyond it lies, as a ratio: 1 at the threshold, 2 at twice it (above) or half
    of it (below). NaN where a figure is unknown; then the clause does not hold.
    """

    figure: str
    above: bool
    than: Bar
    of: str | None = None

    @property
    def reads(self) -> tuple[str, ...]:
        return (self.figure,) if self.of is None else (self.figure, self.of)

    def reach(self, figures: Mapping[str, np.ndarray], settings: Settings) -> Floats:
        value = np.asarray(figures[self.figure], dtype=np.float64)
        bar = np.full(value.shape, value_of(self.than, settings))
        if self.of is not None:
            bar = bar * np.asarray(figures[self.of], dtype=np.float64)
        sign = 1 if self.above else -1
        with np.errstate(invalid="ignore", divide="ignore"):
            onward = value / bar  # further from zero than the threshold
            inward = np.where(value * bar > 0, bar / value, np.inf)  # nearer to it, or across
        out = np.where((bar > 0) == self.above, onward, inward)
        # From zero there is no ratio: how far beyond is the distance itself.
        out = np.where(bar == 0, np.where(sign * value > 0, 1 + sign * value, 0), out)
        return np.where(np.isnan(value) | np.isnan(bar), np.nan, np.maximum(out, 0))


@dataclass(frozen=True, slots=True)
class Is:
    """A figure is a word."""

    figure: str
    word: str

    @property
    def reads(self) -> tuple[str, ...]:
        return (self.figure,)

    def reach(self, figures: Mapping[str, np.ndarray], settings: Settings) -> Floats:
        return np.where(np.asarray(figures[self.figure]) == self.word, 1.0, 0.0)


Condition = Clause | Is


def thresholds_of(conditions: Iterable[Condition]) -> list[Threshold]:
    """Thresholds that stand on some conditions."""
    return [
        one.than
        for one in conditions
        if isinstance(one, Clause) and isinstance(one.than, Threshold)
    ]


def above(figure: str, than: Bar, of: str | None = None) -> Clause:
    return Clause(figure, True, than, of)


def below(figure: str, than: Bar, of: str | None = None) -> Clause:
    return Clause(figure, False, than, of)


@dataclass(frozen=True, slots=True, kw_only=True)
class Signal:
    """A rule. It is raised where every clause of ``when`` holds.

    key, name: its identifier and what it is called. tone: what it means for who would enter. The
    first clause measures the effect: severity is 1 − 1/reach, 0 at the threshold, ½ at twice it. sentence:
    the evidence, with figures as {key|format} and settings as {@name|format}; see ``fill``. look:
    what to look at next.
    """

    key: str
    name: str
    tone: Tone
    when: tuple[Condition, ...]
    sentence: str
    look: str

    @property
    def reads(self) -> list[str]:
        """Keys of the figures it rests on."""
        return list(dict.fromkeys(key for clause in self.when for key in clause.reads))

    @property
    def thresholds(self) -> list[Threshold]:
        """Those of its own, which settings may change."""
        return thresholds_of(self.when)

    def severity(self, figures: Mapping[str, np.ndarray], settings: Settings) -> Floats:
        """0–1 where it is raised, NaN elsewhere; the figures' shape."""
        reaches = [clause.reach(figures, settings) for clause in self.when]
        with np.errstate(invalid="ignore", divide="ignore"):
            held = np.all([r >= 1 for r in reaches], axis=0)
            size = 1 - 1 / reaches[0]
        return np.where(held, size, np.nan)


@dataclass(frozen=True, slots=True, kw_only=True)
class Joint:
    """What several signals and figures mean together; a sentence for the one called ``signal``."""

    signal: str
    when: tuple[Condition, ...]
    sentence: str
    beside: tuple[str, ...] = ()

    def holds(
        self, figures: Mapping[str, np.ndarray], raised: set[str], settings: Settings
    ) -> bool:
        """Whether it applies to one niche; ``figures`` are arrays of one."""
        return (
            self.signal in raised
            and set(self.beside) <= raised
            and all(bool(c.reach(figures, settings)[0] >= 1) for c in self.when)
        )


FORMATS: dict[str, Callable[[Any], str]] = {
    "share": format_share,
    "rate": lambda v: f"{v:.2%}",
    "change": format_change,
    "limit": format_limit,
    "number": format_number,
    "signed": format_signed,
    "whole": lambda v: f"{v:,.0f}",
    "text": str,
    "money": format_number,  # with its sign where the currency is known; see ``fill``
}
_FIELD = re.compile(r"\{(@?)([\w.]+)\|(\w+)\}")


def fields_of(template: str) -> list[tuple[bool, str, str]]:
    """Fields of a template: whether a setting, its name, its format."""
    return [(at == "@", key, form) for at, key, form in _FIELD.findall(template)]


def fill(template: str, figures: Mapping[str, Any], settings: Settings, currency: str = "") -> str:
    """A template with one niche's numbers in it; an unknown figure is said to be unknown.

    ``currency`` is the code of the market's, for amounts.
    """

    def filled(found: re.Match[str]) -> str:
        at, key, form = found.groups()
        value = getattr(settings, key) if at else figures[key]
        if value is None:
            return "unknown"
        if form == "money":
            return format_money(value, currency, whole=True)
        return FORMATS[form](value)

    return _FIELD.sub(filled, template)
