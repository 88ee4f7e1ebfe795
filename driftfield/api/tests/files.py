"""Uploaded files, as tests of several kinds need them."""

import shutil
import tempfile
from pathlib import Path
from unittest.mock import patch

from django.core.management import call_command
from django.test import TestCase, override_settings


def work_off() -> None:
    """What the worker does: all that waits."""
    call_command(
        "db_worker", batch=True, interval=0, startup_delay=False, verbosity=0, reload=False
    )


class WithFiles(TestCase):
    databases = frozenset({"default", "work"})

    def setUp(self) -> None:
        holder = tempfile.mkdtemp()
        self.addCleanup(shutil.rmtree, holder)
        overridden = override_settings(DATA_DIR=Path(holder))
        overridden.enable()
        self.addCleanup(overridden.disable)
        # The worker listens for signals, which tests leave alone, and closes connections, whose transaction
        # the test undoes.
        for untouched in ("Worker.configure_signals", "close_old_connections"):
            quiet = patch(f"django_tasks_db.management.commands.db_worker.{untouched}")
            quiet.start()
            self.addCleanup(quiet.stop)

    def ask(self, path: str, status: int = 200, body: dict | None = None) -> dict:
        if (
            body is None
            and status == 200
            and not path.endswith(("stop/", "go-on/", "import/", "undo/"))
        ):
            found = self.client.get(f"/api/{path}")
        else:
            found = self.client.post(f"/api/{path}", body or {}, content_type="application/json")
        self.assertEqual(found.status_code, status, found.content)
        return found.json()

    def hand_over(self, **files: str | bytes) -> str:
        folder = str(self.ask("intake/uploads/", 201)["incoming"])
        for name, content in files.items():
            raw = content if isinstance(content, bytes) else content.encode()
            kind = name.rsplit("__", 1) if "__" in name else [name, "csv"]
            self.put(folder, ".".join(kind), raw, 201)
        return folder

    def put(self, folder: str, name: str, raw: bytes, status: int) -> dict:
        found = self.client.put(
            f"/api/intake/uploads/{folder}/file/{name}/",
            raw,
            content_type="application/octet-stream",
        )
        self.assertEqual(found.status_code, status, found.content)
        return found.json()

    def job(self, kind: str, folder: str, status: int = 201) -> dict:
        return self.ask(
            "intake/jobs/", status, {"kind": kind, "incoming": folder, "name": "North, May"}
        )

    def done(self, job: dict) -> dict:
        work_off()
        return self.ask(f"intake/jobs/{job['id']}/")
