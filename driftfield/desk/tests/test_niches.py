"""Niches that the researcher makes and changes: they outlive imports, proposals and undoing."""

import tempfile
from pathlib import Path

import polars as pl
from django.test import TestCase

from driftfield.core.base import CoreError
from driftfield.core.market import NICHE
from driftfield.desk.actions import (
    decide,
    decided_niches,
    make_niche,
    merge_niches,
    move_terms,
    rename_niche,
    take_out,
    take_over,
)
from driftfield.desk.models import Choice
from driftfield.desk.niche_changes import undo_change
from driftfield.desk.shortlist import read_shortlist
from driftfield.exchange.tests.packages import START, small_market, table, weekly, write
from driftfield.intake.actions import export_folder, import_folder, undo_batch
from driftfield.market.models import Market, Niche, Term
from driftfield.readings.actions import (
    analyse_all,
    analyse_market,
    propose,
    proposed_tables,
    stale,
)
from driftfield.readings.columns import columns_of
from driftfield.readings.models import Run


def bring(files: dict[str, str]) -> None:
    with tempfile.TemporaryDirectory() as holder:
        import_folder(write(Path(holder) / "in", **files))


def niche_of() -> dict[str, str]:
    return dict(Term.objects.values_list("term", "niche__niche_id"))


def names() -> dict[str, str]:
    """What the latest analysis calls its niches."""
    columns = columns_of(Run.objects.select_related("market").get(), NICHE)
    return dict(zip(columns.ids, columns.names, strict=True))


def nothing() -> None:
    """There is no file to be kept."""


class Own(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        bring(small_market())
        list(analyse_all())
        cls.market = Market.objects.get()

    def analyse(self) -> None:
        self.assertTrue(stale().exists())
        analyse_market(self.market)
        self.assertFalse(stale().exists())


class Changing(Own):
    def test_a_niche_of_terms_is_analysed_and_undone(self) -> None:
        before = niche_of()
        make_niche(self.market, "Float forcers", ["net float", "terracotta forcer"])
        self.assertEqual(niche_of()["net float"], "float-forcers")
        self.analyse()
        self.assertEqual(
            names(),
            {"rf": "Rhubarb forcers", "mf": "Moon filters", "float-forcers": "Float forcers"},
        )
        undo_change(self.market)
        self.analyse()
        self.assertEqual(niche_of(), before)
        self.assertEqual(set(names()), {"rf", "mf", "net float"})
        with self.assertRaisesRegex(CoreError, "No change of the niches .* is left to undo"):
            undo_change(self.market)
        # Made again it is the same one.
        make_niche(self.market, "Float forcers", ["net float"])
        self.assertEqual(niche_of()["net float"], "float-forcers")

    def test_a_name_alone_needs_no_analysis(self) -> None:
        rename_niche(self.market, "rf", "  Forcing   pots ")
        self.assertFalse(stale().exists())
        self.assertEqual(names()["rf"], "Forcing pots")
        undo_change(self.market)
        self.assertEqual(names()["rf"], "Rhubarb forcers")
        self.assertFalse(stale().exists())

    def test_a_merged_niche_keeps_its_decision_and_says_where_it_went(self) -> None:
        decide("north", "mf", Choice.KEEP, "cheap to post")
        merge_niches(self.market, ["mf", "net float"], "rf")
        self.analyse()
        self.assertEqual(set(names()), {"rf"})
        (gone,) = read_shortlist("north")
        self.assertFalse(gone.present)
        self.assertEqual(
            gone.part_of and (gone.part_of.id, gone.part_of.name), ("rf", "Rhubarb forcers")
        )
        undo_change(self.market)
        self.analyse()
        (back,) = read_shortlist("north")
        self.assertTrue(back.present)
        self.assertEqual((back.part_of, back.reason), (None, "cheap to post"))

    def test_a_term_that_was_decided_on_gives_the_niche_its_id(self) -> None:
        decide("north", "net float", Choice.PARK)
        make_niche(self.market, "Floats", ["moon filter", "net float"])
        self.analyse()
        (parked,) = read_shortlist("north")
        self.assertTrue(parked.present)
        self.assertEqual((parked.id, parked.name), ("net float", "Floats"))
        take_out(self.market, ["net float"])
        self.assertEqual(niche_of()["moon filter"], "net float")
        self.assertEqual(niche_of()["net float"], "term:net float")

    def test_a_single_term_that_gains_others_is_a_niche(self) -> None:
        move_terms(self.market, ["moon filter"], "net float")
        self.assertEqual(niche_of()["moon filter"], "net float")
        with tempfile.TemporaryDirectory() as holder:
            list(export_folder(Path(holder) / "out"))
            terms = pl.read_csv(Path(holder) / "out" / "terms.csv")
        self.assertEqual(
            set(terms.filter(pl.col("niche_id") == "net float")["term"]),
            {"net float", "moon filter"},
        )

    def test_what_cannot_be_changed_is_said_and_changes_nothing(self) -> None:
        for change, said in (
            (lambda: make_niche(self.market, " ", ["net float"]), "A niche has a name"),
            (lambda: make_niche(self.market, "X" * 201, ["net float"]), "up to 200 letters"),
            (lambda: make_niche(self.market, "moon FILTERS", ["net float"]), "There is a niche"),
            (lambda: make_niche(self.market, "X", []), "at least one term"),
            (lambda: make_niche(self.market, "X", ["no such"]), "There is no term “no such”"),
            (lambda: rename_niche(self.market, "none", "X"), "There is no niche “none”"),
            (lambda: rename_niche(self.market, "rf", "Moon filters"), "There is a niche"),
            (lambda: rename_niche(self.market, "rf", "Rhubarb forcers"), "how it is already"),
            (lambda: merge_niches(self.market, ["rf"], "rf"), "Choose another niche"),
            (
                lambda: move_terms(self.market, ["moon filter"], "mf"),
                "are in “Moon filters” already",
            ),
            (lambda: take_over(self.market), "No niches were proposed"),
        ):
            with self.subTest(said), self.assertRaisesRegex(CoreError, said):
                change()
        self.assertFalse(stale().exists())

    def test_of_two_windows_one_undoes(self) -> None:
        seen = rename_niche(self.market, "rf", "Pots")
        rename_niche(self.market, "rf", "Forcing pots")
        with self.assertRaisesRegex(CoreError, "changed since, in another window"):
            undo_change(self.market, seen.pk)


class Imports(Own):
    def test_changes_outlive_a_later_import(self) -> None:
        rename_niche(self.market, "rf", "Forcing pots")
        make_niche(self.market, "Floats", ["net float", "terracotta forcer"])
        held = niche_of()
        files = small_market(weeks=160)
        files["niches"] = files["niches"].replace("Rhubarb forcers", "Rhubarb things")
        files["terms"] = files["terms"].replace("terracotta forcer,rf", "terracotta forcer,mf")
        bring(files)
        self.assertEqual(niche_of(), held)
        self.analyse()
        self.assertEqual(names()["rf"], "Forcing pots")
        # What the files say since is there when the changes are undone.
        undo_change(self.market)
        undo_change(self.market)
        self.assertEqual(niche_of()["terracotta forcer"], "mf")
        self.assertEqual(Niche.objects.get(niche_id="rf").name, "Rhubarb things")

    def test_undoing_an_import_loses_neither_terms_nor_changes(self) -> None:
        more = small_market()
        more["niches"] += table("", ("fl", "Floats", "", "north")).lstrip("\n")
        more["terms"] = more["terms"].replace("net float,,", "net float,fl,")
        bring(more)
        move_terms(self.market, ["moon filter"], "fl")
        undo_batch(nothing)
        # The niche is gone with the import, and the term is back where the files have it.
        self.assertEqual(niche_of()["moon filter"], "mf")
        self.assertEqual(niche_of()["net float"], "net float")
        bring(more)
        self.assertEqual(niche_of()["moon filter"], "fl")

    def test_an_export_brings_the_changes_along(self) -> None:
        rename_niche(self.market, "rf", "Forcing pots")
        merge_niches(self.market, ["mf"], "rf")
        make_niche(self.market, "Floats", ["net float"])
        held = niche_of()
        with tempfile.TemporaryDirectory() as holder:
            list(export_folder(Path(holder) / "out"))
            niches = pl.read_csv(Path(holder) / "out" / "niches.csv")
            self.assertEqual(
                dict(niches.select("niche_id", "name").iter_rows()),
                {"rf": "Forcing pots", "floats": "Floats"},
            )
            import_folder(Path(holder) / "out")
            self.assertEqual(niche_of(), held)
            Market.objects.all().delete()
            import_folder(Path(holder) / "out")
        self.assertEqual(niche_of(), held)


def loose_market() -> dict[str, str]:
    """Terms by week alone: two needs by their words, and a term that is like no other."""
    terms = {"bee smoker": 90, "bee smokers": 140, "copper bee smoker": 30, "canal windlass": 50,
             "steel canal windlass": 20, "bunting": 5}  # fmt: skip
    rows = [row for term, height in terms.items() for row in weekly(term, [height] * 110, START)]
    return {"term_weeks": table("term,week,searches", *rows)}


class Proposals(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        bring(loose_market())
        cls.market = Market.objects.get()
        list(analyse_all())

    def test_a_proposal_changes_nothing_until_it_is_taken_over(self) -> None:
        before = niche_of()
        niches, terms = proposed_tables(propose(self.market))
        self.assertEqual(niche_of(), before)
        self.assertEqual(niches["name"].to_list(), ["Bee smokers", "Canal windlass"])
        self.assertEqual(niches["joining"].to_list(), [3, 2])
        self.assertNotIn("bunting", set(terms["term"]))
        take_over(self.market, ["canal-windlass"], {"canal-windlass": "Lock keys"})
        self.assertEqual(niche_of()["steel canal windlass"], "canal-windlass")
        self.assertEqual(niche_of()["bee smoker"], "bee smoker")
        analyse_market(self.market)
        self.assertEqual(names()["canal-windlass"], "Lock keys")

    def test_what_was_done_by_hand_no_proposal_moves(self) -> None:
        make_niche(self.market, "Smokers for one", ["bee smoker"])
        take_out(self.market, ["steel canal windlass"])
        _, terms = proposed_tables(propose(self.market, anew=True))
        moving = dict(terms.select("term", "niche_id").iter_rows())
        self.assertNotIn("bee smoker", moving)
        self.assertNotIn("steel canal windlass", moving)
        self.assertEqual(moving["bee smokers"], "smokers-for-one")

    def test_a_proposal_of_niches_that_changed_since_is_refused(self) -> None:
        propose(self.market)
        make_niche(self.market, "Mine", ["bunting"])
        with self.assertRaisesRegex(CoreError, "changed since they were proposed"):
            take_over(self.market)

    def test_a_term_that_was_kept_gives_its_group_the_id(self) -> None:
        decide(self.market.market_id, "copper bee smoker", Choice.KEEP, "light")
        propose(self.market, first=decided_niches(self.market.market_id))
        take_over(self.market)
        self.assertEqual(niche_of()["bee smokers"], "copper bee smoker")
        analyse_market(self.market)
        (kept,) = read_shortlist(self.market.market_id)
        self.assertTrue(kept.present)
        self.assertEqual((kept.name, kept.reason), ("Bee smokers", "light"))

    def test_identities_stay_when_all_is_grouped_anew_after_an_import(self) -> None:
        propose(self.market)
        take_over(self.market)
        rename_niche(self.market, "bee-smokers", "Smoke for bees")
        files = loose_market()
        files["term_weeks"] += table(
            "", *(row for row in weekly("galvanised bee smoker", [60] * 110, START))
        ).lstrip("\n")
        bring(files)
        niches, terms = proposed_tables(propose(self.market, anew=True))
        self.assertEqual(
            list(terms.iter_rows()),
            [("galvanised bee smoker", "bee-smokers", "galvanised bee smoker")],
        )
        self.assertEqual(niches["name"].to_list(), ["Smoke for bees"])
        self.assertEqual(niches["new"].to_list(), [False])

    def test_a_niche_that_grew_from_a_term_keeps_its_name_in_a_proposal(self) -> None:
        decide(self.market.market_id, "bee smoker", Choice.KEEP)
        make_niche(self.market, "Smoke for bees", ["bee smoker", "copper bee smoker"])
        niches, terms = proposed_tables(propose(self.market))
        found = dict(niches.select("niche_id", "name").iter_rows())
        self.assertEqual(found["bee smoker"], "Smoke for bees")
        self.assertFalse(niches.filter(pl.col("niche_id") == "bee smoker")["new"][0])
        self.assertEqual(
            dict(terms.select("term", "niche_id").iter_rows())["bee smokers"], "bee smoker"
        )
