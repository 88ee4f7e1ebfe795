"""Figures of what buyers write about each subject, supplied by whoever holds the texts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from driftfield.core.base import Floats, Ints

LEADERS = 10  # Most clicked listings of a niche that are its leaders.


@dataclass(frozen=True, slots=True)
class Said:
    """Of each subject, (subjects,); NaN, and None of names, where nothing is written or known.

    texts: how many, without copies and questions. complaint: name of the one that most texts say; share, low:
    the share that do, and the lower end of its interval. fault, fault_share: the same of the largest complaint
    that at least half of the leaders have and none surely lacks. worsening: whether a complaint is said more
    than a year ago, 1 or 0. wishes: texts that wish for something.
    """

    texts: Floats
    complaint: np.ndarray
    share: Floats
    low: Floats
    fault: np.ndarray
    fault_share: Floats
    worsening: Floats
    wishes: Floats


class SaidReader(Protocol):
    """Whoever holds the texts."""

    def __call__(self, home: Ints, leaders: Sequence[Ints]) -> Said:
        """Read the texts.

        home: (listings,) the subject that brings most of each one's clicks, −1 for none. leaders: of each
        subject its most clicked listings, most clicked first.
        """
        ...
