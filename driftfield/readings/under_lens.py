"""What a lens makes of the subjects of a run: their ranks, or the openness and settledness of categories."""

from __future__ import annotations

from typing import Protocol

import numpy as np

from driftfield.core.market import CATEGORY, Kind
from driftfield.core.ranking import OPENNESS, SETTLEDNESS, Lens, Part, Ranking, read_index

from .models import Run

# Niches, or categories, up to which the bands of another lens are worked out while one waits.
BANDS_AT_ONCE = 5_000
# Figures that a lens makes of niches and terms, by their fields in a Ranking.
_RANKED = {"rank": "rank", "demand": "demand", "competition": "competition", "headroom": "headroom",
           "frontier": "frontier", "headroom_known": "known"}  # fmt: skip


class Columns(Protocol):
    """What a lens asks of the columns of a run."""

    run: Run
    kind: Kind

    @property
    def count(self) -> int: ...

    def figure(self, key: str) -> np.ndarray: ...

    def ranking(self, lens: Lens) -> Ranking | None: ...


def figures_under(columns: Columns, lens: Lens) -> dict[str, np.ndarray]:
    """The figures that a lens makes, by key, (subjects,), NaN for unknown; none where nothing is ranked."""
    if columns.kind == CATEGORY:
        return {
            key: values
            for parts in (OPENNESS, SETTLEDNESS)
            for key, values in _index(columns, parts, lens).items()
        }
    ranking = columns.ranking(lens)
    if ranking is None:
        return {}
    found = {
        key: np.asarray(getattr(ranking, name), dtype=np.float64) for key, name in _RANKED.items()
    }
    return found | {"rank": _places(found["rank"])}


def _index(columns: Columns, parts: tuple[Part, ...], lens: Lens) -> dict[str, np.ndarray]:
    figures = {part.figure: columns.figure(part.figure) for part in parts}
    found = read_index(
        figures, parts, lens.put_into(columns.run.made_with), bands=columns.count <= BANDS_AT_ONCE
    )
    name = parts[0].side
    return {
        name: found.value,
        f"{name}_among": np.full(columns.count, float((found.rank > 0).sum())),
        f"{name}_known": found.known,
        f"{name}_rank": _places(found.rank),
        f"{name}_rank_low": _places(found.low),
        f"{name}_rank_high": _places(found.high),
        **{
            f"{name}_parts.{part.column}": found.contributions[:, at]
            for at, part in enumerate(parts)
        },
    }


def _places(ranks: np.ndarray) -> np.ndarray:
    """Ranks with NaN instead of the 0 that stands for none."""
    return np.where(ranks > 0, ranks, np.nan)
