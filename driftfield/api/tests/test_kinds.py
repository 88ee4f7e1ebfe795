"""The same ledger, sieve, desk and files for another kind: terms."""

import json

from driftfield.desk.models import Decision
from driftfield.exchange.tests.packages import supplied_market

from .loaded import Loaded


class Terms(Loaded):
    package = staticmethod(supplied_market)

    def terms(self, *conditions: str, **more: str) -> list[str]:
        return [row["id"] for row in self.ledger(*conditions, of="terms", **more)["rows"]]

    def test_ledger_sieve_and_order(self) -> None:
        found = self.ledger(of="terms", sort="-searches_52w", figures="words,branded")
        self.assertEqual((found["count"], found["total"]), (4, 4))
        first = found["rows"][0]
        self.assertEqual((first["id"], first["name"]), (first["id"], first["id"]))
        self.assertEqual(first["extra"]["words"], len(first["id"].split()))
        self.assertEqual(
            self.terms("words >= 2", "terms contain terracotta"), ["terracotta forcer"]
        )
        self.assertEqual(
            set(self.terms("category Bed covers")), {"rhubarb forcer", "terracotta forcer"}
        )
        # Those that have listings: the ones clicked after the term itself.
        self.assertEqual(
            set(self.terms("top 1 of 3 reviews < 100")), {"rhubarb forcer", "terracotta forcer"}
        )
        self.assertEqual(self.terms("names a brand = yes"), ["moon filter"])
        self.assertEqual(self.get("ledger/ids/?of=terms&c=terms+contain+net")["ids"], ["net float"])
        self.assertEqual(len(self.get("ledger/points/?of=terms")["ids"]), 2)
        self.assertEqual(self.get("ledger/distribution/?of=terms&figure=words")["known"], 4)

    def test_a_figure_of_another_kind_is_named_and_refused(self) -> None:
        for query, expected in (
            (
                "ledger/?of=terms&sort=branded_share",
                "Terms have no figure “Searches with brand words”",
            ),
            ("ledger/?c=names+a+brand+=+yes", "Niches have no figure “Names a brand”; terms do."),
            ("ledger/?of=terms&figures=branded_share", "Terms have no figure"),
            ("ledger/distribution/?figure=words", "Niches have no figure “Words”"),
        ):
            self.assertIn(expected, self.get(query, 409)["detail"], query)
        self.assertIn("niches, terms", self.get("ledger/?of=wares", 400)["detail"])

    def test_decisions_notes_and_shortlists_keep_kinds_apart(self) -> None:
        body = {"market_id": "north", "of": "terms", "id": "net float", "choice": "keep"}
        made = self.post("desk/decisions/", body, 201)
        self.assertEqual((made["of"], made["id"]), ("terms", "net float"))
        # A niche may be called as a term is: “net float” stands for both here.
        self.post(
            "desk/decisions/", {"market_id": "north", "id": "net float", "choice": "pass"}, 201
        )
        self.assertEqual(self.terms("decided keep"), ["net float"])
        self.assertEqual([r["id"] for r in self.ledger("decided pass")["rows"]], ["net float"])
        note = {"market_id": "north", "of": "terms", "id": "net float", "note": "ask"}
        saved = self.client.put("/api/desk/remarks/", json.dumps(note), "application/json")
        self.assertEqual(saved.status_code, 200, saved.content)
        (entry,) = self.get("desk/shortlist/?of=terms")
        self.assertEqual((entry["id"], entry["note"], entry["present"]), ("net float", "ask", True))
        self.assertEqual(entry["then"]["searches_52w"], entry["now"]["searches_52w"])
        self.assertEqual(self.get("desk/shortlist/"), [])
        undone = self.undo()
        self.assertEqual((undone["of"], undone["subjects"][0]["now"]), ("niches", None))
        self.assertEqual(self.undo()["of"], "terms")
        self.assertFalse(Decision.objects.filter(current=True).exists())
        wrong = {"market_id": "north", "of": "terms", "id": "rf", "choice": "keep"}
        self.assertIn("There is no term “rf”", self.post("desk/decisions/", wrong, 409)["detail"])

    def test_a_lens_ranks_terms_among_themselves(self) -> None:
        rows = self.ledger(of="terms", lens="searches=9,reviews=0")["rows"]
        self.assertEqual(sorted(r["rank"] for r in rows), [1, 2, 3, 4])
        before = {r["id"]: r["rank"] for r in self.ledger(of="terms")["rows"]}
        self.assertEqual({r["id"]: r["before"] for r in rows}, before)

    def test_a_term_close_up_is_its_own_and_not_its_niches(self) -> None:
        term = self.get("terms/term/?term=terracotta+forcer")
        row = self.ledger("terms contain terracotta", of="terms")["rows"][0]
        self.assertEqual(
            (term["id"], term["niche"], term["niche_name"]),
            ("terracotta forcer", "rf", "Rhubarb forcers"),
        )
        self.assertEqual(term["figures"]["searches_52w"], row["searches_52w"])
        self.assertEqual(sum(v or 0 for v in term["values"][-52:]), row["searches_52w"])
        niche = self.get("niche/?niche=rf")
        self.assertLess(term["figures"]["searches_52w"], niche["figures"]["searches_52w"])
        self.assertEqual(niche["niche"], "rf")
        self.post(
            "desk/decisions/",
            {"market_id": "north", "of": "terms", "id": "terracotta forcer", "choice": "park"}, 201,
        )  # fmt: skip
        self.assertEqual(self.get("terms/term/?term=terracotta+forcer")["decision"], "park")
        self.assertIn("not typed in", self.get("terms/term/?term=nothing", 404)["detail"])

    def test_sieves_are_offered_where_their_figures_are(self) -> None:
        """A sieve on a figure of terms alone is none of niches; one on searches is of both."""
        for name, condition in (("named", "names a brand = no"), ("sought", "searches >= 10")):
            body = [{"name": name, "conditions": [condition]}]
            self.post("desk/sieves/", body, 201)

        def offered(kind: str) -> set[str]:
            return {one["name"] for one in self.get(f"desk/sieves/?of={kind}") if one["own"]}

        self.assertEqual(offered("terms"), {"named", "sought"})
        self.assertEqual(offered("niches"), {"sought"})

    def test_what_is_related_to_a_term_says_why(self) -> None:
        found = self.get("terms/related/?term=rhubarb+forcer&words=with")
        self.assertEqual(found["by"], "clicks")
        (row,) = found["terms"]
        self.assertEqual((row["term"], row["niche_name"]), ("terracotta forcer", "Rhubarb forcers"))
        self.assertGreater(row["strength"], 0.05)
        self.assertGreater(row["shared"], 0)
        self.assertEqual(self.get("terms/related/?term=rhubarb+forcer")["terms"], [])
        self.assertEqual(self.get("terms/related/?term=net+float")["by"], "words")
