"""What is said of what several sellers carry together."""

from __future__ import annotations

from datetime import date

from driftfield.core.supply import sellers_named

# One of each thing that can be asked about, and several.
WORDS = {
    "listings": ("listing", "listings"), "dropped": ("listing", "listings"), "brands": ("brand", "brands"),
    "categories": ("category", "categories"),
}  # fmt: skip


def _said(day: date) -> str:
    return f"{day.day} {day:%b %Y}"


def together_sentence(
    many: int, what: str, least: int, sellers: int, since: date | None, day: date
) -> str:
    """How many were found; ``since`` is None for the as-of, and the first day there is for ever."""
    ever = since == date.min
    when = "at any time" if ever else f"since {_said(since)}" if since else f"on {_said(day)}"
    done = {"listings": f"carried {when}", "dropped": "dropped"}.get(what, f"recurring {when}")
    if what == "dropped" and since is not None and not ever:
        done = f"dropped since {_said(since)}"
    noun = WORDS[what][many != 1]
    return f"{many:,} {noun}, {done} by at least {least} of {sellers_named(sellers)}"
