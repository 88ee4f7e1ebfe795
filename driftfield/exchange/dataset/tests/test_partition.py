"""A package put in parts holds what its files hold, and is refused where they would be."""

from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase, mock
from zlib import crc32

import polars as pl

from driftfield.exchange.dataset import layout
from driftfield.exchange.dataset import partition as making
from driftfield.exchange.dataset.layout import Store, read_manifest
from driftfield.exchange.dataset.partition import partition
from driftfield.exchange.dataset.parts import Unit, read_unit, units_of, whole_tables
from driftfield.exchange.dataset.tests.object_store import object_store
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.reader import read_package
from driftfield.exchange.tests.packages import small_market, table, weekly, write

HARD = "nø/r th&=%“"  # A market's id that no folder may be called.


class WithFolder(TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.files = small_market()

    def package(self, **changes: str | None) -> Path:
        files = {**self.files, **changes}
        return write(self.folder / "package", **{k: v for k, v in files.items() if v is not None})

    def put(self, parts: int = 3, **changes: str | None) -> Path:
        to = self.folder / "set"
        partition(self.package(**changes), str(to), parts)
        return to

    def refused(self, **changes: str | None) -> str:
        with self.assertRaises(ExchangeError) as caught:
            self.put(**changes)
        self.assertFalse((self.folder / "set").exists())
        return str(caught.exception)


def gathered(store: Store, name: str) -> pl.DataFrame:
    """All rows of a table, those that lie in several parts once."""
    files = [
        store.read_frame(name, market, part, layout.ROWS)
        for market in store.names(name)
        for part in store.names(name, market)
    ]
    return pl.concat(files, how="diagonal").unique()


class Parts(WithFolder):
    def test_nothing_is_lost(self) -> None:
        store = Store(str(self.put()))
        frames = read_package(self.folder / "package").frames
        self.assertEqual(set(read_manifest(store).tables), set(frames))
        for name, frame in frames.items():
            if name in layout.WHOLE:
                found = store.read_frame(name, layout.ROWS)
                self.assertTrue(found.equals(frame), name)
                continue
            found = gathered(store, name).select(frame.columns)
            order = frame.columns
            self.assertTrue(found.sort(order).equals(frame.unique().sort(order)), name)

    def test_a_niche_lies_where_the_crc_of_its_id_says(self) -> None:
        store = Store(str(self.put()))
        manifest = read_manifest(store)
        for unit in units_of(store, manifest):
            package = read_unit(store, manifest, unit, whole_tables(store, manifest))
            for niche in package.frames["niches"]["niche_id"].to_list():
                self.assertEqual(crc32(niche.encode()) % 3, unit.part)
        # A term without a niche is one of its own.
        part = crc32(b"net float") % 3
        terms = read_unit(store, manifest, Unit("north", part), {}).frames["terms"]["term"]
        self.assertIn("net float", terms.to_list())

    def test_files_of_any_size_come_to_the_same(self) -> None:
        whole = gathered(Store(str(self.put())), "term_weeks")
        with mock.patch.object(making, "BLOCK", 900):
            partition(self.folder / "package", str(self.folder / "other"), 2)
        other = gathered(Store(str(self.folder / "other")), "term_weeks")
        self.assertTrue(other.sort("term", "week").equals(whole.sort("term", "week")))

    def test_a_wide_table_becomes_a_long_one(self) -> None:
        days = [row[1] for row in weekly("", [0] * 60)]
        wide = table(
            f"term,{','.join(days)}", ("moon filter", *range(60)), ("net float", *[""] * 59, 7)
        )
        found = gathered(Store(str(self.put(term_weeks=wide, term_clicks=None))), "term_weeks")
        self.assertEqual(found.height, 61)
        self.assertEqual(found.filter(pl.col("term") == "net float")["searches"].to_list(), [7.0])

    def test_markets_of_any_name(self) -> None:
        markets = table("market_id,name,currency", ("north", "North", "GBP"), (HARD, "Hard", "EUR"))
        niches = table(
            "niche_id,name,market_id", ("rf", "Forcers", HARD), ("mf", "Filters", "north")
        )
        store = Store(str(self.put(markets=markets, niches=niches)))
        manifest = read_manifest(store)
        self.assertEqual(manifest.markets, sorted(["north", HARD]))
        mine = [unit for unit in units_of(store, manifest) if unit.market == HARD]
        package = read_unit(store, manifest, mine[0], whole_tables(store, manifest))
        self.assertEqual(package.frames["niches"]["niche_id"].to_list(), ["rf"])
        self.assertEqual(package.counts.subjects, ["rhubarb forcer", "terracotta forcer"])


class Refused(WithFolder):
    def test_what_is_wrong_is_named_by_file_and_line(self) -> None:
        rows = self.files["term_weeks"].splitlines()
        rows[5] = rows[5].replace(rows[5].split(",")[2], "many", 1)
        rows.append(rows[9])
        with mock.patch.object(making, "BLOCK", 900):
            text = self.refused(term_weeks="\n".join(rows[:5] + rows[5:]) + "\n")
        self.assertIn("term_weeks.csv, line 6, column searches: “many” is not a number", text)

    def test_a_key_that_comes_again_far_away(self) -> None:
        rows = self.files["term_weeks"].splitlines()
        again = rows[9]
        with mock.patch.object(making, "BLOCK", 900):
            text = self.refused(term_weeks="\n".join([*rows, again]) + "\n")
        self.assertIn(
            f"term_weeks.csv, line {len(rows) + 1}, column term: Another line has the same", text
        )

    def test_what_refers_to_nothing(self) -> None:
        text = self.refused(
            terms=table("term,niche_id", ("rhubarb forcer", "nobody"), ("moon filter", "mf"))
        )
        self.assertIn("terms.csv, line 2, column niche_id: “nobody” is not in niches.csv", text)

    def test_a_quoted_line_end_does_not_shift_the_lines(self) -> None:
        niches = 'niche_id,name,category_id\nrf,"Rhubarb\nforcers",gb\nmf,Moon filters,nowhere\n'
        self.assertIn("niches.csv, line 4, column category_id", self.refused(niches=niches))

    def test_a_wide_row_twice_is_said_once(self) -> None:
        days = [row[1] for row in weekly("", [0] * 60)]
        row = ("moon filter", *range(60))
        wide = table(f"term,{','.join(days)}", row, row)
        text = self.refused(term_weeks=wide, term_clicks=None)
        self.assertIn("term_weeks.csv, line 3", text)
        self.assertIn("1 problem ", text)

    def test_a_place_that_is_in_use(self) -> None:
        self.put()
        with self.assertRaisesRegex(ExchangeError, "Something lies there already"):
            partition(self.folder / "package", str(self.folder / "set"), 2)

    def test_a_disk_that_is_full_leaves_nothing_in_the_way(self) -> None:
        write, written = Store.write, []

        def full(store: Store, data: bytes, *names: str) -> None:
            if len(written) == 5:
                raise OSError(28, "No space left on device")
            written.append(names)
            write(store, data, *names)

        with mock.patch.object(Store, "write", full), self.assertRaises(OSError):
            self.put()
        self.assertEqual(Store(str(self.folder / "set")).names(), [])
        self.put()

    def test_a_folder_that_is_no_data_set(self) -> None:
        with self.assertRaisesRegex(ExchangeError, "dataset.json is missing"):
            read_manifest(Store(str(self.folder)))
        (self.folder / layout.MANIFEST).write_text("[1]")
        with self.assertRaisesRegex(ExchangeError, "cannot be read"):
            read_manifest(Store(str(self.folder)))
        (self.folder / layout.MANIFEST).write_text('{"format": 99}')
        with self.assertRaisesRegex(ExchangeError, "format 99"):
            read_manifest(Store(str(self.folder)))

    def test_a_part_with_a_figure_that_cannot_be(self) -> None:
        store = Store(str(self.put(parts=1)))
        manifest = read_manifest(store)
        unit = Unit("north", 0)
        place = unit.place("term_weeks")
        frame = store.read_frame(*place)
        store.write_frame(frame.with_columns(searches=-pl.col("searches")), *place)
        with self.assertRaisesRegex(
            ExchangeError, "part=0000/rows.parquet, line 1, column searches: -"
        ):
            read_unit(store, manifest, unit, {})
        store.write_frame(pl.concat([frame, frame[:1]]), *place)
        with self.assertRaisesRegex(ExchangeError, "the same term and week"):
            read_unit(store, manifest, unit, {})
        store.write(b"no Parquet", *place)
        with self.assertRaisesRegex(ExchangeError, "It cannot be read"):
            read_unit(store, manifest, unit, {})


class OnAnObjectStore(WithFolder):
    """Against moto's server, which speaks as S3 does, on loopback."""

    def setUp(self) -> None:
        super().setUp()
        self.bucket = self.enterContext(object_store())

    def test_a_set_is_written_and_read_there(self) -> None:
        manifest = partition(self.package(), f"{self.bucket}/harrow", 3)
        store = Store(f"{self.bucket}/harrow")
        self.assertEqual(read_manifest(store), manifest)
        local = Store(str(self.put()))
        self.assertEqual(units_of(store, manifest), units_of(local, read_manifest(local)))
        for unit in units_of(store, manifest):
            there = read_unit(store, manifest, unit, whole_tables(store, manifest))
            here = read_unit(local, manifest, unit, whole_tables(local, manifest))
            for name, frame in here.frames.items():
                self.assertTrue(there.frames[name].equals(frame), name)
        with self.assertRaisesRegex(ExchangeError, "Something lies there already"):
            partition(self.package(), f"{self.bucket}/harrow", 3)
        store.remove("terms")
        self.assertFalse(store.exists("terms"))
