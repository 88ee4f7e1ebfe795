"""The figure of signals, which reads all others."""

from __future__ import annotations

import numpy as np

from driftfield.core.analysis import Workings
from driftfield.core.signals import raise_signals

from .kinds import OWN, Figure, Kind, Stage


def _raised(work: Workings) -> np.ndarray:
    return raise_signals(work.figures, work.settings)


RAISED = Figure(
    "signals", "Signals", Kind.SIGNALS, "", 0,
    "rules raised, each with its severity, 1 − threshold ÷ figure (figure ÷ threshold for those "
    "below it)", OWN, "term_weeks", _raised, stage=Stage.SIGNALS,
)  # fmt: skip
