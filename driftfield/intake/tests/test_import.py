"""Imports change all or nothing, once, and never a decision."""

import tempfile
from datetime import date
from pathlib import Path

import numpy as np
from django.db import connection
from django.test import TestCase

from driftfield.desk.actions import decide, undo
from driftfield.desk.models import Choice, Decision
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.tests.packages import START, small_market, table, weekly, write
from driftfield.intake.actions import export_folder, import_folder, undo_batch
from driftfield.intake.batch_coverage import coverage_of_batch, revisions_of
from driftfield.intake.models import Batch
from driftfield.market.curves import Packed, merge, pack, unpack
from driftfield.market.models import (
    ClickCurve,
    LeadSeller,
    Listing,
    ListingCurve,
    ListingSalesCurve,
    Market,
    Niche,
    Term,
    TermCurve,
    Voice,
)
from driftfield.readings.actions import analyse_all
from driftfield.readings.models import Run
from driftfield.readings.tests.stored import stored


def contents() -> dict[str, list]:
    """Everything the market's tables hold."""
    models = (Market, Niche, Term, Listing, TermCurve, ClickCurve, ListingCurve)
    return {m.__name__: list(m.objects.order_by("pk").values_list()) for m in models}


class Imports(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)

    def load(self, name: str = "in", **files: str) -> Batch:
        return import_folder(write(self.folder / name, **files))

    def curve(self, term: str, measure: str = "searches") -> list[float]:
        found = TermCurve.objects.get(subject__term=term, measure=measure)
        return unpack(bytes(found.values)).tolist()

    def test_a_term_of_two_markets_keeps_its_curves_apart(self) -> None:
        def files(market: str, searches: int) -> dict[str, str]:
            return {
                "markets": table("market_id,name,currency", (market, market.title(), "GBP")),
                "niches": table("niche_id,name,market_id", (f"{market} sieves", "Sieves", market)),
                "terms": table("term,niche_id", ("soil sieve", f"{market} sieves")),
                "term_weeks": table("term,week,searches", *weekly("soil sieve", [searches] * 60)),
            }

        def searches() -> dict[str, float]:
            found = TermCurve.objects.filter(measure="searches").select_related("subject__market")
            return {one.subject.market.market_id: float(unpack(one.values).sum()) for one in found}

        self.load("one", **files("south", 2))
        self.load("two", **files("north", 3))
        self.assertEqual(searches(), {"south": 120, "north": 180})
        # Once more, with its niches and without them: as the file of a week comes.
        self.load("three", **files("south", 4))
        self.assertEqual(searches(), {"south": 240, "north": 180})
        for market, value in (("south", 5), ("north", 6), ("south", 7)):
            before = searches()
            weeks = {"term_weeks": files(market, value)["term_weeks"]}
            import_folder(write(self.folder / f"{market} {value}", **weeks), market=market)
            self.assertEqual(searches(), before | {market: 60 * value})

    def test_weeks_that_come_for_few_of_the_terms_are_noted(self) -> None:
        first = [row for n in range(6) for row in weekly(f"t{n}", [1, 2, 3])]
        self.load(term_weeks=table("term,week,searches", *first))
        few = [row for n in range(2) for row in weekly(f"t{n}", [1, 2, 3, 4, 5])]
        answer = "Market: after 22 Jan 2023 there are figures of 2 of 6 terms only."
        noted = self.load("few", term_weeks=table("term,week,searches", *few)).notes
        self.assertTrue(any(note.startswith(answer) for note in noted), noted)
        most = [row for n in range(1, 6) for row in weekly(f"t{n}", [1, 2, 3, 4, 5, 6])]
        noted = self.load("most", term_weeks=table("term,week,searches", *most)).notes
        self.assertFalse(any("terms only" in note for note in noted), noted)
        # Figures of weeks that were there, and new terms of the same weeks, say nothing of the kind.
        again = [*weekly("t0", [7, 8]), *weekly("new", [1, 2])]
        noted = self.load("again", term_weeks=table("term,week,searches", *again)).notes
        self.assertFalse(any("terms only" in note for note in noted), noted)

    def test_the_same_files_again_change_nothing(self) -> None:
        first = self.load(**small_market())
        self.assertTrue(first.changed)
        before = contents()
        again = self.load(**small_market())
        self.assertFalse(again.changed, again.counts)
        self.assertEqual(contents(), before)
        self.assertEqual(Batch.objects.count(), 1)
        self.assertIn("nothing is new", again.sentence)

    def test_later_weeks_extend_and_revised_weeks_replace(self) -> None:
        self.load(term_weeks=table("term,week,searches", *weekly("a", [1, 2, 3])))
        later = weekly("a", [0, 0, 9, 4, 5])[2:]
        batch = self.load("later", term_weeks=table("term,week,searches", *later))
        self.assertEqual(self.curve("a"), [1, 2, 9, 4, 5])
        self.assertEqual(batch.counts["term_weeks"], {"new": 0, "changed": 1, "unchanged": 0})

    def test_until_when_figures_are_complete_is_known_until_later_ones_come(self) -> None:
        weeks = weekly("a", [5, 6, 7])
        folder = write(self.folder / "in", term_weeks=table("term,week,searches", *weeks))
        (folder / "datapackage.json").write_text('{"created": "2023-01-19T08:00:00"}')
        import_folder(folder)
        until = Market.objects.get().complete_until
        self.assertEqual(until, date(2023, 1, 18))
        # The third week was running; a correction of the first says nothing of that.
        self.load("fix", term_weeks=table("term,week,searches", ("a", "2023-01-02", 4)))
        self.assertEqual(Market.objects.get().complete_until, until)
        self.load("later", term_weeks=table("term,week,searches", ("a", "2023-01-23", 9)))
        self.assertIsNone(Market.objects.get().complete_until)

    def test_a_bad_file_changes_nothing(self) -> None:
        self.load(**small_market())
        before = contents()
        bad = small_market() | {"offers": "seller_id,listing_id,first_seen\ns,nowhere,2024-01-01\n"}
        bad["term_weeks"] += "new term,2023-01-02,5,,\n"
        with self.assertRaises(ExchangeError):
            self.load("bad", **bad)
        self.assertEqual(contents(), before)

    def test_a_failure_in_the_middle_rolls_back(self) -> None:
        months = "term,week,searches\nrhubarb forcer,2023-01-01,3\nzzz,2023-01-01,3\n"
        self.load(**small_market())
        before = contents()
        with self.assertRaisesRegex(
            ExchangeError, "Its figures are by month; those loaded are by week"
        ):
            self.load("months", term_weeks=months)
        self.assertEqual(contents(), before)

    def test_decisions_survive_re_import_renaming_and_rebuilding(self) -> None:
        self.load(**small_market())
        list(analyse_all())
        decide("north", "rf", Choice.KEEP, "looks good")
        renamed = small_market(160)
        renamed["niches"] = renamed["niches"].replace("Rhubarb forcers", "Forcing jars")
        self.load("renamed", **renamed)
        list(analyse_all())
        kept = Decision.objects.get(current=True)
        self.assertEqual((kept.subject, kept.choice, kept.reason), ("rf", "keep", "looks good"))
        self.assertEqual(Niche.objects.get(niche_id="rf").name, "Forcing jars")

    def test_attributes_parents_and_lead_offers_are_kept(self) -> None:
        self.load(**small_market())
        self.assertEqual(Listing.objects.get(listing_id="l1").attributes, {"colour": "red"})
        self.assertEqual(Niche.objects.get(niche_id="rf").category.parent.name, "Growing")
        lead = ListingCurve.objects.get(measure="lead_seller")
        held = [LeadSeller.objects.get(pk=v).seller_id for v in unpack(bytes(lead.values))]
        self.assertEqual(held, ["s1", "s2"])

    def test_curves_are_packed_one_row_each(self) -> None:
        self.load(**small_market())
        searches = TermCurve.objects.filter(measure="searches")
        self.assertEqual(searches.count(), 4)
        self.assertEqual(len(bytes(searches[0].values)), 156 * 4)
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA foreign_key_check")
            self.assertEqual(cursor.fetchall(), [])

    def test_round_trip_changes_nothing(self) -> None:
        self.load(**small_market())
        out = self.folder / "out"
        lines = list(export_folder(out))
        self.assertTrue(any(line.startswith("term_weeks.csv: 624 lines") for line in lines))
        again = import_folder(out)
        self.assertFalse(again.changed, again.counts)

    def test_analysis_equals_the_command_line(self) -> None:
        from driftfield.core.market import compute_figures
        from driftfield.exchange.market_data import assemble
        from driftfield.exchange.reader import read_package

        self.load(**small_market())
        list(analyse_all())
        (market,), _ = assemble(read_package(self.folder / "in"))
        figures = compute_figures(market.data)
        for i, niche in enumerate(market.data.subjects):
            found = stored(niche)
            self.assertEqual(found["shape"], figures["shape"][i])
            self.assertEqual(found["rank"], figures["rank"][i])
            self.assertAlmostEqual(found["growth_13w.raw"], figures["growth_13w.raw"][i], 5)
            np.testing.assert_allclose(
                found["season_profile"], figures["season_profile"][i], atol=1e-4
            )
        self.assertEqual(Run.objects.get().settings["lead_days"], 77)


class Packing(TestCase):
    def test_absent_ends_are_trimmed_and_gaps_stay(self) -> None:
        packed = pack(np.array([np.nan, 1, np.nan, 3, np.nan]), 10)
        assert packed is not None
        self.assertEqual(packed.first, 11)
        np.testing.assert_array_equal(unpack(packed.values), [1, np.nan, 3])
        self.assertIsNone(pack(np.full(3, np.nan), 0))

    def test_merge_joins_runs_and_prefers_the_new(self) -> None:
        def of(first: int, *values: float) -> Packed:
            return Packed(first, np.array(values, "<f4").tobytes())

        both = merge(of(5, 1, 2, 3), of(2, 9, np.nan, np.nan, np.nan, 8))
        self.assertEqual(both.first, 2)
        np.testing.assert_array_equal(unpack(both.values), [9, np.nan, np.nan, 1, 8, 3])


class Undo(TestCase):
    def test_walks_back_through_decisions(self) -> None:
        market = Market.objects.create(market_id="m", name="M")
        Niche.objects.create(market=market, niche_id="n", name="N")
        for choice in (Choice.KEEP, Choice.PASS):
            decide("m", "n", choice)
        self.assertEqual(undo()[0].choice, "pass")
        self.assertEqual(Decision.objects.get(current=True).choice, "keep")
        self.assertEqual(undo()[0].choice, "keep")
        self.assertFalse(Decision.objects.filter(current=True).exists())
        self.assertEqual(Decision.objects.count(), 2)
        with self.assertRaisesRegex(ValueError, "no decision to undo"):
            undo()


assert START.weekday() == 0


class OwnSales(TestCase):
    """Own sales of niches and of listings lie in one table and are kept apart."""

    def test_they_come_in_are_revised_go_out_and_are_undone(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = Path(holder)
            rows = [
                ("rf", "", "2025-01-06", 7),
                ("", "l1", "2025-01-06", 4),
                ("", "l9", "2025-01-13", 1),
            ]
            head = "niche_id,listing_id,week,units"
            files = {**small_market(), "own_sales": table(head, *rows)}
            del files["listings"]  # A listing that nobody described is known by its sales.
            batch = import_folder(write(folder / "in", **files))
            self.assertEqual(batch.counts["own_sales"]["new"], 3)
            tables = {one.what for one in coverage_of_batch(batch) if one.table == "own_sales"}
            self.assertEqual(tables, {"niches", "listings"})
            again = table(head, ("", "l1", "2025-01-06", 5), ("", "l1", "2025-01-13", 2))
            later = import_folder(
                write(folder / "more", term_weeks=files["term_weeks"], own_sales=again)
            )
            (revised,) = revisions_of(later)
            self.assertEqual((revised.subject, revised.before, revised.now), ("l1", 4, 5))
            list(export_folder(folder / "out"))
            out = (folder / "out" / "own_sales.csv").read_text().splitlines()
            self.assertEqual(out[0], "niche_id,listing_id,week,units")
            self.assertEqual(
                sorted(out[1:]),
                [
                    ",l1,2025-01-06,5.0",
                    ",l1,2025-01-13,2.0",
                    ",l9,2025-01-13,1.0",
                    "rf,,2025-01-06,7.0",
                ],
            )
            undo_batch(lambda: None)
            units = ListingSalesCurve.objects.get(subject__listing_id="l1", measure="units")
            self.assertEqual(unpack(bytes(units.values)).tolist(), [4])
            undo_batch(lambda: None)
            self.assertFalse(ListingSalesCurve.objects.exists() or Listing.objects.exists())


class Voices(TestCase):
    """What buyers wrote is kept without what tells who they are, revised, exported and undone."""

    def test_they_come_in_blanked_and_go_out(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = Path(holder)
            head = "voice_id,kind,text,rating,listing_id"
            rows = [
                ("a", "review", "Lid cracked. Mail me: jo@example.org", 2, "l1"),
                ("b", "return", "Too small", "", ""),
            ]
            batch = import_folder(write(folder / "in", **small_market(), voices=table(head, *rows)))
            self.assertEqual(batch.counts["voices"]["new"], 2)
            kept = Voice.objects.get(voice_id="a")
            self.assertEqual(
                (kept.text, kept.listing.listing_id), ("Lid cracked. Mail me: […]", "l1")
            )
            again = [("a", "review", "Lid cracked twice", 1, "l1")]
            later = import_folder(
                write(
                    folder / "more",
                    term_weeks=small_market()["term_weeks"],
                    voices=table(head, *again),
                )
            )
            self.assertEqual(later.counts["voices"], {"new": 0, "changed": 1, "unchanged": 0})
            list(export_folder(folder / "out"))
            out = (folder / "out" / "voices.csv").read_text()
            self.assertIn("Lid cracked twice", out)
            self.assertNotIn("example.org", out)
            undo_batch(lambda: None)
            self.assertEqual(Voice.objects.get(voice_id="a").text, "Lid cracked. Mail me: […]")
            undo_batch(lambda: None)
            self.assertFalse(Voice.objects.exists())
