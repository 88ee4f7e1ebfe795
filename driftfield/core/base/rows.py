"""Putting the reading of some subjects into their rows of the whole."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

import numpy as np

from .periods import Ints


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
