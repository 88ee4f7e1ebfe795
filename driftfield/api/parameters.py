"""Query parameters that several addresses take: what each may be, stated once for all of them."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request

from driftfield.core.market import KINDS, NICHE, Kind
from driftfield.core.ranking import PARTS
from driftfield.core.sieve import MAX_LENGTH, any_of, clause_pattern, condition_pattern

from .errors import Problem

FURTHEST = 999_999_999  # Rows that can be passed over.
_WEIGHT = r"[0-9]{1,3}(\.[0-9]{1,6})?"
_PAIR = rf"({any_of(part.key for part in PARTS)}={_WEIGHT}|balance=0\.[0-9]{{0,5}}[1-9])"
LENS = rf"^({_PAIR}(,{_PAIR}){{0,{len(PARTS)}}})?$"


def sort_pattern(keys: Collection[str], most: int) -> str:
    """Keys joined by commas, each with a - where it goes downwards."""
    key = f"-?{any_of(keys)}"
    return f"^({key}(,{key}){{0,{most - 1}}})?$"


def keys_pattern(keys: Collection[str]) -> str:
    """Keys joined by commas, or none."""
    key = any_of(keys)
    return f"^({key}(,{key})*)?$"


# Grammars that stand once in the description, by the names of their components.
GRAMMARS: dict[str, dict[str, Any]] = {
    "Clause": {"type": "string", "maxLength": MAX_LENGTH, "pattern": clause_pattern()},
    "Condition": {"type": "string", "maxLength": MAX_LENGTH, "pattern": condition_pattern()},
    "LensText": {"type": "string", "pattern": LENS},
}


def grammar(name: str, schema: dict[str, Any] | None = None) -> dict[str, Any]:
    """A reference to a grammar, which is kept under its name."""
    if schema is not None:
        GRAMMARS[name] = {"type": "string", **schema}
    return {"$ref": f"#/components/schemas/{name}"}


def choice(name: str, choices: Collection[str], text: str) -> OpenApiParameter:
    """A parameter that takes one of some words."""
    return OpenApiParameter(name, str, enum=list(choices), description=text)


def chosen(request: Request, name: str, choices: Collection[str], default: str = "") -> str:
    """The word of a parameter, or the default where it is not given. Raises Problem for another word."""
    word = request.query_params.get(name, default)
    if word != default and word not in choices:
        raise Problem(
            400, "There is no such choice", f"{name} takes {', '.join(choices)}; got “{word[:60]}”."
        )
    return word


OF = choice("of", [kind.plural for kind in KINDS], "What rows stand for; default niches.")


def kind_of(request: Request) -> Kind:
    """The kind a request asks for. Raises Problem for another word."""
    word = chosen(request, "of", [kind.plural for kind in KINDS], NICHE.plural)
    return next(kind for kind in KINDS if kind.plural == word)


def whole_number(most: int) -> dict[str, Any]:
    """From 0 to ``most``."""
    return {"type": "integer", "minimum": 0, "maximum": most}
