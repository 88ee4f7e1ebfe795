"""A browser on a live server: Debian's chromium, a fresh profile, no traffic of its own."""

import os
import tempfile
from pathlib import Path

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.test import tag
from playwright.sync_api import Page, Request, expect, sync_playwright

ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-sync",
    "--disable-background-networking", "--disable-component-update",
]  # fmt: skip

# A page draws what lies below the window when it has time, which on a busy machine is seconds later.
PATIENCE = 20_000
expect.set_options(timeout=PATIENCE)


@tag("browser")
class BrowserCase(StaticLiveServerTestCase):
    """Each test has a page of its own; errors on the console fail it."""

    databases = frozenset({"default", "work"})
    width, height, scheme = 1280, 800, "light"

    @classmethod
    def setUpClass(cls) -> None:
        # Playwright keeps an event loop in this thread, which Django would take for async code.
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
        super().setUpClass()
        cls.playwright = sync_playwright().start()
        cls.addClassCleanup(cls.playwright.stop)

    def setUp(self) -> None:
        profile = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        self.addCleanup(profile.cleanup)
        context = self.playwright.chromium.launch_persistent_context(
            Path(profile.name),
            executable_path="/usr/bin/chromium",
            args=ARGUMENTS,
            viewport={"width": self.width, "height": self.height},
            color_scheme=self.scheme,
        )
        self.addCleanup(context.close)
        self.page: Page = context.new_page()
        self.page.set_default_timeout(PATIENCE)
        self.asked: set[Request] = set()
        self.page.on("request", lambda one: self.asked.add(one))
        self.page.on("requestfinished", lambda one: self.asked.discard(one))
        self.page.on("requestfailed", lambda one: self.asked.discard(one))
        # What is on its way to the server would be done there in the middle of the next test.
        self.addCleanup(self.settle)
        self.errors: list[str] = []
        self.page.on("pageerror", lambda error: self.errors.append(str(error)))

    def settle(self) -> None:
        """Wait, not for ever, until the server has answered all that writes."""
        for _ in range(100):
            if not any(one.method != "GET" for one in self.asked):
                return
            self.page.wait_for_timeout(50)

    def open(self, path: str = "/") -> Page:
        self.page.goto(f"{self.live_server_url}{path}")
        return self.page
