"""The application's one page, with what each view asks for first announced in it."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import lru_cache
from html import escape
from pathlib import Path
from typing import Any
from urllib.parse import quote

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from driftfield.market.models import Market

# Asked for by every view.
ALWAYS = ("markets/", "figures/")


@dataclass(frozen=True)
class View:
    """A view of the program as its build describes it (web/src/app/views.json).

    Addresses are below ``/api/``. ``first`` are asked where the view's own address asks for nothing else;
    ``of_market`` with the market and the conditions in its address, where it holds nothing else;
    ``of_niche`` are asked of the niche in its address at once, and ``of_niche_later`` when the program
    has come: asked for together, all seven of a dossier would hold it up.
    """

    screen: str
    first: tuple[str, ...] = ()
    of_market: tuple[str, ...] = ()
    of_niche: tuple[str, ...] = ()
    of_niche_later: tuple[str, ...] = ()


def application(request: HttpRequest) -> HttpResponse:
    """index.html of the front-end build, or a sentence that says how to make it."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        text = "The front end is not built yet. Run bin/demo, or npm run build in web/."
        return HttpResponse(text, status=503, content_type="text/plain; charset=utf-8")
    view = _views(settings.WEB_DIST / "views.json").get(request.path)
    # While the program itself is on its way, the browser fetches what the view will ask for.
    links = [
        f'<link rel="{when}" as="fetch" href="{escape(address)}" crossorigin="anonymous" />'
        for when, addresses in _asked(request, view).items()
        for address in addresses
    ]
    manifest = settings.WEB_DIST / "manifest.json"
    if view and manifest.exists():
        links += [
            f'<link rel="{kind}" crossorigin href="/{part}" />'
            for part, kind in _parts_of(manifest, manifest.stat().st_mtime_ns, view.screen)
        ]
    text = page.read_text("utf-8").replace("</head>", "\n".join([*links, "</head>"]), 1)
    response = HttpResponse(text, content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


def _views(file: Path) -> dict[str, View]:
    """The views of the build by their paths; the front page is the first of them."""
    if not file.exists():
        return {}
    return _read_views(file, file.stat().st_mtime_ns)


@lru_cache(maxsize=4)
def _read_views(file: Path, changed: int) -> dict[str, View]:
    rows = json.loads(file.read_text("utf-8"))
    found = {
        row["path"]: View(
            screen=row["screen"],
            first=tuple(row.get("first", ())),
            of_market=tuple(row.get("ofMarket", ())),
            of_niche=tuple(row.get("ofNiche", ())),
            of_niche_later=tuple(row.get("ofNicheLater", ())),
        )
        for row in rows
    }
    return {"/": next(iter(found.values())), **found}


def _asked(request: HttpRequest, view: View | None) -> dict[str, list[str]]:
    """Addresses of the API, letter by letter as the view will ask them, at once and later."""
    asked: dict[str, list[str]] = {"preload": list(ALWAYS), "later": []}
    if view and not request.GET:
        asked["preload"] += view.first
    if view and view.of_market and set(request.GET) <= {"market", "c"}:
        named = _market_named(request)
        asked["preload"] += [f"{address}?{named}" for address in view.of_market if named]
    named = _niche_named(request) if view and view.of_niche else ""
    if view and named:
        asked["preload"] += [f"{address}?{named}" for address in view.of_niche]
        asked["later"] += [f"{address}?{named}" for address in view.of_niche_later]
    return {when: [f"/api/{address}" for address in addresses] for when, addresses in asked.items()}


def _niche_named(request: HttpRequest) -> str:
    """The query that asks of the niche in the address; empty where none is named."""
    niche, market = request.GET.get("niche"), _market_of(request)
    return f"market={_quoted(market)}&niche={_quoted(niche)}" if niche and market else ""


def _market_named(request: HttpRequest) -> str:
    """The query that asks of the market in the address, with its conditions; empty where there is none."""
    market = _market_of(request)
    conditions = [f"&c={_quoted(one)}" for one in request.GET.getlist("c")]
    return f"market={_quoted(market)}{''.join(conditions)}" if market else ""


def _market_of(request: HttpRequest) -> str:
    """The market in the address, else the first one; empty where there is none."""
    markets = Market.objects.filter(run__isnull=False).order_by("pk")
    return request.GET.get("market") or markets.values_list("market_id", flat=True).first() or ""


def _quoted(text: str) -> str:
    """As browsers' encodeURIComponent has it (ECMA-262, 19.2.6.4)."""
    return quote(text, safe="-_.!~*'()")


@lru_cache(maxsize=16)
def _parts_of(manifest: Path, changed: int, screen: str) -> tuple[tuple[str, str], ...]:
    """Files of a screen and of all it imports with how they are linked, but for those the page itself names."""
    chunks = json.loads(manifest.read_text("utf-8"))
    own = _with_imports(chunks, [name for name, chunk in chunks.items() if chunk.get("isEntry")])
    found = _with_imports(chunks, [f"src/screens/{screen}"])
    return tuple((part, kind) for part, kind in found.items() if part not in own)


def _with_imports(chunks: dict[str, dict[str, Any]], names: list[str]) -> dict[str, str]:
    """How each file of some chunks and their imports is linked, by the file; styles come first."""
    styles: dict[str, str] = {}
    scripts: dict[str, str] = {}
    ahead = [name for name in names if name in chunks]
    while ahead:
        chunk = chunks[ahead.pop(0)]
        if chunk["file"] not in scripts:
            scripts[chunk["file"]] = "modulepreload"
            styles |= dict.fromkeys(chunk.get("css", []), "stylesheet")
            ahead += chunk.get("imports", [])
    return styles | scripts
