"""The dossier's answers: each question of one niche, and what is said where little is known."""

from datetime import date, timedelta

from django.test import override_settings

from driftfield.exchange.tests.packages import START, supplied_market, table
from driftfield.market.models import Feedback, Listing
from driftfield.readings.demand_detail import feasts_ahead

from .loaded import Loaded


def spoken_market() -> dict[str, str]:
    """The supplied market with a mistyped term, a relative curve and a purchase share."""
    files = supplied_market()
    days = [(START + timedelta(weeks=i)).isoformat() for i in range(156)]
    files["terms"] += "rhubarb focrer,rf,0\n"
    files["term_weeks"] += "".join(f"rhubarb focrer,{day},4,2,0\n" for day in days)
    files["interest"] = table(
        "term,week,index", *(("rhubarb forcer", day, 50 + i % 50) for i, day in enumerate(days))
    )
    return files


class Dossier(Loaded):
    package = staticmethod(spoken_market)

    def ask(self, question: str, niche: str = "rf", **more: str) -> dict:
        return self.get(
            "&".join((f"niche/{question}/?niche={niche}", *(f"{k}={v}" for k, v in more.items())))
        )

    def curves(self, **more: str) -> dict[str, dict]:
        return {one["key"]: one for one in self.ask("curves", **more)}


class Demand(Dossier):
    def test_the_forecast_drawn_adds_up_to_the_figure(self) -> None:
        figures = self.get("niche/?niche=rf")["figures"]
        found = self.ask("demand")
        ahead = found["ahead"]
        self.assertAlmostEqual(sum(ahead["values"]), figures["forecast_52w_value"], delta=0.6)
        self.assertTrue(
            all(
                low < v < high
                for low, v, high in zip(ahead["low"], ahead["values"], ahead["high"], strict=True)
            )
        )
        after = date.fromisoformat(figures["as_of"]) + timedelta(days=1)
        self.assertEqual(ahead["first"], after.isoformat())
        for drawn, stored in zip(
            found["profile"]["values"], figures["season_profile"], strict=True
        ):
            self.assertAlmostEqual(drawn, stored, places=3)
        self.assertTrue(
            all(
                low <= v <= high
                for low, v, high in zip(
                    *(found["profile"][k] for k in ("low", "values", "high")), strict=True
                )
            )
        )

    def test_relative_interest_stands_apart_from_counts(self) -> None:
        interest = self.ask("demand")["interest"]
        self.assertEqual((interest["unit"], max(interest["values"])), ("highest 100", 100))
        self.assertNotIn("interest", self.curves())
        self.assertIsNone(self.ask("demand", "mf")["interest"])

    def test_price_steps_are_those_behind_the_price_answer(self) -> None:
        figures = self.get("niche/?niche=rf")["figures"]
        steps = self.ask("demand")["price_steps"]
        self.assertEqual(len(steps), figures["price_answer_changes"])
        # Prices fall by 1% for two months and rise again in the third.
        self.assertEqual({round(one["price"], 2) for one in steps}, {-0.01, 0.02})

    def test_curves_of_demand_and_supply(self) -> None:
        found = self.curves()
        self.assertEqual(
            list(found),
            ["searches", "clicks", "purchases", "purchase_rate", "price", "units", "offers", "out_of_stock",
             "listings", "reviews", "brands", "sellers", "sponsored"],
        )  # fmt: skip
        self.assertEqual(found["searches"]["values"], self.get("niche/?niche=rf")["values"])
        rate = found["purchases"]["values"][9] / found["searches"]["values"][9]
        self.assertAlmostEqual(found["purchase_rate"]["values"][9], rate, places=5)
        # Three listings were on sale in January 2024, four when the fourth was launched; by month.
        units = found["units"]
        self.assertEqual((units["period"], units["first"]), ("month", "2024-01-01"))
        self.assertEqual((found["listings"]["values"][0], found["brands"]["values"][0]), (3, 3))
        self.assertEqual((found["listings"]["values"][-1], found["brands"]["values"][-1]), (5, 4))
        self.assertEqual(units["values"][0], 40 + 30 + 20)
        self.assertAlmostEqual(found["price"]["values"][0], 20)
        self.assertAlmostEqual(found["out_of_stock"]["values"][0], 0.1, places=5)
        # s1 and s2 all along; s5 from March 2024 to the first of February 2025.
        sellers = found["sellers"]["values"]
        self.assertEqual((sellers[0], sellers[2], sellers[12], sellers[13]), (2, 3, 3, 2))
        known = [value for value in found["sponsored"]["values"] if value is not None]
        self.assertEqual([round(value, 3) for value in known], [round(0.2 / 0.75, 3), 0.222, 0.222])

    def test_the_calendar_is_taken_out_of_curves_that_have_one(self) -> None:
        drawn, left = self.curves(), self.curves(season="out", curve="searches")
        self.assertEqual((list(left), left["searches"]["seasonal"]), (["searches"], True))

        def swing(values: list[float]) -> float:
            return max(values[-52:]) / min(values[-52:])

        self.assertGreater(swing(drawn["searches"]["values"]), 3)
        self.assertLess(swing(left["searches"]["values"]), 2)
        price = self.curves(season="out", curve="price")["price"]
        self.assertEqual((price["seasonal"], price["values"]), (False, drawn["price"]["values"]))

    def test_feasts_of_the_coming_year(self) -> None:
        # Easter 2026 and 2027 fall on 5 April and 28 March (tables of the Book of Common Prayer).
        found = {one.name: one.day for one in feasts_ahead(date(2026, 4, 5))}
        self.assertEqual(found["Easter"], date(2027, 3, 28))
        self.assertEqual({one.day for one in feasts_ahead(date(2026, 4, 4)) if one.name == "Easter"},
                         {date(2026, 4, 5), date(2027, 3, 28)})  # fmt: skip


class Supply(Dossier):
    def test_listings_now_and_a_year_ago_with_their_sales(self) -> None:
        found = self.ask("holders")
        first = found["listings"][0]
        # Months up to November 2025: the last one was not over on the as-of.
        self.assertEqual((first["attributes"], first["weight_g"]), ({"colour": "grey"}, 800))
        self.assertAlmostEqual(first["click_share_52w_ago"], 0.4, places=4)
        self.assertEqual((first["units_52w"], first["offers"], len(first["trend"])), (480, 2, 23))
        self.assertAlmostEqual(first["revenue_52w"], 40 * 20 * 0.99 * 12, delta=1)
        self.assertTrue(any("three most clicked take 75%" in answer for answer in found["verdict"]))

    def test_launches_and_their_fate(self) -> None:
        found = self.ask("holders")
        # The old ones sell 40, 30 and 20 a month all year, so the bar is a thirteenth of 12 × 30 in four
        # average weeks: one launch passes it.
        self.assertEqual((found["bar"], found["bar_unit"]), (27.69, "units"))
        fates = {one["listing_id"]: (one["fate"], one["amount"]) for one in found["launches"]}
        self.assertEqual(fates, {"l4": ("worked", 32.31), "l5": ("fell short", 1.85)})

    def test_how_facts_are_spread_and_what_is_chosen(self) -> None:
        found = self.ask("holders")
        for fact, spread in found["spreads"].items():
            with self.subTest(fact=fact):
                self.assertEqual(sum(spread["listings"]) + spread["unknown"], 5)
                self.assertAlmostEqual(sum(spread["clicks"]), 0.9)
                self.assertEqual(len(spread["edges"]), len(spread["listings"]) + 1)
        self.assertEqual(
            [
                (one["value"], one["listings"], round(one["clicks"], 2), one["units"])
                for one in found["attributes"]
            ],
            [("grey", 4, 0.8, 480 + 360 + 240 + 12), ("red", 1, 0.1, 9 * 35)],
        )
        self.assertEqual(found["winners"], [])  # One launch that worked tells nothing.

    def test_one_listing_over_time(self) -> None:
        found = self.ask("listings/history", listing="l5")
        curves = {one["key"]: one for one in found["curves"]}
        self.assertEqual(list(curves), ["price", "units", "offers", "reviews", "in_stock"])
        self.assertEqual(
            (curves["units"]["first"], set(curves["units"]["values"])), ("2025-06-01", {2.0})
        )
        self.assertEqual(found["held"], [{"seller": "Lane 5", "first": "2025-06-01", "periods": 6}])
        answer = self.get("niche/listings/history/?niche=rf&listing=nope", 404)
        self.assertIn("No listing has the id “nope”", answer["detail"])


class Words(Dossier):
    def test_terms_with_their_interval_growth_and_spelling(self) -> None:
        found = self.ask("terms/detail")
        self.assertIn("Mostly “rhubarb forcer”", found["verdict"][0])
        for mine, plain in zip(found["terms"], self.get("niche/terms/?niche=rf"), strict=True):
            self.assertEqual(plain, {key: mine[key] for key in plain})
        first = found["terms"][0]
        self.assertLess(first["rate_low"], first["purchase_rate"])
        self.assertGreater(first["rate_high"], first["purchase_rate"])
        split = (1 + first["growth_season"]) * (1 + first["growth_drift"])
        self.assertAlmostEqual(split, 1 + first["growth_raw"], places=4)
        # A term with the niche's own season shows the niche's own strip.
        self.assertAlmostEqual(max(first["profile"]), 1.6, delta=0.15)
        wrong = {one["term"]: one["misspelt_of"] for one in found["terms"]}
        self.assertEqual(wrong["rhubarb focrer"], "rhubarb forcer")
        self.assertIsNone(wrong["terracotta forcer"])
        self.assertEqual([one["word"] for one in found["words"]], ["terracotta"])

    def test_the_chosen_terms_as_a_file(self) -> None:
        rows = self.client.get(
            "/api/niche/terms/file/?niche=rf&term=terracotta+forcer&as=json"
        ).json()
        self.assertEqual([row["term"] for row in rows["rows"]], ["terracotta forcer"])
        whole = self.client.get("/api/niche/terms/file/?niche=rf")
        self.assertEqual(len(whole.content.splitlines()), 1 + 3)
        self.assertIn("terms-rhubarb-forcers.csv", whole["Content-Disposition"])
        answer = self.get("niche/terms/file/?niche=rf&term=nope", 404)
        self.assertIn("no term “nope”", answer["detail"])

    def test_where_the_clicks_of_a_term_go(self) -> None:
        found = self.ask("terms/destinations", term="terracotta+forcer")
        self.assertEqual([one["listing_id"] for one in found], ["l1", "l2", "l3", "l4", "l5"])
        self.assertAlmostEqual(found[0]["click_share"], 0.4, places=4)
        self.assertAlmostEqual(found[0]["before"], 0.4, places=4)
        self.assertEqual((found[4]["before"], found[0]["purchase_share"]), (0, None))
        self.assertEqual(self.ask("terms/destinations", term="rhubarb+focrer"), [])


class Complaints(Dossier):
    def setUp(self) -> None:
        forcer = Listing.objects.get(listing_id="l1")
        self.other = Listing.objects.get(listing_id="l2")
        mat = Listing.objects.create(listing_id="l9", title="A mat", category=forcer.category)
        for listing, theme, mentions, week in (
            (forcer, "lid cracks", 60, "2025-02-03"), (forcer, "lid cracks", 20, "2025-08-04"),
            (self.other, "arrived bent", 20, "2025-08-04"), (self.other, "arrived bent", 9, "2025-12-29"),
            (mat, "lid cracks", 100, None), (mat, "arrived bent", 300, None),
        ):  # fmt: skip
            Feedback.objects.create(
                listing=listing, kind="return", tone="complaint", theme=theme, mentions=mentions, week=week
            )  # fmt: skip

    def test_the_niche_against_its_category(self) -> None:
        found = self.ask("feedback")
        rows = {one["theme"]: one for one in found["themes"] if one["kind"] == "return"}
        self.assertEqual(
            (round(rows["lid cracks"]["share"], 4), rows["lid cracks"]["usual"]), (0.7339, 0.25)
        )
        specials = {theme: row["special"] for theme, row in rows.items()}
        self.assertEqual(specials, {"lid cracks": "more", "arrived bent": "fewer"})
        answer = " ".join(found["verdict"])
        self.assertIn("Of returns: mostly “lid cracks”: 73% of 109 reasons", answer)

    def test_listings_by_what_is_said_of_them(self) -> None:
        first, second = self.ask("feedback")["listings"]
        # l1 has 14 complaints in reviews besides.
        self.assertEqual(
            (first["listing_id"], first["theme"], first["mentions"]), ("l1", "lid cracks", 94)
        )
        self.assertEqual(
            (second["theme"], second["share"], second["special"]), ("arrived bent", 1, True)
        )
        self.assertAlmostEqual(second["usual"], 29 / 123)

    def test_quarters_that_are_over(self) -> None:
        found = self.ask("feedback")
        # As of 28 December 2025 the fourth quarter still runs.
        self.assertEqual(found["quarters"], ["2025-01-01", "2025-04-01", "2025-07-01"])
        rows = {one["theme"]: (one["mentions"], one["share"]) for one in found["over_time"]}
        self.assertEqual(rows["lid cracks"], ([60, 0, 20], [1, None, 0.5]))
        self.assertEqual(rows["arrived bent"], ([0, 0, 20], [0, None, 0.5]))


class LittleKnown(Dossier):
    def test_a_niche_without_listings_says_which_tables_would_bring_them(self) -> None:
        found = [one["key"] for one in self.ask("curves", "net+float")]
        self.assertEqual(found, ["searches", "clicks", "purchases", "purchase_rate"])
        holders = self.ask("holders", "net+float")
        self.assertEqual(
            (holders["listings"], holders["launches"], holders["spreads"]), ([], [], {})
        )
        self.assertIn(
            "term_clicks and listings would tell who takes the clicks", holders["verdict"][0]
        )
        answer = self.ask("feedback", "net+float")
        self.assertEqual((answer["themes"], answer["listings"], answer["quarters"]), ([], [], []))
        self.assertIn("feedback would tell what buyers say", answer["verdict"][0])
        self.assertEqual(self.ask("terms/destinations", "net+float", term="net+float"), [])

    @override_settings(DEBUG=False)
    def test_what_is_asked_wrongly_is_named(self) -> None:
        for address, status, words in (
            ("curves/?niche=rf&season=off", 400, "It takes in, out; got “off”"),
            ("curves/?niche=rf&curve=weather", 400, "got “weather”"),
            ("terms/destinations/?niche=rf&term=nope", 404, "no term “nope”"),
            ("holders/?niche=nope", 404, "nope"),
            ("demand/?niche=rf&colour=red", 400, "colour"),
        ):
            with self.subTest(address=address):
                self.assertIn(words, str(self.get(f"niche/{address}", status)))
