"""How files of other layouts are read, from the first look to the batch."""

from driftfield.intake.models import LayoutMapping
from driftfield.work.models import Job

from .files import WithFiles


class HowFilesAreRead(WithFiles):
    WEEKS = "Suchbegriff;Woche bis;Suchvolumen\na;08.11.2026;1.234\na;15.11.2026;1.250,5\n".encode(
        "cp1252"
    )

    def test_a_layout_is_proposed_tried_agreed_on_and_known_the_next_time(self) -> None:
        folder = self.hand_over(weeks=self.WEEKS, terms="term\na\n")
        looked = self.ask(f"intake/uploads/{folder}/")
        by_file = {one["files"][0]: one for one in looked["layouts"]}
        self.assertEqual(by_file["terms.csv"]["table"], "terms")
        offered = by_file["weeks.csv"]
        self.assertEqual((offered["table"], offered["kept_at"]), ("", None))
        self.assertIn("Weeks are named by a Sunday", offered["doubts"][0])
        self.assertEqual(offered["rows"][0], ["a", "08.11.2026", "1.234"])

        mapping = offered["mapping"]
        ask = {"layout": offered["key"], "mapping": mapping}
        tried = self.ask(f"intake/uploads/{folder}/try/", 200, ask)
        self.assertEqual(tried["lacks"], "")
        self.assertEqual(tried["made"][1], ["a", "2026-11-09", "1250.5"])
        wrong = mapping | {"decimal": ".", "grouping": ""}
        tried = self.ask(f"intake/uploads/{folder}/try/", 200, ask | {"mapping": wrong})
        self.assertEqual(
            [(p["line"], p["column"], p["value"]) for p in tried["problems"]],
            [(3, "Suchvolumen", "1.250,5")],
        )
        less = mapping | {"columns": mapping["columns"][:2]}
        tried = self.ask(f"intake/uploads/{folder}/try/", 200, ask | {"mapping": less})
        self.assertIn("No column is searches", tried["lacks"])
        other = mapping | {"table": "interest"}
        tried = self.ask(
            f"intake/uploads/{folder}/try/", 200, ask | {"mapping": other, "afresh": True}
        )
        self.assertEqual(tried["layout"]["mapping"]["table"], "interest")
        unnamed = mapping | {"head": 0}
        tried = self.ask(
            f"intake/uploads/{folder}/try/", 200, ask | {"mapping": unnamed, "afresh": True}
        )
        self.assertEqual(tried["layout"]["names"], ["column 1", "column 2", "column 3"])

        agreed = {"layout": offered["key"], "names": offered["names"], "mapping": mapping}
        checked = self.done(self.wanted(folder, agreed))
        self.assertEqual(checked["state"], "done", checked["messages"])
        came = self.done(self.ask(f"intake/jobs/{checked['id']}/import/", 201))
        self.assertEqual(came["state"], "done", came["messages"])
        (batch,) = self.ask("intake/batches/")
        self.assertEqual(batch["mappings"], [{"file": "weeks.csv", "mapping": mapping}])

        again = self.hand_over(november=self.WEEKS.replace(b"a;", b"b;"))
        (known,) = self.ask(f"intake/uploads/{again}/")["layouts"]
        self.assertIsNotNone(known["kept_at"])
        self.assertEqual((known["mapping"], known["doubts"]), (mapping, []))

    def wanted(self, folder: str, *mappings: dict, status: int = 201) -> dict:
        asked = {"kind": "check", "incoming": folder, "name": "North", "mappings": list(mappings)}
        return self.ask("intake/jobs/", status, asked)

    def test_what_does_not_fit_starts_nothing(self) -> None:
        folder = self.hand_over(weeks=self.WEEKS)
        (offered,) = self.ask(f"intake/uploads/{folder}/")["layouts"]
        bad = offered["mapping"] | {"table": "rumours"}
        answer = self.wanted(
            folder,
            {"layout": offered["key"], "names": offered["names"], "mapping": bad},
            status=409,
        )
        self.assertIn("There is no table “rumours”", answer["detail"])
        self.assertEqual(Job.objects.count(), 0)
        self.assertEqual(LayoutMapping.objects.count(), 0)
        gone = self.client.get("/api/intake/uploads/" + "0" * 32 + "/")
        self.assertEqual(
            (gone.status_code, gone.json()["detail"][-18:]), (409, "Upload them again.")
        )
        self.ask(
            f"intake/uploads/{folder}/try/", 404, {"layout": "x", "mapping": offered["mapping"]}
        )

    def test_the_tables_that_files_can_be_are_told(self) -> None:
        rows = {one["name"]: one for one in self.ask("intake/exchange-tables/")}
        self.assertEqual(
            rows["term_weeks"]["spreads"], ["searches", "impressions", "clicks", "purchases"]
        )
        weight = next(c for c in rows["listings"]["columns"] if c["name"] == "weight_g")
        self.assertEqual(weight["units"], ["g", "kg", "oz", "lb"])
