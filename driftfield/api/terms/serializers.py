"""What the API says of searches from a seed."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.previews import SubjectPreview
from driftfield.api.shared import serializer_of
from driftfield.core.market import FIGURES_BY_KEY, TERM, figures_of

RELATED = [FIGURES_BY_KEY[key] for key in ("searches_52w", "growth_52w.raw")]


class Volume(serializers.Serializer[Any]):
    """Some terms together. growth_52w: of the last 52 weeks over the 52 before, of terms known in both."""

    terms = serializers.IntegerField()
    searches_52w = serializers.FloatField(allow_null=True)
    growth_52w = serializers.FloatField(allow_null=True)


class StepRow(Volume):
    """A way to go on: letters with which the next word begins, or a word beside the seed."""

    name = serializers.CharField()
    first = serializers.CharField(help_text="Its most searched term.")


class Onward(Volume):
    """What a seed finds and how buyers go on from it. seed: as it was given, or as it was drawn."""

    seed = serializers.CharField()
    after = StepRow(many=True)
    before = StepRow(many=True)
    beside = StepRow(many=True)


class Drawn(serializers.Serializer[Any]):
    """A word to begin with."""

    seed = serializers.CharField()


class TermPreview(SubjectPreview):
    """One term close up."""

    vars()["figures"] = serializer_of("TermFigures", figures_of(TERM))()


class RelatedTerm(serializer_of("RelatedFigures", RELATED)):  # type: ignore[misc]
    """A term beside another. strength: cosine of clicks or of words, or correlation of seasons; 0 to 1.
    shared: listings clicked after both, or words of both."""

    term = serializers.CharField()
    niche = serializers.CharField()
    niche_name = serializers.CharField()
    strength = serializers.FloatField()
    shared = serializers.IntegerField()


class Related(serializers.Serializer[Any]):
    """What else a term's buyers look for. by: by what terms are told to be related. season: terms of other
    niches of its category that are sought when it is."""

    by = serializers.ChoiceField(choices=["clicks", "words"])
    terms = RelatedTerm(many=True)
    season = RelatedTerm(many=True)
