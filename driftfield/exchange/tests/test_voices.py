"""Themes on files: which texts are about a niche, copies, languages, and the command."""

import json
import re
import tempfile
from datetime import date
from pathlib import Path
from unittest import TestCase

from click.testing import CliRunner, Result

from driftfield.cli.main import main
from driftfield.core.voices.tests.made import BELLS, STOVES, made
from driftfield.exchange.reader import read_package

from .packages import small_market, table, write

HEAD = "voice_id,kind,text,rating,day,listing_id,niche_id,term"


def market(many: int = 900) -> dict[str, str]:
    """The small market with texts about bells, by their listings or by the niche, and about stoves, by a term."""
    bells, stoves = made(BELLS, many, 5), made(STOVES, many, 6)
    rows: list[tuple] = []
    for at, (text, stars, day) in enumerate(zip(bells.texts, bells.rating, bells.day, strict=True)):
        where = ("l1", "") if at % 3 == 0 else ("l2", "") if at % 3 == 1 else ("", "rf")
        rows.append((f"b{at}", "review", text, int(stars), date.fromordinal(int(day)), *where, ""))
    for at, (text, stars) in enumerate(zip(stoves.texts, stoves.rating, strict=True)):
        rows.append((f"s{at}", "comment", text, int(stars), "", "", "", "moon filter"))
    rows += [
        (f"c{at}", "review", f"{bells.texts[0].upper()}!!", 1, "", "l1", "", "") for at in range(7)
    ]
    rows.append(("q", "question", "Does the lid crack? Ring 020 7946 0958", "", "", "l1", "", ""))
    return small_market() | {"voices": table(HEAD, *rows)}


class Command(TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        holder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(holder.cleanup)
        cls.folder = write(Path(holder.name) / "in", **market())

    def run_it(self, *words: str) -> Result:
        return CliRunner().invoke(main, ["voices", str(self.folder), *words])

    def test_niche_by_niche_most_said_first(self) -> None:
        done = self.run_it()
        self.assertEqual(done.exit_code, 0, done.output)
        rows = [json.loads(line) for line in done.stdout.splitlines()]
        self.assertEqual({row["niche_id"] for row in rows}, {"rf", "mf"})
        bells = [row for row in rows if row["niche_id"] == "rf"]
        lid = next(row for row in bells if row["tone"] == "complaint" and "lid" in row["theme"])
        self.assertEqual(
            sorted(row["texts"] for row in bells), [row["texts"] for row in bells][::-1]
        )
        self.assertTrue(lid["low"] <= lid["share"] <= lid["high"])
        self.assertEqual((lid["grown"], lid["listings"]), ("more", 2))
        self.assertLess(lid["stars"], 0)
        self.assertEqual(len(lid["sentences"]), 5)
        self.assertEqual(len({one.lower() for one in lid["sentences"]}), 5)
        # What is written in other capitals and points is the same text, where it is no short one.
        (kept, copies) = (
            int(one.replace(",", ""))
            for one in re.findall(r"of ([\d,]+) texts, and ([\d,]+)", done.stderr)[0]
        )
        self.assertEqual(kept + copies, 1_808)
        self.assertGreaterEqual(copies, 7)

    def test_one_niche_as_a_table(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            out = Path(holder) / "themes.csv"
            done = self.run_it("--niche", "mf", "--out", str(out))
            self.assertEqual(done.exit_code, 0, done.output)
            lines = out.read_text("utf-8-sig").splitlines()
        self.assertIn("written to", done.stderr)
        self.assertTrue(
            lines[0].startswith("niche_id,language,theme,tone,texts,of,share,low,high,stars")
        )
        self.assertTrue(all(line.startswith("mf,english,") for line in lines[1:]))

    def test_what_cannot_be_read_is_said(self) -> None:
        for words, said in (
            (("--niche", "zebra"), "No text is about a niche “zebra”."),
            (("--language", "klingon"), "There is no stemmer for “klingon”."),
        ):
            done = self.run_it(*words)
            self.assertNotEqual(done.exit_code, 0)
            self.assertIn(said, done.stderr)
        one = {
            "voices": table("voice_id,kind,text,language", ("k1", "review", "nuqneH", "klingon"))
        }
        with tempfile.TemporaryDirectory() as holder:
            done = CliRunner().invoke(main, ["voices", str(write(Path(holder) / "in", **one))])
        self.assertIn("There is no stemmer for “klingon”.", done.stderr)
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **small_market())
            done = CliRunner().invoke(main, ["voices", str(folder)])
        self.assertIn("There are no texts: give a voices table", done.stderr)

    def test_who_wrote_it_is_blanked_before_anything_is_read(self) -> None:
        texts = read_package(self.folder).frames["voices"]["text"]
        self.assertIn("Does the lid crack? Ring […]", texts.to_list())

    def test_texts_need_no_other_table(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = Path(holder) / "in"
            write(folder, voices=market()["voices"])
            done = CliRunner().invoke(main, ["voices", str(folder)])
            self.assertEqual(done.exit_code, 0, done.output)
            found = [json.loads(line)["niche_id"] for line in done.stdout.splitlines()]
            # Those that name their niche themselves are read apart from those that do not.
            self.assertEqual(set(found), {None, "rf"})
            write(folder, voices=table("voice_id,kind,text", ("a", "review", "Lid cracked.")))
            alone = CliRunner().invoke(main, ["voices", str(folder)])
        self.assertEqual(alone.stderr, "0 themes of 1 text.\n")

    def test_few_texts_without_ratings_days_or_places(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            few = table(
                "voice_id,kind,text", ("a", "review", "Lid cracked."), ("b", "comment", "!!")
            )
            folder = write(Path(holder) / "in", **{**small_market(), "voices": few})
            done = CliRunner().invoke(main, ["voices", str(folder)])
        self.assertEqual((done.exit_code, done.stdout), (0, ""), done.output)
        self.assertIn("0 themes of 2 texts", done.stderr)

    def test_decisions_of_a_file_are_laid_over_the_themes(self) -> None:
        rows = [json.loads(line) for line in self.run_it("--niche", "rf").stdout.splitlines()]
        lid = next(row for row in rows if row["tone"] == "complaint" and "lid" in row["theme"])
        other = next(row for row in rows if row["tone"] == "complaint" and row is not lid)
        with tempfile.TemporaryDirectory() as holder:
            path = Path(holder) / "mine.jsonl"

            def decided(*lines: dict) -> Result:
                path.write_text("\n".join(json.dumps(line) for line in lines), "utf-8")
                return self.run_it("--niche", "rf", "--decisions", str(path))

            done = decided(
                {"act": "rename", "theme": lid["theme"], "name": "Frost"},
                {"act": "merge", "theme": other["theme"], "into": "Frost"},
                {"act": "own", "name": "mine", "words": ["frost", "cold"], "niche_id": "rf"},
                {"act": "tone", "theme": "mine", "tone": "complaint"},
                {"act": "remedy", "theme": "Frost", "text": "Fire it twice"},
                {"act": "hide", "theme": "mine", "niche_id": "mf"},
            )
            self.assertEqual(done.exit_code, 0, done.output)
            after = {one["theme"]: one for one in map(json.loads, done.stdout.splitlines())}
            self.assertNotIn(other["theme"], after)
            self.assertGreater(after["Frost"]["texts"], lid["texts"])
            self.assertEqual(after["Frost"]["remedy"], "Fire it twice")
            self.assertEqual(after["mine"]["tone"], "complaint")
            for why, line in (
                ("mine.jsonl, line 1: act is rename", {"act": "drop"}),
                ("mine.jsonl, line 1: merge takes theme, into; into is missing", {"act": "merge", "theme": "x"}),
                ("line 1: there is no colour", {"act": "hide", "theme": "x", "colour": "red"}),
                ("line 1: words is a list", {"act": "own", "name": "x", "words": "x"}),
                ("line 1: “of the” has no word", {"act": "own", "name": "x", "words": ["of the"]}),
            ):  # fmt: skip
                with self.subTest(why):
                    refused = decided(line)
                    self.assertEqual((refused.exit_code, refused.stdout), (1, ""))
                    self.assertIn(why, refused.output)

    def test_questions_wishes_and_what_was_not_as_promised(self) -> None:
        rows = [
            ("q1", "question", "Is it frost proof?", "", "l1", 3), ("q2", "question", "frost proof or not", "", "l1", 4),
            ("w1", "review", "I wish it had a spout.", 3, "l1", ""), ("w2", "comment", "A spout would be nice to have", "", "l1", ""),
            ("r1", "return", "Much too small", "", "l1", ""), ("r2", "return", "No longer needed", "", "l2", ""),
        ]  # fmt: skip
        with tempfile.TemporaryDirectory() as holder:
            voices = table("voice_id,kind,text,rating,listing_id,helpful", *rows)
            folder = write(Path(holder) / "in", voices=voices)

            def shown(of: str) -> list[dict]:
                done = CliRunner().invoke(main, ["voices", str(folder), "--of", of])
                self.assertEqual(done.exit_code, 0, done.output)
                return [json.loads(line) for line in done.stdout.splitlines()]

            (asked,) = shown("questions")
            self.assertEqual(
                (asked["name"], asked["texts"], asked["helpful"]), ("frost proof", 2, 7)
            )
            (wish,) = shown("wishes")
            self.assertEqual((wish["name"], wish["texts"], wish["helpful"]), ("spout", 2, None))
            (broken,) = shown("returns")
            self.assertEqual((broken["promise"], broken["notes"], broken["of"]), ("size", 1, 2))
            self.assertTrue(broken["low"] < 0.5 < broken["high"])
