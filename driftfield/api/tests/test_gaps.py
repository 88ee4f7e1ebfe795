"""Whatever a package lacks, each address answers, and unknown is null and never a fault."""

import json
import random
import re
import tempfile
from collections.abc import Iterator
from contextlib import suppress
from itertools import zip_longest
from pathlib import Path

from django.db import transaction
from django.test import TestCase, override_settings

from driftfield.core.base import CoreError
from driftfield.core.market import CATEGORY, NICHE, TERM, figures_of
from driftfield.exchange.tables import tables
from driftfield.exchange.tests.packages import blanked, table, weekly, whole_market, without, write
from driftfield.intake.actions import import_folder
from driftfield.market.models import Market
from driftfield.readings.actions import analyse_all, replay_past

from .addresses import addresses, fixed_addresses, unnamed

Files = dict[str, str]
# Words that a sentence can only hold by accident, where what it tells is not known.
UNTOLD = re.compile(r"\b(nan|inf|None|NaN|Infinity|undefined)\b")
PAIRS = 12  # Random pairs of tables and columns that are lacking together.


def optional() -> list[tuple[str, str]]:
    """Every table that may be lacking, and every column."""
    found = [(name, "") for name in tables()]
    return found + [
        (name, column.name)
        for name, one in tables().items()
        for column in one.columns
        if not column.required
    ]


def lacking(files: Files, *parts: tuple[str, str]) -> Files:
    for name, column in parts:
        if name in files:
            files = without(files, name, column)
    return files


def flat(values: list[float], **more: str) -> Files:
    """A package of one term alone."""
    return {"term_weeks": table("term,week,searches", *weekly("copper rose", values)), **more}


def odd_markets() -> Iterator[tuple[str, Files]]:
    """Packages that are right, and like no market that was thought of."""
    whole = whole_market()
    yield "interest alone", {"interest": whole["interest"]}
    yield "terms alone", {"term_weeks": whole["term_weeks"]}
    yield "prices alone", lacking(
        whole, *(("listing_weeks", c) for c in ("units", "reviews", "offers", "in_stock", "lead_seller_id", "sales_rank"))
    )  # fmt: skip
    facts = ("quality", "weight_g", "return_rate", "price", "reviews", "rating", "launched_on")
    bare = whole
    for fact in facts:
        bare = blanked(bare, "listings", fact, 1)
    yield "listings of which nothing is told", bare
    for fact in facts:
        yield f"every second {fact} unknown", blanked(whole, "listings", fact, 2)
    yield "a term that is always 0", flat([0.0] * 156)
    yield "one week", flat([12.0])
    yield "nothing, then very much", flat([0.0] * 155 + [1e10])
    yield "very much, then nothing", flat([1e10] * 30 + [0.0] * 126)
    yield "hardly anything", flat([0, 0, 0, 0, 1] * 40)
    months = [(f"{2019 + m // 12}-{m % 12 + 1:02}-01", 30 + m % 12) for m in range(80)]
    yield (
        "months",
        {"term_weeks": table("term,week,searches", *(("copper rose", *row) for row in months))},
    )


class Gaps(TestCase):
    """Packages are imported one after the other, each in a transaction that is rolled back."""

    databases = {"default", "work"}  # noqa: RUF012

    def setUp(self) -> None:
        # A fault that another test brought about is none of these markets.
        folder = self.enterContext(tempfile.TemporaryDirectory())
        self.enterContext(override_settings(DATA_DIR=Path(folder)))

    def check(self, name: str, files: Files, *, brief: bool = False, forms: bool = True) -> None:
        with self.subTest(name), transaction.atomic():
            with tempfile.TemporaryDirectory() as folder:
                import_folder(write(Path(folder) / "in", **files))
            list(analyse_all())
            if forms and not brief:
                replay_all()
            for address in addresses(brief=brief, forms=forms):
                self.ask(address)
            transaction.set_rollback(True)

    def ask(self, address: str) -> None:
        response = self.client.get(address)
        body = response.getvalue()
        self.assertLess(response.status_code, 500, (address, body[:500]))
        if response.headers["Content-Type"].endswith("json") and "schema" not in address:
            answer = json.loads(body, parse_constant=lambda word: self.fail(f"{address}: {word}"))
            for text in texts(answer):
                self.assertNotRegex(text, UNTOLD, address)

    def test_no_address_is_forgotten(self) -> None:
        self.assertEqual(unnamed(), set())

    def test_what_is_asked_of_no_market(self) -> None:
        for address in fixed_addresses():
            self.ask(address)

    def test_the_whole_market_has_every_optional_table_and_column(self) -> None:
        whole = whole_market()
        heads = {name: text.split("\n", 1)[0].split(",") for name, text in whole.items()}
        lacks = {
            (name, column) for name, column in optional() if column and column not in heads[name]
        }
        self.assertEqual(lacks, set())
        self.assertEqual(set(tables()), set(whole))

    def test_each_table_may_be_lacking(self) -> None:
        for name in tables():
            # A form is written from columns of any kind, known or not, as the odd markets have them.
            self.check(f"without {name}", lacking(whole_market(), (name, "")), forms=False)

    def test_each_column_may_be_lacking(self) -> None:
        """Of each table one column at a time, of all tables together."""
        columns = [
            [part for part in optional() if part[0] == name and part[1]] for name in tables()
        ]
        for parts in zip_longest(*columns):
            lacks = [part for part in parts if part]
            # Most columns are looked at by the niche that has all of them.
            self.check(f"without {lacks}", lacking(whole_market(), *lacks), brief=True, forms=False)

    def test_pairs_of_them_may_be_lacking_together(self) -> None:
        chance = random.Random(14)
        for _ in range(PAIRS):
            two = chance.sample(optional(), 2)
            # Of a table that is gone no column can be left out.
            two.sort(key=lambda part: part[1] == "")
            self.check(f"without {two}", lacking(whole_market(), *two), brief=True)

    def test_markets_that_nobody_thought_of(self) -> None:
        for name, files in odd_markets():
            self.check(name, files, brief=name.startswith("every"))

    def test_every_figure_can_be_spread_where_hardly_any_is_known(self) -> None:
        with transaction.atomic():
            with tempfile.TemporaryDirectory() as folder:
                import_folder(write(Path(folder) / "in", **flat([0.0, 7.0] * 80)))
            list(analyse_all())
            for figure in figures_of(NICHE):
                self.ask(f"/api/ledger/distribution/?figure={figure.key}")
                self.ask(f"/api/ledger/?sort=-{figure.key}&figures={figure.key}")


def replay_all() -> None:
    """The past of every market and kind of which there is enough; of the others it is told why."""
    for market in Market.objects.all():
        for kind in (NICHE, TERM, CATEGORY):
            with suppress(CoreError):
                replay_past(market, kind, every=26)


def texts(answer: object) -> Iterator[str]:
    """Every text in an answer."""
    if isinstance(answer, str):
        yield answer
    elif isinstance(answer, dict):
        for value in answer.values():
            yield from texts(value)
    elif isinstance(answer, list):
        for value in answer:
            yield from texts(value)
