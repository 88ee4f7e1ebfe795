"""Bringing rows and curves up to date: new ones made, changed ones changed, the rest left alone."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from django.db.models import Model

from driftfield.core.periods import Floats, Period
from driftfield.exchange.problems import ExchangeError, Problem, Problems
from driftfield.market.curves import Packed, merge, pack
from driftfield.market.models import PackedCurve

BATCH = 2000


@dataclass(slots=True)
class Count:
    """Rows of a table by what happened to them."""

    new: int = 0
    changed: int = 0
    unchanged: int = 0

    def as_dict(self) -> dict[str, int]:
        return asdict(self)


def upsert(model: type[Model], key: Sequence[str], rows: Iterable[dict[str, Any]]) -> Count:
    """Make or change objects so that each row's fields hold; other fields and objects stay."""
    count = Count()
    manager = model._default_manager
    existing = {tuple(getattr(o, k) for k in key): o for o in manager.all()}
    made, changed = [], []
    touched: set[str] = set()
    for row in rows:
        found = existing.get(tuple(row[k] for k in key))
        if found is None:
            made.append(model(**row))
            continue
        differs = [name for name, value in row.items() if getattr(found, name) != value]
        if not differs:
            count.unchanged += 1
            continue
        for name in differs:
            setattr(found, name, row[name])
        touched.update(differs)
        changed.append(found)
    manager.bulk_create(made, batch_size=BATCH)
    if changed:
        manager.bulk_update(changed, sorted(touched), batch_size=BATCH)
    count.new, count.changed = len(made), len(changed)
    return count


def upsert_curves(
    model: type[PackedCurve],
    measure: str,
    subjects: Sequence[dict[str, Any]],
    values: Floats,
    period: Period,
    first_number: int,
    *,
    extra: Sequence[dict[str, Any]] | None = None,
    file: str = "",
) -> Count:
    """Merge the rows of ``values`` into the stored curves of ``subjects``.

    ``subjects`` name the fields that a curve hangs on (subject_id, …), ``extra`` further fields to
    set. Raises ExchangeError when a stored curve has another period.
    """
    count = Count()
    names = list(subjects[0]) if subjects else []
    manager = model._default_manager
    stored = manager.filter(measure=measure)
    if len(subjects) < 5000 and names:
        stored = stored.filter(**{f"{names[0]}__in": {s[names[0]] for s in subjects}})
    existing = {tuple(getattr(c, n) for n in names): c for c in stored}
    made, changed = [], []
    for place, subject in enumerate(subjects):
        packed = pack(values[place], first_number)
        if packed is None:
            continue
        more = extra[place] if extra else {}
        found = existing.get(tuple(subject[n] for n in names))
        if found is None:
            made.append(
                model(measure=measure, period=period.value, first=packed.first,
                      values=packed.values, **subject, **more)
            )  # fmt: skip
            continue
        if found.period != period.value:
            problems = Problems()
            problems.add(
                Problem(file, f"Its figures are by {period.value}; those loaded are by {found.period}.",
                        "A curve keeps one period; load this into a database of its own.")
            )  # fmt: skip
            raise ExchangeError(problems)
        both = merge(Packed(found.first, bytes(found.values)), packed)
        same = both.first == found.first and both.values == bytes(found.values)
        if same and all(getattr(found, k) == v for k, v in more.items()):
            count.unchanged += 1
            continue
        found.first, found.values = both.first, both.values
        for name, value in more.items():
            setattr(found, name, value)
        changed.append(found)
    manager.bulk_create(made, batch_size=BATCH)
    if changed:
        fields = ["first", "values", *(extra[0] if extra else {})]
        manager.bulk_update(changed, fields, batch_size=500)
    count.new, count.changed = len(made), len(changed)
    return count
