"""What several resources say alike: a figure as a field, level shifts, signals, problems."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from rest_framework import serializers

from driftfield.core.market import Figure, FigureType
from driftfield.core.signals import SIGNALS_BY_KEY


class LevelShift(serializers.Serializer[Any]):
    """A dated change of level."""

    size = serializers.FloatField(help_text="Fraction by which the level changed.")

    def get_fields(self) -> dict[str, serializers.Field[Any, Any, Any, Any]]:
        """``from`` is a word of the language, so the field cannot be declared like the others."""
        return {"from": serializers.DateField(), **super().get_fields()}


class SeasonToCome(serializers.Serializer[Any]):
    """One season of those to come, and how much of it goods ordered on the planning date meet."""

    rise = serializers.DateField(help_text="From when on goods should be on sale.")
    peak_start = serializers.DateField()
    peak_end = serializers.DateField()
    wind_down = serializers.DateField(help_text="First day back under the year's mean.")
    end = serializers.DateField(help_text="Last day before the year's lowest week that follows.")
    share = serializers.FloatField(help_text="Of a year's demand.")
    caught = serializers.FloatField(help_text="Share of its demand after arrival.")


class SignalRaised(serializers.Serializer[Any]):
    """A signal that was raised."""

    signal = serializers.ChoiceField(choices=list(SIGNALS_BY_KEY))
    severity = serializers.FloatField(help_text="0 at its threshold, towards 1 far beyond it.")


def field_for(figure: Figure) -> serializers.Field[Any, Any, Any, Any]:
    """The serializer field of a figure; unknown is null."""
    options: dict[str, Any] = {"allow_null": True, "help_text": f"{figure.label}: {figure.formula}"}
    if figure.type is FigureType.PROFILE:
        return serializers.ListField(child=serializers.FloatField(), **options)
    if figure.type is FigureType.WEEKS:
        return serializers.ListField(child=serializers.IntegerField(), **options)
    if figure.type is FigureType.SHIFTS:
        return LevelShift(many=True, help_text=options["help_text"])
    if figure.type is FigureType.SEASONS:
        return SeasonToCome(many=True, help_text=options["help_text"])
    if figure.type is FigureType.SIGNALS:
        return SignalRaised(many=True, help_text=options["help_text"])
    if figure.type is FigureType.FLAG:
        return serializers.BooleanField(help_text=options["help_text"])
    if figure.type is FigureType.COUNT:
        return serializers.IntegerField(**options)
    if figure.type is FigureType.DATE:
        return serializers.DateField(**options)
    if figure.choices:
        return serializers.ChoiceField(choices=figure.choices, **options)
    if figure.type in {FigureType.WORD, FigureType.SENTENCE}:
        return serializers.CharField(**options)
    return serializers.FloatField(**options)


def serializer_of(name: str, figures: Iterable[Figure]) -> type[serializers.Serializer[Any]]:
    """A serializer with a field a figure."""
    return type(name, (serializers.Serializer,), {f.column: field_for(f) for f in figures})


class FieldError(serializers.Serializer[Any]):
    """What is wrong with one field of what came. field: its path, empty for the whole."""

    field = serializers.CharField(allow_blank=True)
    message = serializers.CharField()


class ProblemDetail(serializers.Serializer[Any]):
    """RFC 9457 problem details."""

    title = serializers.CharField()
    status = serializers.IntegerField()
    detail = serializers.CharField()
    fault = serializers.CharField(
        required=False, help_text="Of a fault in the program: its id, under which it was noted."
    )
    # The framework has a property of that name, which this description does not use.
    vars()["errors"] = FieldError(many=True, required=False)
