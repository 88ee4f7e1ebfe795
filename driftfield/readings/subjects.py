"""Who the subjects of a run are: ids, names, keys in the database, categories."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property

import numpy as np
import polars as pl

from driftfield.core.base import Bools, Floats, Ints
from driftfield.core.market import HOLDERS, Kind
from driftfield.exchange.beside import CATEGORY_ID

from .category_names import CategoryNames
from .column_files import ColumnFiles
from .labels import Labels, Places, blob_of, ends_of
from .models import Run
from .store import CATEGORIES, KEYS, OWN, read_column

MILLIONS = 2_000_000  # Subjects from which their texts stay on disk.


def in_order(texts: pl.Series) -> Floats:
    """Place of each text in alphabetical order; equal ones share one."""
    ranks: Floats = texts.rank("dense").to_numpy().astype(np.float64)
    return ranks


class Subjects:
    """The subjects of one kind in a run, in its order; everything is read once, when first asked for."""

    def __init__(self, run: Run, kind: Kind) -> None:
        self.run, self.kind = run, kind
        self._files = ColumnFiles(run, kind)

    @cached_property
    def keys(self) -> Ints:
        """Keys of the subjects in the database, in the order of the run; −1 where they do not lie in it."""
        if self.run.linked:
            return np.broadcast_to(np.int64(-1), self.run.counts.get(self.kind.key, 0))
        return self._files.array(KEYS, lambda: self._whole(KEYS, pl.Int64).to_numpy())

    @property
    def count(self) -> int:
        return len(self.keys)

    def _whole(self, name: str, dtype: type[pl.DataType] | pl.DataType) -> pl.Series:
        found = read_column(self.run, self.kind, name)
        if found is None:
            rows = 0 if name == KEYS else self.count
            return pl.repeat(None, rows, dtype=dtype, eager=True)
        return found

    def identity(self, field: str) -> Sequence[str]:
        """A field of the kind's identity of all subjects; empty where it is unknown of one."""
        if not self._many:
            return self._text(field).to_list()
        name = f"{OWN}{field}"
        blob = self._files.array(f"{name}.blob", lambda: blob_of(self._text(field)))
        return Labels(blob, self._files.array(f"{name}.ends", lambda: ends_of(self._text(field))))

    def _text(self, field: str) -> pl.Series:
        return self._whole(f"{OWN}{field}", pl.String).fill_null("")

    @property
    def _many(self) -> bool:
        """Whether texts are better left on disk."""
        return self.count >= MILLIONS and self._files.folder is not None

    @cached_property
    def ids(self) -> Sequence[str]:
        """The subjects' ids."""
        return self.identity(self.kind.subject)

    @property
    def _names(self) -> pl.Series:
        return self._text("name" if "name" in self.kind.fields else self.kind.subject)

    @cached_property
    def names(self) -> Sequence[str]:
        """The subjects' names."""
        return self.identity("name") if "name" in self.kind.fields else self.ids

    @cached_property
    def owners(self) -> Sequence[str]:
        """The id of each subject's niche, its own where it has none; empty for brands and sellers."""
        if self.kind in HOLDERS:
            return [""] * self.count
        return self.identity("niche_id") if "niche_id" in self.kind.fields else self.ids

    @cached_property
    def places(self) -> Mapping[str, int]:
        """Place of each subject by its id."""
        if isinstance(self.ids, Labels):
            return Places(self.ids, self._files.array("#by_id", self._in_order))
        return {subject: i for i, subject in enumerate(self.ids)}

    def _in_order(self) -> Ints:
        return np.argsort(self._id_ranks, kind="stable")

    @cached_property
    def _id_ranks(self) -> Floats:
        """The place of each id among all in alphabetical order."""
        return self._files.array("#id_ranks", lambda: in_order(self._text(self.kind.subject)))

    def name_of(self, subject: str) -> str:
        """What a subject is called, by its id; the id where the run has none of it."""
        return subject if (at := self.places.get(subject)) is None else self.names[at]

    @cached_property
    def _by_key(self) -> tuple[Ints, Ints]:
        order = np.argsort(self.keys)
        return self.keys[order], order

    def place_of(self, key: int) -> int | None:
        """Place of a subject by its key in the database; None for none of the run."""
        keys, order = self._by_key
        at = int(np.searchsorted(keys, key))
        return int(order[at]) if at < len(keys) and keys[at] == key else None

    def places_of(self, keys: Ints) -> Ints:
        """Places of subjects by their keys in the database, −1 for none of the run."""
        known, order = self._by_key
        at = np.minimum(np.searchsorted(known, keys), len(known) - 1)
        return np.where(known[at] == keys, order[at], -1) if len(known) else at

    @cached_property
    def category_keys(self) -> Ints:
        """Key of each subject's category; −1 for none."""
        return self._files.array(CATEGORIES, self._named_categories)

    def _named_categories(self) -> Ints:
        if not self.run.linked:
            return self._whole(CATEGORIES, pl.Int64).fill_null(-1).to_numpy()
        key = {code: pk for pk, (_, code, _) in self.tree.found.items()}
        named = self._whole(f"{OWN}{CATEGORY_ID}", pl.String)
        found = named.replace_strict(key, default=-1, return_dtype=pl.Int64)
        return found.fill_null(-1).to_numpy()

    @cached_property
    def tree(self) -> CategoryNames:
        """What the categories are called."""
        return CategoryNames.now()

    def category_path(self, place: int) -> str:
        """A niche's category under its parent, as “Growing › Bed covers”; empty for none."""
        return self.tree.path(int(self.category_keys[place]))

    def path_above(self, place: int) -> str:
        """The categories above one, from the top, as “Growing › Bed covers”; of the kind category alone."""
        return " › ".join(self.tree.line(int(self.keys[place]))[:-1])

    def category_counts(self) -> list[tuple[str, str, str, int]]:
        """Categories that hold niches, with those above: path, name, id, niches in or below; by path."""
        keys, counts = np.unique(self.category_keys, return_counts=True)
        return self.tree.counted(dict(zip(keys.tolist(), counts.tolist(), strict=True)))

    def category(self, wanted: str) -> Bools:
        inside = np.array(sorted(self.tree.inside(wanted)), dtype=np.int64)
        within: Bools = np.isin(self.category_keys, inside)
        return within
