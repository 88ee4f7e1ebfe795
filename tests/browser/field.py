"""The Field with a small market in it."""

from playwright.sync_api import Locator

from driftfield.exchange.tests.packages import small_market

from .base import BrowserCase
from .market import load


class FieldCase(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(small_market())

    def ledger(self) -> Locator:
        return self.page.get_by_role("grid", name="Ranked niches")

    def row(self, name: str) -> Locator:
        return self.ledger().get_by_role("row").filter(has_text=name)
