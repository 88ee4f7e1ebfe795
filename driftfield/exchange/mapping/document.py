"""Mappings as a JSON document: proposed by one command, corrected by hand, and given to another."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from driftfield.core.base import CoreError

from .beginnings import look_through
from .model import Mapping
from .propose import propose


def proposals(path: Path) -> list[dict[str, Any]]:
    """What the files of a folder, a zip or one file may be, an entry a layout.

    Files that are exchange tables as they stand are left out. Raises ExchangeError where a file is not
    what its ending says.
    """
    found = []
    for alike in look_through(path)[0]:
        if alike.table:
            continue
        offered = propose(alike.layout, alike.files[0].name)
        found.append(
            {
                "files": [file.name for file in alike.files],
                "layout": alike.layout.key,
                "names": list(alike.layout.names),
                "mapping": offered.mapping.as_dict(),
                "doubts": offered.doubts,
            }
        )
    return found


def read_document(path: Path) -> dict[str, tuple[list[str], Mapping]]:
    """Names of columns and mapping by layout. Raises CoreError where the document is not right."""
    try:
        entries = json.loads(path.read_text("utf-8"))
        pairs = [(one["layout"], [str(n) for n in one["names"]], one["mapping"]) for one in entries]
    except (ValueError, TypeError, KeyError, RecursionError) as error:
        raise CoreError(
            f"{path.name} is no list of mappings: {error}. Make one with bin/driftfield mapping."
        ) from None
    found = {}
    for layout, names, entry in pairs:
        mapping = Mapping.from_dict(entry)
        mapping.check()
        found[str(layout)] = (names, mapping)
    return found
