"""Reading the database as it was at one moment, whatever is written meanwhile.

An answer is put together from several questions to the database. If an analysis ended between two of them,
the place of a niche in the old run would be looked up in the new one, where another niche stands.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any

from django.db import connection

_WITHIN: ContextVar[bool] = ContextVar("within", default=False)


def within_moment() -> bool:
    """Whether what is done now reads one moment, and cannot write."""
    return _WITHIN.get()


@contextmanager
def one_moment() -> Iterator[None]:
    """What is read inside is of the moment of its first question; nothing can be written inside.

    Within a transaction nothing is done: it sees one moment already. SQLite, “Isolation In SQLite”: a reader
    of a database in WAL mode keeps its snapshot until its transaction ends.
    """
    if connection.in_atomic_block:
        yield
        return
    begun: list[Any] = []

    def begin(execute: Callable[..., Any], *question: Any) -> Any:
        # With the first question, so that what asks nothing works with a database that cannot be used; and by
        # SQLite's own word, since Django's transactions may all write, and wait for each other.
        if not begun:
            raw = connection.connection
            raw.execute("BEGIN DEFERRED")
            begun.append(raw)
            raw.execute("PRAGMA query_only = 1")
        return execute(*question)

    token = _WITHIN.set(True)
    try:
        with connection.execute_wrapper(begin):
            yield
    finally:
        _WITHIN.reset(token)
        for raw in begun:
            if raw.in_transaction:  # SQLite ends it by itself where the disk fails.
                raw.execute("ROLLBACK")
            raw.execute("PRAGMA query_only = 0")
