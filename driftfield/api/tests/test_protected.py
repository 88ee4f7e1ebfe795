"""Protected words: imported, edited, marked everywhere, counted apart, taken out and undone."""

from driftfield.exchange.tests.packages import supplied_market, table
from driftfield.intake.actions import undo_batch
from driftfield.market.models import ProtectedWord

from .loaded import Loaded


def marked_market() -> dict[str, str]:
    words = table(
        "word,match,note", ("terracotta", "exact", "a register"), ("moon", "contains", "")
    )
    return supplied_market() | {"protected_words": words}


class Protected(Loaded):
    package = staticmethod(marked_market)

    def held(self, **asked: str) -> list[str]:
        found = self.ledger("holds a protected word = yes", of="terms", **asked)
        return sorted(row["id"] for row in found["rows"])

    def forcers(self) -> dict:
        return self.get("niche/?niche=rf")["figures"]

    def test_what_is_imported_is_marked_and_counted_apart(self) -> None:
        self.assertEqual(self.held(), ["moon filter", "terracotta forcer"])
        rows = {row["id"]: row["protected"] for row in self.ledger(of="terms")["rows"]}
        self.assertIn("“terracotta”", rows["terracotta forcer"])
        self.assertIsNone(rows["rhubarb forcer"])
        figures = self.forcers()
        one, all_of_it = (
            self.get(f"terms/term/?term={term}")["figures"]["searches_52w"]
            for term in ("terracotta+forcer", "rhubarb+forcer")
        )
        self.assertAlmostEqual(figures["protected_share"], one / (one + all_of_it), 5)
        self.assertAlmostEqual(figures["open_searches_52w"], all_of_it, 1)
        niche = self.ledger("searches with protected words > 1%")["rows"][0]
        self.assertIn("protected word", niche["protected"])

    def test_a_change_of_the_list_marks_anew_at_once(self) -> None:
        before = self.forcers()
        made = {"word": " Rhubarb ", "match": "exact", "note": "of late"}
        self.post("protected-words/", made, 201)
        self.assertEqual(self.held(), ["moon filter", "rhubarb forcer", "terracotta forcer"])
        self.assertEqual(self.forcers()["protected_share"], 1)
        self.assertEqual(self.forcers()["open_searches_52w"], 0)
        rows = {one["word"]: one for one in self.get("protected-words/")}
        self.assertEqual((rows["Rhubarb"]["terms"], rows["Rhubarb"]["note"]), (1, "of late"))
        self.client.delete("/api/protected-words/?word=Rhubarb")
        self.assertEqual(self.forcers(), before)
        for word in ("terracotta", "moon"):
            self.client.delete(f"/api/protected-words/?word={word}")
        self.assertEqual(self.held(), [])
        # Without a list it is not known what holds a word; that is not 0.
        self.assertIsNone(self.forcers()["protected_share"])
        self.assertEqual(self.forcers()["open_searches_52w"], before["searches_52w"])

    def test_what_is_wrong_is_said_and_changes_nothing(self) -> None:
        for body, code, words in (
            ({"word": "…"}, 409, "has letters or digits"),
            ({"word": "x" * 201}, 400, "200"),
            ({"word": "rope", "match": "near"}, 400, "match"),
        ):
            self.assertIn(words, str(self.post("protected-words/", body, code)))
        answer = self.client.delete("/api/protected-words/?word=rope")
        self.assertContains(answer, "is not on the list", status_code=409)
        self.assertEqual(len(self.get("protected-words/")), 2)

    def test_it_goes_out_as_it_came_and_is_undone(self) -> None:
        text = self.client.get("/api/protected-words/file/").content.decode()
        self.assertEqual(
            text.splitlines(), ["word,match,note", "moon,contains,", "terracotta,exact,a register"]
        )
        protected = ProtectedWord.objects.create(word="by hand")
        undo_batch(lambda: None)
        self.assertEqual(list(ProtectedWord.objects.all()), [protected])

    def test_titles_and_terms_of_a_niche_are_marked(self) -> None:
        listings = self.get("niche/listings/?niche=rf")
        word = listings[0]["title"].split()[0]
        self.post("protected-words/", {"word": word}, 201)
        held = [one["protected"] for one in self.get("niche/listings/?niche=rf")]
        self.assertIn(word, held)
        terms = self.get("niche/terms/detail/?niche=rf")["terms"]
        self.assertEqual(
            {one["term"]: one["protected"] for one in terms}["terracotta forcer"], "terracotta"
        )
