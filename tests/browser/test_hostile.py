"""Texts of others are text: a package whose every name is an attack, on every screen, under the pointer."""

import csv
import io
import sys
import urllib.error
import urllib.request
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import Thread
from uuid import uuid4

from driftfield.api.tests.test_plans import DOCUMENT
from driftfield.desk.actions import decide, remark, save_sieve
from driftfield.desk.models import Choice, Decision, Plan
from driftfield.exchange.tables import tables
from driftfield.exchange.tests.packages import supplied_market, table, whole_market
from driftfield.market.models import Niche

from .base import BrowserCase
from .market import load
from .screens import point_at_charts, screens

ATTACK = (
    "<img src=x onerror=hurt=1>\"'><svg onload=hurt=1>{{hurt=1}}</script><script>hurt=1</script>"
)
BRIEF = "<img src=x onerror=hurt=1>"
# Elements that only an attack can have made.
MADE = "img[src='x'], svg[onload], script:not([src])"


def hostile(files: dict[str, str]) -> dict[str, str]:
    """A package with the attack before every text, ids included."""
    made = {}
    for name, text in files.items():
        rows = list(csv.reader(io.StringIO(text)))
        columns = [tables()[name].column(head) for head in rows[0]]
        longest = [(column and column.longest) or sys.maxsize for column in columns]
        texts = [
            at
            for at, column in enumerate(columns)
            if column is not None
            and column.type == "string"
            # Some take certain words only.
            and not column.choices
            and column.pattern is None
        ]
        for row in rows[1:]:
            for at in texts:
                attack = ATTACK if longest[at] >= len(ATTACK) + len(row[at]) else BRIEF
                row[at] = row[at] and f"{attack}{row[at]}"
        made[name] = table(",".join(rows[0]), *(tuple(row) for row in rows[1:]))
    return made


class Hostile(BrowserCase):
    width, height = 1280, 3000  # Charts are drawn where they are in view.

    def test_no_text_runs_on_any_screen(self) -> None:
        load(hostile(whole_market()))
        for niche in Niche.objects.select_related("market"):
            decide(niche.market.market_id, niche.niche_id, Choice.KEEP, ATTACK)
            remark(niche.market.market_id, niche.niche_id, ATTACK, [ATTACK.split(" ", 1)[0]])
            quote = {**DOCUMENT["quote"], "name": ATTACK, "source": ATTACK}
            document = {**DOCUMENT, "name": ATTACK, "quote": quote, "sold_as": ATTACK}
            Plan.objects.create(
                market_id=niche.market.market_id, niche_id=niche.niche_id, key=uuid4(),
                name=ATTACK[:120], document=document,
            )  # fmt: skip
        save_sieve(ATTACK, [f"terms contain {ATTACK}"])
        page = self.page
        refused: list[str] = []
        self.listen(
            "console", lambda one: refused.append(one.text) if one.type == "error" else None
        )
        self.listen("dialog", lambda one: refused.append(one.message))
        charts = 0
        for address in screens():
            self.go(address)
            self.still()
            # The niche that has everything shows every chart there is.
            if "net+float" not in address and "mf" not in address:
                charts += point_at_charts(page)
            self.assertFalse(page.evaluate("'hurt' in window"), address)
            self.assertEqual(page.locator(MADE).count(), 0, address)
            self.assertEqual((address, refused, self.errors), (address, [], []))
        self.assertGreater(charts, 20)
        self.assertIn(ATTACK, page.content().replace("&lt;", "<").replace("&gt;", ">"))

    def test_no_other_page_can_show_the_application(self) -> None:
        self.expect_error("ERR_BLOCKED_BY_RESPONSE", "frame-ancestors")
        load(supplied_market())
        page = f'<iframe src="{self.live_server_url}/skim"></iframe>'.encode()

        class Other(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                self.send_response(200)
                self.send_header("Content-Type", "text/html")
                self.end_headers()
                self.wfile.write(page)

            def log_message(self, *_: object) -> None:
                """Nothing is told."""

        with ThreadingHTTPServer(("127.0.0.1", 0), Other) as server:
            Thread(target=server.serve_forever, daemon=True).start()
            self.page.goto(f"http://127.0.0.1:{server.server_port}/")
            self.page.wait_for_timeout(500)
            frame = self.page.frames[-1]
            self.assertEqual(frame.locator("#app").count(), 0)
            self.page.locator("iframe").click()
            self.page.keyboard.press("k")
            self.assertFalse(Decision.objects.exists())
            server.shutdown()

    def test_every_answer_says_what_it_may_load(self) -> None:
        for path in ("/", "/api/markets/", "/icon.svg", "/api/nothing/"):
            try:
                answer = urllib.request.urlopen(f"{self.live_server_url}{path}")
            except urllib.error.HTTPError as error:
                answer = error
            with answer:
                self.assertIn("script-src 'self'", answer.headers["Content-Security-Policy"])
                self.assertIn("frame-ancestors 'none'", answer.headers["Content-Security-Policy"])
                self.assertEqual(answer.headers["X-Frame-Options"], "DENY")
                self.assertEqual(answer.headers["X-Content-Type-Options"], "nosniff")
                self.assertEqual(answer.headers["Referrer-Policy"], "no-referrer")
                self.assertIn("camera=()", answer.headers["Permissions-Policy"])
                self.assertEqual(answer.headers["Cross-Origin-Resource-Policy"], "same-origin")
