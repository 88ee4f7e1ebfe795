"""Tests of a market that was imported and analysed once for all of them."""

import tempfile
from pathlib import Path
from urllib.parse import urlencode

from django.test import TestCase

from driftfield.exchange.tests.packages import small_market, write
from driftfield.intake.actions import import_folder
from driftfield.readings.actions import analyse_all


class Loaded(TestCase):
    package = staticmethod(small_market)

    @classmethod
    def setUpTestData(cls) -> None:
        with tempfile.TemporaryDirectory() as holder:
            import_folder(write(Path(holder) / "in", **cls.package()))
        list(analyse_all())

    def get(self, path: str, status: int = 200) -> dict:
        response = self.client.get(f"/api/{path}")
        self.assertEqual(response.status_code, status, response.content)
        return response.json()

    def post(self, path: str, body: dict | list | None = None, status: int = 200) -> dict:
        response = self.client.post(f"/api/{path}", body or {}, content_type="application/json")
        self.assertEqual(response.status_code, status, response.content)
        return response.json()

    def undo(self, status: int = 200) -> dict:
        """Undo the latest decision, or one that is none."""
        latest = self.get("desk/decisions/undo/")["decision"]
        return self.post("desk/decisions/undo/", {"decision": latest or 1}, status)

    def names(self, *conditions: str, **more: str) -> list[str]:
        return [row["name"] for row in self.ledger(*conditions, **more)["rows"]]

    def ledger(self, *conditions: str, **more: str) -> dict:
        return self.get(f"ledger/?{urlencode([*(('c', c) for c in conditions), *more.items()])}")
