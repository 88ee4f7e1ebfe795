"""Figures that a run over parts left become those of a market; its tables stay in the data set.

Nothing of the data set is copied but what the first page needs: the markets and their categories. The rest of
a niche is fetched when it is opened (``fetch_niche``).
"""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any
from urllib.parse import unquote
from uuid import uuid4

import polars as pl
from django.conf import settings
from django.db import transaction
from django.utils import timezone

from driftfield.core.base import CoreError, Settings
from driftfield.core.market import NICHE, FigureType, figures_of
from driftfield.exchange.beside import CATEGORY_ID
from driftfield.exchange.columns import type_of
from driftfield.exchange.dataset.layout import (
    BESIDE,
    FIGURES,
    RESULT,
    ROWS,
    Manifest,
    Store,
    market_folder,
    read_manifest,
)
from driftfield.exchange.dataset.parts import whole_tables
from driftfield.exchange.forms import refusal
from driftfield.exchange.package import Package
from driftfield.exchange.progress import untold
from driftfield.home import turn
from driftfield.intake.actions.import_folder import import_turn
from driftfield.intake.actions.journal import take_back
from driftfield.intake.models import Batch
from driftfield.market.models import Market
from driftfield.market.own_niches import niches_mark
from driftfield.readings.linked import copy_rows, reached
from driftfield.readings.linked_columns import Writer, linked_folder, remove_linked, sweep
from driftfield.readings.method import method_digest
from driftfield.readings.models import Run
from driftfield.readings.store import OWN, compact

Told = Callable[[str, int, int], None]
WORDS = (
    "There are niches alone, whose figures were made over parts; conditions on terms ask for words in "
    "their names."
)


@dataclass(frozen=True, slots=True)
class Result:
    """What a run left. told: its ``result.json``. parts: of each market the folders of its parts."""

    store: Store
    told: dict[str, Any]
    parts: dict[str, list[str]]

    @classmethod
    def read(cls, figures: str) -> Result:
        """Look at it. Raises ExchangeError where no run ended there."""
        store = Store(figures)
        if not store.exists(RESULT):
            raise refusal(
                figures, f"No run over parts ended there: {RESULT} is missing.",
                "Make the figures with bin/driftfield analyse DATASET --cluster local:2 --out FIGURES.",
            )  # fmt: skip
        try:
            told = json.loads(store.read(RESULT))
            date.fromisoformat(told["as_of"])
            Settings.from_dict(told["settings"])
            str(told["data"]), " ".join(told["notes"])
        except (ValueError, KeyError, TypeError) as error:
            raise refusal(
                f"{figures}/{RESULT}", f"It cannot be read ({type(error).__name__}: {error}).",
                "Make the figures again with this version.",
            ) from None  # fmt: skip
        markets = {
            unquote(name.removeprefix("market_id=")): store.names(FIGURES, name)
            for name in store.names(FIGURES)
        }
        if not markets:
            raise refusal(figures, "There are no figures of niches.", "Make the figures again.")
        return cls(store, told, markets)


def link_figures(figures: str, data: str = "", *, progress: Told = untold) -> list[Run]:
    """Show the figures that lie at an address, niche by niche with the curves of the data set.

    data: where the data set is now, if not where the run read it. A market that was linked before has the new
    figures from then on. Raises ExchangeError and CoreError, and changes nothing, where they are not to be
    read, or where a market of that id was imported here.
    """
    result = reached(figures, lambda: Result.read(figures))
    address = data or str(result.told["data"])
    source, manifest = reached(address, lambda: _data_set(address))
    markets = list(result.parts)
    for one in Market.objects.filter(market_id__in=markets).select_related("run"):
        if not (hasattr(one, "run") and one.run.linked):
            raise CoreError(
                f"Market “{one.market_id}” is loaded here from files. Undo their imports, or link its figures "
                "in a data folder of their own (DRIFTFIELD_DATA)."
            )
    whole = whole_tables(source, manifest)
    made = {market: uuid4().hex for market in markets}
    with turn(settings.DATA_DIR, "link", lambda: progress("Waiting for another link to end", 0, 0)):
        sweep([*Run.objects.values_list("columns_in", flat=True)])
        try:
            counts = {
                market: _write(result, market, _width(manifest), name, progress)
                for market, name in made.items()
            }
            # Who decides on something meanwhile waits for no more than this.
            with import_turn(progress), transaction.atomic():
                old = _forget(markets)
                _bring_whole(whole, markets)
                runs = [
                    _run(result, source, manifest, market, name, counts[market])
                    for market, name in made.items()
                ]
        except BaseException:
            for name in made.values():
                remove_linked(name)
            raise
        for name in old:
            remove_linked(name)
    return runs


def _data_set(address: str) -> tuple[Store, Manifest]:
    source = Store(address)
    return source, read_manifest(source)


def unlink(market_id: str) -> None:
    """Take the figures of a market away again, those of all that were linked with it, and what was fetched.

    Decisions and notes stay. Raises CoreError for a market that is not linked.
    """
    with import_turn(untold), transaction.atomic():
        if not Run.objects.filter(market__market_id=market_id, columns_in__gt="").exists():
            raise CoreError(f"Market “{market_id}” is not linked to a data set.")
        gone = _forget([market_id])
    for name in gone:
        remove_linked(name)


def _forget(markets: Sequence[str]) -> list[str]:
    """Drop what was copied for some markets and those linked with them, which share categories and listings.

    The folders of their columns, which nobody names any more.
    """
    linked = Run.objects.exclude(columns_in="")
    sets = linked.filter(market__market_id__in=markets).values_list("data_set", flat=True)
    rows = linked.filter(data_set__in=list(sets)).values_list("market__market_id", "columns_in")
    folders = dict(rows)
    for batch in Batch.copied.filter(linked_to__in=[*folders]):
        take_back(batch)
        batch.delete()
    Market.objects.filter(market_id__in=[*folders]).delete()
    return list(folders.values())


def _bring_whole(whole: dict[str, pl.DataFrame], markets: Sequence[str]) -> None:
    """Copy the markets, each for itself, and the categories they share."""
    named = whole.get("markets")
    if named is None:
        blank = [""] * len(markets)
        named = pl.DataFrame({"market_id": markets, "name": markets, "currency": blank})
    for market in markets:
        frames = {"markets": named.filter(pl.col("market_id") == market)}
        if "categories" in whole:
            frames["categories"] = whole["categories"]
        copy_rows(Package(frames=frames), market)


def _write(result: Result, market: str, width: int, name: str, progress: Told) -> int:
    """Write the columns of a market's niches, a file a part; how many niches there are."""
    columns = _Columns(result, market, width)
    writer = Writer(linked_folder(name) / NICHE.key)
    parts = result.parts[market]
    for done, part in enumerate(parts, 1):
        writer.add(columns.of_part(part))
        progress(f"Linking figures of {market}", done, len(parts))
    return writer.finish()


def _run(
    result: Result, source: Store, manifest: Manifest, market_id: str, name: str, many: int
) -> Run:
    """Make the columns in a folder the run of a market."""
    told = result.told
    planning = told.get("planning_date")
    return Run.objects.create(
        market=Market.objects.get(market_id=market_id), planned_at=timezone.now(),
        as_of=date.fromisoformat(told["as_of"]),
        planning_date=None if planning is None else date.fromisoformat(planning),
        period=manifest.periods.get("term_weeks") or manifest.periods["interest"],
        settings=Settings.from_dict(told["settings"]).as_dict(), counts={NICHE.key: many},
        note=" ".join([*told["notes"], WORDS]), method=method_digest(), niches_mark=niches_mark(market_id),
        data_set=source.address, columns_in=name,
    )  # fmt: skip


def _width(manifest: Manifest) -> int:
    """Factors of a profile."""
    return 12 if set(manifest.periods.values()) <= {"month"} else 52


class _Columns:
    """What is stored of a market's niches, part by part in one make: all parts have the same columns."""

    def __init__(self, result: Result, market: str, width: int) -> None:
        self.store, self.folder, self.width = result.store, market_folder(market), width
        self.beside: dict[str, pl.DataType] = {}
        for part in result.parts[market]:
            if (found := self._beside(part, where=pl.lit(False))) is not None:
                self.beside |= dict(found.schema)
        for name in (NICHE.subject, CATEGORY_ID):
            self.beside.pop(name, None)

    def _beside(self, part: str, where: pl.Expr | None = None) -> pl.DataFrame | None:
        place = (BESIDE, self.folder, part, ROWS)
        return self.store.read_frame(*place, where=where) if self.store.exists(*place) else None

    def of_part(self, part: str) -> pl.DataFrame:
        """The columns of one part. Raises ExchangeError where its figures are not as a run writes them."""
        place = (FIGURES, self.folder, part, ROWS)
        try:
            frame = self.store.read_frame(*place)
            beside = self._beside(part)
            columns = self._columns(frame, beside)
        except (pl.exceptions.PolarsError, OSError) as error:
            raise refusal(
                "/".join(place), f"It cannot be read ({str(error).splitlines()[0][:200]}).",
                "Make the figures again.",
            ) from None  # fmt: skip
        for name, dtype in self.beside.items():
            columns[name] = _column(beside, name, dtype, frame.height)
        return pl.DataFrame(columns)

    def _columns(self, frame: pl.DataFrame, beside: pl.DataFrame | None) -> dict[str, pl.Series]:
        columns = {f"{OWN}{name}": frame[name] for name in ("niche_id", "name")}
        named = _column(beside, CATEGORY_ID, pl.String, frame.height)
        columns[f"{OWN}{CATEGORY_ID}"] = named
        for figure in figures_of(NICHE):
            found = _column(frame, figure.key, type_of(figure), frame.height)
            if figure.type is FigureType.PROFILE:
                fits = found.list.len() == self.width
                rows = pl.select(pl.when(fits).then(found)).to_series()
                columns[figure.key] = rows.cast(pl.List(pl.Float32)).list.to_array(self.width)
            else:
                columns[figure.key] = compact(figure, found)
        return columns


def _column(
    frame: pl.DataFrame | None, name: str, dtype: pl.DataType | type[pl.DataType], rows: int
) -> pl.Series:
    """A column of a frame, unknown where it has none."""
    if frame is None or name not in frame.columns:
        return pl.repeat(None, rows, dtype=dtype, eager=True)
    return frame[name]
