"""The one simulation of this program."""

from __future__ import annotations

import secrets
import threading

from .world import Clock, World


class _State:
    world: World
    clock: Clock
    client_id = "driftfield"
    secret = "only-a-simulation"

    def __init__(self) -> None:
        self._uses: dict[str, int] = {}
        self._lock = threading.Lock()

    def new_token(self) -> str:
        token = secrets.token_urlsafe(24)
        with self._lock:
            self._uses[token] = 0
        return token

    def uses(self, token: str, most: int) -> bool:
        """Whether the token is good for one more request."""
        with self._lock:
            if token not in self._uses or self._uses[token] >= most:
                return False
            self._uses[token] += 1
            return True


STATE = _State()
