"""What the API says of niches from terms: what is proposed, what was changed, and what can be changed."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import Flag, Text
from driftfield.api.intake.serializers import JobRow
from driftfield.desk.actions.niches import LONGEST

MOST_TERMS = 20_000  # Terms that one request may name.


def _terms() -> serializers.ListField:
    return serializers.ListField(child=Text(max_length=500), min_length=1, max_length=MOST_TERMS)


class ProposeRequest(serializers.Serializer[Any]):
    """What to group. anew: all terms but those placed by hand; else those without a niche."""

    market_id = Text()
    anew = Flag(default=False)


class TakeOverRequest(serializers.Serializer[Any]):
    """Which niches of the proposal are not to hold, and the names of some, by their ids."""

    market_id = Text()
    besides = serializers.ListField(child=Text(max_length=500), required=False)
    names = serializers.DictField(child=Text(max_length=LONGEST), required=False)


class MakeRequest(serializers.Serializer[Any]):
    """A niche to be made of terms."""

    market_id = Text()
    name = Text(max_length=LONGEST)
    terms = _terms()


class RenameRequest(serializers.Serializer[Any]):
    """What a niche is to be called."""

    market_id = Text()
    niche_id = Text()
    name = Text(max_length=LONGEST)


class MergeRequest(serializers.Serializer[Any]):
    """Niches that become part of another one."""

    market_id = Text()
    niches = serializers.ListField(child=Text(max_length=500), min_length=1)
    into = Text()


class MoveRequest(serializers.Serializer[Any]):
    """Terms that go into a niche; null: out of theirs, to stand alone."""

    market_id = Text()
    terms = _terms()
    niche_id = Text(allow_null=True)


class UndoChangeRequest(serializers.Serializer[Any]):
    """The change that is to be undone: the latest."""

    market_id = Text()
    change = serializers.IntegerField(min_value=1)


class NicheChangeRow(serializers.Serializer[Any]):
    """A change of the niches."""

    id = serializers.IntegerField()
    sentence = serializers.CharField()
    made_at = serializers.DateTimeField()
    undone_at = serializers.DateTimeField(allow_null=True)


class NichesChanged(serializers.Serializer[Any]):
    """What was changed. niche: id of the one that was made, renamed or enlarged. job: the analysis that
    follows; null where none is needed, or while other work runs."""

    change = NicheChangeRow()
    niche = serializers.CharField(allow_null=True)
    job = JobRow(allow_null=True)


class ProposedTerm(serializers.Serializer[Any]):
    """A term that moves, and the name of the niche it leaves; null where it stands alone."""

    term = serializers.CharField()
    leaves = serializers.CharField(allow_null=True)


class ProposedNiche(serializers.Serializer[Any]):
    """A niche of the proposal. joining: terms that move into it, the first of which are listed."""

    niche = serializers.CharField()
    name = serializers.CharField()
    category = serializers.CharField()
    new = serializers.BooleanField()
    terms = serializers.IntegerField()
    joining = serializers.IntegerField()
    searches_52w = serializers.FloatField(allow_null=True)
    quality = serializers.FloatField(allow_null=True)
    terms_by_words = serializers.IntegerField()
    listed = ProposedTerm(many=True)


class ProposedNiches(serializers.Serializer[Any]):
    """The latest proposal. outdated: the niches were changed since, so that it cannot be taken over."""

    made_at = serializers.DateTimeField()
    anew = serializers.BooleanField()
    outdated = serializers.BooleanField()
    notes = serializers.ListField(child=serializers.CharField())
    count = serializers.IntegerField(help_text="Of all its niches.")
    terms = serializers.IntegerField(help_text="That move, of all.")
    niches = ProposedNiche(many=True)


class Grouping(serializers.Serializer[Any]):
    """How the terms of a market are grouped. alone: terms without a niche. by_hand: those that the researcher
    placed. pending: whether niches were changed since the last analysis. changes: the latest first."""

    terms = serializers.IntegerField()
    alone = serializers.IntegerField()
    by_hand = serializers.IntegerField()
    pending = serializers.BooleanField()
    changes = NicheChangeRow(many=True)
    proposal = ProposedNiches(allow_null=True)
