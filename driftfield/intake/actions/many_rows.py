"""Many rows written at once.

Django's bulk_create and bulk_update make an object a row and SQL text a batch, which for a hundred
thousand curves takes longer than reading the file they came in. Rows are given by their fields' columns
(``market_id``, not ``market``) and their values are prepared by the fields, as Django does it.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from itertools import islice
from typing import Any

from django.db import connection
from django.db.models import AutoField, Field, Model

BATCH = 10_000


def insert(model: type[Model], rows: Iterable[Mapping[str, Any]]) -> int:
    """Insert ``rows``; what one leaves out takes the field's default. How many there were."""
    fields = [f for f in model._meta.concrete_fields if not isinstance(f, AutoField)]
    defaults = {f.attname: f.get_default() for f in fields}
    columns = ", ".join(_quoted(f) for f in fields)
    marks = ", ".join(["%s"] * len(fields))
    return _write(
        f"INSERT INTO {_table(model)} ({columns}) VALUES ({marks})",
        fields,
        ({**defaults, **row} for row in rows),
    )


def update(model: type[Model], names: Sequence[str], rows: Iterable[Mapping[str, Any]]) -> int:
    """Set the fields ``names`` of the rows with each one's ``pk``; how many there were."""
    key = model._meta.pk
    assert key is not None, "every model has a primary key"
    by_name = {f.attname: f for f in model._meta.concrete_fields}
    fields = [by_name[name] for name in names]
    setters = ", ".join(f"{_quoted(f)} = %s" for f in fields)
    return _write(
        f"UPDATE {_table(model)} SET {setters} WHERE {_quoted(key)} = %s",
        [*fields, key],
        ({**row, key.attname: row["pk"]} for row in rows),
    )


def _table(model: type[Model]) -> str:
    return connection.ops.quote_name(model._meta.db_table)


def _quoted(field: Field[Any, Any]) -> str:
    assert field.column is not None, "concrete fields have a column"
    return connection.ops.quote_name(field.column)


def _write(sql: str, fields: Sequence[Field[Any, Any]], rows: Iterable[Mapping[str, Any]]) -> int:
    prepare = [(f.attname, f.get_db_prep_save) for f in fields]

    def values() -> Iterator[tuple[Any, ...]]:
        for row in rows:
            yield tuple(prepared(row[name], connection) for name, prepared in prepare)

    count, ready = 0, values()
    with connection.cursor() as cursor:
        while batch := list(islice(ready, BATCH)):
            cursor.executemany(sql, batch)
            count += len(batch)
    return count
