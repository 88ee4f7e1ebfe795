"""Days that were replayed, packed so that they need not be replayed again."""

from __future__ import annotations

import io
import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from hashlib import sha256
from typing import Any, Protocol

import numpy as np

from driftfield.core.base import Ints, Settings
from driftfield.core.curves import Planned, Sums
from driftfield.core.ranking import Lens, Normalised

from ..data import MarketData
from ..workings import Rule
from .known_mark import known_mark
from .replay import Launches, Then


class DayStore(Protocol):
    """Where packed days lie."""

    def find(self, day: date, mark: str) -> bytes | None:
        """What was kept of a day when as much was known of it; None for nothing."""

    def keep(self, day: date, mark: str, packed: bytes) -> None:
        """Keep a day in place of what was kept of it before."""


def way_of(settings: Settings, lens: Lens, rules: Sequence[Rule], *more: str) -> str:
    """All that what is said on a day follows from beside what is known, as text; ``more``: of the method."""
    told = [settings.as_dict(), lens.as_dict(), [rule.key for rule in rules], *more]
    return json.dumps(told, sort_keys=True)


@dataclass(slots=True)
class KeptDays:
    """Days replayed before, taken over where the same was known on them.

    way: see ``way_of``. subjects, listings: ids of now of what is judged, and of the market's listings. taken:
    how many days were taken over.
    """

    store: DayStore
    way: str
    subjects: Sequence[str]
    listings: Sequence[str]
    taken: int = 0
    _mark: str = ""

    def recall(self, known: MarketData) -> Then | None:
        told = f"{self.way} {known_mark(known, self.listings)}"
        self._mark = sha256(told.encode()).hexdigest()
        packed = self.store.find(known.timeline.end, self._mark)
        if packed is None:
            return None
        self.taken += 1
        return unpack_then(packed, self.subjects, self.listings)

    def remember(self, then: Then) -> None:
        self.store.keep(then.as_of, self._mark, pack_then(then, self.subjects, self.listings))


def pack_then(then: Then, subjects: Sequence[str], listings: Sequence[str]) -> bytes:
    """Pack what was said on a day, with the ids it was said of: an archive of arrays as numpy writes it."""
    arrays = {
        **{f"figures.{key}": _plain(values) for key, values in then.figures.items()},
        **{
            f"ahead.{weeks}.{name}": getattr(sums, name)
            for weeks, sums in then.ahead.items()
            for name in _SUMS
        },
        **{f"seasons.{name}": getattr(then.seasons, name) for name in Planned.__slots__},
        **{f"launches.{name}": getattr(then.launches, name) for name in Launches.__slots__},
        "normalised.logs": then.normalised.logs, "normalised.known": then.normalised.known,
        **{name: getattr(then, name) for name in _WHOLE},
        "subjects": np.array(subjects, dtype=str), "listings": np.array(listings, dtype=str),
    }  # fmt: skip
    about = json.dumps({"as_of": then.as_of.isoformat(), "length": then.length})
    out = io.BytesIO()
    np.savez_compressed(out, about=np.array(about), **arrays)
    return out.getvalue()


def unpack_then(packed: bytes, subjects: Sequence[str], listings: Sequence[str]) -> Then:
    """What was said on a day, of the ``subjects`` and ``listings`` of now; unknown of those that came since."""
    with np.load(io.BytesIO(packed), allow_pickle=False) as stored:
        found = dict(stored)
    about = json.loads(str(found["about"]))
    here, page = _places(found["subjects"], subjects), _places(found["listings"], listings)
    origin = np.full(len(subjects), -1, dtype=np.int64)
    origin[here[here >= 0]] = np.flatnonzero(here >= 0)

    def moved(values: np.ndarray) -> np.ndarray:
        """Rows of subjects then, in the order of now."""
        if values.dtype.kind == "U":
            words = values.astype(object)
            words[values == _NONE] = None
            values = words
        unknown: Any = {"O": None, "b": False}.get(values.dtype.kind, np.nan)
        out = np.full((len(subjects), *values.shape[1:]), unknown, dtype=values.dtype)
        known = origin >= 0
        out[known] = values[origin[known]]
        return out

    def under(name: str) -> dict[str, np.ndarray]:
        start = f"{name}."
        return {key.removeprefix(start): one for key, one in found.items() if key.startswith(start)}

    ahead: dict[int, dict[str, np.ndarray]] = {}
    for key, values in under("ahead").items():
        weeks, name = key.split(".")
        ahead.setdefault(int(weeks), {})[name] = moved(values)
    return Then(
        as_of=date.fromisoformat(about["as_of"]), length=about["length"],
        figures={key: moved(values) for key, values in under("figures").items()},
        ahead={weeks: Sums(**sums) for weeks, sums in ahead.items()},
        seasons=Planned(**_rows(under("seasons"), subject=here)),
        normalised=Normalised(*(moved(one) for one in under("normalised").values())),
        launches=Launches(**_rows(under("launches"), subject=here, listing=page)),
        **{name: moved(found[name]) for name in _WHOLE},
    )  # fmt: skip


_SUMS = ("value", "low", "high")
_WHOLE = ("coming", "scale", "factors", "raised")
_NONE = "\0"  # Stands for an unknown word.


def _plain(values: np.ndarray) -> np.ndarray:
    """Words as text, for an array of objects would be read by running what it holds."""
    if values.dtype != object:
        return values
    return np.array([_NONE if one is None else str(one) for one in values.tolist()], dtype=str)


def _places(then: np.ndarray, now: Sequence[str]) -> Ints:
    """Where each id of then is now, −1 for nowhere."""
    place = {one: at for at, one in enumerate(now)}
    return np.array([place.get(one, -1) for one in then.tolist()], dtype=np.int64)


def _rows(columns: dict[str, np.ndarray], **moved: Ints) -> dict[str, np.ndarray]:
    """Rows whose indices lead to ids of now, without those that are gone."""
    out = dict(columns)
    for name, places in moved.items():
        out[name] = places[columns[name]]
    kept = np.all([out[name] >= 0 for name in moved], axis=0)
    return {name: values[kept] for name, values in out.items()}
