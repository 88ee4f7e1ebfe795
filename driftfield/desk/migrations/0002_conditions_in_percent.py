"""Changes of as much again and more are written in percent, as “drift 150%..” for “drift 1.5..”."""

from __future__ import annotations

import re
from typing import Any

from django.db import migrations

from driftfield.core.market import FIGURES_BY_KEY, FigureType
from driftfield.core.sieve.names import NUMBER_NAMES

_NUMBER = r"(-?[0-9]+(?:\.[0-9]+)?)?"
_RANGE = re.compile(rf"(~?)(.+?) {_NUMBER}\.\.{_NUMBER}")


def in_percent(condition: str) -> str:
    """A condition as it was kept, as it is kept now."""
    found = _RANGE.fullmatch(condition)
    key = NUMBER_NAMES.get(found[2].lower()) if found else None
    if found is None or key is None or FIGURES_BY_KEY[key].type is not FigureType.CHANGE:
        return condition
    bounds = [
        f"{float(one) * 100:.10g}%" if one and abs(float(one)) >= 1 else one or ""
        for one in found.groups()[2:]
    ]
    return f"{found[1]}{found[2]} {'..'.join(bounds)}"


def rewrite(apps: Any, schema_editor: Any) -> None:
    Sieve = apps.get_model("desk", "Sieve")  # noqa: N806 (a class)
    for one in Sieve.objects.using(schema_editor.connection.alias).all():
        conditions = [in_percent(text) for text in one.conditions]
        if conditions != one.conditions:
            one.conditions = conditions
            one.save(update_fields=["conditions"])


class Migration(migrations.Migration):
    dependencies = [("desk", "0001_initial")]  # noqa: RUF012
    operations = [migrations.RunPython(rewrite, migrations.RunPython.noop)]  # noqa: RUF012
