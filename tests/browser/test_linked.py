"""A market of figures that were made over parts, on screen."""

import tempfile
from pathlib import Path

from django.test import override_settings
from playwright.sync_api import expect

from driftfield.market.models import Niche
from driftfield.readings.actions import link_figures
from tests.over_parts import make_figures

from .base import BrowserCase


class LinkedScreens(BrowserCase):
    def test_a_niche_is_opened_and_other_kinds_say_that_there_are_none(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        (folder / "data").mkdir()
        self.enterContext(override_settings(DATA_DIR=folder / "data"))
        figures = make_figures(folder)
        link_figures(str(figures))
        page = self.open("/field?c=category+Bed+covers")
        row = page.get_by_role("grid", name="Niches").get_by_role("row").nth(1)
        expect(row).to_contain_text("Rhubarb forcers")
        row.click()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Rhubarb forcers")).to_be_visible()
        expect(page.get_by_text("Forcer l1").first).to_be_visible()
        self.assertEqual(Niche.objects.count(), 1)
        page.get_by_role("link", name="Terms", exact=True).click()
        expect(page.get_by_role("heading", name="has niches alone")).to_be_visible()
        expect(page.get_by_text(str(folder / "set"))).to_be_visible()
        page.get_by_role("link", name="To the Field").click()
        expect(page.get_by_role("grid", name="Niches")).to_be_visible()
        page = self.open("/intake")
        expect(page.get_by_text("figures made over the parts of")).to_be_visible()
