"""Named lists of terms: kept, totalled without counting a mistyping twice, taken along."""

import csv
import io
import json
import tempfile
from pathlib import Path

from click.testing import CliRunner

from driftfield.cli.main import main
from driftfield.desk.models import WordList
from driftfield.exchange.tests.packages import START, table, weekly

from .loaded import Loaded


def mistyped_market() -> dict[str, str]:
    """A niche whose right form is typed ten times as often as the wrong one, and a term alone."""
    terms = {"copper smoker": 100, "coper smoker": 10, "smoker bellows": 40, "net float": 5}
    owner = dict.fromkeys(terms, "sm") | {"net float": ""}
    return {
        "markets": table("market_id,name,currency", ("north", "North", "GBP")),
        "niches": table("niche_id,name,market_id", ("sm", "Smokers", "north")),
        "terms": table("term,niche_id", *owner.items()),
        "term_weeks": table(
            "term,week,searches",
            *(row for term, many in terms.items() for row in weekly(term, [many] * 110, START)),
        ),
    }


class Lists(Loaded):
    package = staticmethod(mistyped_market)
    databases = frozenset({"default", "work"})

    def save(self, name: str, *terms: str, code: int = 200, **more: object) -> dict:
        body = {"market_id": "north", "name": name, "terms": list(terms), **more}
        return self.post("word-lists/list/", body, code)

    def test_a_mistyping_and_its_right_form_are_counted_once(self) -> None:
        made = self.save("To try", "copper smoker", "coper smoker", "net float", "copper smoker")
        self.assertEqual(
            [row["term"] for row in made["rows"]], ["copper smoker", "coper smoker", "net float"]
        )
        self.assertEqual(made["rows"][1]["misspelt_of"], "copper smoker")
        self.assertEqual(made["rows"][0]["niche_name"], "Smokers")
        self.assertEqual(made["total"]["searches_52w"], 52 * 105)
        self.assertEqual((made["total"]["mistyped"], made["total"]["mistyped_searches"]), (1, 520))
        # Without its right form the mistyping counts.
        alone = self.post("word-lists/total/", {"market_id": "north", "terms": ["coper smoker"]})
        self.assertEqual((alone["searches_52w"], alone["mistyped"]), (520, 0))

    def test_terms_are_added_taken_off_and_nothing_is_lost(self) -> None:
        self.save("To try", "net float")
        self.save("  To   try ", "gone term", "smoker bellows")
        found = self.get("word-lists/list/?market=north&name=To try")
        self.assertEqual([row["known"] for row in found["rows"]], [True, False, True])
        self.assertIsNone(found["rows"][1]["searches_52w"])
        self.assertEqual((found["total"]["terms"], found["total"]["known"]), (3, 2))
        drop = {"market_id": "north", "name": "To try", "terms": ["gone term"]}
        self.assertEqual(self.post("word-lists/drop/", drop)["total"]["terms"], 2)
        self.post("word-lists/drop/", drop, 409)
        self.client.delete("/api/word-lists/list/?market=north&name=To try")
        self.get("word-lists/list/?market=north&name=To try", 404)
        (removed,) = self.client.get("/api/word-lists/?market=north").json()
        self.assertTrue(removed["removed"])
        self.assertEqual(len(self.save("To try")["rows"]), 2)
        for name, terms, said in (
            (" ", ["x"], "blank"),
            ("x" * 121, ["x"], "120"),
            ("None", [], "There is no list"),
        ):
            code = 409 if said.startswith("There") else 400
            self.assertIn(said, json.dumps(self.save(name, *terms, code=code)))

    def test_a_list_is_a_file_in_which_nothing_is_a_formula(self) -> None:
        self.save("To try", "copper smoker", "=cmd|calc")
        answer = self.client.get("/api/word-lists/file/?market=north&name=To try&as=csv")
        rows = list(csv.reader(io.StringIO(answer.content.decode("utf-8-sig"))))
        self.assertEqual((rows[1][0], float(rows[1][1])), ("copper smoker", 5200))
        self.assertTrue(rows[2][0].startswith("'="))

    def test_the_command_keeps_and_writes_lists(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            words = Path(holder) / "words.txt"
            words.write_text("net float\n\nsmoker bellows\n", "utf-8")
            out = Path(holder) / "list.json"

            def run(*arguments: object) -> str:
                done = CliRunner().invoke(main, ["lists", "north", *map(str, arguments)])
                self.assertEqual(done.exit_code, 0, done.output)
                return done.stdout

            told = json.loads(run("Small", "--from", words, "--add", "copper smoker"))
            self.assertEqual((told["terms"], told["searches_52w"]), (3, 52 * 145))
            run("Small", "--out", out)
            self.assertEqual(len(json.loads(out.read_text("utf-8"))["rows"]), 3)
            self.assertEqual(json.loads(run())["name"], "Small")
            run("Small", "--remove")
        self.assertIsNotNone(WordList.objects.get().removed_at)
