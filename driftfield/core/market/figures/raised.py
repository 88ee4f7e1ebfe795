"""The figure of signals, which reads all others."""

from __future__ import annotations

import numpy as np

from ..workings import Workings
from .figure import Figure, FigureType, Stage


def _raised(work: Workings) -> np.ndarray:
    """Severity of every rule for every subject, (subjects, rules), NaN where it is not raised."""
    unknown = np.full(work.count, np.nan)
    return np.stack(
        [
            rule.severity(work.figures, work.settings)
            # A rule that reads a figure the kind does not have holds for none of it.
            if all(key in work.figures for key in rule.reads)
            else unknown
            for rule in work.rules
        ],
        axis=1,
    )


RAISED = Figure(
    key="signals", label="Signals", type=FigureType.SIGNALS,
    formula="rules raised, each with its severity, 1 − threshold ÷ figure (figure ÷ threshold for those "
    "below it)",
    compute=_raised, stage=Stage.SIGNALS,
)  # fmt: skip
