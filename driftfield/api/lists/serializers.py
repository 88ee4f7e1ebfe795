"""What the API says of named lists of terms, listings, brands and sellers."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import Flag, KindField, Text
from driftfield.api.shared import field_for
from driftfield.core.market import FIGURES_BY_KEY, LISTED, TERM
from driftfield.desk.actions.lists import LONGEST, LONGEST_NOTE, MOST
from driftfield.desk.word_lists import SOLD


def _of() -> KindField:
    return KindField(among=LISTED, default=TERM, help_text="What it is a list of.")


def _terms(**options: Any) -> serializers.ListField:
    return serializers.ListField(child=Text(max_length=500), max_length=MOST, **options)


class ListTotal(serializers.Serializer[Any]):
    """What a list comes to. terms: entries of any kind.

    searches_52w: of terms, without those that are likely mistypings of another one of them; units_52w: of what
    sells.
    """

    terms = serializers.IntegerField()
    known = serializers.IntegerField(help_text="Those that the market has.")
    searches_52w = serializers.FloatField(allow_null=True)
    mistyped = serializers.IntegerField()
    mistyped_searches = serializers.FloatField()
    units_52w = serializers.FloatField(allow_null=True)


class WordListRow(serializers.Serializer[Any]):
    """A list. removed: it was removed and can be brought back."""

    of = KindField(among=LISTED)
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


class ListedThing(serializers.Serializer[Any]):
    """A listing, brand or seller of a list. known: whether the market has it.

    Figures that its kind does not have are null.
    """

    id = serializers.CharField()
    name = serializers.CharField()
    known = serializers.BooleanField()
    category = serializers.CharField()
    vars().update({FIGURES_BY_KEY[key].column: field_for(FIGURES_BY_KEY[key]) for key in SOLD})


class WordList(serializers.Serializer[Any]):
    """A list with what it holds, in its order: rows of terms, or things of another kind."""

    of = KindField(among=LISTED)
    name = serializers.CharField()
    note = serializers.CharField()
    unknown = serializers.ListField(
        child=serializers.CharField(), help_text="Pieces of what was pasted that name nothing here."
    )
    total = ListTotal()
    rows = ListedTerm(many=True)
    things = ListedThing(many=True)


class ListRequest(serializers.Serializer[Any]):
    """Entries to add to the list of a name; replace: to be all that it holds.

    pasted: ids in any form, of which those that are unknown are told and left out.
    """

    market_id = Text()
    of = _of()
    name = Text(max_length=LONGEST)
    terms = _terms(default=list)
    pasted = Text(max_length=1_000_000, default="", allow_blank=True)
    replace = Flag(default=False)
    note = Text(
        max_length=LONGEST_NOTE, required=False, allow_blank=True, help_text="Noted on the list."
    )


class DropRequest(serializers.Serializer[Any]):
    """Terms to take out of a list."""

    market_id = Text()
    of = _of()
    name = Text(max_length=LONGEST)
    terms = _terms(min_length=1)


class TermsRequest(serializers.Serializer[Any]):
    """Some terms."""

    market_id = Text()
    of = _of()
    terms = _terms()
