"""Files as people have them, good and bad."""

import tempfile
from datetime import date
from pathlib import Path
from unittest import TestCase

import numpy as np

from driftfield.core.base import Period
from driftfield.exchange.market_data import assemble, term_curves
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.reader import Package, read_package

from .packages import small_market, table, weekly, write, zipped

GOOD = "term,week,searches\na,2024-01-01,3\na,2024-01-08,4\n"


class InFolder(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name) / "in"

    def read(self, **files: str | bytes) -> Package:
        return read_package(write(self.folder, **files))

    def problems(self, **files: str | bytes) -> list[str]:
        with self.assertRaises(ExchangeError) as caught:
            self.read(**files)
        return [str(p) for p in caught.exception.problems.kept]


class Layouts(InFolder):
    def test_every_spelling_of_the_same_figures_reads_the_same(self) -> None:
        rows = [("a", "2024-01-01", "3"), ("a", "2024-01-08", "4.5")]
        plain = "\n".join(",".join(r) for r in [("term", "week", "searches"), *rows])
        spellings = {
            "plain": plain.encode(),
            "byte-order mark": b"\xef\xbb\xbf" + plain.encode(),
            "semicolons": plain.replace(",", ";").encode(),
            "tabs": plain.replace(",", "\t").encode(),
            "carriage returns": plain.replace("\n", "\r\n").encode(),
            "quotes": plain.replace("a,", '"a",').encode(),
            "blank lines": plain.replace("\n", "\n\n").encode() + b"\n\n",
            "other order": b"searches,term,week\n3,a,2024-01-01\n4.5,a,2024-01-08",
            "wide": b"term,2024-01-01,2024-01-08\na,3,4.5",
            "wide, dates turned": b"term;2024-01-08;2024-01-01\na;4.5;3",
        }
        for name, content in spellings.items():
            with self.subTest(name):
                curves = term_curves(self.read(term_weeks=content))
                self.assertEqual(curves.timeline.first, date(2024, 1, 1))
                np.testing.assert_array_equal(curves.measures["searches"][0], [3, 4.5])

    def test_months_are_told_from_weeks(self) -> None:
        package = self.read(term_weeks="term,week,searches\na,2024-01-01,3\na,2024-02-01,4\n")
        self.assertIs(package.periods["term_weeks"], Period.MONTH)

    def test_a_zip_is_read_like_its_folder(self) -> None:
        write(self.folder, **small_market())
        archive = zipped(self.folder, self.folder.parent / "market.zip")
        one, two = read_package(self.folder), read_package(archive)
        self.assertEqual(set(one.frames), set(two.frames))
        self.assertTrue(all(one.frames[t].equals(two.frames[t]) for t in one.frames))

    def test_unknown_columns_and_files_are_left_out_and_said(self) -> None:
        text = (
            GOOD.replace("searches", "searches,mood")
            .replace(",3\n", ",3,x\n")
            .replace(",4\n", ",4,y\n")
        )
        package = self.read(term_weeks=text, gossip="a,b\n1,2\n")
        self.assertNotIn("mood", package.frames["term_weeks"].columns)
        self.assertTrue(any("“mood” is not part of term_weeks" in n for n in package.notes))
        self.assertTrue(any("gossip.csv is not an exchange table" in n for n in package.notes))

    def test_what_is_missing_is_said(self) -> None:
        self.assertTrue(any("ranking is by demand" in n for n in self.read(term_weeks=GOOD).notes))


# What is wrong, the files, and what must be said: file, line, column, value and remedy.
BAD: list[tuple[str, dict[str, str | bytes], list[str]]] = [
    ("no searches", {"terms": "term\na\n"}, ["term_weeks.csv: The file is missing; there is: terms.csv. Name the file after its table"]),
    ("empty", {"term_weeks": ""}, ["term_weeks.csv, line 1: The file is empty."]),
    ("header only", {"term_weeks": "term,week,searches\n"}, ["line 2: It has a header and no lines."]),
    ("no column", {"term_weeks": "term,week\na,2024-01-01\n"}, ["line 1, column searches: The column is missing; there are: term, week."]),
    ("column twice", {"term_weeks": "term,week,searches,searches\na,2024-01-01,1,2\n"}, ["Two columns are named “searches”"]),
    ("a Tuesday", {"term_weeks": GOOD + "a,2024-01-16,1\n"}, ["line 4, column week: 2024-01-16 is a Tuesday; a week is named by its Monday, here 2024-01-15."]),
    ("no date", {"term_weeks": GOOD + "a,15/01/2024,1\n"}, ["line 4, column week: “15/01/2024” is not a date. Write it as 2026-11-09"]),
    ("no such day", {"term_weeks": GOOD + "a,2024-02-30,1\n"}, ["“2024-02-30” is not a date"]),
    ("negative", {"term_weeks": GOOD + "a,2024-01-15,-2\n"}, ["line 4, column searches: -2 is negative. It must be 0 or more."]),
    ("words", {"term_weeks": GOOD + "a,2024-01-15,many\n"}, ["line 4, column searches: “many” is not a number. Write it as 1234.5"]),
    ("not a figure", {"term_weeks": GOOD + "a,2024-01-15,NaN\n"}, ["is not a figure. Leave the cell empty"]),
    ("infinite", {"term_weeks": GOOD + "a,2024-01-15,inf\n"}, ["“inf” is not a figure"]),
    ("empty cell", {"term_weeks": GOOD + ",2024-01-15,1\n"}, ["line 4, column term: The cell is empty."]),
    ("key twice", {"term_weeks": GOOD + "a,2024-01-08,5\n"}, ["line 4, column term: Another line has the same term and week already."]),
    ("too many cells", {"term_weeks": GOOD + "a,b,2024-01-15,1\n"}, ["line 4: The line has 4 cells, the header 3."]),
    ("open quote", {"term_weeks": GOOD + '"a,2024-01-15,1\nb,2024-01-15,1\n'}, ["line 4: A double quote is opened and not closed."]),
    ("after a quoted line break", {"term_weeks": 'term,week,searches\n"a\nb",2024-01-01,1\n"a\nb",2024-01-08,-1\n'}, ["line 4, column searches: -1 is negative."]),
    ("Latin-1", {"term_weeks": GOOD.encode() + "é,2024-01-15,1\n".encode("latin-1")}, ["line 4: Byte e9 is not UTF-8. Save the file as “CSV UTF-8”"]),
    ("UTF-16", {"term_weeks": GOOD.encode("utf-16")}, ["It is not UTF-8 text."]),
    ("wide, not a Monday", {"term_weeks": "term,2024-01-01,2024-01-09\na,1,2\n"}, ["line 1, column 2024-01-09: 2024-01-09 is a Tuesday"]),
    ("share in percent", {"term_weeks": GOOD, "term_clicks": "term,week,listing_id,click_share\na,2024-01-01,l,40\n"}, ["line 2, column click_share: 40 is above 1. Shares are fractions: write 0.25 for 25%."]),
    ("shares over the whole", {"term_weeks": GOOD, "term_clicks": "term,week,listing_id,click_share\na,2024-01-01,l,0.7\na,2024-01-01,m,0.7\n"}, ["add up to more than 1"]),
    ("unknown niche", {"term_weeks": GOOD, "niches": "niche_id,name\nx,X\n", "terms": "term,niche_id\na,y\n"}, ["terms.csv, line 2, column niche_id: “y” is not in niches.csv."]),
    ("unknown listing", {"term_weeks": GOOD, "listings": "listing_id,title\nl,T\n", "term_clicks": "term,week,listing_id,click_share\na,2024-01-01,m,0.7\n"}, ["term_clicks.csv, line 2, column listing_id: “m” is not in listings.csv."]),
    ("unknown term", {"term_weeks": GOOD, "term_clicks": "term,week,listing_id,click_share\nz,2024-01-01,m,0.7\n"}, ["column term: “z” is not in term_weeks.csv"]),
    ("neither niche nor listing", {"term_weeks": GOOD, "own_sales": "niche_id,listing_id,week,units\n,,2024-01-01,4\n"}, ["own_sales.csv, line 2, column niche_id: Neither niche_id nor listing_id is given. Fill one of them."]),
    ("niche and listing", {"term_weeks": GOOD, "own_sales": "niche_id,listing_id,week,units\na,l,2024-01-01,4\n"}, ["own_sales.csv, line 2, column niche_id: Both niche_id and listing_id are given. Leave one of them empty"]),
    ("no column of either", {"term_weeks": GOOD, "own_sales": "week,units\n2024-01-01,4\n"}, ["own_sales.csv, line 1, column niche_id: Neither column is there: niche_id nor listing_id. Add one of them."]),
    ("own sales twice", {"term_weeks": GOOD, "own_sales": "listing_id,week,units\nl,2024-01-01,4\nl,2024-01-01,5\n"}, ["own_sales.csv, line 3, column listing_id: Another line has the same listing_id and week already."]),
    ("own sales twice beside a niche", {"term_weeks": GOOD, "own_sales": "niche_id,listing_id,week,units\n,l,2024-01-01,4\na,,2024-01-01,4\n,l,2024-01-01,5\n"}, ["own_sales.csv, line 4, column niche_id: Another line has the same niche_id and listing_id and week already."]),
    ("no such kind", {"term_weeks": GOOD, "feedback": "listing_id,kind,theme,tone,mentions\nl,rumour,t,praise,1\n"}, ["column kind: “rumour” is not review or return."]),
    ("half a flag", {"term_weeks": GOOD, "terms": "term,branded\na,0.5\n"}, ["column branded: 0.5 is not"]),
    ("currency", {"term_weeks": GOOD, "markets": "market_id,name,currency\nm,M,pounds\n"}, ["column currency: “pounds” has not the right form. As in GBP."]),
]  # fmt: skip


class Refused(InFolder):
    def test_each_problem_is_named_with_its_place_and_remedy(self) -> None:
        for name, files, expected in BAD:
            with self.subTest(name):
                for file in self.folder.glob("*"):
                    file.unlink()
                found = self.problems(**files)
                for wanted in expected:
                    self.assertTrue(any(wanted in one for one in found), found)

    def test_all_are_reported_up_to_a_cap_and_counted(self) -> None:
        lines = "".join(f"a{i},2024-01-01,-1\n" for i in range(250))
        write(self.folder, term_weeks="term,week,searches\n" + lines)
        with self.assertRaises(ExchangeError) as caught:
            read_package(self.folder, cap=10)
        problems = caught.exception.problems
        self.assertEqual((len(problems.kept), problems.count), (10, 250))
        self.assertEqual([p.line for p in problems.kept], list(range(2, 12)))
        self.assertIn("… and 240 more.", str(problems))

    def test_no_such_folder_and_no_package(self) -> None:
        with self.assertRaisesRegex(ExchangeError, "There is no such folder or file"):
            read_package(self.folder / "nowhere")
        self.folder.mkdir()
        (self.folder / "x.xyz").write_text("hello")
        with self.assertRaisesRegex(ExchangeError, "neither a folder, nor a zip, nor a table"):
            read_package(self.folder / "x.xyz")


class Assembled(InFolder):
    def test_terms_find_their_niches_and_alone_are_their_own(self) -> None:
        markets, _ = assemble(self.read(**small_market()))
        self.assertEqual([m.market_id for m in markets], ["north"])
        data = markets[0].data
        self.assertEqual(data.subjects, ["rf", "mf", "net float"])
        self.assertEqual(list(data.term_subject), [0, 0, 1, 2])
        self.assertEqual(markets[0].niche_names[2], "net float")

    def test_a_term_named_like_a_niche_stays_apart(self) -> None:
        markets, _ = assemble(self.read(term_weeks=GOOD, niches="niche_id,name\na,Other\n"))
        self.assertEqual(markets[0].data.subjects, ["a", "term:a"])

    def test_the_running_week_is_left_out_when_the_package_says_so(self) -> None:
        rows = weekly("a", [5] * 60)
        write(self.folder, term_weeks=table("term,week,searches", *rows))
        (self.folder / "datapackage.json").write_text('{"created": "2024-02-21T10:00:00+00:00"}')
        markets, notes = assemble(read_package(self.folder))
        self.assertEqual(markets[0].data.timeline.end, date(2024, 2, 18))
        self.assertIn("were not complete", notes[0])

    def test_the_asked_for_day_comes_first(self) -> None:
        package = self.read(term_weeks=table("term,week,searches", *weekly("a", [5] * 60)))
        markets, _ = assemble(package, date(2023, 12, 30))
        self.assertEqual(markets[0].data.timeline.end, date(2023, 12, 24))
