"""What the API says of the researcher's own."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import LARGEST_ID, ConditionText, KindField, Text, Weights, Whole, number
from driftfield.core.economics import CLASS_LIMITS, LIMITS
from driftfield.core.market import NICHE
from driftfield.core.sieve import MAX_CONDITIONS, MAX_LENGTH
from driftfield.desk.actions.remark import LONGEST_TAG, MOST_TAGS
from driftfield.desk.models import Choice

MOST_SIEVES = 200  # Saved at once.


class SieveRow(serializers.Serializer[Any]):
    """A sieve. purpose: what a starting one is for; empty for your own."""

    name = serializers.CharField()
    purpose = serializers.CharField()
    conditions = serializers.ListField(child=serializers.CharField())
    own = serializers.BooleanField()


class SieveSaved(serializers.Serializer[Any]):
    """A sieve to save."""

    name = Text(max_length=120)
    conditions = serializers.ListField(
        child=ConditionText(max_length=MAX_LENGTH), min_length=1, max_length=MAX_CONDITIONS
    )


class SievesSaved(serializers.ListSerializer[Any]):
    """Sieves to save, all of them or none."""

    def __init__(self, data: Any) -> None:
        super().__init__(data=data, child=SieveSaved(), max_length=MOST_SIEVES)


class LensRow(serializers.Serializer[Any]):
    """A lens of your own: weights by part, and the balance where its kind has one. purpose: what it is for, or
    what it was fitted to."""

    of = KindField(required=False, default=NICHE)
    name = Text(max_length=120)
    weights = Weights()
    purpose = Text(required=False, allow_blank=True, default="", max_length=500)


class DecisionRequest(serializers.Serializer[Any]):
    """A decision to make."""

    market_id = Text(max_length=200)
    of = KindField(required=False, default=NICHE)
    id = Text(max_length=500)
    choice = serializers.ChoiceField(choices=Choice.choices)
    reason = Text(required=False, allow_blank=True, default="", max_length=5000)


class ReasonRequest(serializers.Serializer[Any]):
    """Why it was decided on as it was."""

    market_id = Text(max_length=200)
    of = KindField(required=False, default=NICHE)
    id = Text(max_length=500)
    reason = Text(allow_blank=True, max_length=5000)


class DecisionsRequest(serializers.Serializer[Any]):
    """The same decision for several subjects of a kind."""

    market_id = Text(max_length=200)
    of = KindField(required=False, default=NICHE)
    ids = serializers.ListField(child=Text(max_length=500), min_length=1, max_length=10_000)
    choice = serializers.ChoiceField(choices=Choice.choices)
    reason = Text(required=False, allow_blank=True, default="", max_length=5000)


class UndoRequest(serializers.Serializer[Any]):
    """The decision to undo, by its id: the one that was made here last, or the latest."""

    decision = Whole(min_value=1, max_value=LARGEST_ID)


class LatestDecision(serializers.Serializer[Any]):
    """The latest decision that stands, by its id; null for none."""

    decision = serializers.IntegerField(allow_null=True)


class DecisionMade(serializers.Serializer[Any]):
    """A decision as it is recorded."""

    decision = serializers.IntegerField(source="pk")
    market_id = serializers.CharField()
    of = KindField(source="kind_of", read_only=True)
    id = serializers.CharField(source="subject")
    choice = serializers.ChoiceField(choices=Choice.choices)
    reason = serializers.CharField()
    made_at = serializers.DateTimeField()


class SubjectNow(serializers.Serializer[Any]):
    """What holds for a subject now; null where it is open."""

    id = serializers.CharField()
    name = serializers.CharField()
    now = serializers.ChoiceField(choices=Choice.choices, allow_null=True)


class DecisionsUndone(serializers.Serializer[Any]):
    """The choice that was undone, and what holds for its subjects now."""

    choice = serializers.ChoiceField(choices=Choice.choices)
    of = KindField()
    subjects = SubjectNow(many=True)


class RemarkRequest(serializers.Serializer[Any]):
    """A subject's note or tags; what is left out stays as it is."""

    market_id = Text(max_length=200)
    of = KindField(required=False, default=NICHE)
    id = Text(max_length=500)
    note = Text(required=False, allow_blank=True, max_length=20_000)
    was = Text(
        required=False,
        allow_blank=True,
        max_length=20_000,
        help_text="The note that the new one was written from: where another is kept, nothing is overwritten.",
    )
    tags = serializers.ListField(
        child=Text(max_length=LONGEST_TAG, allow_blank=True),
        required=False,
        max_length=MOST_TAGS,
        error_messages={"max_length": f"At most {MOST_TAGS} tags."},
    )


class RemarkSaved(serializers.Serializer[Any]):
    """A subject's note and tags as they are kept."""

    id = serializers.CharField(source="subject")
    note = serializers.CharField()
    tags = serializers.ListField(child=serializers.CharField())


class OrderRequest(serializers.Serializer[Any]):
    """The shortlist's order by hand: subjects by id, first one first."""

    market_id = Text(max_length=200)
    of = KindField(required=False, default=NICHE)
    ids = serializers.ListField(child=Text(max_length=500), max_length=10_000)


class ChangeSince(serializers.Serializer[Any]):
    """A figure that is another now than at the decision."""

    figure = serializers.CharField()
    then = serializers.JSONField(allow_null=True)
    now = serializers.JSONField(allow_null=True)


class PartOf(serializers.Serializer[Any]):
    """The niche that most terms of one that is gone are in now."""

    id = serializers.CharField()
    name = serializers.CharField()


class ShortlistEntry(serializers.Serializer[Any]):
    """What was kept or parked. then, now: figures at the decision and today, by key.

    renamed: what it was called at the decision, where that has changed. present: whether the market's
    latest figures know it. part_of: where it does not, for it was merged: into which niche.
    """

    id = serializers.CharField()
    name = serializers.CharField()
    renamed = serializers.CharField()
    category = serializers.CharField()
    choice = serializers.ChoiceField(choices=Choice.choices)
    reason = serializers.CharField()
    decided_at = serializers.DateTimeField()
    decided_as_of = serializers.DateField(allow_null=True)
    as_of = serializers.DateField(allow_null=True)
    present = serializers.BooleanField()
    part_of = PartOf(allow_null=True)
    note = serializers.CharField()
    tags = serializers.ListField(child=serializers.CharField())
    then = serializers.DictField(child=serializers.JSONField(allow_null=True))
    now = serializers.DictField(child=serializers.JSONField(allow_null=True))
    changes = ChangeSince(many=True)
    profile = serializers.ListField(child=serializers.FloatField(), allow_null=True)


# Every cost, none of them required: what is left out or null is taken from readings or examples.
CostsSet = type(
    "CostsSet",
    (serializers.Serializer,),
    {
        "__doc__": "Costs per unit as the researcher set them; null goes back to what the readings say.",
        **{key: number(limits, allow_null=True, required=False) for key, limits in LIMITS.items()},
    },
)
CostsNow = type(
    "CostsNow",
    (serializers.Serializer,),
    {
        "__doc__": "Costs per unit, given or assumed.",
        **{key: serializers.FloatField(allow_null=True) for key in LIMITS},
    },
)


class SizeClassRow(serializers.Serializer[Any]):
    """A handling fee for goods up to a weight (g) and a longest side (mm); null is no limit."""

    name = Text(max_length=60)
    upto_g = number(CLASS_LIMITS["upto_g"], allow_null=True)
    upto_mm = number(CLASS_LIMITS["upto_mm"], allow_null=True)
    fee = number(CLASS_LIMITS["fee"])


class FeesRequest(serializers.Serializer[Any]):
    """A market's fee table."""

    market_id = Text(max_length=200)
    classes = serializers.ListField(child=SizeClassRow(), min_length=1, max_length=50)


class CostsRequest(serializers.Serializer[Any]):
    """Costs of a niche to keep, all of them: what is left out is taken from readings again."""

    market_id = Text(max_length=200)
    niche_id = Text(max_length=500)
    costs = CostsSet()


class UnitEconomicsRow(serializers.Serializer[Any]):
    """What comes of some costs, per unit, each as if nothing came back.

    price − tax − commission − advertising − handling − storage − goods − duty − freight − lost_to_returns =
    left. margin: of the price without tax; roi: of the landed cost.
    """

    tax = serializers.FloatField()
    commission = serializers.FloatField()
    advertising = serializers.FloatField()
    handling = serializers.FloatField()
    storage = serializers.FloatField()
    goods = serializers.FloatField()
    duty = serializers.FloatField()
    freight = serializers.FloatField()
    landed = serializers.FloatField()
    lost_to_returns = serializers.FloatField()
    left = serializers.FloatField()
    margin = serializers.FloatField()
    roi = serializers.FloatField(allow_null=True)
    break_even = serializers.FloatField(allow_null=True)
    most = serializers.FloatField(allow_null=True)
    size_class = serializers.CharField(allow_null=True)


class MoneyWorking(serializers.Serializer[Any]):
    """The working of one figure of the unit economics; key: a field of UnitEconomicsRow."""

    key = serializers.CharField()
    formula = serializers.CharField()
    numbers = serializers.CharField(help_text="The formula with this niche's numbers in it.")


class ProfitabilityRow(serializers.Serializer[Any]):
    """Does it pay? given: names of the costs that the researcher set; assumed: of which nothing is known."""

    costs = CostsNow()
    given = serializers.ListField(child=serializers.CharField())
    assumed = serializers.ListField(child=serializers.CharField())
    classes = SizeClassRow(many=True)
    result = UnitEconomicsRow()
    lowest_price = serializers.FloatField(allow_null=True)
    lowest = UnitEconomicsRow(allow_null=True)
    target_income = serializers.FloatField()
    target_units = serializers.FloatField()
    typical_units = serializers.FloatField(allow_null=True)
    typical_left = serializers.FloatField(allow_null=True)
    verdict = serializers.ListField(child=serializers.CharField())
    workings = MoneyWorking(many=True)


class Profitability(serializers.Serializer[Any]):
    """The unit economics of a niche; null where no price is known, with what to import for one."""

    paying = ProfitabilityRow(allow_null=True)
    missing = serializers.CharField()
