"""Lists of terms with what is known of them, and how much they are searched together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from driftfield.core.base import Ints
from driftfield.core.market import FIGURES_BY_KEY, NICHE, TERM
from driftfield.exchange.lists import Column, figure_column
from driftfield.readings.columns import RunColumns, columns_of
from driftfield.readings.models import Run

# Figures of a term in a list.
FIGURES = ("searches_52w", "purchase_rate", "branded", "protected", "misspelt")


@dataclass(frozen=True, slots=True)
class ListTotal:
    """What the terms of a list come to.

    terms: how many. known: those that the market has. searches_52w: theirs together, without those that are
    likely mistypings of another one in the list; None where none is known. mistyped, mistyped_searches: those.
    """

    terms: int
    known: int
    searches_52w: float | None
    mistyped: int
    mistyped_searches: float


def total_of(run: Run, terms: Sequence[str]) -> ListTotal:
    """How much terms are searched together, a mistyping and its right form counted once."""
    columns = columns_of(run, TERM)
    chosen = set(terms)
    places = _places(columns, list(chosen))
    searches = columns.figure("searches_52w")[places]
    wrong = np.array(
        [columns.right_form(columns.ids[place]) in chosen for place in places.tolist()], dtype=bool
    )
    counted = searches[~wrong]
    known = counted[~np.isnan(counted)]
    return ListTotal(
        terms=len(chosen),
        known=len(places),
        searches_52w=float(known.sum()) if known.size else None,
        mistyped=int(wrong.sum()),
        mistyped_searches=float(np.nansum(searches[wrong])),
    )


def rows_of(run: Run, terms: Sequence[str]) -> list[dict[str, Any]]:
    """A row a term in the order of the list: its figures, its niche and its right form; None for unknown."""
    columns, niches = columns_of(run, TERM), columns_of(run, NICHE)
    places = _places(columns, terms)
    cells = {key: columns.cells(FIGURES_BY_KEY[key], places) for key in FIGURES}
    rows = {}
    for at, place in enumerate(places.tolist()):
        niche = columns.owners[place]
        rows[columns.ids[place]] = {
            "term": columns.ids[place],
            "known": True,
            **{key: values[at] for key, values in cells.items()},
            "niche": niche,
            "niche_name": niches.names[niches.places[niche]],
            "misspelt_of": columns.right_form(columns.ids[place]),
        }
    unknown = dict.fromkeys((*FIGURES, "niche", "niche_name", "misspelt_of"))
    return [rows.get(term, {"term": term, "known": False, **unknown}) for term in terms]


def list_columns() -> list[Column]:
    """The columns of a list as a file."""
    figures = ("searches_52w", "purchase_rate", "branded", "protected")
    return [
        Column("term", "Term"),
        *(figure_column(FIGURES_BY_KEY[key], key=key) for key in figures),
        Column("misspelt_of", "likely a mistyping of"),
        Column("niche_name", "niche"),
        Column("niche", "niche id"),
    ]


def _places(columns: RunColumns, terms: Sequence[str]) -> Ints:
    found = [columns.places[term] for term in terms if term in columns.places]
    return np.array(found, dtype=np.int64)
