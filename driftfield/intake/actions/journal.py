"""What a batch changes, kept beside it so that it can be undone."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db.models import AutoField, Max, Model

from driftfield.intake.models import Batch, CurveBefore, Made, RowBefore
from driftfield.intake.stored import CURVE_MODELS, MODELS
from driftfield.market.curves import PACKED, Packed, unpack
from driftfield.market.many_rows import insert, update
from driftfield.market.models import Market, PackedCurve, Term
from driftfield.market.own_niches import follow_files, follow_own


class Journal:
    """Notes of one import, from its beginning to its end within the same transaction.

    Rows are numbered upwards and no number comes twice, and nobody else writes meanwhile: what is above
    the highest number at the beginning was made by this batch.
    """

    def __init__(self) -> None:
        self._highest = {model: _highest(model) for model in MODELS if _numbered(model)}
        self._named: dict[type[Model], list[str]] = {}
        self._rows: list[dict[str, Any]] = []
        self._curves: list[dict[str, Any]] = []
        for market in Market.objects.all():
            self.changed(Market, market.pk, {"complete_until": market.complete_until})

    def made(self, model: type[Model], keys: Sequence[str]) -> None:
        """Rows of a table whose key is a text."""
        self._named.setdefault(model, []).extend(keys)

    def changed(self, model: type[Model], key: Any, fields: dict[str, Any]) -> None:
        """What ``fields`` of a row were."""
        self._rows.append({"table": model.__name__, "key": str(key), "fields": fields})

    def curve(self, model: type[PackedCurve], key: int, old: Packed, new: Packed) -> None:
        """What a curve was before it became ``new``: its extent, and the values that are others now."""
        was, now = unpack(old.values), unpack(new.values)
        start = old.first - new.first
        differs = (was.view("<u4") != now[start : start + len(was)].view("<u4")).nonzero()[0]
        low, high = (int(differs[0]), int(differs[-1]) + 1) if differs.size else (0, 0)
        self._curves.append(
            {"table": model.__name__, "row": key, "first": old.first, "length": len(was), "at": low,
             "values": was[low:high].tobytes()}
        )  # fmt: skip

    def save(self, batch: Batch) -> None:
        made = [
            {"table": model.__name__, "after": before, "upto": highest}
            for model, before in self._highest.items()
            if (highest := _highest(model)) > before
        ]
        made += [{"table": m.__name__, "keys": keys} for m, keys in self._named.items() if keys]
        for model, rows in ((Made, made), (RowBefore, self._rows), (CurveBefore, self._curves)):
            insert(model, ({"batch_id": batch.pk, **row} for row in rows))


def _numbered(model: type[Model]) -> bool:
    return isinstance(model._meta.pk, AutoField)


def _highest(model: type[Model]) -> int:
    return int(model._default_manager.aggregate(highest=Max("pk"))["highest"] or 0)


def take_back(batch: Batch) -> None:
    """Put the market back as it was before ``batch``, the latest that stands; decisions stay."""
    for curves in CURVE_MODELS:
        _curves_back(batch, curves)
    made = {row.table: row for row in batch.made.all()}
    for model in MODELS:
        rows = model._default_manager.all()
        if (of_batch := made.get(model.__name__)) is not None:
            if of_batch.keys is not None:
                rows = rows.filter(pk__in=of_batch.keys)
            else:
                rows = rows.filter(pk__gt=of_batch.after, pk__lte=of_batch.upto)
            rows.delete()
        _rows_back(batch, model)
        if model is Term:
            # No term is left in a niche that goes.
            follow_files()
    follow_own()


def _curves_back(batch: Batch, model: type[PackedCurve]) -> None:
    before = list(batch.curves_before.filter(table=model.__name__).values())
    stored = dict(model._default_manager.filter(pk__in=batch.curves_before.filter(
        table=model.__name__).values("row")).values_list("pk", "values"))  # fmt: skip
    firsts = dict(model._default_manager.filter(pk__in=stored).values_list("pk", "first"))
    back = []
    for row in before:
        start = row["first"] - firsts[row["row"]]
        values = unpack(bytes(stored[row["row"]]))[start : start + row["length"]].astype(PACKED)
        was = unpack(bytes(row["values"]))
        values[row["at"] : row["at"] + len(was)] = was
        back.append({"pk": row["row"], "first": row["first"], "values": values.tobytes()})
    update(model, ["first", "values"], back)


def _rows_back(batch: Batch, model: type[Model]) -> None:
    by_name = {f.attname: f for f in model._meta.concrete_fields}
    for row in batch.rows_before.filter(table=model.__name__):
        fields = {name: by_name[name].to_python(value) for name, value in row.fields.items()}
        update(model, list(fields), [{"pk": row.key, **fields}])
