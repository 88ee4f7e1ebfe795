"""The API: what it answers, what it refuses, and how many queries it takes."""

import json
import math
import struct
from urllib.parse import urlencode

import numpy as np
from django.test import TestCase

from driftfield.core.market import NICHE, figures_of
from driftfield.exchange.tests.packages import supplied_market
from driftfield.market.models import Listing, TermCurve
from driftfield.readings.models import Run
from driftfield.readings.tests.stored import spoil

from .addresses import addresses
from .loaded import Loaded


class Stored(Loaded):
    """What was stored before its range was checked is unknown, and no fault."""

    databases = {"default", "work"}  # noqa: RUF012
    package = staticmethod(supplied_market)

    def test_infinite_figures_and_curves_are_unknown(self) -> None:
        spoil(Run.objects.get(), {"searches_52w": math.inf, "growth_13w.drift": math.inf})
        Listing.objects.update(price=math.inf, rating=math.inf, weight_g=math.inf)
        for curve in TermCurve.objects.filter(measure="searches"):
            curve.values = curve.values[:-4] + struct.pack("<f", math.inf)
            curve.save()
        for address in addresses():
            with self.subTest(address):
                self.assertLess(self.client.get(address).status_code, 500)
        self.assertEqual({row["searches_52w"] for row in self.ledger()["rows"]}, {None})


class Ledger(Loaded):
    def test_rows_come_in_rank_order_with_few_queries(self) -> None:
        self.get("ledger/")  # columns are read once and kept
        with self.assertNumQueries(3):
            found = self.get("ledger/")
        self.assertEqual((found["count"], found["total"]), (3, 3))
        self.assertEqual([row["rank"] for row in found["rows"]], [1, 2, 3])
        forcer = next(row for row in found["rows"] if row["id"] == "rf")
        self.assertEqual(forcer["category"], "Growing › Bed covers")
        self.assertEqual(len(forcer["season_profile"]), 52)
        split = (1 + forcer["growth_13w_season"]) * (1 + forcer["growth_13w_drift"])
        self.assertAlmostEqual(split, 1 + forcer["growth_13w_raw"])

    def test_words_are_found_in_names_and_terms(self) -> None:
        self.assertEqual(self.names("terms contain terracotta"), ["Rhubarb forcers"])
        self.assertEqual(self.names("terms contain MOON filt"), ["Moon filters"])
        self.assertEqual(self.names("terms contain 100%"), [])
        self.assertEqual(self.names("terms contain exactly forcer"), ["Rhubarb forcers"])
        self.assertEqual(self.names("terms contain exactly force"), [])
        self.assertEqual(self.names("terms start with net"), ["net float"])
        self.assertEqual(
            self.names("terms lack forcer", sort="name"), ["Moon filters", "net float"]
        )

    def test_shapes_sorting_and_pages(self) -> None:
        self.assertEqual(self.names("shape = Seasonal"), ["Rhubarb forcers"])
        self.assertEqual(len(self.names("shape = Seasonal or Evergreen")), 3)
        self.assertEqual(self.names(sort="name"), ["Moon filters", "Rhubarb forcers", "net float"])
        self.assertEqual(self.names(sort="-searches_52w")[0], "Rhubarb forcers")
        self.assertEqual(self.names(sort="name", offset="1", limit="1"), ["Rhubarb forcers"])
        self.assertEqual(self.names(sort="shape_family,-name")[0], "net float")
        # Unknown sorts last either way: only one niche has clicks.
        for sort in ("headroom", "-headroom"):
            self.assertEqual(self.names(sort=sort)[0], "Rhubarb forcers")

    def test_conditions_say_what_they_alone_remove_and_can_be_off(self) -> None:
        found = self.ledger("shape = Seasonal", "searches >= 5k", "~terms contain zebra")
        # Net float fails both, Moon filters the shape alone.
        self.assertEqual([c["removes"] for c in found["conditions"]], [1, 0, None])
        self.assertEqual(found["conditions"][0]["sentence"], "shape is Seasonal")
        off = found["conditions"][2]
        self.assertEqual(
            (off["text"], off["on"], off["removes"]), ("~terms contain zebra", False, None)
        )

    def test_a_condition_is_read_as_it_is_typed_or_refused(self) -> None:
        def read(text: str) -> dict:
            return self.get(f"ledger/condition/?{urlencode({'text': text})}")

        found = read("price £12 to £45")
        self.assertEqual(found["condition"], "price 12..45")
        self.assertEqual(found["sentence"], "price £12 to £45")
        self.assertIsNone(found["problem"])
        back = read("drift > 5")
        self.assertIsNone(back["condition"])
        self.assertIn("5% or 500%?", back["problem"])
        self.assertEqual(
            back["offers"],
            [
                {"text": "drift 0.05..", "sentence": "drift a year ≥ +5%"},
                {"text": "drift 500%..", "sentence": "drift a year ≥ +500%"},
            ],
        )
        words = read("glass jar")
        self.assertEqual((words["condition"], words["search"]), ("terms contain glass jar", True))
        self.assertEqual(read("price over ")["figure"], "sales.price_median")
        self.assertEqual(read("pric")["completions"][0]["label"], "price")
        self.assertIn("no category", read("category Growng")["problem"])
        self.assertIn(
            "is not a condition", self.get("ledger/?c=cheap", 400)["detail"]
        )  # an address holds no words to look for

    def test_the_place_of_a_niche_among_the_rows_is_told(self) -> None:
        order = [row["id"] for row in self.ledger(sort="name")["rows"]]
        for place, niche in enumerate(order):
            self.assertEqual(self.ledger(sort="name", find=niche, limit="1")["found"], place)
        self.assertIsNone(self.ledger(find="nobody")["found"])
        self.assertIsNone(self.ledger("terms lack forcer", find="rf")["found"])
        self.assertIsNone(self.ledger()["found"])

    def test_what_keeps_everything_out_is_told_with_ways_to_loosen_it(self) -> None:
        self.assertIsNone(self.ledger("searches >= 0")["blocked"])
        searches = sorted(r["searches_52w"] for r in self.ledger()["rows"])
        found = self.ledger(f"searches >= {searches[-1] * 1.2:.0f}", "drift >= -90%")["blocked"]
        self.assertEqual(found["alone"][0], 0)
        way = found["ways"][0]
        self.assertEqual((way["place"], way["passes"]), (0, 1))
        self.assertEqual(len(self.names(way["text"], "drift >= -90%")), 1)

    def test_the_spread_of_a_figure_over_what_passes(self) -> None:
        self.assertEqual(self.get("ledger/distribution/?figure=searches_52w")["known"], 3)
        self.assertEqual(
            self.get("ledger/distribution/?figure=searches_52w&c=terms+lack+forcer")["known"], 2
        )
        self.get("ledger/distribution/?figure=luck", 400)

    def test_near_misses_come_with_the_condition_they_fail(self) -> None:
        searches = {r["name"]: r["searches_52w"] for r in self.ledger()["rows"]}
        bound = searches["Moon filters"] * 1.05
        found = self.ledger(f"searches >= {bound:.0f}", near="yes")
        self.assertEqual((found["count"], found["near"]), (1, 1))
        misses = {r["name"]: r["misses"] for r in found["rows"]}
        self.assertEqual(misses, {"Rhubarb forcers": None, "Moon filters": 0})

    def test_what_it_refuses_and_says(self) -> None:
        for query, status, expected in (
            (
                "colour=red",
                400,
                "Unknown: colour. Known: after, also, before, c, exact, figures, find",
            ),
            ("c=shape=Round", 400, "There is no value of Shape “Round”. Known: Evergreen"),
            ("sort=luck", 400, "sort takes name, or keys of figures"),
            ("limit=9999", 400, "limit: It takes a whole number from 0 to 500; got “9999”."),
            ("offset=-1", 400, "offset: It takes a whole number"),
            ("figures=rank,luck", 400, "figures takes keys of figures; got “luck”."),
            ("market=west", 404, "There is no analysed market “west”"),
        ):
            self.assertIn(expected, self.get(f"ledger/?{query}", status)["detail"])
        wrong = self.get("ledger/?limit=9999&of=wares", 400)
        self.assertEqual({one["field"] for one in wrong["errors"]}, {"limit", "of"})

    def test_categories_count_what_is_below_them(self) -> None:
        self.assertEqual(
            self.get("categories/"),
            [
                {"path": "Growing", "name": "Growing", "category_id": "g", "niches": 1},
                {
                    "path": "Growing › Bed covers",
                    "name": "Bed covers",
                    "category_id": "gb",
                    "niches": 1,
                },
            ],
        )

    def test_named_niches_and_further_figures(self) -> None:
        found = self.get(
            "ledger/?niche=rf&niche=mf&niche=gone&figures=order_by,searches_52w,signals"
        )
        self.assertEqual({row["id"] for row in found["rows"]}, {"rf", "mf"})
        forcer = next(row for row in found["rows"] if row["id"] == "rf")
        self.assertEqual(forcer["extra"]["searches_52w"], forcer["searches_52w"])
        self.assertRegex(forcer["extra"]["order_by"], r"^2026-12-\d\d$")
        self.assertNotIn("order_by", forcer)

    def test_queue_and_points_hold_what_passes_in_order(self) -> None:
        order = [row["id"] for row in self.ledger(sort="-searches_52w")["rows"]]
        self.post("desk/decisions/", {"market_id": "north", "id": "rf", "choice": "park"}, 201)
        queue = self.get("ledger/ids/?sort=-searches_52w")
        self.assertEqual(queue, {"ids": order, "decisions": {"rf": "park"}})
        self.assertEqual(
            self.get("ledger/ids/?sort=-searches_52w&c=decided+open")["ids"],
            [i for i in order if i != "rf"],
        )
        points = self.get("ledger/points/?sort=-searches_52w")
        drawn = [row for row in self.ledger(sort="-searches_52w")["rows"] if row["competition"]]
        self.assertEqual(points["ids"], [row["id"] for row in drawn])
        self.assertEqual(points["names"], [row["name"] for row in drawn])
        self.assertEqual(points["unknown"], 3 - len(drawn))
        for at, row in enumerate(drawn):
            self.assertAlmostEqual(points["demand"][at], row["demand"], places=2)
            self.assertEqual(points["shapes"][points["shape"][at]], row["shape"])

    def test_packed_points_are_the_same(self) -> None:
        plain = self.get("ledger/points/?sort=-searches_52w")
        packed = self.client.get("/api/ledger/points/?sort=-searches_52w&as=packed").content
        length = int.from_bytes(packed[:4], "little")
        head = json.loads(packed[4 : 4 + length])
        # A browser lays arrays of four bytes over it.
        self.assertEqual(length % 4, 0)
        numbers = np.frombuffer(packed[4 + length :], "<f4").reshape(5, len(head["ids"]))
        columns = ("competition", "demand", "headroom", "revenue", "shape")
        for name, values in zip(columns, numbers.tolist(), strict=True):
            for value, told in zip(values, plain.pop(name), strict=True):
                if told is None:
                    self.assertTrue(math.isnan(value))
                else:
                    self.assertAlmostEqual(value, told, delta=1e-6 * abs(told))
        self.assertEqual(head, plain)


class Preview(Loaded):
    def test_says_the_verdict_and_every_figure(self) -> None:
        found = self.get("niche/?niche=rf")
        self.assertEqual(found["first"], "2023-01-02")
        self.assertEqual(len(found["values"]), 156)
        self.assertEqual(len(found["level"]), 156)
        self.assertEqual([one["year"] for one in found["years"]], [2023, 2024, 2025])
        self.assertRegex(found["verdict"][0], "^Every year from")
        self.assertEqual(found["verdict"][-len(found["dates"]) :], found["dates"])
        self.assertRegex(
            " ".join(found["dates"]),
            r"^The season is still open: goods ordered on 28 Dec 2025 arrive on 15 Mar 2026 and meet about "
            r"7\d% of it.* too late for the full season since \d+ Dec\. For the next full one, order by "
            r"\d+ Dec 2026\.$",
        )
        self.assertEqual(set(found["figures"]), {f.column for f in figures_of(NICHE)})
        self.assertIsNone(self.get("niche/?niche=net float")["figures"]["headroom"])

    def test_unknown_niche(self) -> None:
        self.assertIn("“nope” is not in", self.get("niche/?niche=nope", 404)["detail"])


class Empty(TestCase):
    def test_nothing_loaded_says_how_to_load(self) -> None:
        self.assertEqual(self.client.get("/api/markets/").json(), [])
        answer = self.client.get("/api/ledger/")
        self.assertEqual(answer.status_code, 404)
        self.assertEqual(answer["Content-Type"], "application/problem+json")
        self.assertIn("bin/driftfield import FOLDER", answer.json()["detail"])

    def test_other_hosts_are_refused(self) -> None:
        self.assertEqual(
            self.client.get("/api/markets/", HTTP_HOST="evil.example").status_code, 400
        )


class Competition(Loaded):
    package = staticmethod(supplied_market)

    def test_conditions_on_signals_and_on_the_top_listings(self) -> None:
        self.assertEqual(self.names("signal few_reviews"), ["Rhubarb forcers"])
        self.assertEqual(len(self.names("no signal few_reviews")), 2)
        self.assertEqual(self.names("top 4 of 5 reviews < 100"), ["Rhubarb forcers"])
        self.assertEqual(self.names("top 4 of 5 reviews < 100", "top 1 of 1 price > 900"), [])
        self.assertEqual(self.names("price 20..25", "category Growing"), ["Rhubarb forcers"])
        for condition, expected in (
            ("top 1 of 2 wishes > 3", "no figure “wishes”"), ("signal sunny", "There is no signal “sunny”"),
        ):  # fmt: skip
            self.assertIn(
                expected, self.get(f"ledger/?{urlencode({'c': condition})}", 400)["detail"]
            )

    def test_a_preview_says_its_signals(self) -> None:
        found = self.get("niche/?niche=rf")
        answer = {signal["key"]: signal for signal in found["signals"]}
        self.assertIn("under 150 can be approached", answer["few_reviews"]["evidence"])
        self.assertEqual([s["signal"] for s in found["figures"]["signals"]], list(answer))

    def test_registries_of_signals_and_parts(self) -> None:
        rows = {row["key"]: row for row in self.get("signals/")}
        self.assertIn("review_barrier", rows["few_reviews"]["reads"])
        parts = self.get("parts/")
        self.assertEqual({part["side"] for part in parts}, {"demand", "competition"})

    def test_the_ledger_follows_a_lens(self) -> None:
        before = {r["id"]: r["rank"] for r in self.ledger()["rows"]}
        weights = "purchases=0,drift=0,revenue=0,balance=0.99"
        rows = self.ledger(lens=weights)["rows"]
        self.assertEqual([row["rank"] for row in rows], [1, 2, 3])
        # Moon filters is looked for by a brand word alone, which no newcomer can take.
        self.assertEqual([row["id"] for row in rows], ["rf", "net float", "mf"])
        self.assertEqual({r["id"]: r["before"] for r in rows}, before)
        self.assertTrue(all(row["rank_low"] <= row["rank"] <= row["rank_high"] for row in rows))
        self.assertIsNone(self.ledger()["rows"][0]["before"])
        # Conditions ask what the lens makes.
        self.assertEqual(self.names("rank <= 1", lens=weights), ["Rhubarb forcers"])
        self.assertIn("Known: searches", self.get("ledger/?lens=serches%3D1", 400)["detail"])

    def test_terms_of_a_niche_with_few_queries(self) -> None:
        with self.assertNumQueries(5):
            rows = self.get("niche/terms/?niche=rf")
        self.assertEqual(rows[0]["term"], "rhubarb forcer")
        self.assertAlmostEqual(rows[0]["top3_share"], 0.75, 5)
        self.get("niche/terms/?niche=none", 404)
