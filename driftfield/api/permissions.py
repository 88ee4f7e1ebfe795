"""Who may change something."""

from __future__ import annotations

from typing import TYPE_CHECKING
from urllib.parse import urlsplit

from rest_framework.permissions import SAFE_METHODS, BasePermission
from rest_framework.request import Request

if TYPE_CHECKING:  # The framework's views read these permissions while they are imported.
    from rest_framework.views import APIView


class SameOrigin(BasePermission):
    """Pages of other origins change nothing: browsers name theirs with all that may write (RFC 6454)."""

    message = "This came from a page of another origin. Use Driftfield's own."

    def has_permission(self, request: Request, view: APIView) -> bool:
        origin = request.headers.get("Origin")
        if request.method in SAFE_METHODS or origin is None:
            return True
        return urlsplit(origin).netloc == request.get_host()
