"""Families: found by an analysis, close up, and on files alike."""

import tempfile
from pathlib import Path

from driftfield.core.base import DEFAULTS
from driftfield.exchange.families import family_records
from driftfield.exchange.reader import read_package
from driftfield.exchange.tests.packages import START, table, weekly, write

from .loaded import Loaded

GOODS = {
    "straps": 900, "wedges": 700, "boards": 400, "hoes": 300, "filters": 200, "kettles": 100, "lamps": 100,
    "ropes": 100,
}  # fmt: skip
HIVE = ("straps", "wedges", "boards")


def family_market(clicks: bool = True) -> dict[str, str]:
    """Three niches that four brands carry together, and five that nothing ties."""
    listings, shares = [], []
    for at, good in enumerate(GOODS):
        brands = (
            [f"skep{i}" for i in range(4)] if good in HIVE else [f"{good}{i}" for i in range(4)]
        )
        for i, brand in enumerate(brands):
            page = f"l{at}-{i}"
            listings.append((page, f"{brand} {good}", brand, "bees"))
            shares += [(good, f"2025-12-{day}", page, 0.2) for day in ("01", "08", "15", "22")]
    files = {
        "markets": table("market_id,name,currency", ("north", "North", "GBP")),
        "categories": table("category_id,name", ("bees", "Bees")),
        "niches": table("niche_id,name,category_id,market_id", *((g, f"All {g}", "bees", "north") for g in GOODS)),
        "terms": table("term,niche_id", *((g, g) for g in GOODS)),
        "term_weeks": table(
            "term,week,searches", *(row for g, many in GOODS.items() for row in weekly(g, [many * 20] * 156, START))
        ),
    }  # fmt: skip
    if clicks:
        files["listings"] = table("listing_id,title,brand,category_id", *listings)
        files["term_clicks"] = table("term,week,listing_id,click_share", *shares)
    return files


class Families(Loaded):
    package = staticmethod(family_market)

    def test_what_brands_carry_together_is_a_family(self) -> None:
        found = self.get("families/")
        self.assertTrue(found["known"])
        (family,) = found["families"]
        self.assertEqual((family["niche"], family["name"]), ("straps", "All straps and 2 more"))
        self.assertEqual((family["goods"], family["ties"]), (3, ["brands"]))
        close = self.get("families/family/?niche=boards")
        self.assertEqual([one["id"] for one in close["members"]], ["straps", "wedges", "boards"])
        self.assertIn(
            "Brands serve 3 of its goods together, more often than chance. Most: skep0 in 3",
            close["served"],
        )
        self.assertEqual([one["niches"] for one in close["brands"]], [3] * 4)
        self.assertAlmostEqual(sum(close["year"]), 1, 3)
        self.assertIn("Its goods fill the year", close["runs"])
        # Neither launches nor reviews are told.
        self.assertEqual([one["openness"] for one in close["members"]], [None] * 3)
        self.assertEqual((close["openness"], close["opens"][:9]), (None, "Not known"))

    def test_niches_that_were_chosen_are_looked_at_together(self) -> None:
        found = self.get("families/chosen/?niche=hoes&niche=straps&niche=wedges")
        self.assertEqual([one["id"] for one in found["members"]], ["straps", "wedges", "hoes"])
        self.assertEqual((found["goods"], found["ties"]), (3, []))
        self.assertIn(
            "4 brands are clicked in two or more of its 3 goods, among them: skep0 in 2",
            found["served"],
        )
        self.assertIn("whether that is more than chance was not tested", found["served"])
        self.assertIn("of its 3 goods", found["answer"])
        none = self.get("families/chosen/?niche=hoes&niche=lamps")
        self.assertIn("No brand is clicked in both goods.", none["served"])
        for query, said in (
            ("niche=hoes", "2 to 50 niches; 1 is chosen"),
            ("niche=hoes&niche=none", "“none” is not in North"),
        ):
            self.assertIn(said, self.get(f"families/chosen/?{query}", 409)["detail"])

    def test_what_is_enough_is_a_setting_that_holds_at_once(self) -> None:
        """900, 700 and 400 times 20 a week are 78,000, 61,000 and 35,000 a month."""
        close = self.get("families/family/?niche=straps")
        self.assertIs(close["enough"], False)
        self.assertIn("1 of its 3 goods has 10,000 to 50,000", close["answer"])
        self.assertIn("2 have more, which many fight over", close["answer"])
        self.assertEqual(close["start"], "boards")
        body = {"market_id": "north", "changed": {"brand_searches_high": 100_000}}
        answer = self.client.put("/api/settings/", body, content_type="application/json")
        self.assertEqual(answer.json()["pending"], [])
        close = self.get("families/family/?niche=straps")
        self.assertIs(close["enough"], True)
        self.assertIn("Yes, by the usual measure: 3 of its 3 goods", close["answer"])

    def test_a_niche_by_itself_is_said_to_be(self) -> None:
        self.assertIn("Nothing ties “hoes”", self.get("families/family/?niche=hoes", 404)["detail"])

    def test_files_say_the_same(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            package = read_package(write(Path(holder) / "in", **family_market()))
        (record,) = family_records(package, DEFAULTS, "english")
        close = self.get("families/family/?niche=straps")
        self.assertEqual(record["niches"], [one["id"] for one in close["members"]])
        for key in ("answer", "opens", "runs", "start", "wanted", "enough"):
            self.assertEqual(record[key], close[key], key)
        self.assertEqual(record["ties"], {"brands": 3, "sellers": 0, "buyers": 0, "words": 0})


class WithoutClicks(Loaded):
    package = staticmethod(lambda: family_market(clicks=False))

    def test_nothing_is_made_of_nothing(self) -> None:
        self.assertEqual(self.get("families/"), {"known": True, "families": []})
