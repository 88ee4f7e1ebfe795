"""Long work says how far it is, and can be told to stop."""

from __future__ import annotations

from typing import Protocol


class Progress(Protocol):
    """Told what is at work and how much of the whole is done; of an unknown whole, 0 of 0.

    It may raise, which ends the work with nothing changed.
    """

    def __call__(self, step: str, done: int, whole: int, /) -> None: ...


def untold(_step: str, _done: int, _whole: int) -> None:
    """For work that nobody watches."""
