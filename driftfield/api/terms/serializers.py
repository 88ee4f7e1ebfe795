"""What the API says of searches from a seed."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.previews import SubjectPreview
from driftfield.api.shared import serializer_of
from driftfield.core.market import TERM, figures_of


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
