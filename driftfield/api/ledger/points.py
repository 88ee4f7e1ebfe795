"""The ledger's niches as points: what the chart draws, column by column."""

from __future__ import annotations

from typing import Any

import numpy as np
import orjson

from driftfield.api.ledger.query import Asked
from driftfield.core.market import FIGURES_BY_KEY
from driftfield.core.ranking import DEFAULT_LENS

# Names that come along, to label the points that matter most; others are asked for when pointed at.
NAMED = 200
# The numbers of a point, in the order in which ``packed_points`` has them, with the digits that are told.
NUMBERS = {
    "competition": ("competition", 2),
    "demand": ("demand", 2),
    "headroom": ("headroom", 1),
    "revenue": ("sales.revenue_52w", 0),
    "shape": ("shape", 0),
}
PACKED = "application/octet-stream"


def read_points(asked: Asked) -> dict[str, Any]:
    """Niches whose demand and competition are known, in the ledger's order; the rest is counted.

    Each of ``NUMBERS`` is an array of float64, (points,), NaN for unknown.
    """
    field = asked.field
    places = asked.every_place
    known = ~np.isnan(field.figure("competition")[places]) & ~np.isnan(
        field.figure("demand")[places]
    )
    drawn = places[known]
    ids, names = field.columns.ids, field.columns.names
    listed = drawn.tolist()
    shown = set(listed)
    lens = field.lens or DEFAULT_LENS
    decided = [(id_, field.columns.places.get(id_), what) for id_, what in field.decisions.items()]
    return {
        "balance": lens.balance,
        "shapes": list(FIGURES_BY_KEY["shape"].choices),
        "unknown": len(known) - len(listed),
        "ids": [ids[place] for place in listed],
        "names": [names[place] for place in listed[:NAMED]],
        "decisions": {id_: what for id_, place, what in decided if place in shown},
    } | {
        name: np.round(field.figure(key)[drawn].astype(np.float64), digits)
        for name, (key, digits) in NUMBERS.items()
    }


def plain_points(points: dict[str, Any]) -> dict[str, Any]:
    """Points as JSON takes them: None for unknown."""

    def plain(values: np.ndarray) -> list[float | None]:
        return [None if v != v else v for v in values.tolist()]

    found = points | {name: plain(points[name]) for name in NUMBERS}
    return found | {"shape": [None if v is None else int(v) for v in found["shape"]]}


def packed_points(points: dict[str, Any]) -> bytes:
    """Points in one piece that a browser lays arrays over instead of reading numbers.

    Four bytes: the length of what follows as JSON, without the numbers, with blanks at its end up to a
    multiple of four. Then ``NUMBERS`` one after another, float32, NaN for unknown, all with the lowest byte
    first.
    """
    head = orjson.dumps({key: value for key, value in points.items() if key not in NUMBERS})
    head += b" " * (-len(head) % 4)
    numbers = np.stack([points[name] for name in NUMBERS]).astype("<f4")
    return len(head).to_bytes(4, "little") + head + numbers.tobytes()
