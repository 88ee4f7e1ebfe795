"""The one page: what it announces must be, letter by letter, what the view then asks for."""

import json
import re
import shutil
import tempfile
from pathlib import Path

from django.conf import settings
from django.test import override_settings

from .loaded import Loaded

VIEWS = settings.BASE_DIR / "web/src/app/views.json"


class Page(Loaded):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.build = Path(holder.name)
        (self.build / "index.html").write_text(
            "<html><head><title>D</title></head></html>", "utf-8"
        )
        chunks = {
            "src/screens/dossier/DossierScreen.vue": {
                "file": "assets/dossier.js", "css": ["assets/dossier.css"], "imports": ["_part.js", "_own.js"],
            },
            "_part.js": {"file": "assets/part.js", "imports": ["index.html"]},
            "_own.js": {"file": "assets/own.js", "css": ["assets/own.css"]},
            "index.html": {"file": "assets/index.js", "isEntry": True, "imports": ["_own.js"]},
        }  # fmt: skip
        (self.build / "manifest.json").write_text(json.dumps(chunks), "utf-8")
        shutil.copy(VIEWS, self.build)
        overridden = override_settings(WEB_DIST=self.build)
        overridden.enable()
        self.addCleanup(overridden.disable)

    def announced(self, address: str, when: str = "(?:module)?preload") -> list[str]:
        found = self.client.get(address)
        self.assertEqual((found.status_code, found["Cache-Control"]), (200, "no-cache"))
        links = re.findall(rf'<link rel="{when}"[^>]* href="([^"]+)"', found.content.decode())
        return [link.replace("&amp;", "&") for link in links]

    def test_the_field_announces_its_ledger_unless_more_is_asked(self) -> None:
        ledger = "/api/ledger/?sort=rank&offset=0&limit=100"
        self.assertEqual(self.announced("/field"), ["/api/markets/", "/api/figures/", ledger])
        self.assertNotIn(ledger, self.announced("/field?sort=name"))
        self.assertNotIn(ledger, self.announced("/shortlist"))

    def test_a_dossier_announces_its_first_answers_and_its_parts(self) -> None:
        found = self.announced("/dossier?niche=net+float")
        self.assertIn("/api/niche/?market=north&niche=net%20float", found)
        # What the page names itself, with what that imports, is not named twice.
        self.assertEqual(found[-2:], ["/assets/dossier.js", "/assets/part.js"])
        self.assertEqual(self.announced("/dossier", "stylesheet"), ["/assets/dossier.css"])
        below = self.announced("/dossier?niche=net+float", "later")
        self.assertIn("/api/niche/feedback/?market=north&niche=net%20float", below)
        self.assertEqual(self.announced("/field", "later"), [])
        for address in [*found[:-2], *below]:
            self.assertEqual(self.client.get(address).status_code, 200, address)
        # What comes in the address is text, whatever it looks like.
        odd = self.client.get('/dossier?niche="><script>').content.decode()
        self.assertNotIn('"><script>', odd)

    def test_the_front_page_announces_what_the_field_does(self) -> None:
        self.assertEqual(self.announced("/"), self.announced("/field"))

    def test_a_build_without_its_table_of_views_is_served_all_the_same(self) -> None:
        (self.build / "views.json").unlink()
        self.assertEqual(self.announced("/field"), ["/api/markets/", "/api/figures/"])

    def test_without_a_build_it_says_how_to_make_one(self) -> None:
        (self.build / "index.html").unlink()
        found = self.client.get("/field")
        self.assertEqual(found.status_code, 503)
        self.assertIn("Run bin/demo", found.content.decode())
