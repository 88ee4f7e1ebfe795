"""The track record on files: what a past of some markets says, and what is told where it is too short."""

import csv
import json
import tempfile
from datetime import date, timedelta
from pathlib import Path
from unittest import TestCase

import numpy as np
from click.testing import CliRunner, Result

from driftfield.cli.main import main
from driftfield.core.market.proof import LEAST
from driftfield.exchange.proof import COLUMNS

from .packages import table, weekly, write

START = date(2021, 1, 4)


def curves(terms: int = 8, weeks: int = 264, start: date = START, seed: int = 1) -> list[tuple]:
    rng = np.random.default_rng(seed)
    week = np.arange(weeks)
    return [
        row
        for term in range(terms)
        for row in weekly(
            f"term {term}",
            rng.poisson(600 * (1 + 0.6 * np.sin(2 * np.pi * week / 52 + term))).tolist(),
            start,
        )
    ]


class Backtest(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.holder = Path(holder.name)

    def run_on(self, *arguments: str, **files: str) -> Result:
        folder = write(self.holder / "in", **files)
        return CliRunner().invoke(main, ["backtest", str(folder), *arguments])

    def rows(self, *arguments: str, **files: str) -> list[dict]:
        result = self.run_on(*arguments, **files)
        self.assertEqual(result.exit_code, 0, result.output)
        return [json.loads(line) for line in result.stdout.splitlines() if line.startswith("{")]

    def rests_on(self, *arguments: str, **files: str) -> str:
        rows = self.rows(*arguments, **files)
        return next(str(row["sentence"]) for row in rows if row["row"] == "limit")

    def weeks(self, *rows: tuple) -> str:
        return table("term,week,searches", *rows)

    def test_says_how_far_forecasts_and_dates_held_from_how_much(self) -> None:
        rows = self.rows(term_weeks=self.weeks(*curves()))
        told = {
            (row["part"], row["measure"], row["group"], row["weeks"]): row
            for row in rows
            if row["row"] == "held"
        }
        within = told["forecast", "within", "", 13]
        self.assertEqual(
            (within["observations"], within["niches"], within["days"], within["meant"]),
            (96, 8, 12, 0.8),
        )
        self.assertTrue(within["low"] < within["value"] <= within["high"])
        self.assertIn("fell within their 80% interval", within["sentence"])
        near = told["season", "near", "", 0]
        self.assertGreater(near["value"], 0.9)
        # Nothing is known of launches, so nothing is claimed.
        launch = told["launch", "area", "headroom", 0]
        self.assertIsNone(launch["value"])
        self.assertIn("too little data", launch["sentence"])
        self.assertEqual(list(rows[0]), list(COLUMNS))
        self.assertEqual({row["row"] for row in rows} - {"miss"}, {"held", "lens", "limit"})
        lens = next(row for row in rows if row["row"] == "lens")
        self.assertIn("Too few launches", lens["sentence"])

    def test_days_are_as_far_apart_as_is_asked_and_begin_where_it_is(self) -> None:
        given = {"term_weeks": self.weeks(*curves(3))}
        days = self.rests_on("--every", "26", **given)
        self.assertIn("This rests on 7 days", days)
        late = (START + timedelta(weeks=210)).isoformat()
        days = self.rests_on("--from", late, **given)
        self.assertIn("This rests on 5 days, 26 Jan 2025 to 25 Jan 2026", days)

    def test_of_a_market_of_one_niche_nothing_is_claimed(self) -> None:
        held = [row for row in self.rows(term_weeks=self.weeks(*curves(1))) if row["row"] == "held"]
        self.assertTrue(all(row["observations"] < LEAST for row in held))
        self.assertTrue(all(row["value"] is None for row in held))

    def test_relative_curves_are_not_called_searches(self) -> None:
        rows = [(term, day, min(value // 12, 100)) for term, day, value in curves(6)]
        told = self.rows(interest=table("term,week,index", *rows))
        misses = [
            row["sentence"] for row in told if row["row"] == "miss" and row["part"] == "forecast"
        ]
        self.assertTrue(misses)
        self.assertTrue(all("points of its relative curve" in one for one in misses))

    def test_of_terms_says_the_same_and_nothing_of_launches(self) -> None:
        """Where each niche has one term; what terms of one niche share counts once."""
        given = {"term_weeks": self.weeks(*curves(4))}
        of = {kind: self.rows("--of", kind, **given) for kind in ("niches", "terms")}
        told = {
            kind: {
                (row["part"], row["group"], row["weeks"]): row
                for row in rows
                if row["measure"] == "within"
            }
            for kind, rows in of.items()
        }
        self.assertEqual({row["of"] for row in of["terms"]}, {"terms"})
        for key in (("forecast", "", 13), ("forecast", "", 52), ("rank", "", 13)):
            self.assertEqual(
                told["terms"][key]["observations"], told["niches"][key]["observations"]
            )
        self.assertFalse([row for row in of["terms"] if row["part"] == "launch"])
        together = self.rows(
            "--of", "terms", **given,
            niches=table("niche_id,name", ("n", "N")),
            terms=table("term,niche_id", *[(f"term {one}", "n") for one in range(4)]),
        )  # fmt: skip
        within = next(
            row for row in together if row["measure"] == "within" and row["part"] == "forecast"
        )
        self.assertEqual((within["observations"], within["low"]), (48, None))

    def test_of_categories_says_the_same_and_nothing_of_what_niches_have_alone(self) -> None:
        """Where each category holds one niche."""
        given = {
            "term_weeks": self.weeks(*curves(4)),
            "categories": table("category_id,parent_id,name", *[(f"c{i}", None, f"C{i}") for i in range(4)]),
            "niches": table("niche_id,name,category_id", *[(f"n{i}", f"N{i}", f"c{i}") for i in range(4)]),
            "terms": table("term,niche_id", *[(f"term {i}", f"n{i}") for i in range(4)]),
        }  # fmt: skip
        told = {kind: self.rows("--of", kind, **given) for kind in ("niches", "categories")}
        self.assertFalse({row["part"] for row in told["categories"]} & {"launch", "signal", "rank"})
        within = [
            next(
                row for row in rows
                if (row["part"], row["measure"], row["group"], row["weeks"], row["category"])
                == ("forecast", "within", "", 26, "")
            )
            for rows in told.values()
        ]  # fmt: skip
        self.assertEqual(within[0]["observations"], within[1]["observations"])
        self.assertEqual(within[0]["niches"], within[1]["niches"])
        words = " ".join(row["sentence"] for row in told["categories"])
        self.assertIn("of all categories had the same shape", words)
        self.assertNotIn("niches", words)

    def test_of_categories_nothing_is_told_where_there_are_none(self) -> None:
        refused = self.run_on("--of", "categories", term_weeks=self.weeks(*curves(4)))
        self.assertEqual(refused.exit_code, 1)
        self.assertIn("no categories whose searches could be added up", refused.output)

    def test_a_record_too_short_is_refused_with_what_it_takes(self) -> None:
        result = self.run_on(term_weeks=self.weeks(*curves(3, weeks=110)))
        self.assertEqual(result.exit_code, 1)
        self.assertIn("an earlier day needs 104 weeks before it and 13 after it", result.output)

    def test_a_start_after_the_record_is_refused_for_what_it_is(self) -> None:
        given = {"term_weeks": self.weeks(*curves(3))}
        result = self.run_on("--from", "2030-01-01", **given)
        self.assertEqual(result.exit_code, 1)
        self.assertIn("lie before the record ends on 2026-01-25. Start earlier.", result.output)

    def test_one_short_market_beside_another_is_named(self) -> None:
        rows = [
            *curves(3),
            *[
                ("brief " + term, day, value)
                for term, day, value in curves(3, weeks=60, start=date(2025, 1, 6))
            ],
        ]
        terms = sorted({row[0] for row in rows})
        result = self.run_on(
            term_weeks=self.weeks(*rows),
            markets=table("market_id,name,currency", ("m", "M", "GBP"), ("b", "B", "GBP")),
            niches=table("niche_id,name,market_id", *[(t, t, "b" if t.startswith("brief") else "m") for t in terms]),
            terms=table("term,niche_id", *[(t, t) for t in terms]),
        )  # fmt: skip
        self.assertEqual(result.exit_code, 0, result.output)
        self.assertIn("b: not replayed. The record of 60 weeks", result.output)

    def test_a_table_holds_the_same(self) -> None:
        given = {"term_weeks": self.weeks(*curves(3))}
        rows = self.rows(**given)
        out = self.holder / "record.csv"
        result = self.run_on("--out", str(out), **given)
        self.assertEqual(result.exit_code, 0, result.output)
        with out.open(encoding="utf-8-sig", newline="") as file:
            told = list(csv.DictReader(file))
        self.assertEqual([one["sentence"] for one in told], [one["sentence"] for one in rows])
