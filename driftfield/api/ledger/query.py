"""The ledger: its columns, and the rows a request asks for."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from rest_framework import serializers

from driftfield.api.errors import Problem
from driftfield.api.fields import ConditionText, Text
from driftfield.api.ledger.conditions import condition_rows
from driftfield.api.parameters import FURTHEST, LENS, grammar, keys_pattern, sort_pattern
from driftfield.api.queries import ChoiceQuery, KindQuery, MarketQuery, WholeQuery, grammar_field
from driftfield.core.base import Bools, CoreError, Ints
from driftfield.core.market import (
    CATEGORY,
    FIGURES,
    FIGURES_BY_KEY,
    NICHE,
    TERM,
    Figure,
    FigureType,
    Kind,
    default_lens,
    figures_of,
)
from driftfield.core.market.protected import protected_in
from driftfield.core.market.seeds import HOW, LONGEST, Seed
from driftfield.core.ranking import Lens
from driftfield.core.sentences import protected_sentence
from driftfield.core.sieve import (
    MAX_CONDITIONS,
    MAX_LENGTH,
    Condition,
    NotOfKindError,
    Sifted,
    check_kind,
    parse_sieve,
    why_nothing,
)
from driftfield.core.signals import SIGNALS_BY_KEY
from driftfield.desk.field import Field
from driftfield.market.models import Market
from driftfield.readings.columns import RunColumns
from driftfield.readings.load import protected_words
from driftfield.readings.matrices import kept
from driftfield.readings.models import Run
from driftfield.readings.under_lens import BANDS_AT_ONCE

# Figures a row of the ledger carries; the rest is in the preview.
COLUMNS: tuple[Figure, ...] = tuple(
    FIGURES_BY_KEY[key]
    for key in (
        "rank", "rank_low", "rank_high", "season_profile", "shape", "shape_family",
        "shape_confidence", "provisional", "feast", "drift", "drift_rate_year", "drift_low", "drift_high",
        "growth_13w.raw", "growth_13w.season", "growth_13w.drift", "searches_52w",
        "purchases_52w", "sales.price_median", "competition_parts.click_breadth", "demand", "competition",
        "headroom", "frontier", "high_under_all",
        "coverage", "act.order_by", "act.order_in_days", "act.open_until", "act.caught",
    )
)  # fmt: skip
SORTS = tuple(f.key for f in FIGURES if kept(f) and f.type is not FigureType.WEEKS)
# What a row can carry besides: everything that fits into a cell.
EXTRA = {
    f.key: f
    for f in FIGURES
    if f.type not in {FigureType.PROFILE, FigureType.SHIFTS, FigureType.SEASONS}
}
PAGE = 100
MAX_PAGE = 500
NEAR_THE_TOP = 1_000  # Rows from the first one up to which not all are put in order for a page.
AT_ONCE = 1_000_000  # Rows of a chart, a file or a list to skim.
YES = ("yes",)
MAX_SORT_KEYS = 8  # Keys of an order.
grammar("Sort", {"pattern": sort_pattern(("name", *SORTS), MAX_SORT_KEYS)})
grammar("FigureKeys", {"pattern": keys_pattern(EXTRA)})


def columns_of_ledger(kind: Kind) -> list[Figure]:
    """The figures that every row of a kind's ledger carries."""
    return [figure for figure in COLUMNS if kind in figure.kinds]


def usual_order(kind: Kind) -> str:
    """What the subjects of a kind are sorted by where nothing else is asked."""
    return "rank" if kind in FIGURES_BY_KEY["rank"].kinds else f"-{kind.size}"


def not_of_kind(error: NotOfKindError) -> Problem:
    """What is said of a figure that is one, and that the kind does not have."""
    return Problem(409, "There is no such figure of these", str(error))


def figure_of_kind(key: str, kind: Kind) -> Figure:
    """A figure by its key. Raises Problem where the kind does not have it."""
    try:
        check_kind(FIGURES_BY_KEY[key], kind)
    except NotOfKindError as error:
        raise not_of_kind(error) from None
    return FIGURES_BY_KEY[key]


def lens_field(example: str = "reviews=0.5,balance=0.6") -> Text:
    """Weights of parts in an address; see ``lens_of``."""
    return grammar_field("LensText")(
        required=False, default="", help_text=f"Weights of parts, as in “{example}”."
    )


class LedgerQuery(MarketQuery):
    """What every list of a kind's subjects can be asked with."""

    of = KindQuery()
    sort = grammar_field("Sort")(
        required=False,
        default="",
        help_text="Keys of figures, or name, joined by commas; - is downwards. Default rank, of categories "
        "searches and of listings units a year, downwards.",
    )
    c = serializers.ListField(
        child=ConditionText(max_length=MAX_LENGTH),
        max_length=MAX_CONDITIONS,
        required=False,
        default=list,
        help_text="Conditions, all of which must hold, as in “price 12..45” or “top 4 of 10 reviews < 120”; "
        "one that begins with ~ is off.",
    )
    lens = lens_field()
    near = ChoiceQuery(YES, default="", help_text="Near misses come among the rows.")
    niche = serializers.ListField(
        child=Text(max_length=500), required=False, default=list, help_text="Only these, by id."
    )
    seed = Text(
        required=False, default="", max_length=LONGEST,
        help_text="A word or phrase that terms must have; of terms alone.",
    )  # fmt: skip
    how = ChoiceQuery(
        HOW, default="all", help_text="How terms must have it. Default all of its words."
    )
    also = Text(
        required=False,
        default="",
        max_length=LONGEST,
        help_text="Words that they must have as well.",
    )
    without = Text(
        required=False, default="", max_length=LONGEST, help_text="Words that they may not have."
    )
    exact = ChoiceQuery(YES, default="", help_text="Endings and diacritics count.")
    after = Text(
        required=False, default="", max_length=LONGEST,
        help_text="Letters with which the word after the seed begins.",
    )  # fmt: skip
    before = Text(
        required=False, default="", max_length=LONGEST,
        help_text="Letters with which the word before the seed begins.",
    )  # fmt: skip


class RowsQuery(LedgerQuery):
    """The same with the figures that rows carry besides."""

    figures = grammar_field("FigureKeys")(
        required=False,
        default="",
        help_text="Keys of figures that rows carry besides, joined by commas.",
    )


class PageQuery(RowsQuery):
    """A page of such rows."""

    offset = WholeQuery(FURTHEST, default=0)
    limit = WholeQuery(MAX_PAGE, default=PAGE, help_text=f"Default {PAGE}.")
    find = Text(
        required=False,
        default="",
        max_length=500,
        help_text="An id whose place among the rows is told as ``found``.",
    )


@dataclass(frozen=True, slots=True)
class Slice:
    """A page of the ledger: how many pass, of how many, and what each condition does."""

    rows: list[dict[str, Any]]
    count: int
    near: int
    total: int
    offset: int
    conditions: list[dict[str, object]]
    blocked: dict[str, object] | None
    found: int | None


def blocked_row(asked: Asked, currency: str) -> dict[str, object] | None:
    """Why nothing passes; None where something does, or where nothing is asked."""
    if (
        asked.sifted.passes.any()
        or not asked.field.count
        or not any(c.on for c in asked.conditions)
    ):
        return None
    found = why_nothing(asked.conditions, asked.field, asked.found)
    return {
        "alone": found.alone,
        "pair": found.pair,
        "ways": [
            {
                "place": way.place,
                "text": way.clause and way.clause.text,
                "sentence": way.clause and way.clause.sentence(currency),
                "passes": way.passes,
            }
            for way in found.ways
        ],
    }


def sieve_of(texts: Sequence[str], kind: Kind) -> list[Condition]:
    """Conditions from their texts. Raises Problem for what is none."""
    try:
        return parse_sieve(texts, kind)
    except NotOfKindError as error:
        raise not_of_kind(error) from None
    except CoreError as error:
        raise Problem(400, "A condition is not right", str(error)) from None


def lens_of(text: str, run: Run, kind: Kind) -> Lens | None:
    """A lens from “reviews=0.5,balance=0.6”; None for the run's own. Categories have parts of their own."""
    if not text:
        return None
    try:
        return default_lens(kind, run.made_with).with_pairs(text.split(","))
    except CoreError as error:
        # Weights that are written rightly and make no lens together are another thing.
        status = 409 if re.fullmatch(LENS, text) else 400
        raise Problem(status, "These weights make no lens", str(error)) from None


def order_of(text: str, kind: Kind) -> list[tuple[str, bool]]:
    """What to sort by, as (figure, downwards), from “rank” or “-headroom,name”."""
    keys = []
    parts = text.split(",")
    if len(parts) > MAX_SORT_KEYS:
        raise Problem(400, "There is no such order", f"sort takes at most {MAX_SORT_KEYS} keys.")
    for part in parts:
        key, down = part.removeprefix("-"), part.startswith("-")
        if key != "name" and key not in SORTS:
            raise Problem(
                400,
                "There is no such order",
                f"sort takes name, or keys of figures; got “{part}”.",
            )
        if key != "name":
            figure_of_kind(key, kind)
        keys.append((key, down))
    return keys


@dataclass(frozen=True)
class Asked:
    """What a request asks of a market: its subjects as a field, sifted, and how they are ordered.

    among: (subjects,) those that are shown. found: (subjects,) those that a seed finds; None without one.
    """

    field: Field
    conditions: list[Condition]
    sifted: Sifted
    among: Bools
    order: list[tuple[str, bool]]
    seed: Seed | None = None
    found: Bools | None = None

    @cached_property
    def places(self) -> Ints:
        """Places of all that is shown, in order."""
        return self.field.order(self.order, self.among)

    @property
    def every_place(self) -> Ints:
        """The same of what is to be told at once. Raises Problem for more than anybody could want."""
        if (many := int(np.count_nonzero(self.among))) > AT_ONCE:
            kind = self.field.columns.kind
            raise Problem(
                409, "These are too many",
                f"{kind.many(many)} pass, and up to {AT_ONCE:,} are told at once. Add conditions to the sieve.",
            )  # fmt: skip
        return self.places

    def place_of(self, subject: str) -> int | None:
        """The place of a subject among what is shown; None for one that is not."""
        at = self.field.columns.places.get(subject) if subject else None
        if at is None or not self.among[at]:
            return None
        return int(np.flatnonzero(self.places == at)[0])

    def page(self, offset: int, limit: int) -> Ints:
        """Places of some of them; near the top far quicker than all."""
        if offset + limit <= NEAR_THE_TOP:
            return self.field.first(self.order, self.among, offset + limit)[offset:]
        return self.places[offset : offset + limit]


def read_asked(wanted: dict[str, Any], market: Market) -> Asked:
    """What a ``LedgerQuery`` asks for, in its order; ties go by searches, then by id."""
    kind = wanted["of"]
    order = order_of(wanted["sort"] or usual_order(kind), kind)
    conditions = sieve_of(wanted["c"], kind)
    field = Field(market.run, kind, lens_of(wanted["lens"], market.run, kind))
    seed = seed_asked(wanted)
    found = None if seed is None else field.columns.seeds.find(seed)
    sifted = field.sift(conditions, found)
    among = sifted.passes
    if wanted["near"]:
        among = among | (sifted.near >= 0)
    if wanted["niche"]:
        among = among & field.named(wanted["niche"])
    return Asked(field, conditions, sifted, among, order, seed, found)


def seed_asked(wanted: dict[str, Any]) -> Seed | None:
    """The seed that a ``LedgerQuery`` names. Raises Problem for one that is none, or of another kind."""
    if not wanted["seed"]:
        return None
    if wanted["of"] != TERM:
        raise Problem(409, "There is no such search", "A seed searches terms: ask with of=terms.")
    try:
        return Seed.read(
            wanted["seed"], wanted["how"], wanted["without"], exact=bool(wanted["exact"]),
            after=wanted["after"], before=wanted["before"], also=wanted["also"],
        )  # fmt: skip
    except CoreError as error:
        raise Problem(409, "That is no seed", str(error)) from None


def figures_asked(wanted: dict[str, Any]) -> list[Figure]:
    """The figures a row carries besides the ledger's own, as “entry.launches_52w,order_by”."""
    keys = [key for key in wanted["figures"].split(",") if key]
    for key in keys:
        if key not in EXTRA:
            raise Problem(
                400, "There is no such column", f"figures takes keys of figures; got “{key}”."
            )
    return [figure_of_kind(key, wanted["of"]) for key in dict.fromkeys(keys)]


def read_ledger(wanted: dict[str, Any], market: Market) -> Slice:
    """The rows of a page of the ledger, as a ``PageQuery`` asks for them."""
    asked = read_asked(wanted, market)
    offset, limit = wanted["offset"], wanted["limit"]
    field, sifted = asked.field, asked.sifted
    return Slice(
        rows=rows_of(asked, asked.page(offset, limit), figures_asked(wanted)),
        count=int(np.count_nonzero(sifted.passes)),
        near=int(np.count_nonzero(sifted.near >= 0)),
        total=field.count,
        offset=offset,
        conditions=condition_rows(asked.conditions, sifted.removes, market.currency),
        blocked=blocked_row(asked, market.currency),
        found=asked.place_of(wanted["find"]),
    )


def rows_of(asked: Asked, places: Ints, extra: Sequence[Figure] = ()) -> list[dict[str, Any]]:
    """Rows in the order of places, each with its decision and the condition it narrowly misses."""
    field, sifted = asked.field, asked.sifted
    columns = field.columns
    own = columns_of_ledger(columns.kind)
    lacking = {f.column: None for f in COLUMNS if columns.kind not in f.kinds}
    cells = {f.key: columns.cells(f, places) for f in dict.fromkeys([*own, *extra])}
    names = [columns.names[place] for place in places.tolist()]
    hints = protected_hints(columns, places, names)
    rows = []
    for at, place in enumerate(places.tolist()):
        row = {
            "before": None,
            **lacking,
            **{f.column: cells[f.key][at] for f in own},
            **_under_lens(field, place, cells["rank"][at] if "rank" in cells else None),
            "id": columns.ids[place],
            "name": names[at],
            "protected": hints[at],
            "category": columns.path_above(place)
            if columns.kind == CATEGORY
            else columns.category_path(place),
            "niche": columns.owners[place],
            "decision": field.decisions.get(columns.ids[place]),
            "misses": None if sifted.near[place] < 0 else int(sifted.near[place]),
        }
        row["extra"] = {f.key: _cell(f, cells[f.key][at]) for f in extra}
        rows.append(row)
    return rows


def protected_hints(columns: RunColumns, places: Ints, names: list[str]) -> list[str | None]:
    """What is said of rows that hold a protected word, in their names or their searches; None for the rest."""
    held = protected_in(names, protected_words())
    share = columns.figure("protected_share")[places] if columns.kind == NICHE else None
    return [
        protected_sentence(word, None if share is None or share[at] != share[at] else share[at])
        for at, word in enumerate(held)
    ]


def _cell(figure: Figure, value: Any) -> Any:
    """A figure as one cell shows it: signals by their names."""
    if figure.type is FigureType.SIGNALS:
        return [SIGNALS_BY_KEY[one["signal"]].name for one in value or []]
    return value


def _under_lens(field: Field, place: int, before: int | None) -> dict[str, Any]:
    """What a lens makes of a niche, and its rank under the run's own; nothing without a lens."""
    if field.lens is None or FIGURES_BY_KEY["rank"] not in figures_of(field.columns.kind):
        return {}
    row: dict[str, Any] = {"before": before, "rank_low": None, "rank_high": None}
    for key in ("rank", "demand", "competition", "headroom", "frontier"):
        value = float(field.figure(key)[place])
        row[key] = None if np.isnan(value) else value
    row["frontier"] = bool(row["frontier"])
    row["rank"] = row["rank"] and int(row["rank"])
    if field.count <= BANDS_AT_ONCE and (bands := field.columns.bands(field.lens)) is not None:
        low, high = int(bands.rank_low[place]), int(bands.rank_high[place])
        row |= {"rank_low": low or None, "rank_high": high or None}
    return row
