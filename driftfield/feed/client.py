"""Speaking to a feed that can fail: sign-in, pages, and waiting as it asks to.

What is tried again: no connection, no answer in time, an answer that breaks off or is no JSON, 429 and
5xx. After 429 or 503 as long as Retry-After says (RFC 9110, 10.2.3; RFC 6585, 4), else a time that doubles
from try to try, spread at random so that several who wait do not come back at once.
"""

from __future__ import annotations

import random
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from email.utils import parsedate_to_datetime
from typing import Any

import requests

from driftfield.exchange.progress import Progress, untold

from .errors import CursorGoneError, EndlessError, FeedError

TIMEOUT = 20.0  # Seconds to wait for an answer.
PATIENCE = 600.0  # Seconds without any good answer after which the feed is given up.
FIRST_WAIT, LONGEST_WAIT = 0.5, 60.0  # Seconds between tries where the feed names none.
SLICE = 0.25  # Seconds slept at once, so that a stop is noticed soon.
LIMIT = 2_000  # Rows asked for in a page.
MOST_PAGES, MOST_EMPTY = 50_000, 50  # Pages of one list, and such in a row that tell nothing.
LARGEST = 64 << 20  # Bytes of an answer; a page of rows is far below.
MARGIN = 30.0  # Seconds before a token ends that a new one is taken.

Row = dict[str, Any]


@dataclass(frozen=True, slots=True)
class Page:
    """Some rows. next: the cursor of the following page, None on the last. position: where the feed is
    after this page; asked for with it later, it tells what came since."""

    rows: list[Row]
    next: str | None
    position: str | None = None


@dataclass(slots=True)
class Tally:
    """What the feed needed: requests, those that failed by reason, seconds waited."""

    requests: int = 0
    failed: dict[str, int] | None = None
    waited: float = 0.0

    def fail(self, reason: str) -> None:
        self.failed = self.failed or {}
        self.failed[reason] = self.failed.get(reason, 0) + 1


class FeedClient:
    """One who asks a feed. ``progress`` is told when it waits, and may raise to end it."""

    def __init__(
        self,
        address: str,
        client_id: str,
        secret: str,
        *,
        timeout: float = TIMEOUT,
        patience: float = PATIENCE,
        first_wait: float = FIRST_WAIT,
        progress: Progress = untold,
        sleep: Callable[[float], None] = time.sleep,
        now: Callable[[], float] = time.monotonic,
    ) -> None:
        self.address, self.client_id, self._secret = address, client_id, secret
        self.timeout, self.patience, self.first_wait = timeout, patience, first_wait
        self.progress, self.sleep, self.now = progress, sleep, now
        self.tally = Tally()
        self.step = "Asking the feed"
        self._token = ""
        self._token_until = 0.0
        self._session = requests.Session()
        # No proxy of the environment, and nowhere else than the address that was checked.
        self._session.trust_env = False
        self._random = random.Random()

    def pages(
        self, path: str, needed: tuple[str, ...], *, cursor: str | None = None, **query: str
    ) -> Iterator[Page]:
        """The pages at ``path`` from ``cursor`` on, each row with at least the keys ``needed``.

        Raises FeedError, CursorGoneError where the feed does not know the cursor, and EndlessError where
        it names a next page again and again.
        """
        seen, empty = set[str](), 0
        while True:
            asked = {**query, "limit": str(LIMIT)} | ({"cursor": cursor} if cursor else {})
            page = self._get(path, asked)
            rows, cursor, position = page.get("rows"), page.get("next"), page.get("position")
            if not all(one is None or isinstance(one, str) for one in (cursor, position)):
                raise FeedError(
                    f"{path} of the feed names a next page or a position that is no text."
                )
            if not isinstance(rows, list) or not all(isinstance(row, dict) for row in rows):
                raise FeedError(f"{path} of the feed answered without rows.")
            for row in rows:
                for key in needed:
                    if row.get(key) is None:
                        raise FeedError(
                            f"A row of {path} of the feed has no {key}: {str(row)[:120]}."
                        )
            yield Page(rows, cursor, position)
            if not cursor:
                return
            empty = 0 if rows else empty + 1
            if cursor in seen or empty > MOST_EMPTY or len(seen) >= MOST_PAGES:
                raise EndlessError(
                    f"{path} of the feed names a next page without end; nothing of it was used."
                )
            seen.add(cursor)

    def _get(self, path: str, query: dict[str, str]) -> Row:
        return self._asked(lambda: self._send("GET", path, params=query, token=True), path)

    def _sign_in(self) -> None:
        body = {"client_id": self.client_id, "secret": self._secret}
        grant = self._asked(lambda: self._send("POST", "/v1/sign-in", json=body), "/v1/sign-in")
        token, seconds = grant.get("token"), grant.get("expires_in")
        if not isinstance(token, str) or not isinstance(seconds, int | float):
            raise FeedError("The feed answered the sign-in without a token.")
        self._token, self._token_until = token, self.now() + seconds - min(MARGIN, seconds / 2)

    def _send(
        self, method: str, path: str, *, token: bool = False, **options: Any
    ) -> requests.Response:
        headers = {"Accept": "application/json"}
        if token:
            if not self._token or self.now() >= self._token_until:
                self._sign_in()
            headers["Authorization"] = f"Bearer {self._token}"
        self.tally.requests += 1
        return self._session.request(
            method, self.address + path, headers=headers, timeout=self.timeout,
            allow_redirects=False, stream=True, **options,
        )  # fmt: skip

    def _asked(self, send: Callable[[], requests.Response], path: str) -> Row:
        """The answer of the first try that succeeds. Raises FeedError where trying again is of no use, or
        where nothing good came for as long as patience lasts."""
        began, tries, fresh_token = self.now(), 0, False
        while True:
            named: float | None = None
            try:
                with send() as answer:
                    status = answer.status_code
                    if status == 200:
                        return self._body(answer)
                    if status == 410:
                        raise CursorGoneError
                    if status == 401 and self._token and not fresh_token:
                        # It ended earlier than was said; once a request a new one is taken.
                        self._token, fresh_token = "", True
                        self.tally.fail("token ended")
                        continue
                    if status != 429 and status < 500:
                        raise FeedError(_refusal(answer, path))
                    reason = f"status {status}"
                    named = _retry_after(answer.headers.get("Retry-After"))
            except requests.exceptions.Timeout:
                reason = "no answer in time"
            except (
                requests.exceptions.ConnectionError,
                requests.exceptions.ChunkedEncodingError,
            ) as error:
                reason = "broken off" if _after_its_head(error) else "no connection"
            except requests.exceptions.ContentDecodingError:
                reason = "broken off"
            except _UnreadableError as error:
                reason = str(error)
            self.tally.fail(reason)
            tries += 1
            if self.now() - began > self.patience:
                raise FeedError(
                    f"The feed at {self.address} gave no good answer in {self.patience / 60:.0f} minutes "
                    f"(at last: {reason}). What has arrived is kept; resuming continues from there."
                )
            self._wait(self._pause(tries) if named is None else named)

    def _body(self, answer: requests.Response) -> Row:
        pieces, size = [], 0
        for piece in answer.iter_content(1 << 16):
            pieces.append(piece)
            size += len(piece)
            if size > LARGEST:
                raise FeedError(f"The feed answered with more than {LARGEST >> 20} MB at once.")
        expected = answer.headers.get("Content-Length")
        if (
            expected is not None
            and "Content-Encoding" not in answer.headers
            and size != int(expected)
        ):
            raise _UnreadableError("broken off")
        try:
            content = requests.compat.json.loads(b"".join(pieces))  # type: ignore[attr-defined]
        except (ValueError, RecursionError):
            raise _UnreadableError("no JSON") from None
        if not isinstance(content, dict):
            raise _UnreadableError("no object")
        return content

    def _pause(self, tries: int) -> float:
        longest = min(LONGEST_WAIT, self.first_wait * 2 ** min(tries - 1, 10))
        return self._random.uniform(longest / 2, longest)

    def _wait(self, seconds: float) -> None:
        self.tally.waited += seconds
        until = self.now() + seconds
        while (left := until - self.now()) > 0:
            self.progress(f"{self.step}; it asked to wait", 0, 0) if seconds > 2 else self.progress(
                self.step, 0, 0
            )
            self.sleep(min(left, SLICE))


class _UnreadableError(Exception):
    """An answer that is not whole, or no JSON object."""


def _after_its_head(error: Exception) -> bool:
    """Whether an answer had begun when the connection ended."""
    return "IncompleteRead" in str(error) or "InvalidChunkLength" in str(error)


def _retry_after(header: str | None) -> float | None:
    """Seconds that Retry-After names, as a number or as a date; None where it does not."""
    if header is None:
        return None
    try:
        return min(max(float(header), 0.0), 3600.0)
    except ValueError:
        pass
    try:
        moment = parsedate_to_datetime(header)
    except (TypeError, ValueError):
        return None
    if moment.tzinfo is None:
        moment = moment.replace(tzinfo=UTC)
    return min(max((moment - datetime.now(UTC)).total_seconds(), 0.0), 3600.0)


def _refusal(answer: requests.Response, path: str) -> str:
    """Why a feed refused, in its own words where it has some (RFC 9457)."""
    if answer.status_code in {401, 403}:
        return "The feed refused the sign-in. Check DRIFTFIELD_FEED_ID and DRIFTFIELD_FEED_SECRET."
    try:
        problem = answer.json()
        detail = str(problem.get("detail") or problem.get("title") or "")[:200]
    except (ValueError, AttributeError, requests.exceptions.RequestException):
        detail = ""
    return f"The feed refused {path} with status {answer.status_code}. {detail}".strip()
