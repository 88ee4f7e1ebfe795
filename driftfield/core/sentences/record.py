"""The reading record: figures of one subject as a nested object, and its JSON Schema."""

from __future__ import annotations

from typing import Any

import numpy as np

from driftfield.core.market import Figure, FigureType, Kind, figures_of
from driftfield.core.signals import SIGNALS_BY_KEY

_TYPES: dict[FigureType, dict[str, Any]] = {
    FigureType.WORD: {"type": ["string", "null"]},
    FigureType.SENTENCE: {"type": ["string", "null"]},
    FigureType.DATE: {"type": ["string", "null"], "format": "date"},
    FigureType.FLAG: {"type": "boolean"},
    FigureType.COUNT: {"type": ["integer", "null"], "minimum": 0},
    FigureType.AMOUNT: {"type": ["number", "null"], "minimum": 0},
    FigureType.SHARE: {"type": ["number", "null"], "minimum": 0, "maximum": 1},
    FigureType.CHANGE: {"type": ["number", "null"], "minimum": -1},
    FigureType.RATIO: {"type": ["number", "null"], "minimum": -1, "maximum": 1},
    FigureType.SIGNED: {"type": ["number", "null"]},
    FigureType.INDEX: {"type": ["number", "null"], "minimum": 0, "maximum": 100},
    FigureType.PROFILE: {"type": ["array", "null"], "items": {"type": "number", "minimum": 0}},
    FigureType.WEEKS: {"type": ["array", "null"], "items": {"type": "integer", "minimum": 1}},
    FigureType.SHIFTS: {
        "type": "array",
        "items": {
            "type": "object",
            "properties": {
                "from": {"type": "string", "format": "date"},
                "size": {"type": "number", "minimum": -1},
            },
            "required": ["from", "size"],
            "additionalProperties": False,
        },
    },
    FigureType.SEASONS: {
        "type": "array",
        "items": {
            "type": "object",
            "properties": {
                **{
                    name: {"type": "string", "format": "date"}
                    for name in ("rise", "peak_start", "peak_end", "wind_down", "end")
                },
                "share": {"type": "number", "minimum": 0, "maximum": 1},
                "caught": {"type": "number", "minimum": 0, "maximum": 1},
            },
            "required": ["rise", "peak_start", "peak_end", "wind_down", "end", "share", "caught"],
            "additionalProperties": False,
        },
    },
    FigureType.SIGNALS: {
        "type": "array",
        "items": {
            "type": "object",
            "properties": {
                "signal": {"enum": list(SIGNALS_BY_KEY)},
                "severity": {"type": "number", "minimum": 0, "maximum": 1},
            },
            "required": ["signal", "severity"],
            "additionalProperties": False,
        },
    },
}


def plain(figure: Figure, value: Any) -> Any:
    """A figure's value as JSON takes it: null for unknown, never NaN."""
    if value is None:
        return None
    if figure.type is FigureType.PROFILE:
        return None if np.isnan(value[0]) else [round(float(v), 4) for v in value]
    if figure.type is FigureType.FLAG:
        return bool(value)
    if figure.type in {FigureType.SHIFTS, FigureType.SEASONS}:
        return list(value)
    if figure.type is FigureType.SIGNALS:
        return signals_of(value)
    if isinstance(value, float | np.floating):
        if not np.isfinite(value):
            return None
        return int(value) if figure.type is FigureType.COUNT else float(value)
    return value


def plain_column(figure: Figure, values: Any) -> list[Any]:
    """``plain`` for a figure of many niches, in their order."""
    if figure.type is FigureType.PROFILE:
        known = ~np.isnan(values[:, 0])
        rows = np.round(values, 4).tolist()
        return [row if k else None for row, k in zip(rows, known.tolist(), strict=True)]
    if figure.type is FigureType.FLAG:
        return [bool(v) for v in values]
    if isinstance(values, np.ndarray) and values.dtype.kind == "f" and values.ndim == 1:
        unknown = ~np.isfinite(values)
        out = np.where(unknown, 0, values)
        found: list[Any] = (
            out.astype(np.int64) if figure.type is FigureType.COUNT else out
        ).tolist()
        for place in np.flatnonzero(unknown).tolist():
            found[place] = None
        return found
    return [plain(figure, v.item() if isinstance(v, np.generic) else v) for v in values]


def signals_of(severities: Any) -> list[dict[str, Any]]:
    """The signals raised of one niche, most severe first, from its severities by rule."""
    found = [
        {"signal": rule.key, "severity": round(float(s), 4)}
        for rule, s in zip(SIGNALS_BY_KEY.values(), severities, strict=True)
        if s == s
    ]
    return sorted(found, key=lambda item: -item["severity"])


def nested(flat: dict[str, Any]) -> dict[str, Any]:
    """Dotted keys as objects: growth_13w.raw becomes growth_13w: {raw: …}.

    A group of which nothing is known is None.
    """
    out: dict[str, Any] = {}
    for key, value in flat.items():
        head, _, tail = key.partition(".")
        if tail:
            out.setdefault(head, {})[tail] = value
        else:
            out[head] = value
    return {
        key: None if isinstance(value, dict) and not any(v is not None for v in value.values()) else value
        for key, value in out.items()
    }  # fmt: skip


def record_schema(kind: Kind) -> dict[str, Any]:
    """JSON Schema (2020-12) of one record of a kind, made from the registry."""
    properties: dict[str, Any] = {
        key: {"type": ["string", "null"] if key in kind.optional else "string", "description": text}
        for key, text in kind.identity
    }
    groups: dict[str, Any] = {}
    for figure in figures_of(kind):
        row = dict(_TYPES[figure.type])
        if figure.choices:
            row["enum"] = [*figure.choices, None]
        unit = f" Unit: {figure.unit}." if figure.unit else ""
        row["title"] = figure.label
        row["description"] = f"{figure.formula[0].upper()}{figure.formula[1:]}.{unit}"
        head, _, tail = figure.key.partition(".")
        if not tail:
            properties[head] = row
            continue
        if head not in groups:
            groups[head] = {
                "type": ["object", "null"], "properties": {}, "required": [],
                "additionalProperties": False,
            }  # fmt: skip
            properties[head] = groups[head]
        groups[head]["properties"][tail] = row
        groups[head]["required"].append(tail)
    required = list(properties)
    properties["verdict"] = {
        "type": "array",
        "items": {"type": "string"},
        "title": "Verdict",
        "description": "The reading in sentences; only where it was asked for.",
    }
    properties["evidence"] = {
        "type": "array",
        "items": {"type": "string"},
        "title": "Evidence",
        "description": "A sentence or more for each signal, in their order; only with the verdict.",
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": f"Driftfield reading of a {kind.name}",
        "description": f"What was read of one {kind.name}. Unknown is null, never 0; so is a group of which "
        "nothing is known.",
        "type": "object",
        "properties": properties,
        "required": required,
        "additionalProperties": False,
    }
