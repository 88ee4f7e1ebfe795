"""Grammars of texts that addresses take, stated once in the description under their names."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from driftfield.core.ranking import OF_CATEGORIES, PARTS
from driftfield.core.sieve import MAX_LENGTH, any_of, condition_pattern

FURTHEST = 999_999_999  # Rows that can be passed over.
_WEIGHT = r"[0-9]{1,3}(\.[0-9]{1,6})?"
_PARTS = [*PARTS, *OF_CATEGORIES]
_PAIR = rf"({any_of(part.key for part in _PARTS)}={_WEIGHT}|balance=0\.[0-9]{{0,5}}[1-9])"
LENS = rf"^({_PAIR}(,{_PAIR}){{0,{len(_PARTS)}}})?$"


def sort_pattern(keys: Collection[str], most: int) -> str:
    """Keys joined by commas, each with a - where it goes downwards."""
    key = f"-?{any_of(keys)}"
    return f"^({key}(,{key}){{0,{most - 1}}})?$"


def keys_pattern(keys: Collection[str]) -> str:
    """Keys joined by commas, or none."""
    key = any_of(keys)
    return f"^({key}(,{key})*)?$"


# Grammars that stand once in the description, by the names of their components.
GRAMMARS: dict[str, dict[str, Any]] = {
    "Condition": {"type": "string", "maxLength": MAX_LENGTH, "pattern": condition_pattern()},
    "LensText": {"type": "string", "pattern": LENS},
}


def grammar(name: str, schema: dict[str, Any] | None = None) -> dict[str, Any]:
    """A reference to a grammar, which is kept under its name."""
    if schema is not None:
        GRAMMARS[name] = {"type": "string", **schema}
    return {"$ref": f"#/components/schemas/{name}"}
