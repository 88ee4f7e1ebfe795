"""What sellers carry together on files, against polars over the raw tables; ids pasted in any form."""

import csv
import json
import tempfile
from datetime import date
from pathlib import Path
from unittest import TestCase

import polars as pl
from click.testing import CliRunner, Result

from driftfield.cli.main import main
from driftfield.core.base import CoreError
from driftfield.exchange.pasted import pasted_ids
from driftfield.exchange.reader import read_package
from driftfield.exchange.storefronts import carried_records, chosen_sellers, storefronts_of

from .packages import small_market, table, write

DEMO = Path(__file__).resolve().parents[3] / "demo" / "harrow-quay.zip"
FOUR = ["s201", "s202", "s203", "s204"]
AS_OF = date(2026, 5, 17)


class Ids(TestCase):
    KNOWN = frozenset({"a1", "b2", "net float", "x,y", "ü-3", "7"})

    def found(self, text: str) -> tuple[list[str], list[str]]:
        found = pasted_ids(text, self.KNOWN)
        return found.ids, found.unknown

    def test_a_column_commas_spaces_and_quotes(self) -> None:
        wanted = ["a1", "b2", "7"]
        for text in (
            "a1\nb2\n7",
            "a1,b2,7",
            " a1 ; b2;7 ",
            "a1\tb2\t7\r\n",
            '"a1", "b2", “7”',
            "a1 b2 7",
            "a1,b2\na1 7,",
        ):
            self.assertEqual(self.found(text), (wanted, []), text)

    def test_an_id_with_a_space_or_a_comma_in_it(self) -> None:
        self.assertEqual(self.found("net float, a1"), (["net float", "a1"], []))
        self.assertEqual(self.found("x,y\nb2"), (["x,y", "b2"], []))

    def test_addresses_that_hold_an_id(self) -> None:
        self.assertEqual(self.found("https://quay.example/shop/b2?from=a1&page=2"), (["b2"], []))
        self.assertEqual(self.found("https://quay.example/shop?seller=a1&page=2"), (["a1"], []))
        self.assertEqual(
            self.found("https://quay.example/goods/%C3%BC-3/ https://quay.example/s/a1"),
            (["ü-3", "a1"], []),
        )

    def test_what_is_none_is_told_once(self) -> None:
        self.assertEqual(
            self.found("zz, a1, zz\nhttps://quay.example/none"),
            (["a1"], ["zz", "https://quay.example/none"]),
        )
        self.assertEqual(self.found(" \n,,;\n"), ([], []))


class DemoMarket(TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.package = read_package(DEMO)
        cls.shops = storefronts_of(cls.package)

    def carried(
        self, what: str = "listings", least: int = 3, since: date | None = None, **more: object
    ):
        return carried_records(
            self.shops, FOUR, what, least=least, since=since, **{"mine": [], **more}
        )  # fmt: skip

    def raw(self) -> pl.DataFrame:
        """Pairs of seller and listing from the raw tables, with when."""
        pairs = self.package.frames["offers"].select(
            "seller_id",
            "listing_id",
            pl.col("first_seen").cast(pl.Date),
            pl.col("last_seen").cast(pl.Date),
        )
        own = self.package.frames["listings"].select("seller_id", "listing_id").drop_nulls()
        own = own.join(pairs, on=["seller_id", "listing_id"], how="anti")
        return pl.concat([pairs, own], how="diagonal")

    def test_it_is_what_the_raw_tables_say(self) -> None:
        self.assertEqual(self.shops.day, AS_OF)
        for since, least in ((AS_OF, 1), (AS_OF, 3), (date(2025, 6, 1), 2), (date(2019, 1, 1), 4)):
            pairs = self.raw().filter(
                pl.col("seller_id").is_in(FOUR),
                (pl.col("first_seen") <= AS_OF) | pl.col("first_seen").is_null(),
                (pl.col("last_seen") >= since) | pl.col("last_seen").is_null(),
            )
            many = pairs.group_by("listing_id").agg(pl.col("seller_id").n_unique())
            expected = dict(many.filter(pl.col("seller_id") >= least).iter_rows())
            found = self.carried(least=least, since=None if since == AS_OF else since)
            self.assertEqual({one["listing_id"]: one["sellers"] for one in found}, expected)
            self.assertEqual(
                [one["sellers"] for one in found], sorted(expected.values(), reverse=True)
            )

    def test_what_was_planted_is_found(self) -> None:
        [brand] = self.carried("brands")
        self.assertEqual((brand["brand"], brand["sellers"]), ("skephithe", 4))
        self.assertEqual(self.carried("categories"), [])
        dropped = self.carried("dropped", 4)
        self.assertEqual({one["last_seen"] for one in dropped}, {"2025-10-13"})
        self.assertEqual(len(dropped), 2)
        self.assertEqual({one["brand"] for one in dropped}, {"skephithe"})
        # Dropped long before the window is not dropped within it.
        self.assertEqual(self.carried("dropped", 4, date(2026, 1, 1)), [])

    def test_others_have_nothing_in_common(self) -> None:
        others = [f"s{number:03d}" for number in range(20, 28)]
        for what in ("brands", "categories"):
            self.assertEqual(
                carried_records(self.shops, others, what, least=2, since=None, mine=[]), []
            )

    def test_units_of_what_has_a_rank_alone_are_estimated(self) -> None:
        found = [one for one in self.carried(least=1) if one["estimated_units"] is not None]
        weeks = self.package.frames["listing_weeks"]
        self.assertTrue(found)
        for one in found:
            self.assertIsNone(one["units_52w"])
            mine = weeks.filter(pl.col("listing_id") == one["listing_id"]).sort("week").tail(12)
            # How the demo market makes ranks of units, which it keeps to itself for these.
            sold = sum(400_000 / rank - 1 for rank in mine["sales_rank"].to_list())
            self.assertGreaterEqual(one["estimated_from"], 12)
            self.assertTrue(0 < one["estimated_error"] < 1)
            self.assertTrue(one["estimated_low"] <= sold <= one["estimated_high"], (sold, one))
        known = {one["listing_id"] for one in self.carried(least=1) if one["units_52w"] is not None}
        self.assertFalse(known & {one["listing_id"] for one in found})

    def test_sellers_are_named_by_id_or_by_name(self) -> None:
        text = "Comb Alley Trading, s202\nSkep Green Outfitters\ns201, nobody at all"
        found = chosen_sellers(self.shops, text)
        self.assertEqual(found.ids, ["s201", "s202", "s204"])
        self.assertEqual(found.unknown, ["nobody at all"])

    def test_what_i_lack(self) -> None:
        whole = self.carried(mine=["s201"])
        mine = {one["listing_id"] for one in whole if one["mine"]}
        self.assertEqual(mine, {one["listing_id"] for one in whole if "s201" in one["carried_by"]})
        lacking = self.carried(mine=["s201"], lacking=True)
        self.assertEqual(
            {one["listing_id"] for one in lacking}, {one["listing_id"] for one in whole} - mine
        )

    def test_another_day_is_today(self) -> None:
        then = storefronts_of(self.package, date(2025, 9, 30))
        found = carried_records(then, FOUR, "listings", least=4, since=None, mine=[])
        dropped = {one["listing_id"] for one in self.carried("dropped", 4)}
        self.assertLessEqual(dropped, {one["listing_id"] for one in found})
        with self.assertRaisesRegex(CoreError, "lies after the as-of"):
            carried_records(then, FOUR, "listings", least=1, since=AS_OF, mine=[])


class Command(TestCase):
    def run_on(self, files: dict[str, str], *arguments: str) -> Result:
        with tempfile.TemporaryDirectory() as folder:
            return CliRunner().invoke(
                main, ["carried", str(write(Path(folder), **files)), *arguments]
            )

    def test_a_table_of_what_is_found(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            out, ids = Path(folder) / "found.csv", Path(folder) / "ids.txt"
            ids.write_text("s201\nhttps://quay.example/seller/s202\n", "utf-8")
            made = CliRunner().invoke(
                main,
                [
                    "carried",
                    str(DEMO),
                    "--sellers-from",
                    str(ids),
                    "--sellers",
                    "s203,nobody",
                    "--out",
                    str(out),
                ],
            )
            self.assertEqual(made.exit_code, 0, made.output)
            self.assertIn("“nobody” is no seller here", made.output)
            rows = list(csv.DictReader(out.read_text("utf-8-sig").splitlines()))
            self.assertIn(
                f"{len(rows)} listings, carried on 17 May 2026 by at least 2 of 3 sellers",
                made.output,
            )
            self.assertEqual(rows[0]["carried_by"], "s203; s201; s202")
            self.assertEqual((rows[0]["last_seen"], rows[0]["mine"]), ("", ""))

    def test_listings_that_name_their_seller_are_enough(self) -> None:
        files = small_market()
        del files["offers"]
        files["listings"] = table(
            "listing_id,title,seller_id", ("l1", "Tall forcer", "s1"), ("l2", "Small forcer", "s2")
        )
        made = self.run_on(files, "--sellers", "s1,s2", "--at-least", "1")
        lines = [json.loads(line) for line in made.stdout.splitlines()]
        self.assertEqual([one["carried_by"] for one in lines], [["s1"], ["s2"]])
        # What no table says is unknown.
        self.assertEqual(
            (lines[0]["brand"], lines[0]["first_seen"], lines[0]["units_52w"]),
            (None, None, lines[0]["units_52w"]),
        )
        made = self.run_on(files, "--sellers", "s1,s2", "--of", "brands")
        self.assertIn("The listings name no brands.", made.output)

    def test_a_title_is_no_formula_in_a_table(self) -> None:
        files = small_market()
        files["listings"] = table(
            "listing_id,title,seller_id", ("l1", "=1+1", "s1"), ("l2", "Small forcer", "s2")
        )
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "found.csv"
            made = self.run_on(files, "--sellers", "s1", "--at-least", "1", "--out", str(out))
            self.assertEqual(made.exit_code, 0, made.output)
            self.assertEqual(
                next(csv.DictReader(out.read_text("utf-8-sig").splitlines()))["title"], "'=1+1"
            )

    def test_each_mistake_says_what_to_do(self) -> None:
        files = small_market()
        bare = {"term_weeks": files["term_weeks"]}
        for arguments, say in (
            (("--sellers", "s9"), "None of s9 is a seller here. Ids look like: s1"),
            ((), "Name the sellers"),
            (("--sellers", "s1", "--at-least", "2"), "choose from 1 to 1"),
            (("--sellers", "s1", "--since", "2025-01-01", "--ever"), "not both"),
            (("--sellers", "s1", "--lacking"), "--lacking needs --mine"),
            (
                ("--sellers", "s1", "--since", "2099-01-01", "--at-least", "1"),
                "lies after the as-of",
            ),
        ):
            made = self.run_on(files, *arguments)
            self.assertEqual(made.exit_code, 1, made.output)
            self.assertIn(say, made.output)
        made = self.run_on(bare, "--sellers", "s1")
        self.assertIn("neither an offers table nor a seller_id", made.output)

    def test_nothing_found_is_a_table_of_nothing(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "none.csv"
            made = CliRunner().invoke(
                main,
                [
                    "carried",
                    str(DEMO),
                    "--sellers",
                    "s020,s021",
                    "--of",
                    "brands",
                    "--out",
                    str(out),
                ],
            )
            self.assertEqual(made.exit_code, 0, made.output)
            self.assertEqual(
                out.read_text("utf-8-sig").splitlines()[0].split(",")[:2], ["brand", "sellers"]
            )
