"""Figures made over parts, shown in the application: from the tables to the dossier, and away again."""

import json
import shutil
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any, ClassVar
from unittest.mock import patch
from urllib.parse import urlencode

import numpy as np
import polars as pl
from django.apps import apps
from django.test import TransactionTestCase, override_settings

from driftfield.api.almanac import views as almanac
from driftfield.api.ledger import query
from driftfield.api.tests.addresses import addresses
from driftfield.core.base import CoreError
from driftfield.core.market import FIGURES_BY_KEY, NICHE
from driftfield.core.ranking import DEFAULT_LENS
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.tests.packages import table, weekly, write
from driftfield.intake.actions import import_folder, undo_batch
from driftfield.intake.models import Batch
from driftfield.market.models import Listing, Market, Niche, Term, TermCurve
from driftfield.readings import column_files, subjects
from driftfield.readings.actions import (
    analyse_all,
    analyse_market,
    choose_planning,
    choose_settings,
    link_figures,
    overrule,
    propose,
    replay_past,
    stale,
    unlink,
)
from driftfield.readings.columns import RunColumns, columns_of
from driftfield.readings.linked_columns import linked_columns
from driftfield.readings.models import Run

from .over_parts import make_figures, market


class Linked(TransactionTestCase):
    """As it is served: each request reads one moment, and cannot write."""

    databases = {"default", "work"}  # noqa: RUF012
    folder: ClassVar[Path]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        holder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(holder.cleanup)
        cls.folder = Path(holder.name)
        make_figures(cls.folder)
        files = sorted((cls.folder / "figures" / "niches").glob("*/*/*.parquet"))
        cls.figures = pl.concat([pl.read_parquet(one, hive_partitioning=False) for one in files])

    def setUp(self) -> None:
        self.data = Path(tempfile.mkdtemp(dir=self.folder))
        self.enterContext(override_settings(DATA_DIR=self.data))
        self.before = self.rows()
        self.link()

    def link(self, **more: Any) -> list[Run]:
        return link_figures(str(self.folder / "figures"), **more)

    def rows(self) -> dict[str, int]:
        """How many rows each table has, but for what is the researcher's and what is done long."""
        return {
            model._meta.label: model._base_manager.count()
            for name in ("market", "intake", "readings")
            for model in apps.get_app_config(name).get_models()
        }

    def get(self, path: str, status: int = 200, **query: Any) -> Any:
        answer = self.client.get(f"/api/{path}?{urlencode(query, doseq=True)}")
        self.assertEqual(answer.status_code, status, answer.content)
        return answer.json()

    def ids(self, **query: Any) -> list[str]:
        return [row["id"] for row in self.get("ledger/", **query)["rows"]]

    def test_the_ledger_has_the_figures_of_the_run(self) -> None:
        wanted = {row["niche_id"]: row for row in self.figures.rows(named=True)}
        rows = self.get("ledger/")["rows"]
        self.assertEqual({row["id"] for row in rows}, set(wanted))
        self.assertEqual(
            [row["id"] for row in rows[:2]], self.figures.sort("rank")["niche_id"].to_list()[:2]
        )
        for row in rows:
            one = wanted[row["id"]]
            for key in ("searches_52w", "shape", "drift_rate_year", "rank", "headroom", "coverage"):
                self.assertEqual(row[FIGURES_BY_KEY[key].column], one[key], key)
            self.assertEqual(row["season_profile"], one["season_profile"])
        forcer = next(row for row in rows if row["id"] == "rf")
        self.assertEqual(forcer["category"], "Growing › Bed covers")

    def test_every_kind_of_condition_and_a_lens_are_answered(self) -> None:
        whole = self.ids()
        self.assertEqual(self.ids(c="top 1 of 5 reviews < 100"), ["rf"])
        self.assertEqual(self.ids(c="category Bed covers"), ["rf"])
        self.assertEqual(self.ids(c="terms contain forcer"), ["rf"])
        self.assertEqual(
            len(self.ids(c="searches >= 3000")),
            len(self.figures.filter(pl.col("searches_52w") >= 3000)),
        )
        run = Run.objects.get()
        same = RunColumns(run, NICHE).ranking(DEFAULT_LENS)
        assert same is not None
        self.assertEqual(
            same.rank.tolist(), RunColumns(run, NICHE).figure("rank").astype(int).tolist()
        )
        self.assertNotEqual(self.ids(lens="searches=0.9,drift=0.1"), whole)

    def test_a_niche_is_fetched_when_it_is_opened_and_once(self) -> None:
        self.assertEqual((Niche.objects.count(), Listing.objects.count()), (0, 0))
        found = self.get("niche/", niche="rf")
        self.assertEqual(len(found["values"]), 156)
        self.assertEqual((Niche.objects.count(), Listing.objects.count()), (1, 5))
        after = self.rows()
        demand, holders = (
            self.get("niche/demand/", niche="rf"),
            self.get("niche/holders/", niche="rf"),
        )
        self.assertTrue(demand and holders)
        self.assertIn("lid cracks, in frost", str(self.get("niche/feedback/", niche="rf")))
        self.assertEqual(self.rows(), after)
        self.get("niche/", status=404, niche="none")

    def test_what_is_copied_is_nobodys_import(self) -> None:
        self.get("niche/", niche="rf")
        self.assertEqual(Batch.objects.count(), 0)
        self.assertFalse(stale().exists())
        with self.assertRaisesRegex(CoreError, "no import to undo"):
            undo_batch(lambda: None)

    def test_decisions_are_made_without_opening_and_outlive_the_link(self) -> None:
        body = {"market_id": "north", "id": "rf", "choice": "keep"}
        answer = self.client.post("/api/desk/decisions/", body, content_type="application/json")
        self.assertEqual(answer.status_code, 201, answer.content)
        self.assertEqual(self.ids(c="decided keep"), ["rf"])
        self.link()
        self.assertEqual(self.ids(c="decided keep"), ["rf"])

    def test_unlinking_leaves_nothing_behind(self) -> None:
        for niche in ("rf", "mf", "spade 3"):
            if niche in self.figures["niche_id"].to_list():
                self.get("niche/", niche=niche)
        self.assertNotEqual(self.rows(), self.before)
        unlink("north")
        self.assertEqual(self.rows(), self.before)
        self.assertEqual(list((self.data / "linked").iterdir()), [])
        with self.assertRaisesRegex(CoreError, "not linked"):
            unlink("north")

    def test_new_figures_take_the_place_of_the_old_ones(self) -> None:
        self.get("niche/", niche="rf")
        (run,) = self.link()
        self.assertEqual([one.name for one in (self.data / "linked").iterdir()], [run.columns_in])
        self.assertEqual(Market.objects.count(), 1)
        self.assertEqual(Niche.objects.count(), 0)
        self.assertEqual(len(self.get("niche/", niche="rf")["values"]), 156)

    def test_what_would_need_the_tables_is_refused(self) -> None:
        self.get("niche/", niche="rf")
        north, before = Market.objects.get(), self.rows()
        tries: list[Callable[[], object]] = [
            lambda: analyse_market(north), lambda: propose(north), lambda: replay_past(north),
            lambda: choose_planning(north, None, 90), lambda: choose_settings(north, {"drift_rate": 0.1}),
            lambda: overrule(north, "rf", {"lead_days": 30}),
        ]  # fmt: skip
        for one in tries:
            with self.assertRaisesRegex(CoreError, "made over the parts of .*bin/driftfield link"):
                one()
        self.assertEqual(list(analyse_all()), [])
        self.get("tables/", status=409)
        self.assertEqual(self.rows(), before)

    def test_files_of_its_market_are_refused(self) -> None:
        self.get("niche/", niche="rf")
        before = self.rows()
        weeks = table("term,week,searches", *weekly("a new one", [5] * 20))
        for name, files in (("whole", market()), ("new", {"term_weeks": weeks})):
            folder = write(self.data / name, **files)
            with (
                self.subTest(name),
                self.assertRaisesRegex(ExchangeError, "over the parts of a data set"),
            ):
                import_folder(folder)
        self.assertEqual(self.rows(), before)

    def test_another_market_can_be_imported_beside_it_and_undone(self) -> None:
        self.get("niche/", niche="rf")
        files = {
            "markets": table("market_id,name,currency", ("south", "South", "EUR")),
            "niches": table("niche_id,name,market_id", ("nb", "Net bags", "south")),
            "terms": table("term,niche_id", ("net bag", "nb")),
            "term_weeks": table("term,week,searches", *weekly("net bag", [40] * 156)),
        }
        import_folder(write(self.data / "south", **files))
        self.assertEqual([run.market.market_id for run in analyse_all()], ["south"])
        unlink("north")
        self.assertEqual(self.ids(), ["nb"])
        undo_batch(lambda: None)
        self.assertEqual(Term.objects.count(), 0)

    def test_every_market_of_a_data_set_is_linked_from_the_start(self) -> None:
        unlink("north")
        files = market()
        files["markets"] = table(
            "market_id,name,currency", ("north", "North", "GBP"), ("south", "South", "EUR")
        )
        files["niches"] += "sp,Spades,,south\n"
        files["terms"] += "spade 1,sp,\n"
        folder = self.data / "two"
        figures = make_figures(folder, files)
        self.assertEqual(
            {run.market.market_id for run in link_figures(str(figures))}, {"north", "south"}
        )
        weeks = {"niches": table("niche_id,name,market_id", ("new", "New", "south")),
                 "terms": table("term,niche_id", ("a new one", "new")),
                 "term_weeks": table("term,week,searches", *weekly("a new one", [5] * 20))}  # fmt: skip
        with self.assertRaisesRegex(ExchangeError, "market “south” were made over the parts"):
            import_folder(write(self.data / "new", **weeks))
        self.assertEqual(self.get("niche/", niche="sp", market="south")["name"], "Spades")
        unlink("south")
        self.assertEqual(self.rows(), self.before)

    def test_terms_that_two_markets_share_stay_apart(self) -> None:
        shared = Term.objects.filter(term="terracotta forcer")
        files = {
            "markets": table("market_id,name,currency", ("south", "South", "EUR")),
            "niches": table("niche_id,name,market_id", ("sf", "Forcers", "south")),
            "terms": table("term,niche_id", ("terracotta forcer", "sf")),
            "term_weeks": table("term,week,searches", *weekly("terracotta forcer", [40] * 156)),
        }
        import_folder(write(self.data / "south", **files))
        (curve,) = shared.get().curves.filter(measure="searches")
        self.get("niche/", niche="rf", market="north")
        self.assertEqual(shared.count(), 2)
        self.assertEqual(bytes(TermCurve.objects.get(pk=curve.pk).values), bytes(curve.values))
        # Imported again with other figures, it is still the one of its own market.
        other = TermCurve.objects.exclude(pk=curve.pk).filter(
            measure="searches", subject__in=shared
        )
        before = bytes(other.get().values)
        files["term_weeks"] = table("term,week,searches", *weekly("terracotta forcer", [50] * 156))
        import_folder(write(self.data / "again", **files))
        self.assertEqual(bytes(other.get().values), before)
        self.assertNotEqual(bytes(TermCurve.objects.get(pk=curve.pk).values), bytes(curve.values))

    def test_a_market_that_was_imported_is_not_overlaid(self) -> None:
        unlink("north")
        import_folder(self.folder / "package")
        before = self.rows()
        with self.assertRaisesRegex(CoreError, "loaded here from files"):
            self.link()
        self.assertEqual(self.rows(), before)

    def test_a_data_set_out_of_reach_is_named(self) -> None:
        moved = self.folder / "moved"
        (self.folder / "set").rename(moved)
        self.addCleanup(lambda: moved.exists() and moved.rename(self.folder / "set"))
        problem = self.get("niche/", status=409, niche="rf")
        self.assertIn(str(self.folder / "set"), problem["detail"])
        with self.assertRaisesRegex(ExchangeError, "There is no data set"):
            self.link()
        self.assertEqual(len(self.ids()), self.figures.height)
        self.link(data=str(moved))
        self.assertEqual(len(self.get("niche/", niche="rf")["values"]), 156)

    def test_broken_figures_change_nothing(self) -> None:
        broken = self.data / "broken"
        shutil.copytree(self.folder / "figures", broken)
        file = next((broken / "niches").glob("*/*/*.parquet"))
        file.write_bytes(file.read_bytes()[:100])
        before, folders = self.rows(), list((self.data / "linked").iterdir())
        with self.assertRaisesRegex(ExchangeError, "rows.parquet"):
            link_figures(str(broken))
        self.assertEqual((self.rows(), list((self.data / "linked").iterdir())), (before, folders))
        told = json.loads((broken / "result.json").read_bytes())
        for lacks in ("data", "notes", "settings", "as_of"):
            less = {key: value for key, value in told.items() if key != lacks}
            (broken / "result.json").write_text(json.dumps(less))
            with self.assertRaisesRegex(ExchangeError, "result.json"):
                link_figures(str(broken))
        (broken / "result.json").unlink()
        with self.assertRaisesRegex(ExchangeError, "No run over parts ended there"):
            link_figures(str(broken))
        self.assertEqual(len(self.ids()), self.figures.height)

    def test_what_would_be_too_much_at_once_is_refused(self) -> None:
        with patch.object(query, "AT_ONCE", 10), patch.object(almanac, "AT_ONCE", 10):
            for path in (
                "ledger/ids/",
                "ledger/points/",
                "ledger/file/",
                "readings/file/",
                "almanac/",
            ):
                problem = self.get(path, status=409)
                self.assertEqual(problem["title"], "These are too many", path)
            self.assertEqual(self.get("ledger/ids/", c="category Bed covers")["ids"], ["rf"])
            self.assertEqual(self.get("ledger/")["total"], self.figures.height)

    def test_columns_that_are_gone_are_named(self) -> None:
        shutil.rmtree(self.data / "linked")
        self.assertIn("Link them again", self.get("ledger/", status=409)["detail"])

    def test_columns_that_went_while_they_are_read_are_no_fault(self) -> None:
        run = Run.objects.select_related("market").get()
        columns = RunColumns(run, NICHE)
        self.assertEqual(columns.count, self.figures.height)
        opened = linked_columns(run.columns_in, NICHE.key)
        assert opened is not None
        unlink("north")
        with self.assertRaisesRegex(CoreError, "Load the page again"):
            opened.some(["rank"], np.array([0]))
        with self.assertRaisesRegex(CoreError, "Load the page again"):
            dict(opened.whole(["rank"]))

    def test_no_address_fails(self) -> None:
        for niche in self.figures["niche_id"].to_list()[:2]:
            self.get("niche/", niche=niche)
        for address in addresses(brief=True):
            with self.subTest(address):
                self.assertLess(self.client.get(address).status_code, 500)


class Millions(Linked):
    """The same where texts of the subjects stay on disk, as those of millions do."""

    def setUp(self) -> None:
        for module, name, value in (
            (subjects, "MILLIONS", 1), (column_files, "FROM", 1),
            (column_files, "beside_database", lambda: self.data / "columns"),
        ):  # fmt: skip
            patched = patch.object(module, name, value)
            patched.start()
            self.addCleanup(patched.stop)
        super().setUp()

    def test_ids_are_found_among_texts_on_disk(self) -> None:
        columns = columns_of(Run.objects.select_related("market").get(), NICHE)
        ids = list(columns.ids)
        self.assertNotIsInstance(columns.ids, list)
        self.assertEqual(sorted(ids), sorted(self.figures["niche_id"].to_list()))
        self.assertEqual([columns.places[one] for one in ids], list(range(len(ids))))
        self.assertEqual(columns.ids[1:3], ids[1:3])
        for none in ("", "a", "zzz", ids[0] + "x", "\ud800"):
            self.assertNotIn(none, columns.places)
