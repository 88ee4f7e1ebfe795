"""What the API says of a niche, a term or a listing close up."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from rest_framework import serializers

from driftfield.core.market import figures_of
from driftfield.core.market.protected import protected_in
from driftfield.core.sentences import protected_sentence
from driftfield.core.signals import SIGNALS_BY_KEY, Tone
from driftfield.desk.models import Choice
from driftfield.desk.shortlist import standing
from driftfield.market.models import Category, Niche
from driftfield.readings.columns import columns_of
from driftfield.readings.load import protected_words
from driftfield.readings.preview import preview
from driftfield.readings.reading import SubjectReading


class YearCurve(serializers.Serializer[Any]):
    year = serializers.IntegerField()
    values = serializers.ListField(child=serializers.FloatField(allow_null=True))


class ShownCurve(serializers.Serializer[Any]):
    """A curve as it is drawn: one value a period from first, null where unknown. seasonal: whether the
    calendar was taken out of it."""

    key = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    unit = serializers.CharField()
    period = serializers.ChoiceField(choices=["week", "month"])
    first = serializers.DateField()
    values = serializers.ListField(child=serializers.FloatField(allow_null=True))
    seasonal = serializers.BooleanField()


class RaisedSignal(serializers.Serializer[Any]):
    """A signal of one subject in sentences."""

    key = serializers.ChoiceField(choices=list(SIGNALS_BY_KEY))
    name = serializers.CharField()
    tone = serializers.ChoiceField(choices=[t.value for t in Tone])
    severity = serializers.FloatField()
    evidence = serializers.CharField(help_text="The evidence, with its own numbers.")
    jointly = serializers.ListField(
        child=serializers.CharField(), help_text="What it means together with others."
    )
    look = serializers.CharField(help_text="What to look at next.")


class SubjectPreview(serializers.Serializer[Any]):
    """One subject close up."""

    id = serializers.CharField()
    name = serializers.CharField()
    category = serializers.CharField()
    niche = serializers.CharField(help_text="The niche it belongs to, by id; of a niche itself.")
    niche_name = serializers.CharField()
    decision = serializers.ChoiceField(choices=Choice.choices, allow_null=True)
    reason = serializers.CharField(help_text="Of the decision; empty for none.")
    note = serializers.CharField()
    tags = serializers.ListField(child=serializers.CharField())
    protected = serializers.CharField(
        allow_null=True, help_text="A hint where its name or its searches hold a protected word."
    )
    misspelt_of = serializers.CharField(
        allow_null=True, help_text="Of a term: the one that it is likely a mistyping of."
    )
    period = serializers.ChoiceField(choices=["week", "month"])
    first = serializers.DateField(help_text="First day of the first period of values.")
    values = serializers.ListField(child=serializers.FloatField(allow_null=True))
    level = serializers.ListField(
        child=serializers.FloatField(allow_null=True), allow_null=True,
        help_text="The curve without calendar and noise; null for under two years.",
    )  # fmt: skip
    years = YearCurve(many=True)
    verdict = serializers.ListField(child=serializers.CharField())
    dates = serializers.ListField(
        child=serializers.CharField(), help_text="The last sentences of the verdict: when to order."
    )
    demand = serializers.ListField(
        child=serializers.CharField(),
        help_text="Is the demand real? The answer, then the evidence.",
    )
    calendar = serializers.ListField(
        child=serializers.CharField(), help_text="When does it come? The answer, then the dates."
    )
    lead_days = serializers.IntegerField(
        help_text="Days from ordering to being on sale that its dates rest on."
    )
    signals = RaisedSignal(many=True)


def preview_of(
    reading: SubjectReading,
    subject: str,
    name: str,
    niche: Niche | None,
    category: Category | None = None,
) -> dict[str, Any]:
    """A ``SubjectPreview`` with its figures: of the subject with that id, which ``niche`` is or holds.

    ``category``: its own; by default its niche's.
    """
    made = preview(reading)
    own = category or (niche and niche.category)
    return {
        "id": subject,
        "name": name,
        "category": own.path if own else "",
        "niche": niche.niche_id if niche else "",
        "niche_name": niche.name if niche else "",
        **asdict(standing(reading.market.market_id, subject, reading.kind)),
        "protected": protected_sentence(
            protected_in([name], protected_words())[0], made.figures.get("protected_share")
        ),
        "misspelt_of": columns_of(reading.run, reading.kind).right_form(subject),
        "period": made.timeline.period.value,
        "first": made.timeline.first,
        "values": made.values,
        "level": made.level,
        "years": [{"year": year, "values": values} for year, values in made.years.items()],
        "verdict": made.verdict,
        "dates": made.dates,
        "demand": made.demand,
        "calendar": made.calendar,
        "lead_days": reading.settings.lead_days,
        "signals": made.signals,
        "figures": {f.column: made.figures[f.key] for f in figures_of(reading.kind)},
    }
