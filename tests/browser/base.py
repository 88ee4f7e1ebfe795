"""A browser on a live server: Debian's chromium, a fresh profile, no traffic of its own."""

import atexit
import os
import re
from collections.abc import Callable
from contextlib import suppress
from functools import cache
from typing import Any, ClassVar

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.exceptions import ObjectDoesNotExist
from django.test import tag
from playwright.sync_api import (
    Browser,
    BrowserContext,
    ConsoleMessage,
    Locator,
    Page,
    Request,
    Route,
    expect,
    sync_playwright,
)

ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-sync",
    "--disable-background-networking", "--disable-component-update",
]  # fmt: skip

# One who has seen the introduction is not shown it again.
INTRODUCED = """try {
  localStorage.getItem("driftfield.introduced") ?? localStorage.setItem("driftfield.introduced", "true");
} catch {} // a page of nobody's, such as about:blank, has no storage"""

# A page draws what lies below the window when it has time, which on a busy machine is seconds later.
PATIENCE = 60_000
expect.set_options(timeout=PATIENCE)


@cache
def browser() -> Browser:
    """The one browser of the process."""
    # Playwright keeps an event loop in this thread, which Django would take for async code.
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
    playwright = sync_playwright().start()
    made = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
    atexit.register(playwright.stop)
    atexit.register(made.close)
    return made


def fresh_context(**options: Any) -> BrowserContext:
    """A profile of its own, that of one who has seen the introduction, as patient as all tests."""
    made = browser().new_context(**options)
    made.add_init_script(INTRODUCED)
    made.set_default_timeout(PATIENCE)
    return made


def forget(page: Page) -> None:
    """Leave nothing of a test in the page that the next one would find."""
    page.unroute_all(behavior="ignoreErrors")
    if page.url.startswith("http"):
        page.evaluate("localStorage.clear(), sessionStorage.clear()")
    page.goto("about:blank")
    page.context.clear_cookies()
    page.context.clear_permissions()


class Interception:
    """What is asked for at some addresses: let through, unless it is said what to do with it.

    It lies over a page from the start: one that is loaded may still send requests past a new route, and with the
    last of ``times`` requests of a route those that are on their way are neither answered nor refused.
    """

    def __init__(self, page: Page, pattern: str | re.Pattern[str]) -> None:
        if page.url != "about:blank":
            raise ValueError(
                "A page that is loaded may send requests past a new route: say it before."
            )
        self._next: Callable[[Route], object] | None = None
        self._every: Callable[[Route], object] | None = None
        page.route(pattern, self._take)

    def once(self, do: Callable[[Route], object]) -> None:
        """The next request, and no other."""
        self._next = do

    def every(self, do: Callable[[Route], object] | None) -> None:
        """All requests from now on; ``None`` lets them through again."""
        self._every = do

    def _take(self, route: Route) -> None:
        do, self._next = self._next or self._every or Route.continue_, None
        do(route)


@tag("browser")
class BrowserCase(StaticLiveServerTestCase):
    """Each test finds the page as new; errors on the console and failed requests fail it.

    A test that means to have one says which with ``expect_error``.
    """

    databases = frozenset({"default", "work"})
    width, height = 1280, 800
    page: ClassVar[Page]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        # A window takes longer to open than most tests take, so those of a class share one.
        context = fresh_context()
        cls.addClassCleanup(context.close)
        cls.page = context.new_page()

    def setUp(self) -> None:
        self.page.set_default_timeout(PATIENCE)
        self.page.set_viewport_size({"width": self.width, "height": self.height})
        self.page.emulate_media(color_scheme="light", media="screen")
        self.addCleanup(forget, self.page)
        self.asked: set[Request] = set()
        self.errors: list[str] = []
        self.meant: list[str] = []
        self.listen("request", lambda one: self.asked.add(one))
        self.listen("requestfinished", lambda one: self.asked.discard(one))
        self.listen("requestfailed", self._failed)
        self.listen("pageerror", lambda error: self.errors.append(str(error)))
        self.listen("console", self._console)
        self.addCleanup(self.check_errors)
        # What is on its way to the server would be done there in the middle of the next test.
        self.addCleanup(self.settle)

    def listen(self, event: str, do: Callable[[Any], object]) -> None:
        """Hear of what happens in the page, until the test ends."""
        self.page.on(event, do)  # type: ignore[call-overload]
        self.addCleanup(self.page.remove_listener, event, do)

    def intercept(self, pattern: str | re.Pattern[str]) -> Interception:
        """Requests that the test means to hold, refuse or answer itself; before the page is opened."""
        return Interception(self.page, pattern)

    def expect_error(self, *patterns: str) -> None:
        """Errors that the test brings about, as regular expressions of what is said of them."""
        self.meant += patterns

    def check_errors(self) -> None:
        """Every error that nobody meant."""
        found = [one for one in self.errors if not any(re.search(p, one) for p in self.meant)]
        self.assertEqual(found, [])

    def _failed(self, request: Request) -> None:
        self.asked.discard(request)
        # A page that is left, or an answer that is not wanted any more, ends its requests itself.
        if request.failure and "ERR_ABORTED" not in request.failure:
            self.errors.append(f"{request.url}: {request.failure}")

    def _console(self, message: ConsoleMessage) -> None:
        if message.type == "error":
            where = message.location.get("url", "")
            self.errors.append(f"{message.text} {where}".strip())

    def choose(self, where: Page | Locator, label: str, option: str) -> None:
        """One of the options of a field that is opened by a click."""
        # What is chosen stands over the input, so the click lands on that.
        where.get_by_role("combobox", name=label, exact=True).click(force=True)
        self.page.get_by_role("option", name=option, exact=True).click()

    def expect_soon(self, read: Callable[[], object], wanted: object) -> None:
        """What the database, or the browser, comes to hold: the page shows a change before it is made."""
        for _ in range(PATIENCE // 50):
            with suppress(ObjectDoesNotExist):
                if read() == wanted:
                    return
            self.page.wait_for_timeout(50)
        self.assertEqual(read(), wanted)

    def settle(self) -> None:
        """Wait, not for ever, until the server has answered all that writes."""
        for _ in range(100):
            if not any(one.method != "GET" for one in self.asked):
                return
            self.page.wait_for_timeout(50)

    def still(self) -> None:
        """Wait until the page has had no question out for a while, which ``networkidle`` waits half a second for."""
        quiet = 0
        for _ in range(PATIENCE // 25):
            quiet = 0 if self.asked else quiet + 1
            if quiet > 4:
                return
            self.page.wait_for_timeout(25)
        self.fail(f"No answer yet: {[one.url for one in self.asked]}")

    def open(self, path: str = "/") -> Page:
        self.page.goto(f"{self.live_server_url}{path}")
        return self.page

    def go(self, path: str) -> Page:
        """To another screen as a link leads there, without loading a page anew that is there already."""
        if self.page.url == "about:blank":
            return self.open(path)
        self.page.evaluate(
            """async (path) => {
              history.pushState(null, "", path);
              dispatchEvent(new PopStateEvent("popstate"));
              // The router notes its state when the screen has changed; a frame later it is drawn.
              const frame = () => new Promise(requestAnimationFrame);
              for (let i = 0; i < 1200 && history.state === null; i++) await frame();
              await frame();
              await frame();
            }""",
            path,
        )
        return self.page
