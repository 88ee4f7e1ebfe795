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
from driftfield.exchange.tests.sleepy import peopled_market

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


class ListsOfOthers(Loaded):
    """Lists of listings, brands and sellers: kept apart by kind, pasted in any form, noted and taken along."""

    package = staticmethod(peopled_market)
    databases = frozenset({"default", "work"})

    def save(self, of: str, name: str, code: int = 200, **more: object) -> dict:
        return self.post(
            "word-lists/list/", {"market_id": "north", "of": of, "name": name, **more}, code
        )

    def test_pasted_in_any_form_and_what_is_unknown_is_told(self) -> None:
        made = self.save(
            "listings", "Supplier", pasted="https://quay.example/p/l4\nl1, l99; l6", terms=["l1"]
        )
        self.assertEqual([one["id"] for one in made["things"]], ["l1", "l4", "l6"])
        self.assertEqual((made["unknown"], made["rows"]), (["l99"], []))
        first = made["things"][0]
        self.assertEqual((first["name"], first["sleep_state"]), ("Steel honey strainer", "Asleep"))
        self.assertIsNone(first["carried_listings"])
        whole = sum(one["sales_units_52w"] for one in made["things"])
        self.assertAlmostEqual(made["total"]["units_52w"], whole, 3)
        # Where nothing of it is known, nothing is kept.
        self.save("listings", "Other", 409, pasted="l99 zebra")
        self.get("word-lists/list/?market=north&of=listings&name=Other", 404)

    def test_one_name_for_each_kind(self) -> None:
        for of, one in (("sellers", "wick"), ("brands", "skep"), ("terms", "swarm lure")):
            self.save(of, "Mine", terms=[one])
        self.assertEqual([one["name"] for one in self.get("word-lists/?of=sellers")], ["Mine"])
        self.assertEqual(self.get("word-lists/?of=listings"), [])
        (seller,) = self.get("word-lists/list/?of=sellers&name=Mine")["things"]
        self.assertEqual((seller["name"], seller["carried_listings"]), ("Wick & Daughter", 2))
        self.delete("word-lists/list/?of=sellers&name=Mine")
        self.assertEqual(self.get("word-lists/list/?of=brands&name=Mine")["of"], "brands")
        self.get("word-lists/list/?of=sellers&name=Mine", 404)
        # Brought back with what it held; one that the market has no more stays and is said to be unknown.
        self.assertEqual(self.save("sellers", "Mine")["things"][0]["id"], "wick")
        self.save("sellers", "Mine", terms=["gone"])
        known = self.get("word-lists/list/?of=sellers&name=Mine")["things"]
        self.assertEqual([one["known"] for one in known], [True, False])
        self.post(
            "word-lists/drop/",
            {"market_id": "north", "of": "sellers", "name": "Mine", "terms": ["gone"]},
        )
        self.assertEqual(len(self.get("word-lists/list/?of=sellers&name=Mine")["things"]), 1)
        self.get("word-lists/?of=niches", 400)

    def test_a_note_on_a_list(self) -> None:
        self.save("sellers", "Mine", terms=["wick"])
        self.assertEqual(
            self.save("sellers", "Mine", note=" from the fair ")["note"], "from the fair"
        )
        self.assertEqual(len(self.save("sellers", "Mine", terms=["comb"])["things"]), 2)
        self.assertEqual(self.get("word-lists/list/?of=sellers&name=Mine")["note"], "from the fair")
        self.assertEqual(self.save("sellers", "Mine", note="")["note"], "")
        self.save("sellers", "None", 409, note="of no list")

    def test_as_a_file_and_by_the_command(self) -> None:
        self.save("sellers", "Mine", terms=["wick", "comb"])
        answer = self.client.get("/api/word-lists/file/?of=sellers&name=Mine&as=csv")
        rows = list(csv.reader(io.StringIO(answer.content.decode("utf-8-sig"))))
        self.assertEqual(
            (rows[0][0], [row[0] for row in rows[1:]]), ("Seller id", ["wick", "comb"])
        )
        with tempfile.TemporaryDirectory() as holder:
            ids = Path(holder) / "ids.txt"
            ids.write_text("loft\nhttps://quay.example/shop/s2?x=1, zebra", "utf-8")
            command = [
                "lists",
                "north",
                "Mine",
                "--of",
                "sellers",
                "--from",
                str(ids),
                "--note",
                "new",
            ]
            done = CliRunner().invoke(main, command)
        self.assertEqual(done.exit_code, 0, done.output)
        told = json.loads(done.stdout)
        self.assertEqual([row["id"] for row in told["rows"]], ["wick", "comb", "loft", "s2"])
        self.assertEqual((told["note"], told["known"]), ("new", 4))
        self.assertIn("“zebra” is no seller here", done.stderr)

    def delete(self, path: str) -> None:
        self.assertEqual(self.client.delete(f"/api/{path}").status_code, 204)
