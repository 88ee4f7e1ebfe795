"""Lists as files: which columns they have, and the answer that carries them."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes

from driftfield.exchange.lists import FORMS, Column, Form, write_list

from .queries import ChoiceQuery, Query


def file_answers(types: Iterable[str]) -> dict[Any, Any]:
    """How files of some media types are described; JSON is no file to those who read it."""
    bare = [kind.partition(";")[0] for kind in types]
    return {
        (200, kind): OpenApiTypes.OBJECT if kind.endswith("json") else OpenApiTypes.BINARY
        for kind in bare
    }


LISTED = file_answers(FORMS.values())


class FormQuery(Query):
    """The form of a file."""

    vars()["as"] = ChoiceQuery(list(FORMS), default="csv", help_text="Default csv.")


def file_response(
    form: Form,
    title: str,
    columns: Sequence[Column],
    rows: Sequence[dict[str, Any]],
    whole: dict[str, Any] | None = None,
) -> HttpResponse:
    """A list as a file to keep, named after its title; as JSON ``whole``, where there is more than its rows."""
    if form == "json" and whole is not None:
        made = json.dumps(whole, ensure_ascii=False, indent=1, default=str).encode()
    else:
        made = write_list(form, title, columns, rows)
    response = HttpResponse(made, content_type=FORMS[form])
    response["Content-Disposition"] = f'attachment; filename="{file_name(title)}.{form}"'
    response["Cache-Control"] = "no-store"
    return response


def file_name(title: str) -> str:
    """A title as the name of a file, without its ending."""
    return "-".join("".join(c if c.isalnum() else " " for c in title.lower()).split())
