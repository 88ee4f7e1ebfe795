"""The kept track record as pages tell it."""

from __future__ import annotations

from typing import Any

from driftfield.core.base import Settings

from .chosen import chosen_for
from .method import method_digest
from .models import KeptRecord

# What is told of the record where a forecast, a date or a rank stands.
ELSEWHERE = {
    ("forecast", "off"), ("season", "near"), ("launch", "area"), ("rank", "within"), ("shape", "kept"),
}  # fmt: skip


def rows_of(record: KeptRecord, kind: str) -> list[dict[str, Any]]:
    """Rows of a record: “held”, “miss”, “lens” or “limit”."""
    return [row for row in record.rows if row["row"] == kind]


def lens_of(record: KeptRecord) -> dict[str, Any] | None:
    """What weights fitted to launches come to, with those proposed by part; None of terms."""
    for row in rows_of(record, "lens"):
        pairs = [pair.split("=") for pair in (row["weights"] or "").split()]
        return {**row, "weights": {key: float(value) for key, value in pairs} or None}
    return None


def outdated(record: KeptRecord) -> str:
    """Why a record does not stand for the present figures, empty where it does."""
    if record.method != method_digest():
        return "It was made by an earlier version of the method."
    now = chosen_for(record.market.market_id).settings
    if Settings.from_dict(record.settings) != now:
        return "Settings of the market have changed since."
    if record.as_of > record.market.run.as_of:
        return "It rests on an import that was undone since."
    return ""


def told_elsewhere(record: KeptRecord) -> list[dict[str, Any]]:
    """Lines that are said where what they are of stands; none where the record is outdated, and none that rests
    on too little."""
    if outdated(record):
        return []
    return [
        row
        for row in rows_of(record, "held")
        if (row["part"], row["measure"]) in ELSEWHERE and row["value"] is not None and not row["category"]
        and (row["part"] != "launch" or row["group"] == "headroom")
    ]  # fmt: skip
