"""What the API says of how files are read."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import Flag, Text, Whole
from driftfield.exchange.mapping import Mapping
from driftfield.exchange.mapping.model import DATES, DECIMALS, GROUPINGS, NAMED, WHERE

MOST_COLUMNS = 5_000  # Of a file that is read by a mapping.


class ProblemRow(serializers.Serializer[Any]):
    """One problem of a file: where it is, what came, and what to do."""

    file = serializers.CharField()
    line = serializers.IntegerField(allow_null=True)
    column = serializers.CharField(allow_null=True)
    value = serializers.CharField(allow_null=True)
    message = serializers.CharField()
    remedy = serializers.CharField()


class UseRow(serializers.Serializer[Any]):
    """A column of the file as an exchange column; unit is empty for the exchange column's own."""

    column = Text(max_length=1000)
    to = Text(max_length=100)
    unit = Text(max_length=20, allow_blank=True, default="")


class MappingRow(serializers.Serializer[Any]):
    """How files of a layout are read. table is empty where they are left out."""

    table = Text(max_length=40, allow_blank=True)
    columns = serializers.ListField(child=UseRow(), max_length=MOST_COLUMNS)
    head = Whole(min_value=0, max_value=400, help_text="Line with the columns' names; 0 is none.")
    decimal = serializers.ChoiceField(choices=list(DECIMALS))
    grouping = serializers.ChoiceField(choices=list(GROUPINGS), allow_blank=True)
    dates = serializers.ChoiceField(choices=list(DATES))
    named = serializers.ChoiceField(choices=list(NAMED))
    fixed = serializers.DictField(child=Text(max_length=500))
    week_in = serializers.ChoiceField(choices=list(WHERE), allow_blank=True)
    spread = Text(max_length=100, allow_blank=True)
    spread_unit = Text(max_length=20, allow_blank=True)


def mapping_of(value: dict[str, Any]) -> Mapping:
    """The mapping in checked data. Raises CoreError where it cannot be one."""
    mapping = Mapping.from_dict(value)
    mapping.check()
    return mapping


class LayoutRow(serializers.Serializer[Any]):
    """Files that look alike: their first rows, and how they would be read.

    table: the exchange table that they are as they stand; empty where they need a mapping. kept_at: when
    this mapping was last agreed on; null where it is a proposal, with its doubts.
    """

    key = serializers.CharField()
    files = serializers.ListField(child=serializers.CharField())
    encoding = serializers.CharField()
    separator = serializers.CharField(trim_whitespace=False)
    names = serializers.ListField(child=serializers.CharField())
    dated = serializers.ListField(
        child=serializers.CharField(), help_text="Names that are dates with figures below them."
    )
    above = serializers.ListField(child=serializers.CharField())
    rows = serializers.ListField(child=serializers.ListField(child=serializers.CharField()))
    table = serializers.CharField()
    mapping = MappingRow()
    doubts = serializers.ListField(child=serializers.CharField())
    kept_at = serializers.DateTimeField(allow_null=True)


class LookedThrough(serializers.Serializer[Any]):
    """Uploaded files, by layout; unread are those that are no tables."""

    layouts = LayoutRow(many=True)
    unread = serializers.ListField(child=serializers.CharField())


class Try(serializers.Serializer[Any]):
    """A mapping to be tried on the first rows of a layout's first file.

    afresh: propose anew for the table and the line of names that it says.
    """

    layout = Text(max_length=64)
    mapping = MappingRow()
    afresh = Flag(default=False)


class Tried(serializers.Serializer[Any]):
    """What a mapping makes of the first rows. lacks: why it cannot be used, empty where it can."""

    layout = LayoutRow()
    columns = serializers.ListField(child=serializers.CharField())
    made = serializers.ListField(
        child=serializers.ListField(child=serializers.CharField(allow_null=True))
    )
    problems = ProblemRow(many=True)
    lacks = serializers.CharField()


class LayoutWanted(serializers.Serializer[Any]):
    """How the files of one layout are to be read."""

    layout = Text(max_length=64)
    names = serializers.ListField(
        child=Text(max_length=1000, allow_blank=True), max_length=MOST_COLUMNS
    )
    mapping = MappingRow()


class ColumnRow(serializers.Serializer[Any]):
    """A column of an exchange table, and what its figures may be given in."""

    name = serializers.CharField()
    type = serializers.CharField()
    needed = serializers.BooleanField()
    description = serializers.CharField()
    units = serializers.ListField(child=serializers.CharField())


class TableRow(serializers.Serializer[Any]):
    """An exchange table. spreads: its figures that may stand in a column a date."""

    name = serializers.CharField()
    description = serializers.CharField()
    columns = ColumnRow(many=True)
    spreads = serializers.ListField(child=serializers.CharField())
