"""Analyse, keep what the watch needs of it, and tell what changed."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from driftfield.core.base import DEFAULTS, Settings
from driftfield.desk.watch import keep_look, tell
from driftfield.desk.write_queue import writing
from driftfield.market.models import Market
from driftfield.readings import actions
from driftfield.readings.models import Run

Progress = Callable[[int, int], None]


def analyse_and_watch(
    market: Market, settings: Settings = DEFAULTS, *, progress: Progress | None = None
) -> Run:
    """Analyse a market as ``readings.actions.analyse_market`` does, and note what changed since the last
    import."""
    run = actions.analyse_market(market, settings, progress=progress)
    _watch(run)
    return run


def analyse_all_and_watch(
    settings: Settings = DEFAULTS, *, only_stale: bool = False, progress: Progress | None = None
) -> Iterator[Run]:
    """The same of every market, or of those that are out of date."""
    for run in actions.analyse_all(settings, only_stale=only_stale, progress=progress):
        _watch(run)
        yield run


def _watch(run: Run) -> None:
    with writing():
        tell(run, keep_look(run))
