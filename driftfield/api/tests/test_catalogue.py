"""The catalogue: the tree as rows, a category at a glance, and the same by the ledger, files and command line."""

import csv
import io
import json
from urllib.parse import urlencode

import numpy as np
from click.testing import CliRunner

from driftfield.cli.main import main
from driftfield.exchange.tests.packages import table, whole_market
from driftfield.exchange.tests.test_categories import random_market
from driftfield.market.models import Market
from driftfield.readings.actions import analyse_market, choose_settings

from .loaded import Loaded

SEED = 3


class Catalogue(Loaded):
    """A forest of categories, some of them deep."""

    package = staticmethod(lambda: random_market(np.random.default_rng(SEED)))
    databases = frozenset({"default", "work"})

    def tree(self, **asked: str | list[str]) -> dict:
        return self.get(f"catalogue/?{urlencode(asked, doseq=True)}")

    def every(self) -> list[dict]:
        """All rows, with every branch open."""
        ids = [one["id"] for one in self.ledger(of="categories")["rows"]]
        return self.tree(open=ids)["rows"]

    def test_the_tree_opens_branch_by_branch(self) -> None:
        top = self.tree()
        self.assertTrue(all(row["depth"] == 0 and not row["open"] for row in top["rows"]))
        branch = next(row for row in top["rows"] if row["children"])
        opened = self.tree(open=branch["id"])["rows"]
        self.assertEqual(len(opened), len(top["rows"]) + branch["children"])
        at = [row["id"] for row in opened].index(branch["id"])
        below = opened[at + 1 : at + 1 + branch["children"]]
        self.assertEqual({row["depth"] for row in below}, {1})
        self.assertEqual(len(self.every()), top["total"])

    def test_each_level_is_sorted_within_itself(self) -> None:
        for sort in ("-searches_52w", "name", "lorenz.gini"):
            ids = [one["id"] for one in self.every()]
            rows = self.tree(open=ids, sort=sort, figures="searches_52w,lorenz.gini")["rows"]
            levels: dict[tuple, list] = {}
            path: list[str] = []
            for row in rows:
                path = [*path[: row["depth"]], row["id"]]
                value = row["name"] if sort == "name" else row["cells"][sort.lstrip("-")]
                levels.setdefault(tuple(path[:-1]), []).append(value)
            for values in levels.values():
                known = [value for value in values if value is not None]
                self.assertEqual(known, sorted(known, reverse=sort.startswith("-")), sort)
                self.assertEqual(values[: len(known)], known)

    def test_what_passes_shows_with_what_leads_to_it(self) -> None:
        deepest = max(self.every(), key=lambda row: row["depth"])
        found = self.tree(find=deepest["name"])
        self.assertIn(deepest["id"], [row["id"] for row in found["rows"] if row["passes"]])
        self.assertEqual(found["passing"], sum(row["passes"] for row in found["rows"]))
        leading = [row for row in found["rows"] if not row["passes"]]
        self.assertTrue(all(row["open"] for row in leading))
        self.assertEqual(self.tree(find="no such name")["rows"], [])
        some = self.tree(c="niches in it >= 3")
        names = {row["name"] for row in some["rows"] if row["passes"]}
        self.assertEqual(names, set(self.names("niches in it >= 3", of="categories")))

    def test_an_icicle_holds_each_category_within_the_one_above(self) -> None:
        above = {one["category_id"]: one["parent_id"] for one in self.readings()}
        for figure in ("searches_52w", "sales.revenue_52w"):
            found = self.get(f"catalogue/icicle/?figure={figure}")
            pieces = {one["id"]: one for one in found["pieces"]}
            drawn = len(pieces) + found["small"] + found["unknown"]
            self.assertLessEqual(drawn, len(above))
            tops = [one for one in pieces.values() if one["depth"] == 0]
            self.assertAlmostEqual(sum(one["value"] for one in tops) / found["whole"], 1, 2)
            for key, one in pieces.items():
                self.assertAlmostEqual(one["size"] * found["whole"], one["value"], 2)
                if one["depth"]:
                    upper = pieces[above[key]]
                    self.assertGreaterEqual(one["start"], upper["start"] - 1e-9)
                    self.assertLessEqual(
                        one["start"] + one["size"], upper["start"] + upper["size"] + 1e-9
                    )
            deep = next(one for one in pieces.values() if one["depth"] == 1)
            zoomed = self.get(f"catalogue/icicle/?figure={figure}&under={deep['id']}")
            self.assertEqual(
                (zoomed["pieces"][0]["id"], zoomed["pieces"][0]["size"]), (deep["id"], 1)
            )
            self.assertEqual([one["id"] for one in zoomed["above"]], [above[deep["id"]]])
        self.get("catalogue/icicle/?under=none", 404)
        self.get("catalogue/icicle/?figure=drift", 400)

    def readings(self) -> list[dict]:
        answer = self.client.get("/api/readings/file/?of=categories&as=jsonl")
        return [json.loads(line) for line in answer.getvalue().splitlines()]

    def test_the_parts_of_an_index_multiply_to_it(self) -> None:
        told = 0
        for row in self.every():
            one = self.get(f"catalogue/category/?category={row['id']}")
            for index in ("openness", "settledness"):
                lifts = [part["lifts"] for part in one["parts"] if part["index"] == index]
                value = one["figures"][index]
                self.assertEqual(value is None, all(lift is None for lift in lifts), one["id"])
                if value is not None:
                    made = 50 * np.prod([1 + lift for lift in lifts if lift is not None])
                    self.assertAlmostEqual(made, value, places=3)
                    told += 1
        self.assertGreater(told, 0)

    def test_its_curves_are_drawn_with_and_without_their_season(self) -> None:
        category = self.every()[0]["id"]
        drawn = {one["key"]: one for one in self.get(f"catalogue/curves/?category={category}")}
        glance = self.get(f"catalogue/category/?category={category}")["searches"]
        searches = np.array(glance["values"], dtype=float)
        np.testing.assert_allclose(drawn["searches"]["values"], searches, atol=0.01)
        bought = np.array(drawn["purchases"]["values"], dtype=float)
        rate = np.array(drawn["purchase_rate"]["values"], dtype=float)
        np.testing.assert_allclose(rate, bought / searches, rtol=1e-3)
        [calm] = self.get(f"catalogue/curves/?category={category}&curve=searches&season=out")
        # Nothing is claimed and nothing taken out where there is no season.
        self.assertFalse(calm["seasonal"])
        np.testing.assert_allclose(calm["values"], searches, atol=0.01)
        self.get(f"catalogue/curves/?category={category}&curve=interest", 400)

    def test_a_category_adds_up_with_those_right_below_it(self) -> None:
        for row in self.every():
            one = self.get(f"catalogue/category/?category={row['id']}")
            self.assertEqual(one["figures"]["searches_52w"], row["cells"]["searches_52w"])
            searches = one["searches"]
            if searches:
                self.assertAlmostEqual(
                    sum(searches["values"][-52:]), one["figures"]["searches_52w"], delta=1
                )
            last = {window["weeks"]: window for window in one["windows"]}
            if searches:
                self.assertAlmostEqual(last[13]["searches"], sum(searches["values"][-13:]), delta=1)
                for window in last.values():
                    if window["drift"] is not None:
                        whole = (1 + window["season"]) * (1 + window["drift"])
                        self.assertAlmostEqual(whole, 1 + window["raw"], places=4)
            below = [self.get(f"catalogue/category/?category={c['id']}") for c in one["children"]]
            inside = sum(child["figures"]["counts_niches"] for child in below)
            self.assertGreaterEqual(one["figures"]["counts_niches"], inside)

    def test_what_is_sold_agrees_with_its_figures(self) -> None:
        for row in self.every():
            one = self.get(f"catalogue/category/?category={row['id']}")["figures"]
            sold = self.get(f"catalogue/sold/?category={row['id']}")
            self.assertEqual(sold["listings"], one["counts_listings"])
            self.assertEqual(sold["brands"]["count"], one["counts_brands"] or 0)
            revenue = sum(listing["revenue"] or 0 for listing in sold["leaders"])
            self.assertLessEqual(revenue, (one["sales_revenue_52w"] or 0) * 1.0001)
            if sold["lorenz_listings"]:
                self.assertEqual((sold["lorenz_listings"][-1], sold["lorenz_revenue"][-1]), (1, 1))
                at = np.interp(
                    one["lorenz_share_for_80"], sold["lorenz_listings"], sold["lorenz_revenue"]
                )
                self.assertGreaterEqual(at, 0.799)

    def test_ranges_are_those_of_its_niches(self) -> None:
        for row in self.every():
            one = self.get(f"catalogue/category/?category={row['id']}")
            found = self.get(f"catalogue/ranges/?category={row['id']}&figures=searches_52w")
            niches = self.ledger(one["condition"])["rows"]
            self.assertEqual(found["niches"], len(niches))
            [spread] = found["ranges"]
            if niches:
                values = [niche["searches_52w"] for niche in niches]
                self.assertEqual((spread["low"], spread["high"]), (min(values), max(values)))
                self.assertAlmostEqual(spread["median"], float(np.median(values)))
                self.assertEqual(sum(spread["counts"]), len(values))
        self.get("catalogue/ranges/?category=c0&figures=shape", status=400)

    def test_a_category_is_kept_with_a_note_and_stands_on_the_shortlist(self) -> None:
        id_ = self.every()[0]["id"]
        self.post(
            "desk/decisions/",
            {"market_id": "north", "of": "categories", "id": id_, "choice": "keep"},
            201,
        )
        self.client.put(
            "/api/desk/remarks/",
            {"market_id": "north", "of": "categories", "id": id_, "note": "an idea"},
            content_type="application/json",
        )
        [entry] = self.get("desk/shortlist/?market=north&of=categories")
        self.assertEqual((entry["id"], entry["note"], entry["present"]), (id_, "an idea", True))
        self.assertEqual(self.get("desk/shortlist/?market=north"), [])
        one = self.get(f"catalogue/category/?category={id_}")
        self.assertEqual((one["decision"], one["note"]), ("keep", "an idea"))
        analyse_market(Market.objects.get())
        self.assertEqual(self.tree()["rows"][0]["decision"], "keep")
        self.get("catalogue/category/?category=none", status=404)

    def test_a_lens_says_what_its_weights_would_say_as_settings(self) -> None:
        ids = [row["id"] for row in self.every()]
        parts = self.get("parts/?of=categories")
        self.assertEqual({part["side"] for part in parts}, {"openness", "settledness"})
        usual = ",".join(f"{part['key']}={part['weight']}" for part in parts)
        self.assertEqual(self.tree(open=ids, lens=usual)["rows"], self.every())
        weights = {"open_success": 0, "open_spread": 0, "settled_age": 0.9}
        lens = ",".join(f"{key}={value}" for key, value in weights.items())
        under = {
            row["id"]: row["cells"]["openness"] for row in self.tree(open=ids, lens=lens)["rows"]
        }
        some = max(ids, key=lambda one: under[one] or 0)
        glance = self.get(f"catalogue/category/?category={some}&lens={lens}")
        self.assertEqual(glance["figures"]["openness"], under[some])
        points = {one["id"]: one for one in self.get(f"catalogue/points/?lens={lens}")["points"]}
        passing = self.tree(c="openness >= 50", lens=lens)["passing"]
        self.assertEqual(passing, sum((value or 0) >= 50 for value in under.values()))
        # As settings: analysed anew.
        before = {row["id"]: row["cells"]["openness"] for row in self.every()}
        self.assertNotEqual(before, under)
        choose_settings(Market.objects.get(), weights)
        analyse_market(Market.objects.get())
        for row in self.every():
            told, value = under[row["id"]], row["cells"]["openness"]
            self.assertEqual(told is None, value is None, row["id"])
            if value is not None:
                self.assertAlmostEqual(told, value, 9)
        set_so = self.get(f"catalogue/category/?category={some}")
        for key, value in set_so["figures"].items():
            if key.startswith(("openness", "settledness")) and value is not None:
                self.assertAlmostEqual(glance["figures"][key], value, 9, key)
        self.assertEqual(glance["openness"], set_so["openness"])
        for one in self.get("catalogue/points/")["points"]:
            self.assertAlmostEqual(points[one["id"]]["settledness"], one["settledness"], 9)
        self.tree_refused("open_success=0,open_newcomers=0,open_spread=0,open_reviews=0", 409)
        self.tree_refused("reviews=0.5", 409)
        self.tree_refused("open_success=x", 400)

    def tree_refused(self, lens: str, status: int) -> None:
        self.get(f"catalogue/?lens={lens}", status)

    def test_files_and_the_command_line_say_the_same(self) -> None:
        id_ = self.every()[0]["id"]
        one = self.get(f"catalogue/category/?category={id_}")["figures"]
        done = CliRunner().invoke(main, ["category", "north", id_])
        self.assertEqual(done.exit_code, 0, done.output)
        record = json.loads(done.output)
        self.assertEqual(record["counts"]["listings"], one["counts_listings"])
        self.assertEqual(record["lorenz"]["gini"], one["lorenz_gini"])
        self.assertEqual(record["supply"]["listings"], one["counts_listings"])
        lines = (
            self.client.get("/api/readings/file/?of=categories&as=jsonl").getvalue().splitlines()
        )
        filed = {row["category_id"]: row for row in map(json.loads, lines)}[id_]
        self.assertAlmostEqual(filed["openness"] or 0, one["openness"] or 0, places=4)
        missing = CliRunner().invoke(main, ["category", "north", "none"])
        self.assertIn("no analysed category “none”", missing.output)


class Odd(Loaded):
    """Every optional table, a category of nothing, and two of one name."""

    @staticmethod
    def package() -> dict[str, str]:
        files = whole_market()
        files["categories"] = table(
            "category_id,parent_id,name", ("g", "", "Growing"), ("gb", "g", "Bed covers"),
            ("e", "", "Bed covers"), ("e1", "e", "=cmd()<b>"),
        )  # fmt: skip
        return files

    def test_a_category_without_anything_says_so(self) -> None:
        one = self.get("catalogue/category/?category=e1")
        self.assertEqual(
            (one["figures"]["counts_niches"], one["figures"]["searches_52w"]), (0, None)
        )
        self.assertIn("cannot be told", one["openness"][0])
        sold = self.get("catalogue/sold/?category=e1")
        self.assertEqual((sold["listings"], sold["leaders"]), (0, []))
        self.assertEqual(self.get("catalogue/ranges/?category=e1")["niches"], 0)

    def test_two_of_one_name_are_told_apart_by_their_ids(self) -> None:
        self.assertEqual(self.get("catalogue/category/?category=gb")["condition"], "category gb")
        self.assertEqual(
            self.get("catalogue/category/?category=g")["condition"], "category Growing"
        )
        self.assertEqual(self.names("category gb"), ["Rhubarb forcers"])

    def test_why_it_comes_back_is_held_against_one_level_up(self) -> None:
        back = self.get("catalogue/sold/?category=gb")["returned"]
        self.assertEqual(back["beside"], "Growing")
        self.assertEqual([one["theme"] for one in back["reasons"]], ["too small"])
        self.assertIsNone(back["reasons"][0]["beside"])


class Returns(Loaded):
    """Two branches whose listings draw their reasons from one hat, but for one reason in one of them."""

    @staticmethod
    def package() -> dict[str, str]:
        files = random_market(np.random.default_rng(SEED))
        rng = np.random.default_rng(9)
        files["categories"] = table(
            "category_id,parent_id,name",
            ("w", "", "Water"),
            ("a", "w", "Hooks"),
            ("b", "w", "Ropes"),
        )
        for name, column in (("niches", 2), ("listings", 4)):
            rows = list(csv.reader(io.StringIO(files[name])))
            for i, row in enumerate(rows[1:]):
                row[column] = "a" if i % 2 else "b"
            files[name] = table(",".join(rows[0]), *map(tuple, rows[1:]))
        feedback = []
        for i in range(40):
            for theme in rng.choice(8, 2, replace=False):
                feedback.append(
                    (f"l{i}", "return", f"reason {theme}", "complaint", int(rng.poisson(30)))
                )
            if i % 2:
                feedback.append((f"l{i}", "return", "does not float", "complaint", 40))
        return files | {"feedback": table("listing_id,kind,theme,tone,mentions", *feedback)}

    def test_a_reason_stands_out_by_listings_and_not_by_mentions(self) -> None:
        back = self.get("catalogue/sold/?category=a")["returned"]
        said = {one["theme"]: one["says"] for one in back["reasons"]}
        self.assertEqual(said.pop("does not float"), "more")
        # Thousands of mentions, of twenty listings: what chance gave them is no news.
        self.assertLessEqual(sum(bool(one) for one in said.values()), 1)
        for one in back["reasons"]:
            self.assertTrue(one["low"] <= one["share"] <= one["high"])
            self.assertGreater(one["high"] - one["low"], 0.05)
