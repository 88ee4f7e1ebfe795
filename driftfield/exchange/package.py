"""A package of exchange tables that was read."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime

import polars as pl

from driftfield.core.base import Period

from . import checks
from .checks import Span
from .mapping import Mapping
from .matrices import Curves


@dataclass(slots=True)
class Package:
    """A package that was read: a frame a table, dates as dates, numbers as Float64.

    periods: the period of each table that has a ``week`` column. wide: term_weeks came as a row a
    term; its frame then has a column a date. counts: term_weeks as curves, where the file was so large
    that it was read in blocks; it then has no frame. notes: what was left out, and what is switched off.
    created: when the package says it was made. mappings: how files of other layouts were read, by file.
    spans: from when to when each such table goes; record_years: how far back it may.
    """

    frames: dict[str, pl.DataFrame] = field(default_factory=dict)
    periods: dict[str, Period] = field(default_factory=dict)
    wide: bool = False
    notes: list[str] = field(default_factory=list)
    created: datetime | None = None
    counts: Curves | None = None
    mappings: dict[str, Mapping] = field(default_factory=dict)
    spans: dict[str, Span] = field(default_factory=dict)
    record_years: int = checks.RECORD_YEARS

    @property
    def has_counts(self) -> bool:
        """Whether there is a term_weeks, however it was read."""
        return self.counts is not None or "term_weeks" in self.frames
