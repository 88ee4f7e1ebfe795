"""JSON at the border: a number that is none goes out as null, and bodies that come in are bounded."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import orjson
from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser
from rest_framework.renderers import JSONRenderer

# Days and moments as the framework writes them, and keys that are numbers as texts.
_AS_BEFORE = orjson.OPT_PASSTHROUGH_DATETIME | orjson.OPT_NON_STR_KEYS


class PlainJSONRenderer(JSONRenderer):
    """As the framework's, written by orjson, which takes a tenth of the time for a page of the ledger.

    The core's unknown is NaN, and each view turns it into None. Should one forget, the researcher sees
    a dash, since what is no number (RFC 8259, 6) goes out as null.
    """

    def render(self, data: Any, *args: Any, **kwargs: Any) -> bytes:
        if data is None:
            return b""
        try:
            return orjson.dumps(data, self.encoder_class().default, _AS_BEFORE)
        except TypeError:
            # A whole number beyond 64 bits is none to orjson.
            made: bytes = super().render(_known(data), *args, **kwargs)
            return made


class BoundedJSONParser(JSONParser):
    """As the framework's, which breaks off in a body that is nested too deeply."""

    def parse(self, stream: Any, media_type: Any = None, parser_context: Any = None) -> Any:
        try:
            return super().parse(stream, media_type, parser_context)
        except RecursionError:
            raise ParseError("The body is nested too deeply.") from None


def _known(data: Any) -> Any:
    """The same data with None where a number is none."""
    if isinstance(data, float):
        return data if math.isfinite(data) else None
    if isinstance(data, Mapping):
        return {key: _known(value) for key, value in data.items()}
    if isinstance(data, list | tuple):
        return [_known(value) for value in data]
    return data
