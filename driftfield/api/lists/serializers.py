"""What the API says of named lists of terms."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import Flag, Text
from driftfield.desk.actions.lists import LONGEST, MOST


def _terms(**options: Any) -> serializers.ListField:
    return serializers.ListField(child=Text(max_length=500), max_length=MOST, **options)


class ListTotal(serializers.Serializer[Any]):
    """What terms come to. searches_52w: without those that are likely mistypings of another one of them."""

    terms = serializers.IntegerField()
    known = serializers.IntegerField(help_text="Those that the market has.")
    searches_52w = serializers.FloatField(allow_null=True)
    mistyped = serializers.IntegerField()
    mistyped_searches = serializers.FloatField()


class WordListRow(serializers.Serializer[Any]):
    """A list. removed: it was removed and can be brought back."""

    name = serializers.CharField()
    changed_at = serializers.DateTimeField()
    removed = serializers.BooleanField()
    total = ListTotal()


class ListedTerm(serializers.Serializer[Any]):
    """A term of a list. known: whether the market has it. misspelt_of: the term it is likely a mistyping of."""

    term = serializers.CharField()
    known = serializers.BooleanField()
    searches_52w = serializers.FloatField(allow_null=True)
    purchase_rate = serializers.FloatField(allow_null=True)
    branded = serializers.CharField(allow_null=True)
    protected = serializers.CharField(allow_null=True)
    niche = serializers.CharField(allow_null=True)
    niche_name = serializers.CharField(allow_null=True)
    misspelt_of = serializers.CharField(allow_null=True)


class WordList(serializers.Serializer[Any]):
    """A list with its terms, in their order."""

    name = serializers.CharField()
    total = ListTotal()
    rows = ListedTerm(many=True)


class ListRequest(serializers.Serializer[Any]):
    """Terms to add to the list of a name; replace: to be all that it holds."""

    market_id = Text()
    name = Text(max_length=LONGEST)
    terms = _terms(default=list)
    replace = Flag(default=False)


class DropRequest(serializers.Serializer[Any]):
    """Terms to take out of a list."""

    market_id = Text()
    name = Text(max_length=LONGEST)
    terms = _terms(min_length=1)


class TermsRequest(serializers.Serializer[Any]):
    """Some terms."""

    market_id = Text()
    terms = _terms()
