"""Faults leave a trace: one line each that no name can forge, with an id and without secrets."""

import json
import logging
import logging.config
import tempfile
from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.db import DatabaseError, OperationalError
from django.test import Client, SimpleTestCase, TestCase, override_settings

from driftfield.logs import CURRENT, configuration, faults, log_file, new_id, note_fault


class Logged(SimpleTestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)
        (self.folder / "logs").mkdir()
        logging.config.dictConfig(configuration(self.folder, "worker", ["pass-phrase"]))
        self.addCleanup(logging.config.dictConfig, settings.LOGGING)

    def lines(self) -> list[dict[str, str]]:
        return [json.loads(line) for line in log_file(self.folder).read_text().splitlines()]

    def test_no_text_can_pass_for_another_line_and_no_secret_is_told(self) -> None:
        forged = 'x\n{"id": "1", "level": "ERROR", "text": "forged"}\r\n'
        try:
            raise ValueError(f"{forged} pass-phrase Bearer abc.def")
        except ValueError as error:
            noted = note_fault(error, "import of =cmd")
        (line,) = self.lines()
        self.assertEqual((line["id"], line["program"], line["level"]), (noted, "worker", "ERROR"))
        self.assertIn("import of =cmd: ValueError", line["text"])
        self.assertIn("test_logs.py", line["trace"])
        for secret in ("pass-phrase", "abc.def"):
            self.assertNotIn(secret, log_file(self.folder).read_text())

    def test_faults_are_read_back_the_last_first_whatever_else_is_there(self) -> None:
        for text in ("one", "two"):
            CURRENT.set("")
            note_fault(KeyError(text), "x")
        logging.getLogger("driftfield").warning("no fault")
        with log_file(self.folder).open("ab") as out:
            out.write(b"no json\n\xff\xfe\n[1]\n{}\n")
        self.assertEqual(
            [one.text for one in faults(self.folder, 9)],
            ["x: KeyError: 'two'", "x: KeyError: 'one'"],
        )
        self.assertEqual(len(list(faults(self.folder, 1))), 1)
        self.assertEqual(list(faults(self.folder / "none", 9)), [])

    def test_what_goes_on_has_one_id(self) -> None:
        made = new_id()
        self.assertEqual(note_fault(KeyError(), "a"), made)
        self.assertEqual(note_fault(KeyError(), "b"), made)


class Answers(TestCase):
    """Every fault is answered as a problem with the id under which it is noted."""

    databases = {"default", "work"}  # noqa: RUF012

    def ask(self, path: str) -> tuple[int, dict[str, str], str]:
        answer = Client(raise_request_exception=False).get(path)
        self.assertEqual(answer.headers["Content-Type"], "application/problem+json")
        return answer.status_code, json.loads(answer.content), answer.headers["X-Request-Id"]

    def test_a_fault_in_a_view(self) -> None:
        with (
            patch("driftfield.api.registry.views.s.FigureRow", side_effect=KeyError("luck")),
            self.assertLogs("driftfield.faults", "ERROR") as noted,
        ):
            status, problem, request = self.ask("/api/figures/")
        self.assertEqual((status, problem["fault"]), (500, request))
        self.assertIn(request, problem["detail"])
        self.assertNotIn("luck", problem["detail"])
        self.assertIn("GET /api/figures/: KeyError: 'luck'", noted.output[0])

    def test_a_fault_outside_of_views(self) -> None:
        with (
            patch("driftfield.api.registry.views.Figures.dispatch", side_effect=KeyError("luck")),
            self.assertLogs("driftfield.faults", "ERROR"),
        ):
            status, problem, request = self.ask("/api/figures/")
        self.assertEqual((status, problem["fault"]), (500, request))

    def test_a_database_that_cannot_be_used_is_no_fault_of_the_program(self) -> None:
        for error, expected in (
            (DatabaseError("database disk image is malformed"), "restore FILE"),
            (OperationalError("database or disk is full"), "free some space"),
            (OperationalError("attempt to write a readonly database"), "Let your account write"),
            (OperationalError("database is locked"), "try again"),
        ):
            with (
                self.subTest(expected),
                patch("driftfield.api.registry.views.s.FigureRow", side_effect=error),
            ):
                status, problem, _ = self.ask("/api/figures/")
                self.assertEqual(status, 503)
                self.assertIn(expected, problem["detail"])

    def test_what_is_not_there_and_who_is_not_meant(self) -> None:
        self.assertEqual(self.ask("/api/nothing/")[0], 404)
        with override_settings(ALLOWED_HOSTS=["127.0.0.1"]):
            self.assertEqual(self.ask("/api/figures/")[0], 400)

    def test_bodies_are_bounded(self) -> None:
        for body, status in (("[" * 100_000, 400), ('{"a": "' + "x" * (5 << 20) + '"}', 413)):
            answer = self.client.post("/api/desk/decisions/", body, content_type="application/json")
            self.assertEqual(answer.status_code, status, answer.content[:200])
