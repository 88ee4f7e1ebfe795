"""What the API says of what has changed."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from driftfield.api.fields import KindField
from driftfield.core.market import KINDS_BY_KEY
from driftfield.desk.models import Choice, Remark


class DecidedRow(serializers.Serializer[Any]):
    """How it stands with one subject; null where nothing is decided."""

    market_id = serializers.CharField()
    of = KindField()
    id = serializers.CharField()
    choice = serializers.ChoiceField(choices=Choice.choices, allow_null=True)


class RemarkedRow(serializers.Serializer[Any]):
    """A subject's note and tags as they are kept."""

    market_id = serializers.CharField()
    of = serializers.SerializerMethodField()
    id = serializers.CharField(source="subject")
    note = serializers.CharField()
    tags = serializers.ListField(child=serializers.CharField())

    @extend_schema_field(KindField)
    def get_of(self, remark: Remark) -> str:
        return KINDS_BY_KEY[remark.kind].plural


class Changes(serializers.Serializer[Any]):
    """What a page must know that is older than this. desk: what to ask for next as ``since``. figures,
    lists: marks that differ when readings, imports or settings (sieves, lenses, costs) do."""

    desk = serializers.CharField(help_text="Empty while nothing was decided or noted.")
    figures = serializers.CharField()
    lists = serializers.CharField()
    decisions = DecidedRow(many=True)
    remarks = RemarkedRow(many=True)
