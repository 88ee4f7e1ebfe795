"""Bringing rows and curves up to date: new ones made, changed ones changed, the rest left alone."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass
from types import MappingProxyType
from typing import Any

from django.db.models import Model

from driftfield.core.base import Floats, Period
from driftfield.exchange.problems import ExchangeError, Problem, Problems
from driftfield.market.curves import Packed, merge, pack_rows
from driftfield.market.many_rows import insert, update
from driftfield.market.models import PackedCurve

from .journal import Journal


@dataclass(slots=True)
class Count:
    """Rows of a table by what happened to them."""

    new: int = 0
    changed: int = 0
    unchanged: int = 0

    def add(self, other: Count) -> None:
        self.new += other.new
        self.changed += other.changed
        self.unchanged += other.unchanged

    def as_dict(self) -> dict[str, int]:
        return asdict(self)


def upsert(
    model: type[Model],
    key: Sequence[str],
    rows: Iterable[dict[str, Any]],
    journal: Journal,
    starts: Mapping[str, str] = MappingProxyType({}),
) -> Count:
    """Make or change rows so that each one's fields hold; other fields and rows stay.

    ``starts``: fields that are in a new row what another one is, and go their own way from then on.
    """
    count = Count()
    existing = {tuple(row[k] for k in key): row for row in model._default_manager.values()}
    pk = model._meta.pk
    assert pk is not None, "every model has a primary key"
    made: dict[tuple[Any, ...], dict[str, Any]] = {}
    changed: dict[tuple[str, ...], list[dict[str, Any]]] = {}
    for row in rows:
        place = tuple(row[k] for k in key)
        found = existing.get(place)
        if found is None:
            made[place] = row | {name: row[other] for name, other in starts.items()}
            continue
        differs = tuple(sorted(name for name, value in row.items() if found[name] != value))
        if not differs:
            count.unchanged += 1
            continue
        journal.changed(model, found[pk.attname], {name: found[name] for name in differs})
        new = {"pk": found[pk.attname], **{name: row[name] for name in differs}}
        changed.setdefault(differs, []).append(new)
    if pk.attname in key:
        journal.made(model, [row[pk.attname] for row in made.values()])
    count.new = insert(model, made.values())
    for names, several in changed.items():
        count.changed += update(model, names, several)
    return count


def upsert_curves(
    model: type[PackedCurve],
    measure: str,
    subjects: Sequence[dict[str, Any]],
    values: Floats,
    period: Period,
    first_number: int,
    journal: Journal,
    *,
    file: str = "",
) -> Count:
    """Merge the rows of ``values`` into the stored curves of ``subjects``.

    ``subjects`` name the fields that a curve hangs on (subject_id, …). Raises ExchangeError when a
    stored curve has another period.
    """
    count = Count()
    names = list(subjects[0]) if subjects else []
    stored = model._default_manager.filter(measure=measure)
    if len(subjects) < 5000 and names:
        stored = stored.filter(**{f"{names[0]}__in": {s[names[0]] for s in subjects}})
    existing = {
        tuple(row[n] for n in names): row
        for row in stored.values("pk", "period", "first", "values", *names)
    }
    made, changed = [], []
    for subject, packed in zip(subjects, pack_rows(values, first_number), strict=True):
        if packed is None:
            continue
        found = existing.get(tuple(subject[n] for n in names))
        if found is None:
            made.append(
                {"measure": measure, "period": period.value, "first": packed.first,
                 "values": packed.values, **subject}
            )  # fmt: skip
            continue
        if found["period"] != period.value:
            problems = Problems()
            problems.add(
                Problem(file, f"Its figures are by {period.value}; those loaded are by {found['period']}.",
                        "A curve keeps one period; load this into a database of its own.")
            )  # fmt: skip
            raise ExchangeError(problems)
        old = Packed(found["first"], bytes(found["values"]))
        both = merge(old, packed)
        if both == old:
            count.unchanged += 1
            continue
        journal.curve(model, found["pk"], old, both)
        changed.append({"pk": found["pk"], "first": both.first, "values": both.values})
    count.new = insert(model, made)
    count.changed = update(model, ["first", "values"], changed)
    return count
