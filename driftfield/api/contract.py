"""What the framework cannot say of the API's description is put in here, for all addresses alike."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from .errors import PROBLEM
from .parameters import GRAMMARS

JSON = "application/json"
REFERENCE = {"$ref": "#/components/schemas/ProblemDetail"}
DEFAULT = {
    "description": "What went wrong and what to do (RFC 9457).",
    "content": {PROBLEM: {"schema": REFERENCE}},
}
# A text has no character without a meaning in text; one that may not be blank has one that is seen. What
# counts as blank differs from language to language, so Python's is named.
PLAIN, SEEN = "^[^\\u0000]*$", "^[^\\u0000]*[^\\s\\u0000\\u001c-\\u001f\\u0085][^\\u0000]*$"


def complete(result: dict[str, Any], **_: Any) -> dict[str, Any]:
    """A hook of drf-spectacular: problems as they are answered, and the grammars of texts."""
    schemas = result["components"]["schemas"]
    schemas.update(GRAMMARS)
    bodies: set[str] = set()
    for operation in _operations(result):
        responses = operation["responses"]
        for answer in responses.values():
            content = answer.get("content", {})
            if content.get(JSON, {}).get("schema") == REFERENCE:
                answer["content"] = {PROBLEM: content[JSON]}
        responses["default"] = DEFAULT
        for parameter in operation.get("parameters", ()):
            parameter["schema"] = _plain(parameter["schema"])
            _state_texts(parameter["schema"])
        if "requestBody" in operation:
            bodies |= set(_named(operation["requestBody"]))
    seen: set[str] = set()
    while bodies - seen:
        name = (bodies - seen).pop()
        seen.add(name)
        bodies |= set(_named(schemas[name]))
        _state_texts(schemas[name])
    return result


def _plain(schema: dict[str, Any]) -> dict[str, Any]:
    """A parameter's schema without what the framework says of fields besides."""
    if "items" in schema:
        schema["items"] = _plain(schema["items"])
    if schema.get("default") == "":
        del schema["default"]
    if "enum" in schema:
        schema.pop("minLength", None)
    if len(schema.get("allOf", ())) == 1:
        # A grammar says itself how long its texts are.
        return {
            **schema["allOf"][0],
            **({"default": schema["default"]} if "default" in schema else {}),
        }
    return schema


def _operations(result: dict[str, Any]) -> Iterator[dict[str, Any]]:
    for path in result["paths"].values():
        yield from path.values()


def _named(part: Any) -> Iterator[str]:
    """Components that a part of the description refers to."""
    if isinstance(part, dict):
        if "$ref" in part:
            yield part["$ref"].rsplit("/", 1)[-1]
        for value in part.values():
            yield from _named(value)
    elif isinstance(part, list):
        for value in part:
            yield from _named(value)


def _state_texts(schema: Any) -> None:
    """State of every text of a body which characters it may hold."""
    if isinstance(schema, list):
        for one in schema:
            _state_texts(one)
    if not isinstance(schema, dict):
        return
    free = schema.get("type") == "string" and not {"pattern", "enum", "format"} & set(schema)
    if free:
        schema["pattern"] = SEEN if schema.get("minLength") else PLAIN
    for value in schema.values():
        _state_texts(value)
