"""Rows of arrays that belong together: put into those of the whole, and joined."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields
from typing import Any, TypeVar

import numpy as np

from .periods import Ints

Rows = TypeVar("Rows")


def assign_rows(target: Any, source: Any, rows: Ints | slice) -> None:
    """Copy ``source`` into ``rows`` of ``target``, field by field and dict by dict, down to arrays.

    Both are of the same make; arrays have subjects first.
    """
    if isinstance(target, np.ndarray):
        target[rows] = source
    elif isinstance(target, dict):
        for key, part in target.items():
            assign_rows(part, source[key], rows)
    else:
        for f in fields(target):
            assign_rows(getattr(target, f.name), getattr(source, f.name), rows)


def join_rows(parts: Sequence[Rows]) -> Rows:
    """All rows of some parts of one make, whose fields are arrays with rows first; there is one at least."""
    first: Any = parts[0]
    columns = ([getattr(part, f.name) for part in parts] for f in fields(first))
    joined: Rows = type(first)(*map(np.concatenate, columns))
    return joined
