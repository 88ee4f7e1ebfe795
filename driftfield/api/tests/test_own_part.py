"""Own part over the API: as the command has it, of one niche and of all, and told by the watch."""

import csv
import io
import json
import tempfile
from pathlib import Path

from click.testing import CliRunner
from django.test import TestCase

from driftfield.cli.main import main
from driftfield.desk.actions import analyse_all_and_watch
from driftfield.desk.watch import digest
from driftfield.exchange.tests.packages import write
from driftfield.exchange.tests.selling import GAINS, HOLDS, LOSES, TURNS, selling, selling_in
from driftfield.intake.actions import import_folder
from driftfield.market.models import Market

from .loaded import Loaded


class OwnPart(Loaded):
    package = staticmethod(selling)

    def test_screen_and_command_say_the_same(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **selling())
            told = CliRunner().invoke(main, ["ownpart", str(folder), "--all"])
        rows = [json.loads(line) for line in told.stdout.splitlines() if line.startswith("{")]
        self.assertEqual(len(rows), 3)
        for row in rows:
            found = self.get(f"niche/own/?market=m&niche={row['niche_id']}")
            self.assertEqual(found["sentences"], row["sentences"])
            part = found["part"]
            self.assertEqual(part["headline"], row["headline"])
            for mine, theirs in zip(part["comparisons"], row["comparisons"], strict=True):
                for key, value in mine.items():
                    if isinstance(value, float):
                        self.assertAlmostEqual(value, theirs[key], 6, key)
                    else:
                        self.assertEqual(value, theirs[key], key)
            self.assertEqual(part["curve"], row["curve"])
            if row["lost"] is not None:
                self.assertEqual(
                    {one["listing_id"] for one in part["lost"]["listings"]},
                    {one["listing_id"] for one in row["lost"]["listings"]},
                )

    def test_all_niches_and_the_list_of_them(self) -> None:
        found = self.get("own/part/?market=m")
        self.assertEqual({row["niche_id"] for row in found["rows"]}, {GAINS, LOSES, HOLDS})
        self.assertEqual(found["total"]["niches"], 3)
        self.assertEqual(found["sentence"], found["total"]["sentence"])
        text = self.client.get("/api/own/part/file/", {"market": "m"}).content.decode("utf-8-sig")
        self.assertEqual(len(list(csv.DictReader(io.StringIO(text)))), 3)
        whole = json.loads(
            self.client.get("/api/own/part/file/", {"market": "m", "as": "json"}).content
        )
        self.assertEqual(whole["total"], found["total"])

    def test_it_is_a_figure_like_any_other(self) -> None:
        self.assertEqual(self.names("own.share_change_high <= 0%"), ["Loses"])
        self.assertEqual(self.names("own part = Grew with the market"), ["Holds"])


class Watched(TestCase):
    def test_where_one_sells_is_watched_and_a_share_that_moved_is_told_once(self) -> None:
        for weeks in (TURNS, 156):
            with tempfile.TemporaryDirectory() as folder:
                import_folder(selling_in(Path(folder) / "in", weeks))
            list(analyse_all_and_watch(only_stale=True))
        told = digest(Market.objects.get())
        self.assertEqual(told["watched"]["niches"], 3)
        moved = {
            one["subject"]: one["sentence"]
            for one in told["changes"]
            if one["aspect"] == "own_share"
        }
        self.assertEqual(set(moved), {GAINS, LOSES})
        self.assertIn("Your share of it rose by", moved[GAINS])
        self.assertIn("lost share as the market grew", moved[LOSES])
