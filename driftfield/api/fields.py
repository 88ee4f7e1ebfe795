"""Fields of what is sent in, with limits that the API's description states."""

from __future__ import annotations

import math
from typing import Any

from rest_framework import serializers

from driftfield.core.money import SHARE

LARGEST_ID = 2**63 - 1  # Of SQLite's whole numbers.


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


def number(limits: tuple[float, float], **options: Any) -> Number:
    """A number from ``limits[0]`` to ``limits[1]``."""
    low, high = limits
    said = f"It must be from {low:g} to {high:,.15g}."
    if limits == SHARE:
        said = "It must be a share from 0%% to 100%%."  # The framework formats it.
    options["error_messages"] = {"min_value": said, "max_value": said}
    return Number(min_value=low, max_value=high, **options)
