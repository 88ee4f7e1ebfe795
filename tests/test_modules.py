"""The size of what one has to read to change something (docs/architecture.md)."""

from pathlib import Path
from unittest import TestCase

import driftfield

ROOT = Path(driftfield.__file__).parent
LONGEST = 450  # Lines of a module.
FLOORS = 12  # Entries at the top of the core.


class Modules(TestCase):
    def test_none_is_longer_than_one_reads_at_once(self) -> None:
        modules = [path for path in ROOT.rglob("*.py") if "migrations" not in path.parts]
        self.assertGreater(len(modules), 200)
        long = {
            str(path.relative_to(ROOT)): lines
            for path in modules
            if (lines := len(path.read_text("utf-8").splitlines())) > LONGEST
            and "tests" not in path.parts
        }
        self.assertEqual(long, {})

    def test_the_core_is_a_few_floors(self) -> None:
        floors = [path for path in (ROOT / "core").iterdir() if path.name != "__pycache__"]
        self.assertLessEqual(len(floors), FLOORS, floors)
