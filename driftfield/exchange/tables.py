"""The exchange tables, as their Table Schemas in ``schemas/`` declare them."""

from __future__ import annotations

import json
import re
from collections.abc import Collection
from dataclasses import dataclass
from datetime import date
from functools import cache
from pathlib import Path
from typing import Any

SCHEMAS = Path(__file__).resolve().parents[2] / "schemas"
ATTRIBUTE = re.compile(r"attr_\w{1,100}")
LONGEST_ATTRIBUTE = 500  # Characters of a value.
ORDER = (
    "markets", "categories", "niches", "brands", "sellers", "listings", "terms", "term_weeks",
    "interest", "term_clicks", "listing_weeks", "offers", "feedback", "voices",
    "own_sales", "protected_words",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Column:
    """A column: its Table Schema type and constraints."""

    name: str
    type: str
    description: str
    example: str
    required: bool = False
    minimum: float | None = None
    maximum: float | None = None
    choices: tuple[str, ...] = ()
    pattern: str | None = None
    longest: int | None = None  # Characters of a text.
    earliest: date | None = None
    latest: date | None = None

    @property
    def numeric(self) -> bool:
        return self.type in {"number", "integer"}


@dataclass(frozen=True, slots=True)
class Reference:
    """Values of ``column`` stand in ``target`` of ``table``."""

    column: str
    table: str
    target: str


@dataclass(frozen=True, slots=True)
class Table:
    """One exchange table.

    without: what is not known when it is missing; empty where that goes without saying. one_of: columns of
    which each line fills one and leaves the others empty.
    """

    name: str
    description: str
    columns: tuple[Column, ...]
    key: tuple[str, ...]
    references: tuple[Reference, ...]
    without: str = ""
    one_of: tuple[str, ...] = ()

    @property
    def measures(self) -> list[str]:
        """Its columns of figures, in order."""
        return [column.name for column in self.columns if column.numeric]

    def complete(self, names: Collection[str]) -> bool:
        """Whether columns of some names are all that it must have."""
        required = {column.name for column in self.columns if column.required}
        return required <= {*names} and (
            not self.one_of or any(one in names for one in self.one_of)
        )

    def told_by(self, names: Collection[str]) -> bool:
        """Whether columns of some names can tell it from other tables.

        One's own sales of listings look like the market's figures of them; that they are one's own is told by
        the name of the file alone.
        """
        return not self.one_of or self.one_of[0] in names

    def column(self, name: str) -> Column | None:
        """The column of that name; attributes of listings are text columns of any name."""
        for column in self.columns:
            if column.name == name:
                return column
        if self.name == "listings" and ATTRIBUTE.fullmatch(name):
            return Column(name, "string", "An attribute.", "", longest=LONGEST_ATTRIBUTE)
        return None


def _column(field: dict[str, Any]) -> Column:
    limits = field.get("constraints", {})
    low, high = limits.get("minimum"), limits.get("maximum")
    dated = field["type"] == "date"
    return Column(
        name=field["name"],
        type=field["type"],
        description=field["description"],
        example=field["example"],
        required=limits.get("required", False),
        minimum=None if dated else low,
        maximum=None if dated else high,
        choices=tuple(str(c) for c in limits.get("enum", ())),
        pattern=limits.get("pattern"),
        longest=limits.get("maxLength"),
        earliest=date.fromisoformat(low) if dated and low else None,
        latest=date.fromisoformat(high) if dated and high else None,
    )


@cache
def tables() -> dict[str, Table]:
    """All exchange tables by name, in the order in which they refer to one another."""
    out: dict[str, Table] = {}
    for name in ORDER:
        schema = json.loads((SCHEMAS / f"{name}.schema.json").read_text("utf-8"))
        out[name] = Table(
            name=name,
            description=schema["description"],
            columns=tuple(_column(field) for field in schema["fields"]),
            key=tuple(schema["primaryKey"]),
            references=tuple(
                Reference(f["fields"][0], f["reference"]["resource"] or name, f["reference"]["fields"][0])
                for f in schema.get("foreignKeys", ())
            ),
            without=schema.get("driftfield:without", ""),
            one_of=tuple(schema.get("driftfield:one_of", ())),
        )  # fmt: skip
    return out
