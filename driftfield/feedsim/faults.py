"""The failings of a feed, each as often as its setting says."""

from __future__ import annotations

import random
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from email.utils import format_datetime

from django.http import HttpRequest, HttpResponse, JsonResponse


@dataclass(frozen=True, slots=True)
class Faults:
    """Shares of requests that fail in each way, and how.

    too_many: 429; unavailable: 503; broken: 500. wait: seconds that the first two ask for. truncated: the
    body breaks off. slow: the answer comes only after ``delay`` seconds. gone: a cursor is not known any
    more. token_for: requests for which a token is good. overlap: rows of a page that were on the one before
    too. added: whether rows have a field that nobody was told of.
    """

    too_many: float = 0.0
    unavailable: float = 0.0
    broken: float = 0.0
    wait: float = 1.0
    truncated: float = 0.0
    slow: float = 0.0
    delay: float = 30.0
    gone: float = 0.0
    token_for: int = 10_000
    overlap: int = 0
    added: bool = False


NONE = Faults()
SOME = Faults(
    too_many=0.03, unavailable=0.02, broken=0.01, truncated=0.01, slow=0.01, delay=2.0, token_for=200,
    added=True,
)  # fmt: skip
WORST = Faults(
    too_many=0.12, unavailable=0.1, broken=0.1, truncated=0.15, slow=0.08, gone=0.05, token_for=8, overlap=3,
    added=True,
)  # fmt: skip
LEVELS = {"none": NONE, "some": SOME, "worst": WORST}


class FaultMiddleware:
    """Lets requests to the feed fail; those that steer the simulation itself never do."""

    faults = NONE
    _random = random.Random(1)
    _lock = threading.Lock()

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not request.path.startswith("/v1/"):
            return self.answer(request)
        faults = type(self).faults
        if self._falls(faults.slow):
            time.sleep(faults.delay)
        if self._falls(faults.too_many):
            return _refused(429, "Too many requests", f"{faults.wait:g}")
        if self._falls(faults.unavailable):
            # As a date, which is the other way the header may be written.
            moment = datetime.now(UTC) + timedelta(seconds=faults.wait)
            return _refused(503, "Not available now", format_datetime(moment, usegmt=True))
        if self._falls(faults.broken):
            return HttpResponse("<h1>Internal Server Error</h1>", status=500)
        response = self.answer(request)
        if response.status_code == 200 and self._falls(faults.truncated):
            whole = response.content
            response.content = whole[: len(whole) * 2 // 3]
            response["Content-Length"] = str(len(whole))
        return response

    @classmethod
    def _falls(cls, share: float) -> bool:
        with cls._lock:
            return cls._random.random() < share

    @classmethod
    def set(cls, faults: Faults, seed: int) -> None:
        cls.faults, cls._random = faults, random.Random(seed)


def _refused(status: int, title: str, retry_after: str) -> HttpResponse:
    body = {"title": title, "status": status}
    response = JsonResponse(body, status=status, content_type="application/problem+json")
    response["Retry-After"] = retry_after
    return response
