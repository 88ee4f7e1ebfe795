"""What of each curve was not read as it came, and why, as a sentence."""

from __future__ import annotations

import numpy as np

from .workings import Workings


def _many(number: int, noun: str) -> str:
    return f"{number} {noun}{'' if number == 1 else 's'}"


def left_out(work: Workings) -> np.ndarray:
    """A sentence for each niche whose curve was not read as it came, (niches,); None for the rest."""
    side, period = work.curves, work.timeline.period.value
    out = np.empty(len(side.periods), dtype=object)
    # What came before the span is either from before the launch or cut off by a gap.
    cut_off = np.where((side.not_yet > 0) | (side.periods == 0), 0, side.begin - work.first_figure)
    reasons = (
        (side.not_yet, period, " of zeros from before its launch left out"),
        (cut_off, period, " up to the end of a gap too long to bridge left out"),
        (side.bridged, period, " bridged"),
        (side.outliers, f"outlying {period}", " left out of all but the raw change"),
    )
    odd = np.any([number > 0 for number, _, _ in reasons], axis=0)
    for row in np.flatnonzero(odd):
        parts = [
            _many(int(number[row]), noun) + why for number, noun, why in reasons if number[row] > 0
        ]
        text = "; ".join(parts)
        out[row] = f"{text[0].upper()}{text[1:]}."
    return out
