"""Figures made over the parts of a small market, for tests that link them."""

from pathlib import Path

from distributed import Client

from driftfield.cluster import analyse_dataset
from driftfield.core.base import DEFAULTS
from driftfield.core.ranking import DEFAULT_LENS
from driftfield.exchange.dataset.partition import partition
from driftfield.exchange.tests.packages import supplied_market, weekly, write

OTHERS = 40


def market() -> dict[str, str]:
    """The supplied market with more niches, so that every part has some."""
    files = supplied_market()
    for term, week, searches in (
        row for i in range(OTHERS) for row in weekly(f"spade {i}", [30 + i] * 156)
    ):
        files["term_weeks"] += f"{term},{week},{searches},,\n"
    return files


def make_figures(folder: Path, files: dict[str, str] | None = None) -> Path:
    """Put the market in parts in ``folder/set``, analyse it there, and return where the figures are."""
    partition(write(folder / "package", **(files or market())), str(folder / "set"), 3)
    figures = folder / "figures"
    with Client(
        processes=False, n_workers=1, threads_per_worker=1, dashboard_address=None
    ) as client:
        analyse_dataset(client, str(folder / "set"), str(figures), DEFAULTS, DEFAULT_LENS)
    return figures
