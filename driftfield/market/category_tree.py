"""Walking the tree of categories."""

from __future__ import annotations

from collections.abc import Collection, Mapping


def with_all_below(roots: Collection[int], parents: Mapping[int, int | None]) -> set[int]:
    """Some categories and all below them, by key; ``parents`` gives the one above each."""
    inside = set(roots)
    while more := {pk for pk, parent in parents.items() if parent in inside} - inside:
        inside |= more
    return inside
