"""Serving the application on loopback: gunicorn keeps the processes, waitress speaks in each of them.

A request reaches a thread when all of it has arrived, so that slow and half-sent ones cost a connection
and no more; waitress bounds what is kept of them, in bytes and in time.
"""

from __future__ import annotations

import errno
import os
import socket
import sys
import time
from datetime import date
from pathlib import Path
from threading import Thread
from typing import Any, NoReturn
from wsgiref.util import setup_testing_defaults

from gunicorn.app.base import BaseApplication
from gunicorn.workers.base import Worker
from waitress.server import create_server

from driftfield.core.base import CoreError
from driftfield.work.keeper import SERVED, start_keeper

WORKERS = 2
THREADS = 8
IDLE = 60  # Seconds after which a connection on which nothing moves is closed.
CONNECTIONS = 1_000
LATER = 3  # Seconds after a start in which the first screen is drawn undisturbed.
LONGEST_HEAD = 1 << 18  # Bytes; a thousand marked niches are named in the address of their export.


def _ask_ahead(application: Any, query: str) -> None:
    """Answer to nobody what a ledger asks for, so that modules and columns are read by then."""
    environ: dict[str, Any] = {"PATH_INFO": "/api/ledger/", "QUERY_STRING": query}
    setup_testing_defaults(environ)
    answer = application(environ, lambda *_: None)
    for _ in answer:
        pass
    answer.close()


def _read_ahead(application: Any) -> None:
    """Read, beside the first answers, names and terms, and the tables of feasts that dossiers ask for."""
    from driftfield.readings.demand_detail import feasts_ahead
    from driftfield.readings.models import Run
    from driftfield.readings.subjects import MILLIONS

    time.sleep(LATER)
    first = Run.objects.order_by("market").first()
    # The words of millions of names take a gigabyte: they are read when they are asked for.
    if first is not None and first.niches < MILLIONS:
        _ask_ahead(application, "c=terms+contain+exactly+a&limit=1")
    feasts_ahead(date.today())


class PatientWorker(Worker):  # type: ignore[misc]
    """A process that reads requests whole before they are answered."""

    def run(self) -> None:
        from django.conf import settings

        Thread(target=self._beat, daemon=True).start()
        _ask_ahead(self.wsgi, "")
        Thread(target=_read_ahead, args=[self.wsgi], daemon=True).start()
        create_server(
            self.wsgi,
            sockets=[one.sock for one in self.sockets],
            threads=THREADS,
            connection_limit=CONNECTIONS,
            channel_timeout=IDLE,
            cleanup_interval=IDLE // 4,
            max_request_header_size=LONGEST_HEAD,
            max_request_body_size=settings.UPLOAD_LIMIT,
            recv_bytes=1 << 16,
            asyncore_use_poll=True,
            ident="",
        ).run()

    def _beat(self) -> None:
        """Tell the keeper of the processes that this one lives, and end when it is gone."""
        while os.getppid() == self.ppid:
            self.notify()
            time.sleep(1)
        os._exit(1)

    def handle_exit(self, _signal: int, _frame: object) -> None:
        raise SystemExit(0)

    handle_quit = handle_exit


class _Server(BaseApplication):  # type: ignore[misc]
    def __init__(self, port: int) -> None:
        self.port = port
        super().__init__()

    def load_config(self) -> None:
        options = {
            "bind": f"127.0.0.1:{self.port}",
            "workers": WORKERS,
            "worker_class": PatientWorker,
            "preload_app": True,
            "loglevel": "warning",
            "proc_name": "driftfield",
            "control_socket_disable": True,
        }
        self.cfg.set("when_ready", lambda _server: start_keeper())
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
    environment = {
        **os.environ, "PYTHONPATH": root, SERVED: "1", "DRIFTFIELD_PROGRAM": "server",
    }  # fmt: skip
    command = [sys.executable, "-m", "driftfield.serving", str(port)]
    os.execve(sys.executable, command, environment)


if __name__ == "__main__":
    _Server(int(sys.argv[1])).run()
