"""Which signals are raised, and their evidence in sentences."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from driftfield.core.base import Floats, Settings

from .joint import JOINT
from .rule import Tone, fill
from .rules import SIGNALS, SIGNALS_BY_KEY


@dataclass(frozen=True, slots=True)
class Raised:
    """A signal that was raised of one niche. severity 0–1; evidence: with this niche's numbers; jointly:
    what it means together with others; look: what to look at next."""

    key: str
    name: str
    tone: Tone
    severity: float
    evidence: str
    jointly: list[str]
    look: str

    @property
    def sentence(self) -> str:
        """Name, evidence and joint meaning in one."""
        return f"{self.name}: {' '.join([self.evidence, *self.jointly])}"


def raise_signals(figures: Mapping[str, np.ndarray], settings: Settings) -> Floats:
    """Severity of every rule for every niche, (niches, rules), NaN where it is not raised."""
    return np.stack([rule.severity(figures, settings) for rule in SIGNALS], axis=1)


def explain(
    figures: Mapping[str, Any],
    settings: Settings,
    raised: Mapping[str, float] | None = None,
    currency: str = "",
) -> list[Raised]:
    """The signals of one niche in sentences, most severe first.

    ``figures`` are one niche's by key, None for unknown. ``raised``: severities by key, where they
    are stored; else they are worked out from the figures. ``currency``: code of the market's, for amounts.
    """
    single = _Single(figures)
    if raised is None:
        found = raise_signals(single, settings)[0]
        raised = {r.key: float(s) for r, s in zip(SIGNALS, found, strict=True) if not np.isnan(s)}
    keys = set(raised)
    out = []
    for key, severity in sorted(raised.items(), key=lambda item: -item[1]):
        rule = SIGNALS_BY_KEY[key]
        together = [
            fill(j.sentence, figures, settings, currency)
            for j in JOINT
            if j.signal == key and j.holds(single, keys, settings)
        ]
        evidence = fill(rule.sentence, figures, settings, currency)
        out.append(Raised(key, rule.name, rule.tone, severity, evidence, together, rule.look))
    return out


class _Single(dict[str, np.ndarray]):
    """One niche's figures as arrays of one, made when asked for."""

    def __init__(self, figures: Mapping[str, Any]) -> None:
        super().__init__()
        self.plain = figures

    def __missing__(self, key: str) -> np.ndarray:
        value = self.plain[key]
        if value is None or isinstance(value, str):
            made = np.array([np.nan if value is None else value], dtype=object)
        else:
            made = np.array([value], dtype=np.float64)
        self[key] = made
        return made
