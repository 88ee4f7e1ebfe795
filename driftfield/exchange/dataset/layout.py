"""How a data set lies on a disk or an object store: a folder a table, below it markets and parts.

    DATASET/dataset.json                                    what it is, written last: without it there is none
    DATASET/term_weeks/market_id=north/part=0003/rows.parquet
    DATASET/sellers/rows.parquet                            tables that belong to no niche are whole

The folders are named as is usual for partitioned Parquet (“hive-style”): ``column=value``, the value percent-
encoded (RFC 3986). A niche's rows lie in one part, CRC-32 (ITU-T V.42) of its id in UTF-8 modulo the number of
parts; a listing's rows lie in every part whose terms led to clicks on it. Any path that fsspec knows will do.
"""

from __future__ import annotations

import io
import json
from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any
from urllib.parse import quote, unquote
from zlib import crc32

import fsspec
import numpy as np
import polars as pl

from driftfield.core.base import Ints

from ..forms import refusal
from ..tables import tables

MANIFEST = "dataset.json"
FORMAT = 1
ROWS = "rows.parquet"
# What a run over the parts leaves: what it was, written last; figures of niches by market and part; and beside
# them, niche by niche, what lenses, questions about listings and plans ask for (``exchange.beside``).
RESULT, FIGURES, BESIDE = "result.json", "niches", "beside"
# Others write there too, so that what was listed a moment ago may not be all.
STORED = {"use_listings_cache": False}
# Tables that belong to no niche; the rest lie in parts.
WHOLE = ("markets", "categories", "brands", "sellers", "protected_words")
PARTED = tuple(name for name in tables() if name not in WHOLE)


def part_of(text: str, parts: int) -> int:
    """The part in which a key lies."""
    return crc32(text.encode()) % parts


def parts_of(keys: pl.Series, parts: int) -> Ints:
    """The part of each key, (rows,); −1 where there is none."""
    runs = keys.rle().struct.unnest()
    if len(runs) * 4 < len(keys):
        # Long tables mostly name one key many times in turn.
        return np.repeat(parts_of(runs["value"], parts), runs["len"].to_numpy())
    distinct = keys.unique()
    place = pl.DataFrame(
        {
            "key": distinct,
            "part": [-1 if key is None else part_of(key, parts) for key in distinct.to_list()],
        }
    )
    joined = pl.DataFrame({"key": keys}).join(
        place, on="key", how="left", maintain_order="left", nulls_equal=True
    )
    found: Ints = joined["part"].to_numpy().astype(np.int64)
    return found


@dataclass(frozen=True, slots=True)
class Manifest:
    """What a data set holds.

    parts: how many. tables: the columns of each table with their types, as polars names them; rows: of each, a
    listing's in several parts counted in each. periods: week or month by table. created: when the package it
    was made from says that it was made.
    """

    parts: int
    tables: dict[str, dict[str, str]]
    rows: dict[str, int]
    periods: dict[str, str]
    markets: list[str]
    created: str | None = None
    format: int = FORMAT
    hash: str = "CRC-32 of niche_id in UTF-8, modulo parts"
    notes: list[str] = field(default_factory=list)


class Store:
    """Where a data set lies, local or not."""

    def __init__(self, address: str) -> None:
        self.fs, self.root = fsspec.core.url_to_fs(address.rstrip("/"), **STORED)
        # Who works elsewhere stands in another folder.
        self.address = self.root if self._local else address.rstrip("/")

    def __reduce__(self) -> tuple[Any, ...]:
        return (Store, (self.address,))

    def path(self, *names: str) -> str:
        """A path below it, as its file system wants it."""
        return "/".join((self.root, *names))

    def exists(self, *names: str) -> bool:
        """Whether there is such a file or folder."""
        return bool(self.fs.exists(self.path(*names)))

    def is_empty(self) -> bool:
        """Whether nothing lies there yet."""
        return not self.fs.exists(self.root) or not self.fs.ls(self.root, detail=False)

    def write(self, data: bytes, *names: str) -> None:
        """Write a file whole: who reads meanwhile sees what was there before, or nothing."""
        path = self.path(*names)
        self.fs.makedirs(path.rpartition("/")[0], exist_ok=True)
        if self._local:
            # An object store shows nothing before it is whole; a disk does.
            beside = f"{path}.new"
            self.fs.pipe_file(beside, data)
            self.fs.mv(beside, path)
        else:
            self.fs.pipe_file(path, data)

    def read(self, *names: str) -> bytes:
        """A file's bytes."""
        return bytes(self.fs.cat_file(self.path(*names)))

    def names(self, *names: str) -> list[str]:
        """What lies in a folder, in order; nothing where there is none."""
        path = self.path(*names)
        if not self.fs.exists(path):
            return []
        self.fs.invalidate_cache(path)
        found = (one.rstrip("/").rpartition("/")[2] for one in self.fs.ls(path, detail=False))
        return sorted(name for name in found if name and not name.endswith(".new"))

    def remove(self, *names: str) -> None:
        """Remove a file or folder with all that is in it; nothing where there is none."""
        path = self.path(*names)
        if self.fs.exists(path):
            self.fs.rm(path, recursive=True)

    @property
    def _local(self) -> bool:
        return "file" in (
            self.fs.protocol if isinstance(self.fs.protocol, tuple) else (self.fs.protocol,)
        )

    def write_frame(self, frame: pl.DataFrame, *names: str) -> None:
        """Write a frame as Parquet."""
        buffer = io.BytesIO()
        frame.write_parquet(buffer, compression="zstd", compression_level=1)
        self.write(buffer.getvalue(), *names)

    def read_frame(
        self, *names: str, columns: Sequence[str] | None = None, where: pl.Expr | None = None
    ) -> pl.DataFrame:
        """A frame, or some of its columns and rows: others are not even made."""
        source = self.path(*names) if self._local else io.BytesIO(self.read(*names))
        lazy = pl.scan_parquet(source, hive_partitioning=False)
        if where is not None:
            lazy = lazy.filter(where)
        if columns is not None:
            known = lazy.collect_schema().names()
            lazy = lazy.select([name for name in columns if name in known])
        return lazy.collect()


def market_folder(market: str) -> str:
    """The folder of a market's parts."""
    return f"market_id={quote(market, safe='')}"


def part_folder(part: int) -> str:
    """The folder of a part."""
    return f"part={part:04d}"


def markets_in(store: Store, table: str) -> Iterator[str]:
    """The markets of which a table has parts."""
    for name in store.names(table):
        if name.startswith("market_id="):
            yield unquote(name.removeprefix("market_id="))


def write_manifest(store: Store, manifest: Manifest) -> None:
    """Write what a data set holds, which makes it one."""
    text = json.dumps(asdict(manifest), ensure_ascii=False, indent=1)
    store.write(text.encode(), MANIFEST)


def read_manifest(store: Store) -> Manifest:
    """What a data set holds; ExchangeError where there is none, or another program's."""
    if not store.exists(MANIFEST):
        raise refusal(
            store.address, f"There is no data set: {MANIFEST} is missing.",
            "Make one with bin/driftfield partition FOLDER DATASET --parts N.",
        )  # fmt: skip
    try:
        found = json.loads(store.read(MANIFEST))
        manifest = Manifest(**found) if found.get("format") == FORMAT else None
    except (ValueError, TypeError, AttributeError) as error:
        raise refusal(
            f"{store.address}/{MANIFEST}", f"It cannot be read ({error}).",
            "Make the data set again with bin/driftfield partition.",
        ) from None  # fmt: skip
    if manifest is None:
        raise refusal(
            f"{store.address}/{MANIFEST}", f"It is of format {found.get('format')}, not {FORMAT}.",
            "Make the data set again with this version.",
        )  # fmt: skip
    return manifest
