"""The application's one page."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse


def application(request: HttpRequest) -> HttpResponse:
    """index.html of the front-end build, or a sentence that says how to make it."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        text = "The front end is not built yet. Run bin/demo, or npm run build in web/."
        return HttpResponse(text, status=503, content_type="text/plain; charset=utf-8")
    response = HttpResponse(page.read_bytes(), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response
