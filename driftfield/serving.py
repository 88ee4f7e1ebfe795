"""Serving the application with gunicorn, on loopback."""

from __future__ import annotations

import errno
import os
import socket
import sys
from datetime import date
from pathlib import Path
from typing import Any, NoReturn

from gunicorn.app.base import BaseApplication

from driftfield.core.errors import CoreError
from driftfield.work.worker import keep_working

WORKERS = 2
# Browsers open connections ahead of need, and each holds a thread while it idles.
THREADS = 24


def _warm(server: Any, worker: Any) -> None:
    """Read ahead, beside the first answers, the tables of feasts that dossiers ask for."""
    from threading import Thread

    from driftfield.readings.outlook import feasts_ahead

    Thread(target=lambda: feasts_ahead(date.today()), daemon=True).start()


class _Server(BaseApplication):  # type: ignore[misc]
    def __init__(self, port: int) -> None:
        self.port = port
        super().__init__()

    def load_config(self) -> None:
        options = {
            "bind": f"127.0.0.1:{self.port}",
            "workers": WORKERS,
            "threads": THREADS,
            "worker_class": "gthread",
            "preload_app": True,
            "loglevel": "warning",
            "proc_name": "driftfield",
            "control_socket_disable": True,
            # A thousand marked niches are named in the address of their export.
            "limit_request_line": 0,
        }
        self.cfg.set("post_fork", _warm)
        self.cfg.set("when_ready", lambda _server: keep_working())
        for key, value in options.items():
            if key in self.cfg.settings:
                self.cfg.set(key, value)

    def load(self) -> Any:
        """The application, imported once before the fork; nothing is read yet."""
        from driftfield.wsgi import application

        return application


def check_port(port: int) -> None:
    """Raise CoreError when something else listens on the port."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as error:
            if error.errno != errno.EADDRINUSE:
                raise
            raise CoreError(
                f"Port {port} is taken by another program. Choose another with --port."
            ) from None


def serve_on(port: int) -> NoReturn:
    """Serve until interrupted; says where first.

    A program of its own takes the place of this one: threads that reading files has started here
    (polars has a pool of them) would not live in the processes forked for serving, and a request
    that waits for one would wait for ever.
    """
    check_port(port)
    print(f"Driftfield is on http://127.0.0.1:{port}/  (Ctrl-C stops it)", flush=True)
    print(
        "Start with the ledger: arrow keys walk it, k keeps, p parks, x passes, u undoes.",
        flush=True,
    )
    root = str(Path(__file__).parent.parent)
    environment = {**os.environ, "PYTHONPATH": root}
    command = [sys.executable, "-m", "driftfield.serving", str(port)]
    os.execve(sys.executable, command, environment)


if __name__ == "__main__":
    _Server(int(sys.argv[1])).run()
