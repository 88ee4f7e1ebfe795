"""The application's one page, with what each view asks for first announced in it."""

from __future__ import annotations

import json
from functools import lru_cache
from html import escape
from pathlib import Path
from typing import Any
from urllib.parse import quote

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from driftfield.market.models import Market

LEDGER = "/api/ledger/?sort=rank&offset=0&limit=100"
# What the window shows of a dossier at first, and what stands below it: asked for at once, all seven would
# hold up the program, so the rest is asked for by the program's first line.
QUESTIONS = ("niche", "niche/demand")
BELOW = ("niche/curves", "niche/holders", "niche/terms/detail", "niche/feedback", "niche/costs")
SCREENS = {
    "/": "field/FieldScreen.vue",
    "/field": "field/FieldScreen.vue",
    "/dossier": "dossier/DossierScreen.vue",
    "/skim": "skim/SkimScreen.vue",
    "/compare": "compare/CompareScreen.vue",
    "/shortlist": "shortlist/ShortlistScreen.vue",
    "/brief": "shortlist/BriefScreen.vue",
    "/intake": "intake/IntakeScreen.vue",
    "/coverage": "intake/CoverageScreen.vue",
    "/faults": "faults/FaultsScreen.vue",
}


def application(request: HttpRequest) -> HttpResponse:
    """index.html of the front-end build, or a sentence that says how to make it."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        text = "The front end is not built yet. Run bin/demo, or npm run build in web/."
        return HttpResponse(text, status=503, content_type="text/plain; charset=utf-8")
    # While the program itself is on its way, the browser fetches what the view will ask for.
    links = [
        f'<link rel="{when}" as="fetch" href="{escape(address)}" crossorigin="anonymous" />'
        for when, addresses in (
            ("preload", _asked_first(request)),
            ("later", _asked_later(request)),
        )
        for address in addresses
    ]
    manifest = settings.WEB_DIST / "manifest.json"
    screen = SCREENS.get(request.path)
    if screen and manifest.exists():
        links += [
            f'<link rel="{kind}" crossorigin href="/{part}" />'
            for part, kind in _parts_of(manifest, manifest.stat().st_mtime_ns, screen)
        ]
    text = page.read_text("utf-8").replace("</head>", "\n".join([*links, "</head>"]), 1)
    response = HttpResponse(text, content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


def _asked_first(request: HttpRequest) -> list[str]:
    """Addresses of the API, letter by letter as the view will ask them."""
    addresses = ["/api/markets/", "/api/figures/"]
    if request.path in {"/", "/field"} and not request.GET:
        addresses.append(LEDGER)
    return [*addresses, *_of_niche(request, QUESTIONS)]


def _asked_later(request: HttpRequest) -> list[str]:
    return _of_niche(request, BELOW)


def _of_niche(request: HttpRequest, questions: tuple[str, ...]) -> list[str]:
    """Addresses of a dossier's questions; none where no dossier is asked for."""
    niche = request.GET.get("niche")
    if request.path != "/dossier" or not niche:
        return []
    markets = Market.objects.filter(run__isnull=False).order_by("pk")
    market = request.GET.get("market") or markets.values_list("market_id", flat=True).first()
    if not market:
        return []
    named = f"market={_quoted(market)}&niche={_quoted(niche)}"
    return [f"/api/{question}/?{named}" for question in questions]


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
