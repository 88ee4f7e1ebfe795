"""Columns of a run over parts, in files beside the database: one a part, read whole or for some subjects.

Of tens of millions of niches the columns would fill the database's pages, and be copied with each backup. Each
file is an Arrow IPC file, the open format, in batches of ``BATCH`` rows, so that one subject's figures cost a
batch and not the columns.
"""

from __future__ import annotations

import json
import shutil
from collections.abc import Collection, Iterator, Sequence
from functools import lru_cache
from pathlib import Path

import numpy as np
import polars as pl
from django.conf import settings

from driftfield.core.base import CoreError, Ints
from driftfield.home import OWN

FOLDER = "linked"
BATCH = 4096
INDEX = "index.json"


class LinkedColumns:
    """The columns of a kind. heights: how many subjects each part has; names: of the columns."""

    def __init__(self, folder: Path) -> None:
        found = json.loads((folder / INDEX).read_bytes())
        self.folder = folder
        self.heights: list[int] = found["heights"]
        self.names: list[str] = found["names"]
        self._ends = np.cumsum(self.heights)

    def _part(self, number: int) -> Path:
        return self.folder / f"{number:05d}.arrow"

    def whole(self, names: Collection[str]) -> Iterator[tuple[str, pl.Series]]:
        """Whole columns in the order of the parts, by name; those there are."""
        files = [self._part(number) for number in range(len(self.heights))]
        for name in names:
            if name in self.names and files:
                yield name, self._read(pl.scan_ipc(files).select(name)).to_series()

    def _read(self, asked: pl.LazyFrame) -> pl.DataFrame:
        """What is asked for. Raises CoreError where the files went meanwhile, as when others were linked."""
        try:
            return asked.collect()
        except (OSError, pl.exceptions.PolarsError):
            if (self.folder / INDEX).exists():
                raise
            raise CoreError("Other figures were linked meanwhile. Load the page again.") from None

    def some(self, names: Sequence[str], places: Ints) -> pl.DataFrame:
        """Columns of the subjects at some places, in their order; without those that there are not."""
        wanted = [name for name in names if name in self.names]
        parts = np.searchsorted(self._ends, places, side="right")
        rows: list[pl.DataFrame] = []
        order: list[int] = []
        for part in np.unique(parts).tolist():
            mine = np.flatnonzero(parts == part)
            local = places[mine] - (self._ends[part] - self.heights[part])
            lazy = pl.scan_ipc(self._part(part)).select(wanted)
            for batch in np.unique(local // BATCH).tolist():
                of_batch = local // BATCH == batch
                read = self._read(lazy.slice(batch * BATCH, BATCH))
                rows.append(read[local[of_batch] - batch * BATCH])
                order += mine[of_batch].tolist()
        if not rows:
            return pl.DataFrame()
        return pl.concat(rows)[np.argsort(np.array(order), kind="stable")]


class Writer:
    """Writes the columns of a kind part by part; the index comes last, and makes them some."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.heights: list[int] = []
        self.names: list[str] | None = None
        folder.mkdir(parents=True, mode=0o700)

    def add(self, frame: pl.DataFrame) -> None:
        """The subjects of one more part; all parts have the same columns."""
        if self.names is None:
            self.names = frame.columns
        file = self.folder / f"{len(self.heights):05d}.arrow"
        file.touch(mode=OWN)
        frame.write_ipc(file, compression="lz4", record_batch_size=BATCH)
        self.heights.append(frame.height)

    def finish(self) -> int:
        """Make the columns whole; how many subjects they are of."""
        found = {"heights": self.heights, "names": self.names or []}
        file = self.folder / INDEX
        file.touch(mode=OWN)
        file.write_text(json.dumps(found))
        return sum(self.heights)


def linked_folder(name: str) -> Path:
    """Where the columns of a run lie that names this folder."""
    return Path(settings.DATA_DIR) / FOLDER / name


@lru_cache(maxsize=8)
def _opened(folder: Path) -> LinkedColumns:
    return LinkedColumns(folder)


def linked_columns(name: str, kind: str) -> LinkedColumns | None:
    """The columns of a kind of a run that names this folder; None where it has none.

    Raises CoreError where the folder is gone, as after a copy of the database was put back.
    """
    folder = linked_folder(name)
    if not folder.is_dir():
        raise CoreError(
            f"The figures of this market lay in {folder}, which is gone. Link them again with "
            "bin/driftfield link."
        )
    return _opened(folder / kind) if (folder / kind / INDEX).exists() else None


def remove_linked(name: str) -> None:
    """Remove the columns of a run that is gone."""
    shutil.rmtree(linked_folder(name), ignore_errors=True)


def sweep(names: Collection[str]) -> None:
    """Remove what no run names: an earlier link was broken off, or its market is gone."""
    folder = Path(settings.DATA_DIR) / FOLDER
    for found in folder.iterdir() if folder.is_dir() else ():
        if found.name not in names:
            shutil.rmtree(found, ignore_errors=True)
