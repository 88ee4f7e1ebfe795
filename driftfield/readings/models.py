"""Readings: one row a niche, a column a figure, made from the registry of figures."""

from __future__ import annotations

from typing import Any, ClassVar

from django.db import models

from driftfield.core.market import FIGURES, Figure, FigureType
from driftfield.market.models import Market, Niche


class Run(models.Model):
    """One analysis of a market, with the settings it was made with."""

    market = models.OneToOneField(Market, on_delete=models.CASCADE, related_name="run")
    made_at = models.DateTimeField(auto_now=True)
    as_of = models.DateField()
    period = models.CharField(max_length=5)
    settings: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    niches = models.IntegerField()
    note = models.TextField(blank=True)
    # Keys of the niches in the order of the run's matrices, little-endian int64.
    order = models.BinaryField(default=b"")

    @property
    def sentence(self) -> str:
        noun = "niche" if self.niches == 1 else "niches"
        note = f" {self.note}" if self.note else ""
        return f"{self.market.name}: {self.niches:,} {noun} read as of {self.as_of}.{note}"


_NUMBERS = {
    FigureType.AMOUNT,
    FigureType.SHARE,
    FigureType.CHANGE,
    FigureType.RATIO,
    FigureType.SIGNED,
    FigureType.INDEX,
}


def column_for(figure: Figure) -> models.Field[Any, Any]:
    """The database column of a figure."""
    label = figure.label
    if figure.type in _NUMBERS:
        return models.FloatField(label, null=True)
    if figure.type is FigureType.COUNT:
        return models.IntegerField(label, null=True)
    if figure.type in {FigureType.SHIFTS, FigureType.SIGNALS}:
        return models.JSONField(label, default=list)
    if figure.type is FigureType.FLAG:
        return models.BooleanField(label, default=False)
    if figure.type is FigureType.DATE:
        return models.DateField(label, null=True)
    if figure.type is FigureType.WORD:
        return models.CharField(label, max_length=20, null=True)
    if figure.type is FigureType.SENTENCE:
        return models.TextField(label, null=True)
    return models.JSONField(label, null=True)


class Reading(models.Model):
    """What was read of one niche. A column a figure, from the registry; unknown is NULL."""

    niche = models.OneToOneField(
        Niche, on_delete=models.CASCADE, primary_key=True, related_name="reading"
    )
    market = models.ForeignKey(Market, on_delete=models.CASCADE, related_name="readings")
    # Django looks at the names of the class body, so the registry's columns are put among them.
    vars().update({figure.column: column_for(figure) for figure in FIGURES})

    class Meta:
        indexes: ClassVar = [
            models.Index(fields=["market", "rank"]),
            models.Index(fields=["market", "searches_52w"]),
            models.Index(fields=["market", "drift_rate_year"]),
            models.Index(fields=["market", "shape"]),
        ]


class Matrix(models.Model):
    """Numbers of all niches of a run that are asked as a whole, packed by row in ``Run.order``.

    name: "figure." and a figure's key, that figure as ``core.sieve`` asks for it; "signals", the
    severities; "parts", the normalised parts of headroom; "top." and a listing figure, that figure
    of the most clicked listings. values: little-endian float32, NaN for unknown.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="matrices")
    name = models.CharField(max_length=60)
    values = models.BinaryField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["run", "name"], name="one_matrix_a_run")
        ]
