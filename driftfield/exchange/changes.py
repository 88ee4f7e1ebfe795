"""Two looks at the same tables compared, from folders or from files of records; no database."""

from __future__ import annotations

import json
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, Settings
from driftfield.core.market import FIGURES_BY_KEY, KINDS, FigureType, Kind, Workings, figures_of
from driftfield.core.market.watch import ASPECTS, Change, Changes, Side, compare
from driftfield.core.sentences import change_sentence

from .analysed import read_kind, read_niches
from .columns import EPOCH, series_of
from .market_data import MarketInput, assemble
from .reader import read_package

COLUMNS = (
    "market_id", "of", "id", "name", "change", "label", "since", "then", "now", "low", "high", "chance",
    "sentence",
)  # fmt: skip


def figures_compared(kind: Kind) -> list[str]:
    """Keys of the figures of a kind that the watch reads."""
    read = {key for aspect in ASPECTS for key in aspect.reads} | {kind.size}
    return [figure.key for figure in figures_of(kind) if figure.key in read]


def values_of(key: str, column: pl.Series) -> np.ndarray:
    """A figure's column as the watch takes it: numbers, days as ordinals, words as they are."""
    figure = FIGURES_BY_KEY[key]
    if figure.type is FigureType.DATE:
        days = column.str.to_date(strict=False) if column.dtype == pl.String else column
        return days.cast(pl.Date).to_physical().cast(pl.Float64).to_numpy() + EPOCH
    if figure.type in (FigureType.WORD, FigureType.SENTENCE):
        return np.array(column.cast(pl.String).to_list(), dtype=object)
    return column.cast(pl.Float64).to_numpy()


@dataclass(frozen=True, slots=True)
class Look:
    """What was known at one time, by market and kind."""

    name: str
    sides: dict[tuple[str, Kind], Side]

    @property
    def as_of(self) -> date | None:
        """The latest day known; None of nothing at all."""
        days = [side.as_of for side in self.sides.values()]
        return date.fromordinal(max(days)) if days else None


def read_look(path: Path, kinds: Collection[Kind], settings: Settings, as_of: date | None) -> Look:
    """What a folder of exchange tables or a file of records tells.

    Raises CoreError, or ExchangeError of a table, where it cannot be read.
    """
    if path.is_file() and path.suffix.lower() in (".jsonl", ".ndjson"):
        return Look(path.name, dict(_recorded(path)))
    package = read_package(path, record_years=int(settings.record_years))
    markets, _ = assemble(package, as_of)
    found: dict[tuple[str, Kind], Side] = {}
    for market in markets:
        niches = read_niches(market, settings)
        for kind in kinds:
            work = read_kind(kind, market, niches, lone=len(markets) == 1)
            if work is not None:
                found[market.market_id, kind] = _side(kind, market, work)
    return Look(path.name, found)


def _side(kind: Kind, market: MarketInput, work: Workings) -> Side:
    identity = market.identity(work)
    ids = [str(one) for one in identity[kind.subject]]
    names = [str(one) for one in identity.get("name", ids)]
    columns = {
        key: values_of(key, series_of(FIGURES_BY_KEY[key], work.figures[key]))
        for key in figures_compared(kind)
    }
    dated = FIGURES_BY_KEY["planning_date"]
    planning = values_of(dated.key, series_of(dated, work.figures[dated.key]))
    end = work.timeline.end.toordinal()
    return Side(kind, market.market_id, ids, names, end, _common(planning, end), columns)


def _common(days: np.ndarray, instead: int) -> int:
    """The day that is known of all; they have one planning date."""
    known = days[~np.isnan(days)] if len(days) else days
    return int(known[0]) if len(known) else instead


def _recorded(path: Path) -> Iterator[tuple[tuple[str, Kind], Side]]:
    """The sides in a file of records, as ``analyse`` writes them."""
    rows: dict[tuple[str, Kind], list[Mapping[str, Any]]] = {}
    with path.open(encoding="utf-8-sig") as lines:
        for number, line in enumerate(lines, start=1):
            if line.strip():
                record = _record(path.name, number, line)
                kind = _kind_of(path.name, number, record)
                rows.setdefault((str(record.get("market_id") or ""), kind), []).append(record)
    if not rows:
        raise CoreError(f"{path.name}: holds no records. bin/driftfield analyse --out writes them.")
    for (market_id, kind), records in rows.items():
        columns = {
            key: values_of(key, _column(path.name, key, records)) for key in figures_compared(kind)
        }
        end = values_of("as_of", _column(path.name, "as_of", records))
        planning = values_of("planning_date", _column(path.name, "planning_date", records))
        if np.isnan(end).all():
            raise CoreError(f"{path.name}: as_of is in no record of {market_id or 'its market'}.")
        ids = [str(one[kind.subject]) for one in records]
        names = [str(one.get("name") or one[kind.subject]) for one in records]
        day = _common(end, 0)
        yield (
            (market_id, kind),
            Side(kind, market_id, ids, names, day, _common(planning, day), columns),
        )


def _record(name: str, number: int, line: str) -> Mapping[str, Any]:
    try:
        found = json.loads(line)
    except json.JSONDecodeError as error:
        raise CoreError(f"{name}, line {number}: this is not JSON ({error.msg}).") from None
    if not isinstance(found, dict):
        raise CoreError(
            f"{name}, line {number}: expected a record in braces; got “{line.strip()[:40]}”."
        )
    return found


def _kind_of(name: str, number: int, record: Mapping[str, Any]) -> Kind:
    """By the fields of its identity: those of a term name a niche too."""
    fitting = [kind for kind in KINDS if all(field in record for field in kind.fields)]
    if not fitting:
        known = ", ".join(kind.subject for kind in KINDS)
        raise CoreError(
            f"{name}, line {number}: expected a record of bin/driftfield analyse, with one of {known}."
        )
    return max(fitting, key=lambda kind: len(kind.fields))


def _column(name: str, key: str, records: Sequence[Mapping[str, Any]]) -> pl.Series:
    head, _, tail = key.partition(".")
    values = [one.get(head) for one in records]
    if tail:
        values = [one.get(tail) if isinstance(one, dict) else None for one in values]
    figure = FIGURES_BY_KEY[key]
    words = figure.type in (FigureType.WORD, FigureType.SENTENCE, FigureType.DATE)
    wanted = str if words else (int, float)
    for number, value in enumerate(values, start=1):
        if value is not None and not isinstance(value, wanted):
            expected = "a text" if words else "a number"
            raise CoreError(
                f"{name}: {key} of record {number}: expected {expected}; got {value!r}."
            )
    return pl.Series(values, dtype=pl.String if words else pl.Float64)


def changes_between(
    before: Look, after: Look, rate: float, settings: Settings
) -> tuple[Changes, list[dict[str, Any]]]:
    """What changed, and a row for each change.

    Raises CoreError where the two have no market and kind in common.
    """
    shared = [key for key in after.sides if key in before.sides]
    if not shared:
        raise CoreError(
            f"{before.name} and {after.name} have no market in common: {_markets(before)} in one, "
            f"{_markets(after)} in the other."
        )
    found = compare([(before.sides[key], after.sides[key]) for key in shared], rate, settings)
    return found, [change_row(one) for one in found.changes]


def _markets(look: Look) -> str:
    named = sorted({f"“{market_id}” ({kind.plural})" for market_id, kind in look.sides})
    return ", ".join(named) or "none"


def change_row(change: Change) -> dict[str, Any]:
    """A change as a flat row, as files have it."""

    def number(value: float | None) -> float | None:
        return None if value is None else float(f"{value:.6g}")

    return {
        "market_id": change.market, "of": change.kind.plural, "id": change.id, "name": change.name,
        "change": change.aspect.key, "label": change.aspect.label,
        "since": None if change.since is None else change.since.isoformat(), "then": number(change.then),
        "now": number(change.now), "low": number(change.low), "high": number(change.high),
        "chance": number(change.chance), "sentence": change_sentence(change),
    }  # fmt: skip
