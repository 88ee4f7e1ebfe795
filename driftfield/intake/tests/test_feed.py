"""Pulling a market from a feed that fails in every way it can."""

import tempfile
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np
from django.test import TestCase, override_settings

from driftfield.core.base import CoreError, Period
from driftfield.exchange.tests.packages import small_market, table, weekly, write
from driftfield.feed.errors import FeedError
from driftfield.feedsim.tests.simulated import clock, free_port, simulated
from driftfield.feedsim.world import World, build
from driftfield.intake.actions import import_folder, pull_feed, undo_batch
from driftfield.intake.batch_coverage import coverage_of_batch, revisions_of
from driftfield.intake.models import Batch, FeedState
from driftfield.market.curves import unpack
from driftfield.market.models import Market, TermCurve

FURTHER, SEED = 6, 5


def truth(world: World, now: int | None = None) -> dict[tuple[str, str], dict[int, float]]:
    """By term and measure the figure of each week, as the feed has told it last."""
    found: dict[tuple[str, str], dict[int, float]] = {}
    for market in world.markets.values():
        log = market.log
        for place in range(len(log.term) if now is None else market.known(now)):
            term = market.terms[log.term[place]]["term"]
            for measure, value in zip(
                ("searches", "clicks", "purchases"), log.figures[place], strict=True
            ):
                if not np.isnan(value):
                    found.setdefault((term, measure), {})[int(log.week[place])] = float(value)
    return found


def stored() -> dict[tuple[str, str], dict[int, float]]:
    """The same, as the database has it."""
    rows = TermCurve.objects.values_list("subject__term", "measure", "first", "values")
    return {
        (term, measure): {first + i: float(v) for i, v in enumerate(unpack(bytes(values))) if not np.isnan(v)}
        for term, measure, first, values in rows
    }  # fmt: skip


class Feed(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)
        # Terms enough for many pages.
        files = small_market(80)
        rng = np.random.default_rng(1)
        more = [row for n in range(30) for row in weekly(f"term {n}", rng.poisson(50, 80))]
        files["term_weeks"] += "".join(f"{t},{w},{v},{v // 2},\n" for t, w, v in more)
        self.package = write(self.folder / "package", **files)
        self.world = build(self.package, further=FURTHER, seed=SEED)

    def pull(self, address: str, **options: Any) -> list[Batch]:
        values = {
            "DATA_DIR": self.folder / "data", "FEED_URL": address, "FEED_FIRST_WAIT": 0.01,
            "FEED_TIMEOUT": 0.8, "FEED_PATIENCE": 600.0, **options,
        }  # fmt: skip
        with override_settings(**values), patch("driftfield.feed.client.LIMIT", 200):
            return list(pull_feed())

    def simulated(self, **options: Any) -> Any:
        return simulated(self.package, further=FURTHER, seed=SEED, **options)

    def test_at_its_worst_it_ends_complete_and_identical_to_the_truth(self) -> None:
        with self.simulated(faults="worst", told=10, delay=1.2, wait=0.05) as address:
            (first,) = self.pull(address)
            until = Period.WEEK.number(clock(address))
            self.assertEqual(stored(), truth(self.world, until))
            for weeks in (1, 3, 40):
                clock(address, forward=weeks)
                batches = self.pull(address)
            self.assertEqual(stored(), truth(self.world))
            self.assertEqual([b.changed for b in batches], [True])
            # Once more changes nothing.
            count = Batch.objects.count()
            self.assertEqual([b.changed for b in self.pull(address)], [False])
        self.assertEqual(Batch.objects.count(), count)
        # Nothing of what was told in between is left, and what went wrong is said.
        notes = " ".join(note for batch in Batch.objects.all() for note in batch.notes)
        for word in (
            "status 429",
            "status 500",
            "status 503",
            "broken off",
            "no answer in time",
            "token ended",
        ):
            self.assertIn(word, notes)
        self.assertIn("The feed also tells page_one_views, which is not used.", first.notes)
        self.assertEqual(
            set(Market.objects.values_list("market_id", "name")), {("north", "Harrow Quay North")}
        )

    def test_a_pull_that_is_cut_off_goes_on_where_it_was(self) -> None:
        class CutOffError(Exception):
            pass

        asked: list[str] = []

        def after(pages: int) -> Any:
            from driftfield.feed import pull as module

            keep = module._keep

            def keep_some(page: Any, state: Any, folder: Path) -> None:
                asked.append(state.cursor or "first")
                keep(page, state, folder)
                if len(asked) == pages:
                    # As a program that ends in the middle of the next page leaves it.
                    with (folder / module.CHANGES).open("ab") as out:
                        out.write(b'{"term": "half')
                    raise CutOffError

            return patch.object(module, "_keep", keep_some)

        with self.simulated(faults="none", told=0) as address:
            with after(5), self.assertRaises(CutOffError):
                self.pull(address)
            self.assertFalse(Batch.objects.exists() or TermCurve.objects.exists())
            with after(10_000):
                self.pull(address)
            until = Period.WEEK.number(clock(address))
        self.assertEqual(stored(), truth(self.world, until))
        self.assertEqual(len(asked), len(set(asked)), "no page was asked for twice")

    def test_what_is_loaded_already_is_only_asked_for_as_far_as_it_may_have_changed(self) -> None:
        import_folder(self.package)
        before = stored()
        with self.simulated(faults="none", told=0) as address:
            clock(address, forward=2)
            (batch,) = self.pull(address)
        after = stored()
        last = max(before["moon filter", "searches"])
        self.assertEqual(set(after["moon filter", "searches"]) - set(before["moon filter", "searches"]), {last + 1, last + 2})  # fmt: skip
        self.assertEqual(batch.counts["terms"]["new"], 0)

    def test_what_is_taken_back_is_told_again(self) -> None:
        with self.simulated(faults="none", told=3) as address:
            self.pull(address)
            kept = stored()
            clock(address, forward=2)
            self.pull(address)
            both = stored()
            undo_batch(lambda: None)
            self.assertEqual(stored(), kept)
            self.pull(address)
        self.assertEqual(stored(), both)

    def test_revisions_are_recorded(self) -> None:
        with self.simulated(faults="none", told=6) as address:
            self.pull(address)
            was = stored()
            clock(address, forward=3)
            (batch,) = self.pull(address)
        now = stored()
        revised = {
            (*row, Period.WEEK.start(week), value, now[row][week])
            for row, weeks in was.items()
            for week, value in weeks.items()
            if now[row][week] != value
        }
        self.assertGreater(len(revised), 5)
        found = [(r.subject, r.measure, r.start, r.before, r.now) for r in revisions_of(batch)]
        self.assertEqual((len(found), set(found)), (len(revised), revised))
        (coverage,) = coverage_of_batch(batch)
        self.assertEqual(coverage.revised, len({r[:2] for r in revised if r[1] == "searches"}))

    def test_feeds_that_cannot_be_used_are_refused_with_the_reason(self) -> None:
        nobody = f"http://127.0.0.1:{free_port()}"
        for expected, options in (
            ("No feed is set", {"FEED_URL": ""}),
            ("is no address of a feed", {"FEED_URL": "ftp://127.0.0.1"}),
            ("is not this machine", {"FEED_URL": "http://192.0.2.1:8765"}),
            ("gave no good answer", {"FEED_URL": nobody, "FEED_PATIENCE": 0.1}),
        ):
            with self.subTest(expected), self.assertRaisesRegex(FeedError, expected):
                self.pull(options.pop("FEED_URL"), **options)
        refused = self.assertRaisesRegex(CoreError, "refused the sign-in")
        with self.simulated(faults="none") as address, refused:
            self.pull(address, FEED_SECRET="another")
        self.assertFalse(Market.objects.exists() or FeedState.objects.exclude(position="").exists())

    def test_the_simulation_is_the_same_each_time_and_needs_weeks(self) -> None:
        one, two = (build(self.package, further=2, seed=9) for _ in range(2))
        self.assertEqual(truth(one), truth(two))
        months = table("term,week,searches", ("a", "2023-01-01", 1), ("a", "2023-02-01", 2))
        folder = write(self.folder / "months", term_weeks=months)
        with self.assertRaisesRegex(CoreError, "no figures by week"):
            build(folder, further=0, seed=1)
