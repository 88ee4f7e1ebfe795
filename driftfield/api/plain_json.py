"""JSON at the border: a number that is none goes out as null, and bodies that come in are bounded."""

from __future__ import annotations

import logging
import math
from collections.abc import Iterator, Mapping
from typing import Any

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser
from rest_framework.renderers import JSONRenderer

LOG = logging.getLogger(__name__)


class PlainJSONRenderer(JSONRenderer):
    """As the framework's, which refuses NaN and infinity (RFC 8259, 6); here they go out as null.

    The core's unknown is NaN, and each view turns it into None. Should one forget, the researcher sees
    a dash where a fault would have been, and the log names the field.
    """

    def render(self, data: Any, *args: Any, **kwargs: Any) -> bytes:
        try:
            made: bytes = super().render(data, *args, **kwargs)
        except ValueError:
            if not (odd := list(_odd(data, ""))):
                raise
            LOG.warning("No numbers, sent as null: %s", ", ".join(odd[:10]))
            made = super().render(_known(data), *args, **kwargs)
        return made


class BoundedJSONParser(JSONParser):
    """As the framework's, which breaks off in a body that is nested too deeply."""

    def parse(self, stream: Any, media_type: Any = None, parser_context: Any = None) -> Any:
        try:
            return super().parse(stream, media_type, parser_context)
        except RecursionError:
            raise ParseError("The body is nested too deeply.") from None


def _odd(data: Any, path: str) -> Iterator[str]:
    """Paths of the numbers that JSON has no word for."""
    if isinstance(data, float) and not math.isfinite(data):
        yield path or "the answer"
    elif isinstance(data, Mapping):
        for key, value in data.items():
            yield from _odd(value, f"{path}.{key}" if path else str(key))
    elif isinstance(data, list | tuple):
        for place, value in enumerate(data):
            yield from _odd(value, f"{path}[{place}]")


def _known(data: Any) -> Any:
    """The same data with None in their place."""
    if isinstance(data, float):
        return data if math.isfinite(data) else None
    if isinstance(data, Mapping):
        return {key: _known(value) for key, value in data.items()}
    if isinstance(data, list | tuple):
        return [_known(value) for value in data]
    return data
