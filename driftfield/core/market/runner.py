"""A whole market read at once: from matrices to one column a figure."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date

import numpy as np

from driftfield.core.base import DEFAULTS, Bools, CoreError, Settings
from driftfield.core.ranking import DEFAULT_LENS, Lens, rank_all

from .data import MarketData
from .parts import MarketPart
from .workings import Rule, Workings


def compute_figures(
    data: MarketData,
    settings: Settings = DEFAULTS,
    *,
    lens: Lens = DEFAULT_LENS,
    rules: Sequence[Rule] = (),
    as_of: date | None = None,
    planning: date | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> dict[str, np.ndarray]:
    """Every figure that holds for the market's kind: key → (subjects, …) array.

    Computed up to the last period complete on ``as_of`` (default: all there is); dates are planned
    from ``planning`` (default: the as-of). Floats hold NaN
    and objects None for unknown. ``rules`` are the signals to raise,
    in the order of the figure “signals”; without any there is no such figure. ``progress`` is told
    (done, all) subjects. Raises CoreError when there is nothing to read, or nothing is complete by
    ``as_of``.
    """
    return run_market(
        data, settings, lens=lens, rules=rules, as_of=as_of, planning=planning, progress=progress
    ).figures


def run_market(
    data: MarketData,
    settings: Settings = DEFAULTS,
    *,
    lens: Lens = DEFAULT_LENS,
    rules: Sequence[Rule] = (),
    population: Bools | None = None,
    as_of: date | None = None,
    planning: date | None = None,
    moves: bool = True,
    progress: Callable[[int, int], None] | None = None,
) -> Workings:
    """``compute_figures`` with all that its figures were made from.

    ``population`` is (subjects,): those that are ranked, among themselves; by default all. ``moves``:
    whether it is read what moved of late on the supply side, which nothing but the watch needs.
    """
    if not data.subjects:
        raise CoreError(f"There are no {data.kind.plural} to read: term_weeks names no term.")
    if as_of is not None:
        data = data.upto(as_of)
    part = MarketPart(
        data, settings, lens=lens, rules=rules, population=population, planning=planning, moves=moves
    )  # fmt: skip
    # The market is the only part of itself.
    figures = part.measure(part.compete(part.read(progress).seasons))
    return part.finish(rank_all(part.values, figures.values, lens, settings), figures)
