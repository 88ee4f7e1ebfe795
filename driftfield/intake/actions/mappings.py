"""Keep how files of a layout are read, to offer it when such files come again."""

from __future__ import annotations

from collections.abc import Sequence

from driftfield.exchange.mapping import Mapping
from driftfield.intake.models import LayoutMapping


def keep_mapping(layout: str, names: Sequence[str], mapping: Mapping) -> LayoutMapping:
    """Keep the mapping of a layout in the place of an earlier one. Raises CoreError where it does not fit."""
    mapping.check(names)
    made, _ = LayoutMapping.objects.update_or_create(
        layout=layout, defaults={"names": list(names), "mapping": mapping.as_dict()}
    )
    return made


def kept_mappings() -> dict[str, Mapping]:
    """The mappings of all layouts by key."""
    rows = LayoutMapping.objects.values_list("layout", "mapping")
    return {layout: Mapping.from_dict(mapping) for layout, mapping in rows}
