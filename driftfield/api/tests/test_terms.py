"""Searches from a seed: what is found, how it goes on, and the ledger of it."""

from driftfield.exchange.tests.packages import START, small_market, table, weekly

from .loaded import Loaded

TERMS = {
    "bee suit": 400, "bee suits": 300, "ventilated bee suit": 90, "bee smoker": 200, "copper bee smoker": 50,
    "queen cage": 150, "bée veil": 20,
}  # fmt: skip


def bee_market() -> dict[str, str]:
    rows = [row for term, height in TERMS.items() for row in weekly(term, [height] * 120, START)]
    files = small_market()
    return {
        "markets": files["markets"],
        "niches": table("niche_id,name,market_id", ("bs", "Bee suits", "north")),
        "terms": table("term,niche_id", ("bee suit", "bs"), ("bee suits", "bs")),
        "term_weeks": table("term,week,searches", *rows),
    }


class Seeds(Loaded):
    package = staticmethod(bee_market)

    def found(self, **asked: str) -> list[str]:
        return [row["id"] for row in self.ledger(of="terms", sort="-searches_52w", **asked)["rows"]]

    def test_the_ledger_of_what_a_seed_finds(self) -> None:
        self.assertEqual(self.found(seed="suits"), ["bee suit", "bee suits", "ventilated bee suit"])
        self.assertEqual(self.found(seed="suits", exact="yes"), ["bee suits"])
        self.assertEqual(self.found(seed="bee", without="suit copper"), ["bee smoker", "bée veil"])
        self.assertEqual(len(self.found(seed="ee s", how="inside")), 5)
        self.assertEqual(
            self.found(seed="bee", after="su"), ["bee suit", "bee suits", "ventilated bee suit"]
        )
        rows = self.ledger(of="terms", seed="suit", sort="-searches_52w")["rows"]
        self.assertEqual([row["niche"] for row in rows], ["bs", "bs", "ventilated bee suit"])

    def test_conditions_count_within_what_the_seed_finds(self) -> None:
        """Of three with “suit” one is searched too little; the four others are no matter of the condition."""
        found = self.ledger("searches >= 10000", of="terms", seed="suit")
        self.assertEqual((found["count"], found["conditions"][0]["removes"]), (2, 1))
        blocked = self.ledger("searches >= 25000", of="terms", seed="suit")["blocked"]
        self.assertEqual(blocked["alone"], [0])
        self.assertEqual(blocked["ways"][0]["passes"], 1)

    def test_how_it_goes_on(self) -> None:
        found = self.get("terms/onward/?seed=bee")
        self.assertEqual((found["terms"], found["searches_52w"]), (6, 52 * 1060))
        self.assertAlmostEqual(found["growth_52w"], 0)
        self.assertEqual([(s["name"], s["terms"]) for s in found["after"]], [("s", 5), ("v", 1)])
        self.assertEqual([s["name"] for s in found["before"]], ["c", "v"])
        self.assertEqual(found["beside"][0], {
            "name": "suit", "terms": 3, "searches_52w": 52 * 790, "growth_52w": 0, "first": "bee suit",
        })  # fmt: skip
        narrowed = self.get("terms/onward/?seed=bee&after=s&c=searches+%3C+12000")
        self.assertEqual(
            [(s["name"], s["terms"]) for s in narrowed["after"]], [("sm", 2), ("su", 1)]
        )
        none = self.get("terms/onward/?seed=parsnip")
        self.assertEqual((none["terms"], none["searches_52w"], none["beside"]), (0, None, []))

    def test_a_word_is_drawn_and_can_be_drawn_again(self) -> None:
        drawn = self.get("terms/draw/?number=4")["seed"]
        self.assertEqual(self.get("terms/draw/?number=4")["seed"], drawn)
        self.assertGreater(self.get(f"terms/onward/?seed={drawn}")["terms"], 0)

    def test_what_is_no_seed_is_said(self) -> None:
        for query, code, words in (
            ("ledger/?of=terms&seed=%E2%80%A6", 409, "A seed is a word or a phrase."),
            ("ledger/?seed=bee", 409, "ask with of=terms"),
            ("terms/onward/", 400, "seed"),
            ("ledger/?of=terms&seed=bee&how=like", 400, "all, any, phrase"),
            ("terms/draw/?number=x", 400, "a whole number"),
        ):
            self.assertIn(words, str(self.get(query, code)), query)

    def test_the_language_of_the_terms_is_a_setting_of_the_market(self) -> None:
        """Turkish knows no plural in -s."""
        self.assertEqual(self.found(seed="suits"), ["bee suit", "bee suits", "ventilated bee suit"])
        body = {"market_id": "north", "language": "turkish"}
        answer = self.client.put("/api/settings/language/", body, content_type="application/json")
        self.assertEqual(answer.json()["language"], "turkish")
        self.assertEqual(self.found(seed="suits"), ["bee suits"])
        self.assertEqual(self.get("markets/")[0]["language"], "turkish")
        body["language"] = "klingon"
        answer = self.client.put("/api/settings/language/", body, content_type="application/json")
        self.assertEqual(answer.status_code, 400)
        self.assertEqual(self.found(seed="suits"), ["bee suits"])
