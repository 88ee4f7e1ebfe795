"""Fields of what is sent in: of the type they say, within limits that the API's description states."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from driftfield.core.economics import SHARE
from driftfield.core.market import KINDS, KINDS_BY_PLURAL, Kind
from driftfield.core.ranking import HEAVIEST, OF_CATEGORIES, PARTS

LARGEST_ID = 2**63 - 1  # Of SQLite's whole numbers.


class Text(serializers.CharField):
    """A text; the framework's takes a number for one."""

    def to_internal_value(self, data: Any) -> str:
        if not isinstance(data, str):
            self.fail("invalid")
        return super().to_internal_value(data)


@extend_schema_field({"$ref": "#/components/schemas/Condition"})
class ConditionText(Text):
    """A condition; the core says what is none."""


class Number(serializers.FloatField):
    """A number that is one: the framework's takes “nan”, and JSON's 1e999 is infinite."""

    default_error_messages = {"finite": "A number is needed; got “{got}”."}  # noqa: RUF012

    def to_internal_value(self, data: Any) -> float:
        if isinstance(data, bool | str):
            self.fail("invalid")
        value = super().to_internal_value(data)
        if not math.isfinite(value):
            self.fail("finite", got=str(data)[:40])
        return value


class Whole(serializers.IntegerField):
    """A whole number; the framework's takes a text and a flag for one."""

    def to_internal_value(self, data: Any) -> int:
        if isinstance(data, bool | str):
            self.fail("invalid")
        return super().to_internal_value(data)


class Flag(serializers.BooleanField):
    """True or false; the framework's takes 1, “t” and “on” for one."""

    def to_internal_value(self, data: Any) -> bool:
        if not isinstance(data, bool):
            self.fail("invalid", input=data)
        return data


class KindField(serializers.ChoiceField):
    """A kind, by its plural as on the command line; niches where it is left out."""

    def __init__(self, among: Sequence[Kind] = KINDS, **options: Any) -> None:
        super().__init__([kind.plural for kind in among], **options)

    def to_internal_value(self, data: Any) -> Any:
        plural = super().to_internal_value(data)
        return KINDS_BY_PLURAL[plural]

    def to_representation(self, value: Any) -> str:
        return value.plural if isinstance(value, Kind) else str(value)


def number(limits: tuple[float, float], **options: Any) -> Number:
    """A number from ``limits[0]`` to ``limits[1]``."""
    low, high = limits
    message = f"It must be from {low:g} to {high:,.15g}."
    if limits == SHARE:
        message = "It must be a share from 0%% to 100%%."  # The framework formats it.
    options["error_messages"] = {"min_value": message, "max_value": message}
    return Number(min_value=low, max_value=high, **options)


_PARTS = (*PARTS, *OF_CATEGORIES)
_WEIGHT = {"type": "number", "minimum": 0, "maximum": HEAVIEST}


@extend_schema_field(
    {
        "type": "object",
        "properties": {
            **{part.key: {**_WEIGHT, "description": part.why} for part in _PARTS},
            "balance": {
                "type": "number",
                "minimum": 0,
                "exclusiveMinimum": True,
                "maximum": 1,
                "exclusiveMaximum": True,
            },
        },
        "additionalProperties": False,
    }
)
class Weights(serializers.DictField):
    """Weights by part of the lens, and the balance."""

    child = number((0, HEAVIEST))

    def to_internal_value(self, data: Any) -> dict[str, float]:
        found: dict[str, float] = super().to_internal_value(data)
        known = [*(part.key for part in _PARTS), "balance"]
        if unknown := [key for key in found if key not in known]:
            raise serializers.ValidationError(
                f"There is no part “{unknown[0]}”. Known: {', '.join(known)}."
            )
        return found
