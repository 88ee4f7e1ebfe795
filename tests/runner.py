"""The test runner: what holds for all tests, in which order several programs take them, and which took longest."""

from __future__ import annotations

import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.core.servers.basehttp import WSGIRequestHandler
from django.db import connections
from django.test.runner import (
    DiscoverRunner,
    ParallelTestSuite,
    RemoteTestResult,
    RemoteTestRunner,
    iter_test_cases,
)
from hypothesis import HealthCheck, settings

SLOWEST = 12
LONG = 2.0  # Seconds from which a test is named at all.

# A machine that is busy with something else is no fault of the code.
settings.register_profile("busy", deadline=None, suppress_health_check=[HealthCheck.too_slow])


class TimedResult(unittest.TextTestResult):
    """Results with the seconds each test took."""

    def __init__(self, *arguments: Any, **more: Any) -> None:
        super().__init__(*arguments, **more)
        self.took: dict[str, float] = {}
        self.began = 0.0

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802 (unittest's name)
        self.began = time.monotonic()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        self.took[test.id()] = time.monotonic() - self.began
        super().stopTest(test)

    def add_seconds(self, test: unittest.TestCase, seconds: float) -> None:
        """What another program measured, which reports on a whole class at once."""
        self.took[test.id()] = seconds


class Told:
    """A part of a test as it is reported; the part itself holds its test, and with it a whole browser."""

    failureException = unittest.TestCase.failureException

    def __init__(self, part: unittest.TestCase) -> None:
        self.text, self.name = str(part), part.id()

    def __str__(self) -> str:
        return self.text

    def id(self) -> str:
        return self.name

    def shortDescription(self) -> None:  # noqa: N802
        """There is none."""


class TimedRemoteResult(RemoteTestResult):
    """What a program tells of its tests to the one that started it, with the seconds each took."""

    def addSubTest(self, test: unittest.TestCase, subtest: Any, err: Any) -> None:  # noqa: N802
        super().addSubTest(test, Told(subtest), err)

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        self.began = time.monotonic()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        super().stopTest(test)
        self.events.append(("add_seconds", self.test_index, time.monotonic() - self.began))


class TimedRemoteRunner(RemoteTestRunner):
    resultclass = TimedRemoteResult


class LongestFirst(ParallelTestSuite):
    """Classes of tests for several programs, each taking the next when it is done with one.

    What asks a server comes first: a class that takes minutes and comes last would be waited for.
    """

    runner_class = TimedRemoteRunner

    def __init__(self, subsuites: list[unittest.TestSuite], *arguments: Any, **more: Any) -> None:
        super().__init__(sorted(subsuites, key=_turn), *arguments, **more)


def _turn(suite: unittest.TestSuite) -> int:
    tags = getattr(next(iter_test_cases(suite)), "tags", set())
    return next((i for i, tag in enumerate(("contract", "browser")) if tag in tags), 2)


def _whole(connection: Any, clone: Callable[..., None]) -> Callable[..., None]:
    """Copying for a program of its own with all that is written, the write-ahead log included."""

    def clone_whole(*arguments: Any, **more: Any) -> None:
        connection.cursor().execute("PRAGMA wal_checkpoint(TRUNCATE)")
        clone(*arguments, **more)

    return clone_whole


class Runner(DiscoverRunner):
    parallel_test_suite = LongestFirst

    def setup_test_environment(self, **more: Any) -> None:
        super().setup_test_environment(**more)
        settings.load_profile("busy")
        # Django's own server sends an answer in two parts; the second would wait 40 ms for the first to be acknowledged.
        WSGIRequestHandler.disable_nagle_algorithm = True

    def setup_databases(self, **more: Any) -> Any:
        """In files, as when serving: in memory, the threads of a server would share one connection, read what
        another is halfway through writing, and wait for each other's locks.
        """
        self.holder = tempfile.TemporaryDirectory(prefix="driftfield-test-")
        for connection in connections.all():
            folder = Path(self.holder.name)
            connection.settings_dict["TEST"]["NAME"] = str(folder / connection.alias)
            connection.creation._clone_test_db = _whole(
                connection, connection.creation._clone_test_db
            )
        return super().setup_databases(**more)

    def teardown_databases(self, *arguments: Any, **more: Any) -> None:
        super().teardown_databases(*arguments, **more)
        self.holder.cleanup()

    def get_resultclass(self) -> type[unittest.TextTestResult] | None:
        return super().get_resultclass() or TimedResult

    def suite_result(self, suite: unittest.TestSuite, result: Any, **more: Any) -> int:
        took = sorted(getattr(result, "took", {}).items(), key=lambda one: -one[1])
        for name, seconds in [one for one in took if one[1] >= LONG][:SLOWEST]:
            self.log(f"{seconds:6.1f} s  {name}")
        return super().suite_result(suite, result, **more)
