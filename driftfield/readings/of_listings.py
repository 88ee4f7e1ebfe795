"""What conditions on listings alone ask: attributes, lead offers, and what they did in a time."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from datetime import date, timedelta

import numpy as np
import polars as pl
from django.db import connection
from django.db.models import Model, Q
from django.db.models.fields.json import KeyTextTransform
from numpy.typing import NDArray

from driftfield.core.base import Bools, Floats, Ints, Timeline
from driftfield.core.curves import Time
from driftfield.core.supply import History, led_share, of_time
from driftfield.exchange.matrices import encode
from driftfield.exchange.sieved import WHO, those_of
from driftfield.market.models import Brand, LeadSeller, Listing, ListingCurve, Seller

from .columns import RunColumns

CHUNK = 20_000  # Curves that are held at once.


def in_time(columns: RunColumns, measure: str, time: Time) -> Floats:
    """As ``of_time`` of the run's listings, (listings,), up to its as-of."""
    return columns.kept(("time", measure, time), lambda: _read(columns, measure, time))


def whose(columns: RunColumns, role: str, wanted: str | None) -> Bools:
    """Listings by their brand or seller; see ``core.sieve.Columns``."""
    ids, code = columns.kept(("whose", role), lambda: _whose(columns, role))
    people: type[Model] = {"brand": Brand, "seller": Seller}[role]
    named = people._default_manager.filter(name__iexact=wanted or "")
    return those_of(pl.Series(ids, dtype=pl.String), wanted, named.values_list("id", flat=True))[
        code
    ]


def _whose(columns: RunColumns, role: str) -> tuple[list[str | None], Ints]:
    """The brands or sellers of the listings, None last, and the place of each listing's among them.

    Of very many listings few brands are different: each is compared once.
    """
    own = pl.Series([one or None for one in columns.identity(WHO[role])], dtype=pl.String)
    known, codes = encode(own.drop_nulls())
    place = np.full(len(own), len(known), dtype=np.int64)
    place[own.is_not_null().to_numpy()] = codes
    return [*known, None], place


def attribute(columns: RunColumns, name: str, wanted: str | None) -> Bools:
    """Listings that have a value of an attribute; see ``core.sieve.Columns``."""
    values, code = columns.kept(("attribute", name), lambda: _attribute(columns, name))
    return those_of(pl.Series(values, dtype=pl.String), wanted, ())[code]


class Attributes(Mapping[str, Sequence[str]]):
    """The attributes that a run's listings have, with the values of each, most frequent first."""

    def __init__(self, columns: RunColumns) -> None:
        self.columns = columns

    def __getitem__(self, name: str) -> Sequence[str]:
        values, code = self.columns.kept(
            ("attribute", name), lambda: _attribute(self.columns, name)
        )
        many = np.bincount(code, minlength=len(values))[:-1]
        order = np.argsort(-many, kind="stable")
        found: dict[str, str] = {}
        for at in order.tolist():
            if many[at]:
                found.setdefault(str(values[at]).lower(), str(values[at]))
        return list(found.values())

    def __iter__(self) -> Iterator[str]:
        return iter(_names(self.columns))

    def __len__(self) -> int:
        return len(_names(self.columns))


def _names(columns: RunColumns) -> list[str]:
    return columns.kept(("attributes",), _attribute_names)


def _attribute_names() -> list[str]:
    table = connection.ops.quote_name(Listing._meta.db_table)
    with connection.cursor() as cursor:
        cursor.execute(
            f"SELECT DISTINCT key FROM {table}, json_each({table}.attributes) ORDER BY key"
        )
        return [str(name) for (name,) in cursor.fetchall()]


def _attribute(columns: RunColumns, name: str) -> tuple[list[str | None], Ints]:
    """The values of an attribute, None last, and the place of each listing's among them."""
    named = [one for one in _names(columns) if one.lower() == name.lower()]
    place, values = np.empty(0, dtype=np.int64), []
    if named:
        value = KeyTextTransform(named[0], "attributes")
        rows = (
            Listing.objects.annotate(value=value)
            .filter(value__isnull=False)
            .values_list("pk", "value")
        )
        found = list(rows.iterator())
        place = columns.places_of(np.array([key for key, _ in found], dtype=np.int64))
        values = [str(value) for _, value in found]
    known, codes = encode(pl.Series(values, dtype=pl.String))
    code = np.full(columns.count, len(known), dtype=np.int64)
    code[place[place >= 0]] = codes[place >= 0] if len(known) else []
    return [*known, None], code


def led_by(columns: RunColumns, seller: str) -> Floats:
    """Share of the last 52 weeks in which a seller held the lead offers; see ``core.sieve.Columns``."""
    return columns.kept(("led", seller.lower()), lambda: _led_by(columns, seller))


def _led_by(columns: RunColumns, seller: str) -> Floats:
    found = np.full(columns.count, np.nan)
    if not columns.count:
        return found
    # Up to where the listings' history goes, which the market's as-of may lie beyond.
    last = columns.period.number(date.fromordinal(int(columns.figure("as_of")[0])))
    many = columns.period.span(52)
    ids = Seller.objects.filter(Q(name__iexact=seller) | Q(id__iexact=seller)).values("id")
    held = LeadSeller.objects.filter(Q(seller_id__in=ids) | Q(seller_id__iexact=seller))
    numbers = np.array(held.values_list("pk", flat=True), dtype=np.int64)
    for place, values in _windows(columns, "lead_seller", last - many + 1, many):
        found[place] = led_share(values, numbers)
    return found


def _read(columns: RunColumns, measure: str, time: Time) -> Floats:
    period = columns.period
    first = period.number(time.first)
    last = min(period.number(time.last), _known(columns))
    found = np.full(columns.count, np.nan)
    if last < first:
        return found
    timeline = Timeline(period, period.start(first), last - first + 1)
    for place, values in _windows(columns, measure, first, timeline.length):
        history = History(timeline, {measure: values})
        found[place] = of_time(history, measure, time.first, time.last)
    return found


def _windows(
    columns: RunColumns, measure: str, first: int, many: int
) -> Iterator[tuple[Ints, NDArray[np.float32]]]:
    """A measure of the run's listings from a period on, some at a time: their places, and (these, many)."""
    rows = ListingCurve.objects.filter(measure=measure, period=columns.period.value)
    # As they are in the database: of a million rows the ORM's own handling takes longer than all else.
    query, values_of = rows.values_list("subject_id", "first", "values").query.sql_with_params()
    cursor = connection.cursor()
    cursor.execute(query, values_of)
    while chunk := cursor.fetchmany(CHUNK):
        numbers = np.array([(key, begin, len(packed)) for key, begin, packed in chunk])
        values = _between(numbers[:, 1], numbers[:, 2], [row[2] for row in chunk], first, many)
        place = columns.places_of(numbers[:, 0])
        yield place[place >= 0], values[place >= 0]


def _between(
    begins: Ints, sizes: Ints, packed: Sequence[bytes], first: int, many: int
) -> NDArray[np.float32]:
    """Curves from a period on for so many periods, (curves, many), NaN for absent.

    begins, sizes: the first period of each and its bytes. Those that begin and end together, as most do, are
    read as one.
    """
    values = np.full((len(packed), many), np.nan, dtype=np.float32)
    extent = begins * (sizes.max() + 1) + sizes
    for each in np.unique(extent).tolist():
        rows = np.flatnonzero(extent == each)
        begin, length = int(begins[rows[0]]), int(sizes[rows[0]]) // 4
        start, end = max(first, begin), min(first + many, begin + length)
        if start >= end:
            continue
        held = np.frombuffer(b"".join([packed[row] for row in rows.tolist()]), dtype="<f4")
        own = held.reshape(len(rows), length)
        values[rows, start - first : end - first] = own[:, start - begin : end - begin]
    return values


def _known(columns: RunColumns) -> int:
    """Number of the last period that is complete on the run's as-of."""
    return columns.period.number(columns.run.as_of + timedelta(days=1)) - 1
