"""What went wrong, noted in the data folder: one file for the server, the worker and the command line.

A line is a JSON object, so that no name with a line break in it can pass for another line. Secrets are
taken out, and only the account that wrote the file reads it. Knows no Django: ``analyse`` notes faults too.
"""

from __future__ import annotations

import json
import logging
import logging.config
import platform
import re
import sys
import uuid
from collections.abc import Iterable, Iterator
from contextvars import ContextVar
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from driftfield import __version__

from .home import OWN

LARGEST, KEPT = 1 << 21, 4  # Bytes of a file, and files that were full before it.
LONGEST = 20_000  # Characters of a text or a traceback.
LOG = logging.getLogger("driftfield.faults")
# Of the request, the job or the command that is at work.
CURRENT: ContextVar[str] = ContextVar("current", default="")
BEARER = re.compile(r"(?i)(bearer\s+|token[\"'=:\s]+|secret[\"'=:\s]+)[^\s\"',;]+")


@dataclass(frozen=True, slots=True)
class Fault:
    """A fault that was noted. id: what the page that met it was told. program: server, worker or
    command. trace: the traceback, empty for none."""

    id: str
    at: str
    program: str
    text: str
    trace: str


def new_id() -> str:
    """An id for what begins now, under which its faults are noted."""
    made = uuid.uuid4().hex[:12]
    CURRENT.set(made)
    return made


def log_file(folder: Path) -> Path:
    """Where faults of a data folder are noted."""
    return folder / "logs" / "driftfield.log"


class Lines(logging.Formatter):
    """A record as one line of JSON, without secrets."""

    def __init__(self, program: str, secrets: Iterable[str] = ()) -> None:
        super().__init__()
        self.program = program
        self.secrets = [secret for secret in secrets if len(secret) > 5]

    def format(self, record: logging.LogRecord) -> str:
        trace = self.formatException(record.exc_info) if record.exc_info else ""
        fault = Fault(
            id=getattr(record, "fault", "") or CURRENT.get(),
            at=datetime.fromtimestamp(record.created, UTC).isoformat(timespec="seconds"),
            program=self.program,
            text=self._safe(record.getMessage()),
            trace=self._safe(trace),
        )
        return json.dumps({**asdict(fault), "level": record.levelname, "from": record.name})

    def _safe(self, text: str) -> str:
        for secret in self.secrets:
            text = text.replace(secret, "[secret]")
        text = BEARER.sub(r"\1[secret]", text)
        return text if len(text) <= LONGEST else f"{text[:LONGEST]} …"


def configuration(folder: Path, program: str, secrets: Iterable[str] = ()) -> dict[str, Any]:
    """Settings of ``logging`` for a program of a data folder."""
    file = log_file(folder)
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "formatters": {"lines": {"()": Lines, "program": program, "secrets": tuple(secrets)}},
        "handlers": {
            "file": {
                # Several programs write to it; each line and each change of file under a lock.
                "class": "concurrent_log_handler.ConcurrentRotatingFileHandler",
                "filename": str(file), "maxBytes": LARGEST, "backupCount": KEPT, "chmod": OWN,
                "encoding": "utf-8", "formatter": "lines",
            },
        },
        "root": {"handlers": ["file"], "level": "WARNING"},
        "loggers": {
            # Requests that were refused are told to those who sent them; faults are noted by ``note_fault``.
            "django": {"handlers": [], "level": "ERROR"},
            "django.request": {"level": "CRITICAL"},
            "django.security": {"level": "CRITICAL"},
            # A full queue is waited for.
            "waitress.queue": {"level": "ERROR"},
        },
    }  # fmt: skip


def configure(folder: Path, program: str) -> None:
    """Note faults of this program from now on. Raises OSError where the folder cannot be written to."""
    log_file(folder).parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    logging.config.dictConfig(configuration(folder, program))


def note_fault(error: BaseException, what: str) -> str:
    """Note a fault with its traceback; the id under which it is found."""
    fault = CURRENT.get() or new_id()
    trace = (type(error), error, error.__traceback__)
    LOG.error(
        "%s: %s: %s", what, type(error).__name__, error, exc_info=trace, extra={"fault": fault}
    )
    return fault


def faults(folder: Path, most: int) -> Iterator[Fault]:
    """The latest faults of a data folder, the last one first; lines that are none are passed over."""
    file = log_file(folder)
    for one in (file, *(Path(f"{file}.{number}") for number in range(1, KEPT + 1))):
        try:
            lines = one.read_text("utf-8", "replace").splitlines()
        except OSError:
            continue
        for line in reversed(lines):
            if most <= 0:
                return
            fault = _fault(line)
            if fault is not None:
                most -= 1
                yield fault


def _fault(line: str) -> Fault | None:
    try:
        entry = json.loads(line)
        if entry["level"] not in {"ERROR", "CRITICAL"}:
            return None
        return Fault(**{key: str(entry[key]) for key in ("id", "at", "program", "text", "trace")})
    except (ValueError, KeyError, TypeError):
        return None


def surroundings() -> str:
    """What a report of a fault says besides: versions, and no name of a machine or an account."""
    python = sys.version.split()[0]
    return f"Driftfield {__version__}, Python {python}, {platform.system()} {platform.machine()}"
