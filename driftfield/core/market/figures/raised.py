"""The figure of signals, which reads all others."""

from __future__ import annotations

import numpy as np

from ..workings import Workings
from .figure import OWN, Figure, FigureType, Stage


def _raised(work: Workings) -> np.ndarray:
    """Severity of every rule for every subject, (subjects, rules), NaN where it is not raised."""
    return np.stack([rule.severity(work.figures, work.settings) for rule in work.rules], axis=1)


RAISED = Figure(
    "signals", "Signals", FigureType.SIGNALS, "", 0,
    "rules raised, each with its severity, 1 − threshold ÷ figure (figure ÷ threshold for those "
    "below it)", OWN, "term_weeks", _raised, stage=Stage.SIGNALS,
)  # fmt: skip
