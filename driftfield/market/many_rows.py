"""Many rows written at once.

Django's bulk_create and bulk_update make an object a row and SQL text a batch, which for a hundred
thousand curves takes longer than reading the file they came in. Rows are given by their fields' columns
(``market_id``, not ``market``); what SQLite does not take as it is, the fields prepare.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from itertools import islice
from typing import Any

from django.db import connection, connections
from django.db.models import (
    AutoField,
    BinaryField,
    BooleanField,
    CharField,
    Field,
    FloatField,
    ForeignKey,
    IntegerField,
    Model,
    TextField,
)

BATCH = 10_000
NATIVE = (BinaryField, BooleanField, CharField, FloatField, ForeignKey, IntegerField, TextField)


def insert(model: type[Model], rows: Iterable[Mapping[str, Any]]) -> int:
    """Insert ``rows``; what one leaves out takes the field's default. How many there were."""
    fields = [f for f in model._meta.concrete_fields if not isinstance(f, AutoField)]
    defaults = {f.attname: f.get_default() for f in fields}
    return _write(_insertion(model, fields), fields, ({**defaults, **row} for row in rows))


def insert_columns(model: type[Model], columns: Mapping[str, Sequence[Any]]) -> int:
    """Insert rows given column by column, each of the same length; how many there were.

    Numbers, texts and bytes go in as they are; what is kept as another kind (JSON, dates) is prepared.
    """
    by_name = {f.attname: f for f in model._meta.concrete_fields}
    fields = [by_name[name] for name in columns]
    ready = [
        values if isinstance(field, NATIVE) else _prepared(field, values)
        for field, values in zip(fields, columns.values(), strict=True)
    ]
    return _run(_insertion(model, fields), zip(*ready, strict=True))


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


def _insertion(model: type[Model], fields: Sequence[Field[Any, Any]]) -> str:
    columns = ", ".join(_quoted(f) for f in fields)
    marks = ", ".join(["%s"] * len(fields))
    return f"INSERT INTO {_table(model)} ({columns}) VALUES ({marks})"


def _prepared(field: Field[Any, Any], values: Sequence[Any]) -> Iterator[Any]:
    # The connection itself: what stands for it looks it up anew a million times.
    behind = connections[connection.alias]
    return (None if v is None else field.get_db_prep_save(v, behind) for v in values)


def _table(model: type[Model]) -> str:
    return connection.ops.quote_name(model._meta.db_table)


def _quoted(field: Field[Any, Any]) -> str:
    assert field.column is not None, "concrete fields have a column"
    return connection.ops.quote_name(field.column)


def _write(sql: str, fields: Sequence[Field[Any, Any]], rows: Iterable[Mapping[str, Any]]) -> int:
    prepare = [(f.attname, None if isinstance(f, NATIVE) else f.get_db_prep_save) for f in fields]

    def values() -> Iterator[tuple[Any, ...]]:
        for row in rows:
            yield tuple(
                row[name]
                if prepared is None or row[name] is None
                else prepared(row[name], connection)
                for name, prepared in prepare
            )

    return _run(sql, values())


def _run(sql: str, rows: Iterator[tuple[Any, ...]]) -> int:
    count = 0
    with connection.cursor() as cursor:
        while batch := list(islice(rows, BATCH)):
            cursor.executemany(sql, batch)
            count += len(batch)
    return count
