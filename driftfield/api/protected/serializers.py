"""What the API says of protected words."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import Text
from driftfield.desk.actions.protect import MATCHES


class ProtectedRow(serializers.Serializer[Any]):
    """A word one must not sell under. terms, searches_52w: what holds it in the market that was asked about."""

    word = serializers.CharField()
    match = serializers.ChoiceField(choices=MATCHES)
    note = serializers.CharField()
    terms = serializers.IntegerField()
    searches_52w = serializers.FloatField(allow_null=True)


class ProtectRequest(serializers.Serializer[Any]):
    """A word for the list, or another match or note for one that is on it."""

    word = Text(max_length=200)
    match = serializers.ChoiceField(choices=MATCHES, default=MATCHES[0])
    note = Text(required=False, allow_blank=True, default="", max_length=2000)


class Protected(serializers.Serializer[Any]):
    """A word as it stands on the list."""

    word = serializers.CharField()
