"""What was agreed on how files are read, and the files that need no agreement."""

from __future__ import annotations

from collections.abc import Mapping as Pairs
from dataclasses import dataclass, field

from driftfield.exchange.sources import SEPARATORS, Header, SourceFile
from driftfield.exchange.tables import tables

from .layout import Layout, look
from .model import Mapping


@dataclass(frozen=True, slots=True)
class Agreed:
    """Mappings by key of a layout. now: for these very files. before: from earlier ones, which a file
    that is an exchange table as it stands does not need."""

    now: Pairs[str, Mapping] = field(default_factory=dict)
    before: Pairs[str, Mapping] = field(default_factory=dict)

    def of(self, file: SourceFile, layout: Layout) -> Mapping | None:
        """The mapping of a file; None where none was agreed on or it needs none."""
        if layout.key in self.now:
            return self.now[layout.key]
        return None if table_as_it_stands(file, layout) else self.before.get(layout.key)


NOTHING_AGREED = Agreed()


def table_as_it_stands(file: SourceFile, layout: Layout) -> str:
    """The exchange table that a file is without any mapping; empty where it is none.

    It is named after its table and has the columns that table must have, or all its columns are called
    like those of one table and no other.
    """
    if layout.encoding != "utf-8" or layout.head != 1 or layout.separator not in SEPARATORS:
        return ""
    names = set(layout.names)
    complete = [table.name for table in tables().values() if table.complete(names)]
    if file.table in complete:
        return file.table
    complete = [one for one in complete if tables()[one].told_by(names)]
    if Header(layout.separator, layout.names).wide:
        return "term_weeks"
    same = [one for one in complete if all(tables()[one].column(name) for name in names)]
    return same[0] if len(same) == 1 else ""


def fitting(file: SourceFile, layout: Layout, mapping: Mapping) -> Layout:
    """The layout under which a file has the columns of its mapping: as it looks, or from the line on from
    which the researcher said that it begins."""
    if {use.column for use in mapping.columns} <= set(layout.names):
        return layout
    return look(file, mapping.head) or layout
