"""Matrices of a whole run: packed, read back and asked."""

from __future__ import annotations

import json
from collections.abc import Iterable

import numpy as np

from driftfield.core.headroom import Normalised
from driftfield.core.periods import Bools, Floats, Ints
from driftfield.core.top_listings import TopQuestion

from .models import Matrix, Run

PARTS_MATRIX = "parts"
TOP_PREFIX = "top."
KEYS, VALUES = np.dtype("<i8"), np.dtype("<f4")


def pack_matrix(name: str, niches: list[int], values: Floats) -> Matrix:
    """A matrix with a row a niche, not yet saved and without its run."""
    return Matrix(
        name=name,
        niches=np.array(niches, dtype=KEYS).tobytes(),
        values=np.ascontiguousarray(values, dtype=VALUES).tobytes(),
    )


def read_matrix(run: Run, name: str) -> tuple[Ints, Floats] | None:
    """Keys of the niches and the rows that go with them; None where the run has no such matrix."""
    found = run.matrices.filter(name=name).first()
    if found is None:
        return None
    niches = np.frombuffer(bytes(found.niches), dtype=KEYS)
    rows = np.frombuffer(bytes(found.values), dtype=VALUES).reshape(len(niches), -1)
    return niches, rows.astype(np.float64)


def stored_logs(normalised: Normalised) -> Floats:
    """The normalised parts with NaN for unknown."""
    return np.where(normalised.known, normalised.logs, np.nan)


def normalised_of(rows: Floats) -> Normalised:
    """The normalised parts as they were before ``stored_logs``."""
    known: Bools = ~np.isnan(rows)
    return Normalised(np.where(known, rows, 0).astype(np.float64), known)


def niches_that_answer(run: Run, questions: Iterable[TopQuestion]) -> str | None:
    """Keys of the niches that say yes to all questions about their top listings, as a JSON list.

    None where there is no question. A market without listings says yes to none.
    """
    kept: set[int] | None = None
    for question in questions:
        found = read_matrix(run, TOP_PREFIX + question.figure)
        yes = set() if found is None else set(found[0][question.answer(found[1])].tolist())
        kept = yes if kept is None else kept & yes
    return None if kept is None else json.dumps(sorted(kept))
