"""Words for a listing over the interface and by the command."""

import json

from click.testing import CliRunner

from driftfield.cli.main import main
from driftfield.exchange.tests.packages import supplied_market

from .loaded import Loaded


def tagged_market() -> dict[str, str]:
    """The supplied market, with tags on the listing that is clicked most."""
    files = supplied_market()
    head, first, *rest = files["listings"].splitlines()
    untagged = [f"{line}," for line in rest if line]
    files["listings"] = "\n".join([f"{head},tags", f"{first},terracotta bell", *untagged, ""])
    return files


class WordsForAListing(Loaded):
    package = staticmethod(tagged_market)
    databases = frozenset({"default", "work"})

    def words(self, **more: object) -> dict:
        query = "&".join(f"{key}={value}" for key, value in more.items())
        return self.get(f"niche/words/?market=north&niche=rf&{query}")

    def test_what_is_reached_who_uses_it_and_what_fits(self) -> None:
        made = self.words()
        self.assertEqual(
            [one["term"] for one in made["terms"]], ["rhubarb forcer", "terracotta forcer"]
        )
        self.assertEqual((made["leaders"], made["known"], made["left_out"]), (5, True, 0))
        used = {one["word"]: one["leaders"] for one in made["words"]}
        # Of five titles “Forcer l1” …; the tags of one of them have the third word.
        self.assertEqual(used, {"forcer": 5, "rhubarb": 0, "terracotta": 1})
        self.assertEqual((made["text"], made["covered"]), ("rhubarb forcer terracotta", 1))
        short = self.words(length=14)
        self.assertEqual((short["text"], short["letters"]), ("rhubarb forcer", 14))
        self.assertLess(short["covered"], 1)
        # What the three leaders take is not reached.
        searches = {one["term"]: one["searches_52w"] for one in self.get("niche/terms/?niche=rf")}
        self.assertLess(made["terms"][0]["reach"], searches["rhubarb forcer"] / 2)

    def test_a_brand_comes_first_and_brand_terms_are_left_out(self) -> None:
        self.assertTrue(self.words(first="Hearthclay")["text"].startswith("hearthclay rhubarb"))
        branded = self.get("niche/words/?niche=mf")
        self.assertEqual((branded["terms"], branded["text"], branded["covered"]), ([], "", None))
        self.assertEqual((branded["left_out"], branded["known"]), (1, False))
        self.get("niche/words/?niche=rf&length=-1", 400)
        self.get("niche/words/?niche=rf&length=1001", 400)

    def test_the_command_says_the_same(self) -> None:
        done = CliRunner().invoke(main, ["listing-words", "north", "rf", "--length", "14"])
        self.assertEqual(done.exit_code, 0, done.output)
        self.assertEqual(json.loads(done.stdout)["text"], "rhubarb forcer")
        wrong = CliRunner().invoke(main, ["listing-words", "north", "none"])
        self.assertIn("There is no analysed niche “none”", wrong.output)
