"""Conditions of a sieve as rows of an answer."""

from __future__ import annotations

from collections.abc import Sequence

from driftfield.core.sieve import Clause, Condition, Range


def clause_row(clause: Clause, currency: str) -> dict[str, object]:
    """A clause in words, and what it compares, if it does."""
    compared = clause if isinstance(clause, Range) else None
    return {
        "text": clause.text,
        "sentence": clause.sentence(currency),
        "figure": compared and compared.figure,
        "low": compared and compared.low,
        "high": compared and compared.high,
    }


def condition_rows(
    conditions: Sequence[Condition], removes: Sequence[int | None], currency: str
) -> list[dict[str, object]]:
    """Conditions as a ``ConditionRow`` each; ``removes``: how many each alone removes."""
    return [
        {**clause_row(c.clause, currency), "text": c.text, "on": c.on, "removes": removed}
        for c, removed in zip(conditions, removes, strict=True)
    ]
