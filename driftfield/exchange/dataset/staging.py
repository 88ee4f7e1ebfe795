"""Rows set aside on disk by the bucket they belong to, so that each bucket can be looked at by itself."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import polars as pl

from driftfield.core.base import Ints

HELD = 1 << 28  # Bytes of rows held in memory before they are put on disk.


class Staging:
    """Rows of tables by bucket. Memory is bounded by HELD, whatever is put in."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._held: dict[tuple[str, int], list[pl.DataFrame]] = {}
        self._bytes = self._files = 0

    def put(self, table: str, frame: pl.DataFrame, bucket: Ints) -> None:
        """Set rows aside; ``bucket`` is (rows,)."""
        if not frame.height:
            return
        order = np.argsort(bucket, kind="stable")
        sizes = np.bincount(bucket)
        rows, start = frame[order], 0
        for which in np.flatnonzero(sizes).tolist():
            part = rows.slice(start, int(sizes[which]))
            start += part.height
            self._held.setdefault((table, which), []).append(part)
        self._bytes += int(frame.estimated_size())
        if self._bytes > HELD:
            self._flush()

    def _flush(self) -> None:
        for (table, bucket), frames in self._held.items():
            self._files += 1
            folder = self._folder / table / str(bucket)
            folder.mkdir(parents=True, exist_ok=True)
            whole = pl.concat(frames, how="diagonal")
            whole.write_ipc(folder / f"{self._files:08}.arrow", compression="lz4")
        self._held.clear()
        self._bytes = 0

    def take(self, table: str, bucket: int) -> pl.DataFrame | None:
        """All rows of a bucket, which then are there no more; None where there are none."""
        files = sorted((self._folder / table / str(bucket)).glob("*.arrow"))
        frames = [pl.read_ipc(file) for file in files]
        frames += self._held.pop((table, bucket), [])
        for file in files:
            file.unlink()
        return pl.concat(frames, how="diagonal") if frames else None
