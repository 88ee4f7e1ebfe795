"""What the API says of files that come in."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from driftfield.api.fields import Text
from driftfield.api.intake.mapping_serializers import LayoutWanted, MappingRow, ProblemRow
from driftfield.intake.stored import OF_CURVES
from driftfield.work.models import Kind, State


class TableCount(serializers.Serializer[Any]):
    """Rows of a table, or curves where it holds weeks, by what happened to them. of: which of the two."""

    table = serializers.CharField()
    of = serializers.ChoiceField(choices=["rows", "curves"])
    new = serializers.IntegerField()
    changed = serializers.IntegerField()
    unchanged = serializers.IntegerField()


class JobRow(serializers.Serializer[Any]):
    """A piece of long work. whole is 0 while it is not known how much there is to do."""

    id = serializers.IntegerField(source="pk")
    kind = serializers.ChoiceField(choices=Kind.choices)
    state = serializers.ChoiceField(choices=State.choices)
    name = serializers.CharField(source="source")
    made_at = serializers.DateTimeField()
    ended_at = serializers.DateTimeField(allow_null=True)
    step = serializers.CharField()
    done = serializers.IntegerField()
    whole = serializers.IntegerField()
    unit = serializers.ChoiceField(choices=["bytes", "niches and terms", "days"])
    rate = serializers.FloatField(allow_null=True, help_text="Units a second.")
    seconds_left = serializers.FloatField(allow_null=True)
    stop_asked = serializers.BooleanField()
    messages = serializers.ListField(child=serializers.CharField())
    counts = serializers.SerializerMethodField()
    notes = serializers.ListField(child=serializers.CharField())
    problems = ProblemRow(many=True)
    problem_count = serializers.IntegerField()
    incoming = serializers.CharField(
        help_text="The folder of its files, as long as they are here, so that it can go on; else empty."
    )

    @extend_schema_field(TableCount(many=True))
    def get_counts(self, job: Any) -> list[dict[str, Any]]:
        return counted(job.counts)


class JobWanted(serializers.Serializer[Any]):
    """Files to check or import: the folder they were uploaded to, what they are called, and how those
    of other layouts are read, which is kept for the next time."""

    kind = serializers.ChoiceField(choices=[Kind.CHECK.value, Kind.IMPORT.value])
    incoming = Text(max_length=40)
    name = Text(max_length=500)
    mappings = serializers.ListField(child=LayoutWanted(), default=list, max_length=100)
    market = Text(
        max_length=200, default="", allow_blank=True,
        help_text="Of which market new niches are that name none.",
    )  # fmt: skip


class FileMapping(serializers.Serializer[Any]):
    """How one file was read."""

    file = serializers.CharField()
    mapping = MappingRow()


class Incoming(serializers.Serializer[Any]):
    """A place for files to come."""

    incoming = serializers.CharField()


class FileRow(serializers.Serializer[Any]):
    """An uploaded file."""

    name = serializers.CharField()
    size = serializers.IntegerField()


class BatchRow(serializers.Serializer[Any]):
    """An import that changed something. latest: the one that can be undone."""

    id = serializers.IntegerField(source="pk")
    made_at = serializers.DateTimeField()
    name = serializers.CharField(source="source")
    by = serializers.CharField()
    digest = serializers.CharField(help_text="BLAKE2b (RFC 7693) of the files, 256 bits.")
    counts = serializers.SerializerMethodField()
    notes = serializers.ListField(child=serializers.CharField())
    undone_at = serializers.DateTimeField(allow_null=True)
    mappings = serializers.SerializerMethodField()
    latest = serializers.BooleanField()

    @extend_schema_field(TableCount(many=True))
    def get_counts(self, batch: Any) -> list[dict[str, Any]]:
        return counted(batch.counts)

    @extend_schema_field(FileMapping(many=True))
    def get_mappings(self, batch: Any) -> list[dict[str, Any]]:
        return [
            {"file": name, "mapping": mapping} for name, mapping in sorted(batch.mappings.items())
        ]


class RevisionRow(serializers.Serializer[Any]):
    """A known figure that an import made another."""

    table = serializers.CharField()
    subject = serializers.CharField()
    measure = serializers.CharField()
    period = serializers.ChoiceField(choices=["week", "month"])
    start = serializers.DateField()
    before = serializers.FloatField()
    now = serializers.FloatField()


class Revisions(serializers.Serializer[Any]):
    """How many figures were made others, and the first of them."""

    total = serializers.IntegerField()
    rows = RevisionRow(many=True)


class CoverageRow(serializers.Serializer[Any]):
    """The data coverage of one table, period by period. share and bands begin with ``first``."""

    table = serializers.CharField()
    what = serializers.ChoiceField(choices=["terms", "listings", "niches"])
    subjects = serializers.IntegerField()
    without = serializers.IntegerField(help_text="Subjects of which nothing is known.")
    period = serializers.CharField(source="period.value")
    first = serializers.DateField()
    last = serializers.DateField()
    known = serializers.IntegerField(help_text="Figures that are there.")
    taken = serializers.IntegerField(help_text="Periods in which anything is known.")
    gaps = serializers.IntegerField(
        help_text="Those of them absent between first and last of a subject."
    )
    revised = serializers.IntegerField(help_text="Curves whose figures a later import changed.")
    share = serializers.ListField(child=serializers.FloatField())
    bands = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))


def counted(counts: dict[str, dict[str, int]]) -> list[dict[str, Any]]:
    """Counts by table as rows."""
    return [
        {"table": table, "of": "curves" if table in OF_CURVES else "rows", **count}
        for table, count in counts.items()
    ]
