"""Long work in browser tests."""

import tempfile
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from django.test import override_settings


def give_data_folder(test: TestCase) -> Path:
    """A data folder of the test's own, and a worker that leaves the process's signals alone."""
    holder = tempfile.TemporaryDirectory()
    test.addCleanup(holder.cleanup)
    folder = Path(holder.name)
    (folder / "data").mkdir()
    overridden = override_settings(DATA_DIR=folder / "data")
    overridden.enable()
    test.addCleanup(overridden.disable)
    quiet = patch("django_tasks_db.management.commands.db_worker.Worker.configure_signals")
    quiet.start()
    test.addCleanup(quiet.stop)
    return folder
