"""Columns of a large run as files beside the database, mapped into memory.

What a run stores is packed in blocks, and unpacking a whole column costs more than asking it. Of a large
kind each column that was asked for is kept unpacked: the processes that serve share its pages, a start
finds it as it was, and a value from anywhere costs a page of it. The files are derived from the blocks;
whoever deletes them loses nothing.
"""

from __future__ import annotations

import logging
import os
import shutil
from collections.abc import Callable
from contextlib import suppress
from hashlib import sha256
from pathlib import Path
from typing import IO, TypeVar

import numpy as np
import polars as pl
from django.db import connections

from driftfield.core.market import Kind
from driftfield.home import OWN

from .method import method_digest
from .models import Run

LOG = logging.getLogger(__name__)
FROM = 4096  # Subjects of a kind from which its columns are kept in files.
FOLDER = "columns"
T = TypeVar("T")
_LAYOUT = "1"  # Raise it when what the files hold changes.


class ColumnFiles:
    """The files of a kind's columns in a run, of one state of it.

    Only arrays without objects are kept; see ``numpy.lib.format`` for how.
    """

    def __init__(self, run: Run, kind: Kind) -> None:
        beside = beside_database()
        large = run.counts.get(kind.key, 0) >= FROM
        self.folder = None
        if beside is not None and large:
            # Of one analysis with its dates, read by one version of the program.
            state = sha256(f"{_LAYOUT} {run.planned_at.isoformat()} {method_digest()}".encode())
            whole = beside / f"{run.pk}-{state.hexdigest()[:16]}"
            with suppress(OSError):
                beside.mkdir(exist_ok=True, mode=0o700)
                _sweep(beside, run.pk, whole.name)
            self.folder = whole / kind.key

    def array(self, name: str, make: Callable[[], np.ndarray]) -> np.ndarray:
        """An array by its name: as it was kept, mapped into memory, or made now and kept."""
        return self._kept(f"{name}.npy", make, _mapped, _save)

    def table(self, name: str, make: Callable[[], pl.DataFrame]) -> pl.DataFrame:
        """A table by its name: as it was kept, or made now and kept."""
        return self._kept(f"{name}.arrow", make, pl.read_ipc, lambda made, to: made.write_ipc(to))

    def _kept(
        self,
        name: str,
        make: Callable[[], T],
        read: Callable[[Path], T],
        write: Callable[[T, IO[bytes]], object],
    ) -> T:
        if self.folder is None or uncommitted():
            return make()
        file = self.folder / name
        with suppress(OSError, ValueError, pl.exceptions.ComputeError):
            return read(file)
        made = make()
        half = file.with_name(f"{name}.{os.getpid()}.half")
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            half.touch(mode=OWN)
            with half.open("wb") as opened:
                write(made, opened)
            half.replace(file)
            return read(file)
        except OSError as error:
            # It is held in memory as a small one is; a full disk is told of where something must be written.
            LOG.warning("A column could not be kept as %s: %s", file, error)
            with suppress(OSError):
                half.unlink()
            return made


def uncommitted() -> bool:
    """Whether what is read may be of a change that is never made."""
    return connections["default"].in_atomic_block


def _save(made: np.ndarray, to: IO[bytes]) -> None:
    np.save(to, made, allow_pickle=False)


def _mapped(file: Path) -> np.ndarray:
    # As a plain array, which is indexed in a third of the time.
    return np.asarray(np.load(file, mmap_mode="r", allow_pickle=False))


def beside_database() -> Path | None:
    """The folder of the files; None where the database is no file."""
    name = str(connections["default"].settings_dict["NAME"])
    return Path(name).parent / FOLDER if name and Path(name).is_file() else None


def _sweep(beside: Path, run: int, now: str) -> None:
    """Remove what was kept of other states of a run, and of runs that are gone."""
    runs = set(Run.objects.values_list("pk", flat=True))
    for found in beside.iterdir():
        key = found.name.partition("-")[0]
        old = int(key) not in runs if key.isdecimal() else True
        if old or (key == str(run) and found.name != now):
            shutil.rmtree(found, ignore_errors=True)
