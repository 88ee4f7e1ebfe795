"""Parquet to CSV in a program of its own: a damaged page can end the one that reads it, not only fail.

python -m driftfield.exchange.parquet < table.parquet > table.csv
"""

from __future__ import annotations

import io
import os
import resource
import subprocess
import sys
from pathlib import Path

import polars as pl

MEMORY = 8 << 30  # Bytes of address space the reading program may take.
SECONDS = 600


class DamagedError(ValueError):
    """What the reading program said, or how it ended."""


def parquet_csv(raw: bytes) -> bytes:
    """The table as CSV, dates without a time of day and flags as 0 and 1.

    Raises DamagedError where it cannot be read, or holds lists, records or bytes.
    """
    root = str(Path(__file__).resolve().parents[2])
    try:
        made = subprocess.run(
            [sys.executable, "-m", "driftfield.exchange.parquet"], input=raw, capture_output=True,
            env={**os.environ, "PYTHONPATH": root}, timeout=SECONDS, check=False,
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        raise DamagedError(f"reading it took over {SECONDS // 60} minutes") from None
    if made.returncode == REFUSED:
        raise DamagedError(made.stderr.decode("utf-8", "replace").strip())
    if made.returncode:
        raise DamagedError("its pages are damaged")
    return made.stdout


REFUSED = 3


def _read(raw: bytes) -> bytes:
    frame = pl.read_parquet(io.BytesIO(raw))
    nested = [key for key, kind in frame.schema.items() if kind.is_nested() or kind == pl.Binary]
    if nested:
        raise DamagedError(f"“{nested[0]}” holds lists, records or bytes and no plain values")
    dated, flags = pl.selectors.datetime(), pl.selectors.boolean()
    return frame.with_columns(dated.dt.date(), flags.cast(pl.Int8)).write_csv().encode()


def main() -> int:
    """Standard input to standard output; REFUSED with a sentence on standard error."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        sys.stdout.buffer.write(_read(sys.stdin.buffer.read()))
    except (pl.exceptions.PolarsError, OSError, MemoryError, DamagedError) as error:
        lines = str(error).splitlines()
        sys.stderr.write(lines[0] if lines else type(error).__name__)
        return REFUSED
    return 0


if __name__ == "__main__":
    sys.exit(main())
