"""Serving the application with gunicorn, on loopback."""

from __future__ import annotations

import errno
import socket
from typing import Any

from gunicorn.app.base import BaseApplication

from driftfield.core.errors import CoreError

WORKERS = 2
# Browsers open connections ahead of need, and each holds a thread while it idles.
THREADS = 24


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
        for key, value in options.items():
            if key in self.cfg.settings:
                self.cfg.set(key, value)

    def load(self) -> Any:
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


def serve_on(port: int) -> None:
    """Serve until interrupted; says where first."""
    check_port(port)
    print(f"Driftfield is on http://127.0.0.1:{port}/  (Ctrl-C stops it)", flush=True)
    print(
        "Start with the ledger: arrow keys walk it, k keeps, p parks, x passes, u undoes.",
        flush=True,
    )
    _Server(port).run()
