"""The ledger's niches as points: what the chart draws, column by column."""

from __future__ import annotations

from typing import Any

import numpy as np

from driftfield.api.ledger.query import Asked
from driftfield.core.market import FIGURES_BY_KEY
from driftfield.core.ranking import DEFAULT_LENS

# Names that come along, to label the points that matter most; others are asked for when pointed at.
NAMED = 200


def read_points(asked: Asked) -> dict[str, Any]:
    """Niches whose demand and competition are known, in the ledger's order; the rest is counted."""
    field = asked.field
    places = asked.places
    across, up = field.figure("competition")[places], field.figure("demand")[places]
    known = ~np.isnan(across) & ~np.isnan(up)
    places, across, up = places[known], across[known], up[known]
    shapes = FIGURES_BY_KEY["shape"].choices
    ids, names = field.columns.ids, field.columns.names
    listed = places.tolist()
    lens = field.lens or DEFAULT_LENS

    def column(key: str, digits: int) -> list[float | None]:
        values = np.round(field.figure(key)[places].astype(np.float64), digits)
        return [None if v != v else v for v in values.tolist()]

    return {
        "balance": lens.balance,
        "shapes": list(shapes),
        "unknown": int(len(known) - known.sum()),
        "ids": [ids[place] for place in listed],
        "names": [names[place] for place in listed[:NAMED]],
        "competition": np.round(across.astype(np.float64), 2).tolist(),
        "demand": np.round(up.astype(np.float64), 2).tolist(),
        "headroom": column("headroom", 1),
        "revenue": column("sales.revenue_52w", 0),
        "shape": [None if v is None else int(v) for v in column("shape", 0)],
        "decisions": {
            ids[place]: field.decisions[ids[place]]
            for place in listed
            if ids[place] in field.decisions
        },
    }
