"""Niches from terms over the interface: proposed as a job, taken over, changed and undone."""

from driftfield.market.models import Market
from driftfield.readings.actions import analyse_all, propose
from driftfield.work.models import Job, Kind

from .addresses import addresses
from .loaded import Loaded


class GroupingOverTheInterface(Loaded):
    databases = frozenset({"default", "work"})

    def change(self, what: str, code: int = 200, **wanted: object) -> dict:
        return self.post(f"grouping/{what}/", {"market_id": "north", **wanted}, code)

    def test_terms_without_a_niche_are_counted(self) -> None:
        found = self.get("grouping/?market=north")
        self.assertEqual((found["terms"], found["alone"], found["by_hand"]), (4, 1, 0))
        self.assertEqual((found["pending"], found["changes"], found["proposal"]), (False, [], None))

    def test_a_niche_is_made_renamed_and_undone(self) -> None:
        made = self.change("make", name="Floats", terms=["net float", "moon filter"])
        self.assertEqual(made["niche"], "floats")
        self.assertEqual(made["change"]["sentence"], "Made “Floats” of 2 terms")
        self.assertEqual(Job.objects.get().kind, Kind.ANALYSE)
        self.assertTrue(self.get("grouping/")["pending"])
        self.change("rename", niche_id="rf", name="Forcing pots")
        told = self.get("grouping/")["changes"]
        self.assertEqual([one["undone_at"] for one in told], [None, None])
        # The one that was seen last is undone, no other.
        self.change("undo", 409, change=made["change"]["id"])
        self.change("undo", change=told[0]["id"])
        self.assertIsNotNone(self.get("grouping/")["changes"][0]["undone_at"])

    def test_moving_merging_and_what_is_refused(self) -> None:
        self.assertEqual(self.change("move", terms=["net float"], niche_id="mf")["niche"], "mf")
        self.assertIsNone(self.change("move", terms=["net float"], niche_id=None)["niche"])
        self.assertEqual(self.get("grouping/")["by_hand"], 1)
        self.assertEqual(self.change("merge", niches=["mf"], into="rf")["niche"], "rf")
        for what, wanted, said in (
            ("make", {"name": "", "terms": ["net float"]}, "may not be blank"),
            ("make", {"name": "X", "terms": []}, "at least 1"),
            ("make", {"name": "X", "terms": "net float"}, "Expected a list"),
            ("move", {"terms": ["net float"]}, "required"),
            ("undo", {"change": "last"}, "integer"),
            ("take-over", {"besides": ["none"]}, "No niches were proposed"),
        ):
            code = 409 if what == "take-over" else 400
            self.assertIn(said, str(self.change(what, code, **wanted)))

    def test_until_the_analysis_every_page_of_what_was_changed_answers(self) -> None:
        for change in (
            lambda: self.change("make", name="Floats", terms=["moon filter", "rhubarb forcer"]),
            lambda: self.change("merge", niches=["net float"], into="rf"),
            lambda: self.change("move", terms=["rhubarb forcer"], niche_id=None),
        ):
            list(map(self.client.get, addresses(brief=False, forms=False)))
            change()
            for address in addresses(brief=False, forms=False):
                self.assertLess(self.client.get(address).status_code, 500, address)
        list(analyse_all(only_stale=True))
        for address in addresses(brief=False, forms=False):
            self.assertLess(self.client.get(address).status_code, 500, address)

    def test_a_proposal_is_a_job_and_is_shown_before_it_holds(self) -> None:
        self.change("propose", 201)
        self.assertEqual(Job.objects.get().kind, Kind.PROPOSE)
        propose(Market.objects.get(), anew=True)
        shown = self.get("grouping/")["proposal"]
        self.assertEqual((shown["anew"], shown["outdated"]), (True, False))
        self.assertTrue(shown["notes"])
        self.change("rename", niche_id="rf", name="Forcing pots")
        self.assertTrue(self.get("grouping/")["proposal"]["outdated"])
