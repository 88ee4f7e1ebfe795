"""Files as they come from elsewhere, each read as the exchange table it is."""

import tempfile
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any
from unittest import TestCase
from unittest.mock import patch

from driftfield.core.base import CoreError, Period
from driftfield.exchange.mapping import Agreed, Mapping, Use, look, propose
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.reader import Package, read_package
from driftfield.exchange.sources import SourceFile

Row = dict[str, Any]
MONDAY, NEXT = date(2026, 11, 9), date(2026, 11, 16)


def lines(*rows: str) -> str:
    return "\n".join(rows) + "\n"


# Name of the file, its text or bytes, the table it is, and some of the values in its first row.
LAYOUTS: list[tuple[str, str | bytes, str, Row]] = [
    ("german.csv", lines("Suchbegriff;Woche;Suchvolumen;Klicks;Käufe", "rhabarberglocke;09.11.2026;1.234,5;300;12",
     "rhabarberglocke;16.11.2026;1.250;n/a;-").encode("cp1252"),
     "term_weeks", {"term": "rhabarberglocke", "week": MONDAY, "searches": 1234.5, "clicks": 300.0, "purchases": 12.0}),
    ("american.csv", lines("Keyword,Week ending,Search Volume,Ignored", 'moon filter,11/14/2026,"12,345",x'),
     "term_weeks", {"term": "moon filter", "week": MONDAY, "searches": 12345.0}),
    ("UTF-16 and ISO weeks.csv", ("\ufeff" + lines("Search Term\tWeek\tSearches", "swarm trap\t2026-W46\t12")).encode("utf-16-le"),
     "term_weeks", {"term": "swarm trap", "week": MONDAY, "searches": 12.0}),
    ("titled.csv", lines("Search report", "Reporting range: 09/11/2026 - 15/11/2026", "", "Search Query,Search Query Volume,Clicks: Click count", "a,12,3"),
     "term_weeks", {"term": "a", "week": MONDAY, "searches": 12.0, "clicks": 3.0}),
    ("terms 2026-11-09.csv", lines("Query,Volume", "a,7", "b,8"),
     "term_weeks", {"term": "a", "week": MONDAY, "searches": 7.0}),
    ("months at the head.csv", lines("Keyword,Category,Nov 2025,Dec 2025,Jan 2026", "a,x,1,2,3", "b,y,4,,6"),
     "term_weeks", {"term": "a", "week": date(2025, 11, 1), "searches": 1.0}),
    ("days of a spreadsheet.csv", lines("Query,Week,Volume", "a,46335,10", "a,46342,11"),
     "term_weeks", {"week": MONDAY, "searches": 10.0}),
    ("without names.csv", lines("rhubarb forcer,2026-11-09,12", "rhubarb forcer,2026-11-16,13"),
     "term_weeks", {"term": "rhubarb forcer", "week": MONDAY, "searches": 12.0}),
    ("unknown names.csv", lines("Mot;Du;Nombre;Taux", "forceur;09/11/2026;1.012,0;3,4%", "forceur;16/11/2026;970,0;3,5%"),
     "term_weeks", {"term": "forceur", "week": MONDAY, "searches": 1012.0}),
    ("clicks.csv", lines("Search Term;Reporting Date;Product code;Click Share;Conversion Share", "a;2026-11-14;L1;12,5%;7%"),
     "term_clicks", {"week": MONDAY, "listing_id": "L1", "click_share": 0.125, "purchase_share": 0.07}),
    ("goods.csv", lines("Item number,Product title,Brand name,Price,Star rating,Reviews,Listed since,Item weight (lb),Length (in),Return rate",
     'L1,Forcer,Hob,£12.50,4.5,"1,012",3 Mar 2024,2,10,2.5%'),
     "listings", {"listing_id": "L1", "title": "Forcer", "brand": "Hob", "price": 12.5, "rating": 4.5, "reviews": 1012.0,
                  "launched_on": date(2024, 3, 3), "weight_g": 907.18474, "length_mm": 254.0, "return_rate": 0.025}),
    ("volumes.csv", lines("Search Term,Week,Impressions,Search Volume (k),Units Ordered", "a,2026-11-09,90000,1.2,31"),
     "term_weeks", {"term": "a", "searches": 1200.0, "purchases": 31.0}),
    ("sold.csv", lines("Product code,Week,Price,Units Ordered", "L1,2026-11-09,12.5,33"),
     "listing_weeks", {"listing_id": "L1", "units": 33.0}),
    ("ranks.csv", lines("Product code,Date,Price,Units sold,Sales Rank,In stock", "L1,2026-11-15,12.5,33,1234,95%", "L1,2026-11-08,12.5,31,1300,90%"),
     "listing_weeks", {"listing_id": "L1", "price": 12.5, "units": 33.0, "sales_rank": 1234.0, "in_stock": 0.95}),
    ("returns.csv", lines("Product code,Reason,Tone,Count", "L1,too small,Complaint,4"),
     "feedback", {"listing_id": "L1", "theme": "too small", "tone": "complaint", "kind": "return", "mentions": 4.0}),
    ("segments.csv", lines("Segment id,Segment name,Category", "n1,Forcers,c1"),
     "niches", {"niche_id": "n1", "name": "Forcers", "category_id": "c1"}),
]  # fmt: skip
KNOWN = {"listings": {"L1"}, "terms": {"a"}, "categories": {"c1"}}


def file_of(name: str, text: str | bytes) -> SourceFile:
    return SourceFile(name, text if isinstance(text, bytes) else text.encode())


class InFolder(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)

    def proposed(self, name: str, text: str | bytes) -> tuple[str, Mapping]:
        layout = look(file_of(name, text))
        assert layout is not None
        return layout.key, propose(layout, name).mapping

    def read(self, files: dict[str, str | bytes], agreed: Agreed) -> Package:
        for name, text in files.items():
            (self.folder / name).write_bytes(text if isinstance(text, bytes) else text.encode())
        return read_package(self.folder, known=KNOWN, agreed=agreed)

    def refused(self, files: dict[str, str | bytes], agreed: Agreed) -> list[str]:
        with self.assertRaises(ExchangeError) as caught:
            self.read(files, agreed)
        return [str(problem) for problem in caught.exception.problems.kept]


class Proposals(InFolder):
    def test_each_layout_is_read_as_what_it_is(self) -> None:
        for name, text, table, values in LAYOUTS:
            with self.subTest(name):
                key, mapping = self.proposed(name, text)
                package = self.read({name: text}, Agreed({key: mapping}))
                (self.folder / name).unlink()
                row = package.frames[table].row(0, named=True)
                self.assertEqual({column: row[column] for column in values}, values)
                self.assertEqual(package.mappings, {name: mapping})

    def test_months_and_weeks_are_told_apart(self) -> None:
        for text, period in (
            (lines("Keyword,Nov 2025,Dec 2025,Jan 2026", "a,1,2,3"), Period.MONTH),
            (lines("Keyword,Date,Volume", "a,30.09.2026,1", "a,31.10.2026,2", "a,30.11.2026,3"), Period.MONTH),
            (lines("Keyword,Date,Volume", "a,01.11.2026,1", "a,08.11.2026,2", "a,15.11.2026,3"), Period.WEEK),
        ):  # fmt: skip
            key, mapping = self.proposed("x.csv", text)
            package = self.read({"x.csv": text}, Agreed({key: mapping}))
            self.assertIs(package.periods["term_weeks"], period, text)

    def test_what_was_a_matter_of_choice_is_said(self) -> None:
        text = lines("Keyword,Week,Volume", 'a,02/11/2026,"1,234"', 'a,09/11/2026,"1,250"')
        layout = look(file_of("x.csv", text))
        assert layout is not None
        offered = propose(layout, "x.csv")
        # Only as day, month, year are these both the same day of a week.
        self.assertEqual(offered.mapping.dates, "dmy")
        self.assertEqual(
            offered.doubts,
            ["“1,250” is read as 1250.", "“02/11/2026” is read as 2 November 2026."],
        )

    def test_impressions_are_not_taken_for_searches(self) -> None:
        for name in ("Impressions", "Clicks", "Page views", "Search rank"):
            text = lines(f"Search Term,Week,{name}", "a,2026-11-09,400")
            _, mapping = self.proposed("x.csv", text)
            self.assertNotIn("searches", [use.to for use in mapping.columns], name)

    def test_a_file_of_nothing_known_is_no_table(self) -> None:
        text = lines("colour,mood", "blue,low", "red,high")
        layout = look(file_of("gossip.csv", text))
        assert layout is not None
        self.assertEqual(propose(layout, "gossip.csv").mapping.table, "")
        self.assertIsNone(look(file_of("picture.csv", b"\x89PNG\0\0\0\rIHDR")))

    def test_dates_at_the_head_do_not_make_another_layout(self) -> None:
        one, two = (
            look(file_of("w.csv", lines(f"Keyword,{heads}", "a,1,2,3")))
            for heads in ("Nov 2025,Dec 2025,Jan 2026", "Dec 2025,Jan 2026,Feb 2026")
        )
        other = look(file_of("w.csv", lines("Term,Nov 2025,Dec 2025,Jan 2026", "a,1,2,3")))
        assert one is not None
        assert two is not None
        assert other is not None
        self.assertEqual(one.key, two.key)
        self.assertNotEqual(one.key, other.key)


class Agreements(InFolder):
    def test_a_layout_that_comes_again_is_read_as_before(self) -> None:
        name, text = LAYOUTS[0][:2]
        key, mapping = self.proposed(name, text)
        package = self.read({"other name.csv": text}, Agreed(before={key: mapping}))
        self.assertEqual(package.frames["term_weeks"]["searches"][0], 1234.5)
        self.assertIn("other name.csv was read as term_weeks.", package.notes)

    def test_an_exchange_table_needs_no_agreement_but_may_have_one(self) -> None:
        text = lines("term;week;searches", "a;2026-11-09;1.234")
        layout = look(file_of("term_weeks.csv", text))
        assert layout is not None
        commas = Mapping(
            "term_weeks", tuple(Use(c, c) for c in layout.names), decimal=",", grouping="."
        )
        before = self.read({"term_weeks.csv": text}, Agreed(before={layout.key: commas}))
        now = self.read({"term_weeks.csv": text}, Agreed(now={layout.key: commas}))
        self.assertEqual(before.frames["term_weeks"]["searches"][0], 1.234)
        self.assertEqual(now.frames["term_weeks"]["searches"][0], 1234.0)

    def test_files_that_were_to_be_left_out_are(self) -> None:
        key, _ = self.proposed("x.csv", lines("colour,mood", "blue,low"))
        files: dict[str, str | bytes] = {
            "term_weeks.csv": lines("term,week,searches", "a,2026-11-09,1"),
            "x.csv": lines("colour,mood", "blue,low"),
        }
        package = self.read(files, Agreed({key: Mapping("")}))
        self.assertIn("x.csv was left out, as was agreed for files like it.", package.notes)

    def test_many_files_of_one_layout_are_one_table(self) -> None:
        files: dict[str, str | bytes] = {
            f"week {day}.csv": lines("Query,Volume", f"a,{n}", f"b,{n + 1}")
            for n, day in enumerate(("2026-11-02", "2026-11-09", "2026-11-16"))
        }
        key, mapping = self.proposed(*next(iter(files.items())))
        frame = self.read(files, Agreed({key: mapping})).frames["term_weeks"]
        self.assertEqual(frame.height, 6)
        self.assertEqual(frame["week"].unique().sort().to_list()[1:], [MONDAY, NEXT])

    def test_what_two_files_say_alike_counts_once_and_otherwise_is_refused(self) -> None:
        head = "Query,Week,Volume"
        one = lines(head, "a,2026-11-02,5", "a,2026-11-09,6")
        key, mapping = self.proposed("1.csv", one)
        agreed = Agreed({key: mapping})
        again = lines(head, "a,2026-11-09,6", "a,2026-11-16,7")
        package = self.read({"1.csv": one, "2.csv": again}, agreed)
        self.assertEqual(package.frames["term_weeks"]["searches"].to_list(), [5, 6, 7])
        self.assertIn("2.csv: 1 rows stand in another file too.", package.notes)
        answer = self.refused({"2.csv": again.replace(",6", ",60")}, agreed)
        self.assertEqual(
            answer,
            ["2.csv, line 2, column Query: Another file says something else of the same term and week. "
             "Keep one of them."],
        )  # fmt: skip

    def test_what_is_no_mapping_is_refused_with_the_reason(self) -> None:
        names = ["Keyword", "When", "Volume"]
        good = Mapping(
            "term_weeks", (Use("Keyword", "term"), Use("When", "week"), Use("Volume", "searches"))
        )
        good.check(names)
        for bad, reason in (
            (replace(good, table="rumours"), "There is no table “rumours”"),
            (replace(good, columns=good.columns[:2]), "No column is searches"),
            (replace(good, columns=(*good.columns, Use("x", "clicks"))), "There is no column “x”"),
            (replace(good, columns=(*good.columns, Use("x", "mood"))), "has no column “mood”"),
            (replace(good, week_in="name"), "week is given twice"),
            (replace(good, decimal=",", grouping=","), "cannot be the same"),
            (replace(good, dates="backwards"), "“backwards” is not how dates are written"),
            (replace(good, columns=(*good.columns[:2], Use("Volume", "searches", "kg"))), "not given in “kg”"),
        ):  # fmt: skip
            with self.subTest(reason), self.assertRaisesRegex(CoreError, reason):
                bad.check(names)
        self.assertEqual(Mapping.from_dict(good.as_dict()), good)


class Refusals(InFolder):
    def test_cells_that_are_written_otherwise_are_named_with_line_and_own_column(self) -> None:
        name, text = "w.csv", lines(
            "Report", "", "Suchbegriff;Woche;Suchvolumen", 'a;09.11.2026;"1.234,5"', "a;2026-11-16;2",
            "b;16.11.2026;1.5", "c;16.11.2026;-3",
        )  # fmt: skip
        key, mapping = self.proposed(
            name, text.replace("2026-11-16", "16.11.2026").replace("1.5", "1,5")
        )
        answer = self.refused({name: text}, Agreed({key: mapping}))
        self.assertEqual(
            [one.partition(" Correct")[0] for one in answer],
            ["w.csv, line 5, column Woche: “2026-11-16” is no date written as day, month, year.",
             "w.csv, line 6, column Suchvolumen: “1.5” is not a number as in 1.234,5."],
        )  # fmt: skip
        mended = text.replace("2026-11-16", "16.11.2026").replace("1.5", "1,5")
        answer = self.refused({name: mended}, Agreed({key: mapping}))
        self.assertEqual(
            answer, ["w.csv, line 7, column Suchvolumen: -3 is negative. It must be 0 or more."]
        )

    def test_lines_are_right_after_line_breaks_in_cells_and_rows_left_out(self) -> None:
        text = lines("Item,Item name,Price", 'L1,"two\nlines",5', "L2,x,", "L3,y,-1")
        key, mapping = self.proposed("goods.csv", text)
        self.assertEqual(
            self.refused({"goods.csv": text}, Agreed({key: mapping})),
            ["goods.csv, line 5, column Price: -1 is negative. It must be 0 or more."],
        )
        text = lines("Keyword,Nov 2025,Dec 2025,Jan 2026", "a,1,,3", "b,,-2,3")
        key, mapping = self.proposed("wide.csv", text)
        (self.folder / "goods.csv").unlink()
        self.assertEqual(
            self.refused({"wide.csv": text}, Agreed({key: mapping})),
            ["wide.csv, line 3, column searches: -2 is negative. It must be 0 or more."],
        )

    def test_a_week_that_stands_nowhere(self) -> None:
        key, mapping = self.proposed("2026-11-09.csv", lines("Query,Volume", "a,1"))
        answer = self.refused({"figures.csv": lines("Query,Volume", "a,1")}, Agreed({key: mapping}))
        self.assertIn("There is no date in its name, where its week was to stand.", answer[0])

    def test_a_large_file_is_converted_block_by_block_with_the_same_lines(self) -> None:
        rows = [
            f"term {n};{MONDAY if n % 2 else NEXT:%d.%m.%Y};1.{n % 900 + 100},5"
            for n in range(3_000)
        ]
        text = lines("Suchbegriff;Woche;Suchvolumen", *rows)
        key, mapping = self.proposed("w.csv", text)
        whole = self.read({"w.csv": text}, Agreed({key: mapping})).frames["term_weeks"]
        with patch("driftfield.exchange.mapping.convert.BLOCK", 5_000):
            pieces = self.read({"w.csv": text}, Agreed({key: mapping})).frames["term_weeks"]
            answer = self.refused(
                {"w.csv": text.replace("term 2900;", ";")}, Agreed({key: mapping})
            )
            with patch("driftfield.exchange.blocks.BLOCK", 7_000):
                # What was converted is read in blocks again, each of other lines.
                counts = self.read({"w.csv": text}, Agreed({key: mapping})).counts
                again = self.refused(
                    {"w.csv": text.replace("term 2900;", ";")}, Agreed({key: mapping})
                )
        self.assertTrue(whole.equals(pieces))
        assert counts is not None
        self.assertEqual(sorted(counts.subjects), sorted(whole["term"]))
        self.assertEqual(again, answer)
        self.assertEqual(answer, ["w.csv, line 2902, column Suchbegriff: The cell is empty. It is required; fill it or remove the line."])  # fmt: skip


class Hostile(InFolder):
    def test_files_that_are_made_to_be_a_burden_are_refused_or_no_table(self) -> None:
        many = ",".join(f"c{n}" for n in range(300_000))
        for name, text in (
            ("columns.csv", f"{many}\n{many}\n"),
            ("cell.csv", "Keyword,Week,Volume\na," + "9" * 6_000_000),
            ("nul.csv", "Keyword,Week,Volume\na\0b,2026-11-09,1\n"),
            ("quote.csv", 'Keyword,Week,Volume\n"' + "x\n" * 200_000),
            ("newlines.csv", "\n" * 500_000),
            ("separators.csv", ";" * 500_000),
        ):
            with self.subTest(name):
                layout = look(file_of(name, text))
                if layout is not None:
                    propose(layout, name)
                (self.folder / name).write_text(text)
                with self.assertRaises(ExchangeError):
                    read_package(self.folder)
                (self.folder / name).unlink()

    def test_a_giant_cell_of_an_agreed_layout_is_named_and_cut_short(self) -> None:
        sound = lines("Keyword,Week,Volume", "a,2026-11-09,1")
        key, mapping = self.proposed("x.csv", sound)
        answer = self.refused(
            {"x.csv": sound + "b,2026-11-09," + "9x" * 500_000}, Agreed({key: mapping})
        )
        self.assertIn("x.csv, line 3, column Volume: “9x9x", answer[0])
        self.assertLess(len(answer[0]), 300)

    def test_formulas_stay_text(self) -> None:
        text = lines("Item,Item name,Price", 'L1,"=HYPERLINK(""http://x"")",5')
        key, mapping = self.proposed("goods.csv", text)
        frame = self.read({"goods.csv": text}, Agreed({key: mapping})).frames["listings"]
        self.assertEqual(frame["title"][0], '=HYPERLINK("http://x")')
