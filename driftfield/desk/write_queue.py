"""Those who write at the desk take turns, in the order in which they came.

SQLite lets one write at a time and has the others look again after a while, without an order: of sixteen
some wait for seconds. A lock of the data folder has a queue, so that each waits for those before it only.
"""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from django.conf import settings
from django.db import transaction

from driftfield.home import queue

_HELD = threading.local()


@contextmanager
def writing() -> Iterator[None]:
    """A transaction in its turn; one inside another is part of that one."""
    if getattr(_HELD, "held", False):
        with transaction.atomic():
            yield
        return
    with queue(settings.DATA_DIR, "desk"):
        _HELD.held = True
        try:
            with transaction.atomic():
                yield
        finally:
            _HELD.held = False
