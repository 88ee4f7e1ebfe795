"""Names and search terms as conditions ask about their words."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np
import polars as pl

from driftfield.core.base import Bools, Ints

_BLANKS = r"[\s\x1c-\x1f]+"  # What Python takes for blanks, of which polars leaves four out.


class Texts:
    """The names of some subjects and their search terms; ``owners``: the place of each term's subject."""

    def __init__(
        self, names: Sequence[str], terms: Sequence[str], owners: Sequence[int] | Ints
    ) -> None:
        words = pl.Series([*names, *terms], dtype=pl.String).str.replace_all(_BLANKS, " ")
        # In lower case between blanks, so that whole words can be told.
        lower = words.str.strip_chars(" ").str.to_lowercase()
        self.made = pl.DataFrame(
            {"text": pl.select(pl.format(" {} ", lower)).to_series(),
             "owner": np.array([*range(len(names)), *owners], dtype=np.int64)}
        )  # fmt: skip
        self.count = len(names)

    @classmethod
    def of(cls, made: pl.DataFrame, count: int) -> Texts:
        """Those of which ``made`` and ``count`` were kept."""
        texts = cls.__new__(cls)
        texts.made, texts.count = made, count
        return texts

    @cached_property
    def _texts(self) -> pl.Series:
        return self.made["text"]

    @cached_property
    def _owner(self) -> Ints:
        return self.made["owner"].to_numpy()

    def having(self, how: str, words: str) -> Bools:
        """Subjects whose name or one of whose terms does with the words as ``how`` says, (subjects,).

        ``how`` is one of ``core.sieve.asked.HOW``.
        """
        needle = words.lower()
        if how == "start with":
            found = self._texts.str.starts_with(f" {needle}")
        else:
            exactly = how == "contain exactly"
            found = self._texts.str.contains(f" {needle} " if exactly else needle, literal=True)
        yes = np.zeros(self.count, dtype=bool)
        yes[self._owner[found.to_numpy()]] = True
        return ~yes if how == "lack" else yes

    @cached_property
    def _words(self) -> tuple[Ints, Ints]:
        """How many words each term has, and the place of its subject; one without terms has its name."""
        many = (self._texts.str.count_matches(" ", literal=True) - 1).to_numpy().astype(np.int64)
        own = np.arange(self.count, len(self._owner))
        bare = np.setdiff1d(np.arange(self.count), self._owner[own])
        at = np.concatenate([own, bare])
        return many[at], self._owner[at]

    def with_words(self, low: int, high: int) -> Bools:
        """Subjects one of whose terms has from ``low`` to ``high`` words, (subjects,)."""
        many, owner = self._words
        yes = np.zeros(self.count, dtype=bool)
        yes[owner[(many >= low) & (many <= high)]] = True
        return yes
