"""JSON that a researcher wrote, read field by field, with what is wrong told where it stands."""

from __future__ import annotations

import json
import math
from datetime import date
from pathlib import Path
from typing import Any

from driftfield.core.base import CoreError

MOST = 1e9


def read_json(path: Path) -> dict[str, Any]:
    """The object that a file holds. Raises CoreError, which names line and column where it is no JSON."""
    try:
        found = json.loads(path.read_text("utf-8-sig"))
    except json.JSONDecodeError as error:
        raise CoreError(
            f"{path.name}, line {error.lineno}, column {error.colno}: this is not JSON ({error.msg})."
        ) from None
    except UnicodeDecodeError:
        raise CoreError(f"{path.name}: expected text in UTF-8.") from None
    if not isinstance(found, dict):
        raise CoreError(f"{path.name}: expected an object in braces; got {shown(found)}.")
    return found


class Given:
    """An object of a JSON file, read field by field; what is not read in the end is none that is known."""

    def __init__(self, values: object, where: str) -> None:
        if not isinstance(values, dict):
            raise CoreError(
                f"{where or 'The file'}: expected an object in braces; got {shown(values)}."
            )
        self.values: dict[str, Any] = values
        self.where = where
        self.read: set[str] = set()

    def _path(self, name: str) -> str:
        return f"{self.where}.{name}" if self.where else name

    def has(self, name: str) -> bool:
        return self.values.get(name) is not None

    def raw(self, name: str) -> Any:
        self.read.add(name)
        return self.values.get(name)

    def number(self, name: str, low: float = 0.0, high: float = MOST) -> float | None:
        value = self.raw(name)
        if value is None:
            return None
        if isinstance(value, bool) or not isinstance(value, int | float) or not _is_finite(value):
            raise CoreError(f"{self._path(name)}: expected a number; got {shown(value)}.")
        if not low <= value <= high:
            raise CoreError(
                f"{self._path(name)}: expected a number from {low:g} to {high:,.15g}; got {value:g}."
            )
        return float(value)

    def whole(self, name: str, low: int = 0, high: int = 10_000_000) -> int | None:
        value = self.number(name, low, high)
        if value is not None and value != int(value):
            raise CoreError(f"{self._path(name)}: expected a whole number; got {value:g}.")
        return None if value is None else int(value)

    def text(self, name: str, default: str = "") -> str:
        value = self.raw(name)
        if value is None:
            return default
        if not isinstance(value, str):
            raise CoreError(f"{self._path(name)}: expected text in quotes; got {shown(value)}.")
        return value

    def flag(self, name: str, default: bool) -> bool:
        value = self.raw(name)
        if value is None:
            return default
        if not isinstance(value, bool):
            raise CoreError(f"{self._path(name)}: expected true or false; got {shown(value)}.")
        return value

    def day(self, name: str) -> date | None:
        value = self.raw(name)
        if value is None:
            return None
        try:
            return date.fromisoformat(value)
        except (TypeError, ValueError):
            raise CoreError(
                f"{self._path(name)}: expected a date as 2026-11-15; got {shown(value)}."
            ) from None

    def numbers(self, name: str, low: float = 0.0, high: float = MOST) -> tuple[float, ...] | None:
        value = self.raw(name)
        if value is None:
            return None
        listed = value if isinstance(value, list) else [value]
        if not listed or len(listed) > 60:
            raise CoreError(f"{self._path(name)}: expected 1 to 60 numbers; got {len(listed)}.")
        own = Given({str(at): one for at, one in enumerate(listed)}, self._path(name))
        found = [own.number(str(at), low, high) for at in range(len(listed))]
        if None in found:
            raise CoreError(f"{self._path(name)}: expected only numbers; got null. Remove it.")
        return tuple(one for one in found if one is not None)

    def part(self, name: str) -> Given:
        value = self.raw(name)
        return Given({} if value is None else value, self._path(name))

    def parts(self, name: str) -> list[Given]:
        value = self.raw(name)
        if value is None:
            return []
        if not isinstance(value, list):
            raise CoreError(f"{self._path(name)}: expected a list; got {shown(value)}.")
        return [Given(one, f"{self._path(name)}[{at}]") for at, one in enumerate(value)]

    def done(self) -> None:
        """Refuse what nobody reads."""
        if unknown := sorted(set(self.values) - self.read):
            raise CoreError(
                f"{self.where or 'The file'}: unknown {', '.join(unknown)}. Known: "
                f"{', '.join(sorted(self.read))}."
            )


def _is_finite(value: float) -> bool:
    """Whether a number is one that can be worked with; JSON's whole numbers have no end."""
    try:
        return math.isfinite(value)
    except OverflowError:
        return False


def shown(value: object) -> str:
    text = json.dumps(value, ensure_ascii=False, default=str)
    return text if len(text) <= 40 else f"{text[:40]}…"
