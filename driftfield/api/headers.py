"""What browsers are told of every answer: what it may load, and who may show it.

Names, titles and texts come from files of others. Should one ever be taken for markup, the page's own
policy does not let it run (W3C, Content Security Policy Level 3); and no other page may frame the
application, where a click meant for that page would decide here (clickjacking, RFC 7034).
"""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

# Styles are set by the page's own programs, element by element; programs come from this server alone.
POLICY = {
    "default-src": "'none'",
    "script-src": "'self'",
    "style-src": "'self' 'unsafe-inline'",
    "img-src": "'self' data: blob:",
    "font-src": "'self'",
    "connect-src": "'self'",
    "manifest-src": "'self'",
    "base-uri": "'none'",
    "form-action": "'none'",
    "frame-ancestors": "'none'",
}
UNUSED = (
    "accelerometer", "camera", "display-capture", "geolocation", "gyroscope", "magnetometer", "microphone",
    "midi", "payment", "publickey-credentials-get", "screen-wake-lock", "serial", "usb", "xr-spatial-tracking",
)  # fmt: skip
HEADERS = {
    "Content-Security-Policy": "; ".join(f"{what} {where}" for what, where in POLICY.items()),
    "Permissions-Policy": ", ".join(f"{feature}=()" for feature in UNUSED),
    "Cross-Origin-Resource-Policy": "same-origin",
}


def own_pages_only(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware: HEADERS on every answer, files of the front end included."""

    def answer(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        return response

    return answer
