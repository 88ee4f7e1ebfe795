"""Texts of millions of subjects that stay on disk: a block of bytes and where each text ends in it."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Mapping, Sequence
from typing import overload

import numpy as np
import polars as pl

from driftfield.core.base import Ints

AT_ONCE = 1 << 16  # Texts that are made at once where all are asked for.


class Labels(Sequence[str]):
    """Texts by place; each is made when it is asked for. blob: their UTF-8; ends: (texts,)."""

    def __init__(self, blob: np.ndarray, ends: Ints) -> None:
        self._blob, self._ends = blob, ends

    def __len__(self) -> int:
        return len(self._ends)

    @overload
    def __getitem__(self, place: int) -> str: ...
    @overload
    def __getitem__(self, place: slice) -> list[str]: ...

    def __getitem__(self, place: int | slice) -> str | list[str]:
        if isinstance(place, slice):
            return [self[at] for at in range(*place.indices(len(self)))]
        at = range(len(self))[place]
        start = 0 if at == 0 else int(self._ends[at - 1])
        return self._blob[start : int(self._ends[at])].tobytes().decode()

    def __iter__(self) -> Iterator[str]:
        for first in range(0, len(self), AT_ONCE):
            yield from self[first : first + AT_ONCE]


def blob_of(texts: pl.Series) -> np.ndarray:
    """Texts one after the other in UTF-8, (bytes,)."""
    return np.frombuffer("".join(texts.to_list()).encode(), dtype=np.uint8)


def ends_of(texts: pl.Series) -> Ints:
    """Where each ends there, (texts,)."""
    return texts.str.len_bytes().cast(pl.Int64).cum_sum().to_numpy()


class Places(Mapping[str, int]):
    """The place of each text, found by halving. order: places in the order of their texts' bytes."""

    def __init__(self, labels: Labels, order: Ints) -> None:
        self._labels, self._order = labels, order

    def __len__(self) -> int:
        return len(self._order)

    def __iter__(self) -> Iterator[str]:
        return iter(self._labels)

    def __getitem__(self, text: str) -> int:
        # Half a character, which JSON can hold, is in no text of them.
        wanted = text.encode(errors="surrogatepass")
        at = bisect_left(self._order, wanted, key=lambda place: self._labels[int(place)].encode())
        if at < len(self._order):
            place = int(self._order[at])
            if self._labels[place] == text:
                return place
        raise KeyError(text)
