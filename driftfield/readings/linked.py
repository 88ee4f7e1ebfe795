"""Markets whose figures were made over parts: what cannot be done with them, and niches fetched when opened."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from threading import Lock
from typing import TypeVar

import polars as pl
from django.conf import settings
from django.db import transaction
from django.db.models import Model

from driftfield.core.base import CoreError
from driftfield.core.market import NICHE
from driftfield.exchange.dataset.layout import Manifest, Store, read_manifest
from driftfield.exchange.dataset.one_niche import read_niche
from driftfield.exchange.dataset.parts import whole_tables
from driftfield.exchange.package import Package
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.progress import untold
from driftfield.home import turn
from driftfield.intake.actions.import_curves import CurvesImport
from driftfield.intake.actions.journal import Journal
from driftfield.intake.models import Batch
from driftfield.market.models import Brand, Category, Listing, Market, Niche, Seller
from driftfield.market.moments import within_moment

from .columns import columns_of
from .models import Run

WAITS = 50  # Looks whether an import is done, before a niche is not fetched (``home.LOOK`` apart).
# Rows that others may have brought already, by table: those are left as they are.
_SHARED: dict[str, tuple[type[Model], str, str]] = {
    "categories": (Category, "category_id", "category_id"),
    "brands": (Brand, "id", "id"), "sellers": (Seller, "id", "id"),
    "listings": (Listing, "listing_id", "listing_id"),
    "listing_weeks": (Listing, "listing_id", "listing_id"),
    "offers": (Listing, "listing_id", "listing_id"),
    "feedback": (Listing, "listing_id", "listing_id"),
}  # fmt: skip
T = TypeVar("T")
_FETCHING = Lock()


class NotFetchedError(Exception):
    """A niche lies in the data set, and what is being done cannot write."""

    def __init__(self, run: Run, niche_id: str) -> None:
        super().__init__(niche_id)
        self.run, self.niche_id = run, niche_id


def check_not_linked(market: Market) -> None:
    """Raise CoreError for a market whose figures were made over parts: they are made anew there."""
    run = Run.objects.filter(market=market).first()
    if run is not None and run.linked:
        raise CoreError(
            f"The figures of {market.name} were made over the parts of {run.data_set}. Make them anew there "
            "with bin/driftfield analyse DATASET --cluster ADDRESS --out FIGURES, and show these with "
            "bin/driftfield link FIGURES."
        )


def niche_of(market: Market, niche_id: str) -> Niche | None:
    """A niche of an analysed market by its id, fetched from the data set where it lies there; None for none.

    Raises CoreError where the data set cannot be read, and NotFetchedError within ``one_moment``: who began
    that fetches the niche after it, and begins again.
    """
    found = Niche.objects.filter(market=market, niche_id=niche_id)
    niche = found.select_related("category__parent").first()
    if niche is None and market.run.linked and niche_id in columns_of(market.run, NICHE).places:
        if within_moment():
            raise NotFetchedError(market.run, niche_id)
        fetch_niche(market.run, niche_id)
        niche = found.first()
    return niche


def fetch_niche(run: Run, niche_id: str) -> None:
    """Copy the rows of one niche from the data set, so that it can be looked at close up.

    Raises CoreError where the data set cannot be read, or is linked no more.
    """
    with _FETCHING:  # A dossier asks several questions at once, of which the first one fetches.
        if not _is_here(run, niche_id):
            _copy_niche(run, niche_id, _read_niche(run, niche_id))


def _is_here(run: Run, niche_id: str) -> bool:
    return Niche.objects.filter(market__market_id=run.market.market_id, niche_id=niche_id).exists()


def _read_niche(run: Run, niche_id: str) -> Package:
    def read() -> Package:
        source, manifest, whole = _data_set(run.data_set, run.columns_in)
        return read_niche(source, manifest, run.market.market_id, niche_id, whole)

    try:
        package = reached(run.data_set, read)
    except ExchangeError as error:
        raise CoreError(f"The data set at {run.data_set} cannot be read. {error}") from None
    if package.counts is None and "interest" not in package.frames:
        raise CoreError(
            f"“{niche_id}” is not in {run.data_set}: its tables are others than those the figures were made "
            "of. Make the figures again, and link these."
        )
    for name in ("categories", "markets"):
        package.frames.pop(name, None)
    return package


def _copy_niche(run: Run, niche_id: str, package: Package) -> None:
    looks = iter(range(WAITS))

    def waiting() -> None:
        if next(looks, None) is None:
            raise CoreError(
                f"An import is at work, and “{niche_id}” is not here yet. Open it again when that is done."
            )

    with turn(settings.DATA_DIR, "import", waiting), transaction.atomic():
        if not Run.objects.filter(pk=run.pk, columns_in=run.columns_in).exists():
            raise CoreError("These figures are linked no more, or others are. Load the page again.")
        # Another process may have fetched it meanwhile.
        if not _is_here(run, niche_id):
            copy_rows(package, run.market.market_id)


def reached(address: str, read: Callable[[], T]) -> T:
    """What is read at an address. Raises CoreError where that is out of reach, and what reading raises."""
    try:
        return read()
    except (CoreError, ExchangeError):
        raise
    except Exception as error:
        # Each file system has errors of its own for what is out of reach.
        raise CoreError(
            f"{address} cannot be reached ({type(error).__name__}: {str(error)[:200]}). See that it is still "
            "there, then try again."
        ) from error


@lru_cache(maxsize=2)
def _data_set(address: str, _columns_in: str) -> tuple[Store, Manifest, dict[str, pl.DataFrame]]:
    """What every niche of a data set is read with, as long as it is linked."""
    source = Store(address)
    manifest = read_manifest(source)
    return source, manifest, whole_tables(source, manifest)


def copy_rows(package: Package, market: str) -> None:
    """Write a package's rows as a copy of those of a data set, which can be taken away again.

    Nothing that is there already is changed.
    """
    for name, (model, field, column) in _SHARED.items():
        if (frame := package.frames.get(name)) is not None:
            known = model._default_manager.values_list(field, flat=True)
            ids = frame[column].unique()
            there = (
                set(known)
                if len(ids) > 500
                else set(known.filter(**{f"{field}__in": ids.to_list()}))
            )
            package.frames[name] = frame.filter(~pl.col(column).is_in(list(there)))
    package.frames = {name: frame for name, frame in package.frames.items() if frame.height}
    journal = Journal()
    counts = CurvesImport(package, journal, untold, market, copied=True).run()
    batch = Batch(source=f"Copied for {market}", digest="", linked_to=market)
    batch.counts = {table: count.as_dict() for table, count in counts.items()}
    batch.save()
    journal.save(batch)
    # It only made rows: what others were before, it need not put back.
    batch.rows_before.all().delete()
