"""Lists of terms, listings, brands and sellers with what is known of them, and what they come to together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from driftfield.core.base import Ints
from driftfield.core.market import FIGURES_BY_KEY, NICHE, TERM, Figure, Kind
from driftfield.exchange.lists import Column, figure_column
from driftfield.readings.columns import RunColumns, columns_of
from driftfield.readings.models import Run

# Figures of a term in a list.
FIGURES = ("searches_52w", "purchase_rate", "branded", "protected", "misspelt")


# Figures of what sells in a list.
SOLD = (
    "sales.units_52w", "sales.revenue_52w", "listing.price", "listing.reviews", "listing.estimated_units",
    "sleep.state", "sleep.order_by", "carried.price", "carried.listings", "carried.estimated_units",
    "drift_rate_year",
)  # fmt: skip


def sold_figures(kind: Kind) -> list[Figure]:
    """The figures of a kind of what sells that its lists show."""
    return [FIGURES_BY_KEY[key] for key in SOLD if kind in FIGURES_BY_KEY[key].kinds]


@dataclass(frozen=True, slots=True)
class ListTotal:
    """What the terms of a list come to.

    terms: how many. known: those that the market has. searches_52w: theirs together, without those that are
    likely mistypings of another one in the list; None where none is known. mistyped, mistyped_searches: those.
    Of listings, brands and sellers: units_52w: theirs together, None where none is known.
    """

    terms: int
    known: int
    searches_52w: float | None
    mistyped: int = 0
    mistyped_searches: float = 0.0
    units_52w: float | None = None


def total_of(run: Run, terms: Sequence[str], kind: Kind = TERM) -> ListTotal:
    """How much terms are searched together, a mistyping and its right form counted once; what others sell."""
    if kind != TERM:
        return _sold_total(run, terms, kind)
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


def _sold_total(run: Run, ids: Sequence[str], kind: Kind) -> ListTotal:
    columns = columns_of(run, kind)
    chosen = list(dict.fromkeys(ids))
    places = _places(columns, chosen)
    units = columns.figure("sales.units_52w")[places]
    known = units[~np.isnan(units)]
    return ListTotal(
        len(chosen), len(places), None, units_52w=float(known.sum()) if known.size else None
    )


def things_of(run: Run, ids: Sequence[str], kind: Kind) -> list[dict[str, Any]]:
    """A row an entry of what sells, in the order of the list: its name and its figures by key."""
    columns, figures = columns_of(run, kind), sold_figures(kind)
    places = _places(columns, ids)
    cells = {one.key: columns.cells(one, places) for one in figures}
    rows = {
        columns.ids[place]: {
            "id": columns.ids[place], "name": columns.names[place], "known": True,
            "category": columns.category_path(place),
            **{key: values[at] for key, values in cells.items()},
        }
        for at, place in enumerate(places.tolist())
    }  # fmt: skip
    unknown = {"known": False, "category": "", **dict.fromkeys(one.key for one in figures)}
    return [rows.get(one, {"id": one, "name": one, **unknown}) for one in ids]


def thing_columns(kind: Kind, currency: str) -> list[Column]:
    """The columns of a list of what sells as a file."""
    name = kind.name.capitalize()
    return [
        Column("id", f"{name} id"), Column("name", name), Column("category", "Category"),
        *(figure_column(one, currency) for one in sold_figures(kind)),
    ]  # fmt: skip


def as_file(
    run: Run, entries: Sequence[str], kind: Kind
) -> tuple[list[Column], list[dict[str, Any]]]:
    """Columns and rows of a list for a file."""
    if kind == TERM:
        return list_columns(), rows_of(run, entries)
    return thing_columns(kind, run.market.currency), things_of(run, entries, kind)


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
