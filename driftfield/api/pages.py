"""The application's one page, with what each view asks for first announced in it."""

from __future__ import annotations

import json
from functools import lru_cache
from html import escape
from pathlib import Path
from urllib.parse import quote

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from driftfield.market.models import Market

LEDGER = "/api/ledger/?sort=rank&offset=0&limit=100"
# What the window shows of a dossier at first; all seven questions at once would hold up the program.
QUESTIONS = ("preview", "dossier/outlook")
SCREENS = {"/dossier": "src/screens/dossier/DossierScreen.vue"}


def application(request: HttpRequest) -> HttpResponse:
    """index.html of the front-end build, or a sentence that says how to make it."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        text = "The front end is not built yet. Run bin/demo, or npm run build in web/."
        return HttpResponse(text, status=503, content_type="text/plain; charset=utf-8")
    # While the program itself is on its way, the browser fetches what the view will ask for.
    links = [
        f'<link rel="preload" as="fetch" href="{escape(address)}" crossorigin="anonymous" />'
        for address in _asked_first(request)
    ]
    manifest = settings.WEB_DIST / "manifest.json"
    screen = SCREENS.get(request.path)
    if screen and manifest.exists():
        links += [
            f'<link rel="modulepreload" crossorigin href="/{part}" />'
            for part in _parts_of(manifest, manifest.stat().st_mtime_ns, screen)
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
    niche = request.GET.get("niche")
    if request.path == "/dossier" and niche:
        markets = Market.objects.filter(run__isnull=False).order_by("pk")
        known = markets.values_list("market_id", flat=True)
        market = request.GET.get("market") or known.first()
        if market:
            named = f"market={_quoted(market)}&niche={_quoted(niche)}"
            addresses += [f"/api/{question}/?{named}" for question in QUESTIONS]
    return addresses


def _quoted(text: str) -> str:
    """As browsers' encodeURIComponent has it (ECMA-262, 19.2.6.4)."""
    return quote(text, safe="-_.!~*'()")


@lru_cache(maxsize=8)
def _parts_of(manifest: Path, changed: int, screen: str) -> tuple[str, ...]:
    """Files of a screen and of all it imports, but for those the page itself names."""
    chunks = json.loads(manifest.read_text("utf-8"))
    found: dict[str, None] = {}
    ahead = [screen]
    while ahead:
        chunk = chunks.get(ahead.pop())
        if chunk and chunk["file"] not in found and not chunk.get("isEntry"):
            found[chunk["file"]] = None
            ahead += chunk.get("imports", [])
    return tuple(found)
