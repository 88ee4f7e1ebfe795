"""The test runner: what holds for all tests, and which of them took longest."""

from __future__ import annotations

import time
import unittest
from typing import Any

from django.test.runner import DiscoverRunner
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


class Runner(DiscoverRunner):
    def setup_test_environment(self, **more: Any) -> None:
        super().setup_test_environment(**more)
        settings.load_profile("busy")

    def get_resultclass(self) -> type[unittest.TextTestResult] | None:
        return super().get_resultclass() or TimedResult

    def suite_result(self, suite: unittest.TestSuite, result: Any, **more: Any) -> int:
        took = sorted(getattr(result, "took", {}).items(), key=lambda one: -one[1])
        for name, seconds in [one for one in took if one[1] >= LONG][:SLOWEST]:
            self.log(f"{seconds:6.1f} s  {name}")
        return super().suite_result(suite, result, **more)
