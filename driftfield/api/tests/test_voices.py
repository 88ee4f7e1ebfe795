"""What buyers write about a niche: themes, decisions on them that outlive imports, questions, wishes, pins."""

import json
import tempfile
from pathlib import Path
from typing import Any
from unittest.mock import patch

from click.testing import CliRunner

from driftfield.cli.main import main
from driftfield.core.voices.tests.made import STOVES, made
from driftfield.desk.actions import merge_niches
from driftfield.desk.models import Pin, ThemeDecision
from driftfield.desk.niche_changes import undo_change
from driftfield.exchange.tests.packages import table, write
from driftfield.exchange.tests.spoken import HEAD, MANY, spoken_market, written
from driftfield.intake.actions import import_folder, undo_batch
from driftfield.market.models import Market, Voice
from driftfield.readings.actions import analyse_all, analyse_market
from driftfield.readings.models import NicheVoices
from driftfield.readings.voices import pack, stored_voices, unpack

from .loaded import Loaded


class Voices(Loaded):
    package = staticmethod(spoken_market)

    def voices(self, niche: str = "rf", **more: str) -> dict:
        query = "".join(f"&{name}={value}" for name, value in more.items())
        return self.get(f"niche/voices/?market=north&niche={niche}{query}")

    def theme(self, word: str, tone: str = "complaint", **more: str) -> dict:
        return next(
            one
            for one in self.voices(**more)["themes"]
            if one["tone"] == tone and (word in one["name"] or word in one["words"])
        )

    def decide(self, act: str, status: int = 201, **more: object) -> dict:
        body = {"market_id": "north", "niche_id": "rf", "language": "english", "act": act, **more}
        return self.post("desk/themes/", body, status)

    def undo_theme(self, key: int, status: int = 200) -> None:
        self.post("desk/themes/undo/", {"key": key}, status)

    def test_each_theme_with_what_it_rests_on(self) -> None:
        found = self.voices()
        kinds, many = found["kinds"], found["texts"]
        self.assertEqual(
            (kinds["comment"], kinds["question"], found["language"]), (3, 3, "english")
        )
        self.assertEqual(many, sum(kinds.values()) - 3)
        self.assertEqual(many + 3 + found["copies"], MANY + 3 + 3 + 2 + 1)
        lid = self.theme("lid")
        self.assertTrue(lid["low"] < lid["share"] < lid["high"])
        self.assertAlmostEqual(lid["share"], lid["texts"] / many, places=3)
        self.assertEqual((lid["grown"], lid["found"], lid["listings"]), ("more", True, 2))
        self.assertLess(lid["stars"], 0)
        self.assertEqual([one["listing_id"] for one in lid["most"]], ["l1", "l2"])
        self.assertEqual(lid["sharing"], 2)
        # Of the notes on returns, and no more of them than are returned at all.
        self.assertAlmostEqual(lid["returned"], lid["notes"] / kinds["return"], places=3)
        self.assertLessEqual(lid["returned_low"], lid["returned"])
        said = lid["sentences"][0]
        text = Voice.objects.get(voice_id=said["voice_id"]).text
        self.assertIn(said["said"], text)
        marked = {said["said"][a:b].lower() for a, b in said["marks"]}
        self.assertTrue(marked & {"lid", "crack", "cracked", "split"}, marked)
        self.assertIn(lid["name"], " ".join(found["verdict"]))

    def test_the_list_has_the_rows_of_the_command_and_what_was_decided(self) -> None:
        def rows() -> Any:
            return self.get("niche/voices/file/?market=north&niche=rf&as=json")["rows"]

        with tempfile.TemporaryDirectory() as holder:
            package, out = (
                write(Path(holder) / "in", **spoken_market()),
                Path(holder) / "themes.json",
            )
            words = ["voices", str(package), "--niche", "rf", "--out", str(out)]
            done = CliRunner().invoke(main, words)
            self.assertEqual(done.exit_code, 0)
            self.assertIn("1 text is in “klingon” and not read", done.stderr)
            every = json.loads(out.read_text("utf-8"))["rows"]
        told = [one for one in every if one["language"] == "english"]
        figures = ("theme", "tone", "texts", "of", "notes", "listings", "grown", "most_of")
        self.assertEqual(
            [[one[key] for key in figures] for one in rows()],
            [[one[key] for key in figures] for one in told],
        )
        for own, other in zip(rows(), told, strict=True):
            for key in ("share", "low", "high", "late", "early", "returned"):
                self.assertAlmostEqual(own[key], other[key], places=3)
        lid = self.theme("lid")
        self.decide("rename", theme=lid["id"], name="a lid that cracks")
        self.decide("hide", theme=self.theme("stalk", "praise")["id"])
        after = rows()
        self.assertIn("a lid that cracks", {one["theme"] for one in after})
        self.assertEqual(len(after), len(told) - 1)

    def test_every_sentence_is_one_click_away(self) -> None:
        lid = self.theme("lid")
        address = (
            f"niche/voices/sentences/?market=north&niche=rf&theme={lid['id'].replace('+', '%2B')}"
        )
        seen, total = [], 1
        while len(seen) < total:
            page = self.get(f"{address}&offset={len(seen)}")
            total = page["total"]
            self.assertTrue(page["sentences"])
            seen += page["sentences"]
        self.assertEqual(len({one["voice_id"] for one in seen}), lid["texts"])
        self.get("niche/voices/sentences/?market=north&niche=rf&theme=nothing", 404)

    def test_whom_a_text_is_about(self) -> None:
        other = self.voices("mf")
        self.assertEqual((other["texts"], other["themes"]), (1, []))
        self.assertEqual(self.voices("net float")["verdict"], [])
        # Of a language without a stemmer it is said that it is not read.
        here = self.voices()
        spoken = {one["language"]: one for one in here["languages"]}
        self.assertEqual(
            {name: (one["texts"], one["read"]) for name, one in spoken.items()},
            {"english": (here["texts"] + 3, True), "german": (1, True), "klingon": (1, False)},
        )
        self.assertEqual(self.voices(language="german")["texts"], 1)
        self.assertEqual(self.voices(language="klingon")["texts"], 0)

    def test_questions_wishes_and_promises(self) -> None:
        found = self.voices()
        self.assertEqual([(one["texts"], one["helpful"]) for one in found["questions"]], [(2, 1.0)])
        self.assertIn(
            "lead", found["questions"][0]["name"] + found["questions"][0]["sentences"][0]["said"]
        )
        self.assertEqual([one["texts"] for one in found["wishes"]], [3])
        self.assertEqual(found["wishes"][0]["pages"], 0)
        broken = {one["promise"]: one for one in found["promises"]}
        self.assertGreaterEqual(broken["size"]["notes"], 1)
        self.assertEqual(broken["colour"]["notes"], 1)
        self.assertEqual(broken["colour"]["sentences"][0]["said"], "Came in a different colour")
        self.assertTrue(broken["size"]["low"] < broken["size"]["share"] < broken["size"]["high"])

    def test_a_listing_against_the_others_of_its_niche(self) -> None:
        # Of one listing half say what nobody says of the other; of the rest there is no difference.
        with tempfile.TemporaryDirectory() as holder:
            rows = [(f"p{at}", "review", f"The spout dribbles badly, batch {at}", 1, "", "l1", "", "", "", "")
                    for at in range(300)]  # fmt: skip
            import_folder(write(Path(holder) / "in", voices=table(HEAD, *rows)))
        list(analyse_all(only_stale=True))
        (found,) = self.get("rivals/voices/?market=north&id=l1")
        self.assertEqual((found["niche_id"], found["others"] > 200), ("rf", True))
        told = {one["name"]: one for one in found["themes"] if one["says"] == "more"}
        (spout,) = [one for name, one in told.items() if "spout" in name or "dribbles" in name]
        self.assertGreater(spout["low"], spout["others_high"])
        (of_brand,) = self.get("rivals/voices/?market=north&of=brands&id=b1")
        self.assertEqual(of_brand["texts"], found["texts"])  # It has that listing alone.
        self.assertEqual(self.get("rivals/voices/?market=north&id=l5"), [])
        self.get("rivals/voices/?market=north&id=nope", 404)

    def test_what_is_said_here_by_the_displeased_and_lately(self) -> None:
        found = self.voices()["contrasts"]
        # Of the other niches one text is known, which is too few to compare with.
        self.assertEqual(set(found), {"low", "now"})
        self.assertIn("cracked", " ".join(one["words"] for one in found["low"]))
        first = found["low"][0]
        self.assertGreater(first["own"] / first["of"], first["other"] / first["other_of"])
        # Another niche of the category that people write about is what this one is set against.
        with tempfile.TemporaryDirectory() as holder:
            stoves = made(STOVES, 300, 3).texts
            rows = [
                (f"s{at}", "review", text, 4, "", "", "mf", "", "", "")
                for at, text in enumerate(stoves)
            ]
            import_folder(write(Path(holder) / "in", voices=table(HEAD, *rows)))
        list(analyse_all(only_stale=True))
        found = self.voices()["contrasts"]
        self.assertEqual(len({"category", "market"} & set(found)), 1)
        (against,) = (found[name] for name in ("category", "market") if name in found)
        self.assertIn("stalks", " ".join(one["words"] for one in against))
        self.assertNotIn(
            "rhubarb", " ".join(one["words"] for one in against)
        )  # That is what it is called.

    def test_decisions_hold_and_can_be_undone(self) -> None:
        lid, size = self.theme("lid"), self.theme("small")
        renamed = self.decide("rename", theme=lid["id"], name="  Frost  cracks it ")["key"]
        self.decide("merge", theme=size["id"], into=lid["id"])
        own = self.decide("own", name="hammers", words=["hammer", " "])["key"]
        self.decide("tone", theme=f"own/{own}", tone="praise")
        self.decide("remedy", theme=lid["id"], text="Fire it twice")
        found = {one["id"]: one for one in self.voices()["themes"]}
        self.assertNotIn(size["id"], found)
        both = found[lid["id"]]
        self.assertEqual((both["name"], both["remedy"]), ("Frost cracks it", "Fire it twice"))
        self.assertTrue(
            max(lid["texts"], size["texts"]) < both["texts"] <= lid["texts"] + size["texts"]
        )
        self.assertEqual((found[f"own/{own}"]["tone"], found[f"own/{own}"]["texts"]), ("praise", 0))
        self.decide("hide", theme=lid["id"])
        self.assertTrue(
            next(one for one in self.voices()["themes"] if one["id"] == lid["id"])["hidden"]
        )
        self.assertNotIn("Frost", " ".join(self.voices()["verdict"]))
        self.decide("hide", 409, theme=lid["id"])
        made = self.voices()["decisions"]
        self.assertEqual(
            [one["act"] for one in made], ["rename", "merge", "own", "tone", "remedy", "hide"]
        )
        for one in made:
            self.undo_theme(one["key"])
        self.assertEqual(self.theme("lid"), lid)
        self.undo_theme(renamed, 409)
        self.assertEqual(ThemeDecision.objects.exclude(undone_at=None).count(), 6)

    def test_decisions_and_pins_go_with_a_niche_that_becomes_part_of_another(self) -> None:
        lid = self.theme("lid")
        self.decide("rename", theme=lid["id"], name="Frost cracks it")
        said = lid["sentences"][0]
        pinned = {"voice_id": said["voice_id"], "said": said["said"], "theme": "Frost cracks it"}
        self.post("desk/pins/", {"market_id": "north", "niche_id": "rf", **pinned}, 201)
        market = Market.objects.get()
        merge_niches(market, ["rf"], "mf")
        analyse_market(market)
        there = self.voices("mf")
        self.assertIn("Frost cracks it", {one["name"] for one in there["themes"]})
        self.assertEqual([one["act"] for one in there["decisions"]], ["rename"])
        self.assertEqual([one["said"] for one in there["pins"]], [said["said"]])
        self.undo_theme(there["decisions"][0]["key"])
        self.assertEqual(self.voices("mf")["decisions"], [])
        undo_change(market)
        analyse_market(market)
        self.assertEqual(self.voices("mf")["pins"], [])
        self.assertEqual(len(self.voices("rf")["pins"]), 1)

    def test_what_cannot_be_decided_changes_nothing(self) -> None:
        lid = self.theme("lid")["id"]
        for why, body in (
            ("no such theme", {"act": "hide", "theme": "complaint/no+such"}),
            ("itself", {"act": "merge", "theme": lid, "into": lid}),
            ("Give a name", {"act": "rename", "theme": lid, "name": "  "}),
            ("up to 120", {"act": "rename", "theme": lid, "name": "x" * 121}),
            ("Give the words", {"act": "own", "name": "x", "words": ["", " "]}),
            ("no word to look for", {"act": "own", "name": "x", "words": ["of the"]}),
            ("what a better product", {"act": "remedy", "theme": lid}),
        ):
            with self.subTest(why):
                act = body.pop("act")
                self.assertIn(why, self.decide(act, 409, **body)["detail"])
        body = {"market_id": "north", "niche_id": "net float", "language": "", "act": "own"}
        self.post("desk/themes/", {**body, "name": "x", "words": ["lid"]}, 400)
        body["language"] = "english"
        self.assertIn(
            "Nothing that could be read",
            self.post("desk/themes/", {**body, "name": "x"}, 409)["detail"],
        )
        self.assertEqual(ThemeDecision.objects.count(), 0)

    def test_decisions_and_pins_survive_a_second_import_and_its_undoing(self) -> None:
        lid = self.theme("lid")
        self.decide("rename", theme=lid["id"], name="Frost cracks the lid")
        said = lid["sentences"][0]
        pin = {"market_id": "north", "niche_id": "rf", "theme": lid["name"]}
        pin |= {"voice_id": said["voice_id"], "said": said["said"]}
        self.post("desk/pins/", pin, 201)
        self.post("desk/pins/", pin, 201)  # Pinned twice it stands once.
        self.assertEqual(
            self.post("desk/pins/", {**pin, "said": "Nobody wrote this"}, 409)["title"],
            "This cannot be done as asked",
        )
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", voices=table(HEAD, *written(8, "later")))
            import_folder(folder)
        list(analyse_all(only_stale=True))
        found = self.voices()
        self.assertGreater(found["texts"], 1.5 * MANY)
        named = [one for one in found["themes"] if one["name"] == "Frost cracks the lid"]
        self.assertEqual(len(named), 1)
        self.assertGreater(named[0]["texts"], lid["texts"])
        self.assertEqual([one["said"] for one in found["pins"]], [said["said"]])
        for _ in range(2):
            undo_batch(lambda: None)
        self.assertFalse(NicheVoices.objects.exists())
        self.assertEqual((ThemeDecision.objects.count(), Pin.objects.count()), (1, 1))

    def test_a_pin_is_removed(self) -> None:
        said = self.theme("lid")["sentences"][0]
        body = {"market_id": "north", "niche_id": "rf", "theme": ""}
        made = self.post(
            "desk/pins/", {**body, "voice_id": said["voice_id"], "said": said["said"]}, 201
        )
        self.assertEqual(self.theme("lid")["sentences"][0]["pinned"], made["key"])
        for status in (200, 409):
            self.post("desk/pins/undo/", {"key": made["key"]}, status)
        self.assertEqual(self.voices()["pins"], [])

    def test_texts_that_did_not_change_are_not_read_anew(self) -> None:
        north = Market.objects.get(market_id="north")
        with patch("driftfield.readings.actions.read_voices.read_whole") as read:
            analyse_market(north)
        read.assert_not_called()
        Voice.objects.filter(voice_id="b0").delete()
        before = NicheVoices.objects.get(niche_id="rf", language="english").texts
        analyse_market(north)
        # Its copy stands in for it.
        self.assertEqual(NicheVoices.objects.get(niche_id="rf", language="english").texts, before)
        Voice.objects.filter(term="moon filter").delete()
        analyse_market(north)
        self.assertFalse(NicheVoices.objects.filter(niche_id="mf").exists())

    def test_what_is_packed_is_unpacked_the_same(self) -> None:
        stored = stored_voices("north", "rf", "english")
        again = unpack("english", 1, pack(stored))
        for name in ("keys", "listings", "helpful"):
            self.assertEqual(
                str(getattr(stored, name).tolist()), str(getattr(again, name).tolist())
            )
        one, other = stored.whole, again.whole
        for name in ("kinds", "broken", "asks", "wishes"):
            self.assertEqual(getattr(one, name).tolist(), getattr(other, name).tolist())
        self.assertEqual(one.read.topics.leading, other.read.topics.leading)
        self.assertEqual(one.all.stems, other.all.stems)
        self.assertEqual(one.all.token.tolist(), other.all.token.tolist())


class Figures(Loaded):
    """What the sieve asks, alike in the application and on files."""

    package = staticmethod(spoken_market)
    KEYS = ("voices.texts", "voices.complaint", "voices.complaint_share", "voices.complaint_low", "voices.fault",
            "voices.fault_share", "voices.worsening", "voices.wishes")  # fmt: skip

    def test_a_complaint_that_no_leader_lacks_is_asked_for(self) -> None:
        rows = {row["id"]: row["extra"] for row in self.ledger(figures=",".join(self.KEYS))["rows"]}
        bells = rows["rf"]
        self.assertEqual(
            bells["voices.texts"], self.get("niche/voices/?market=north&niche=rf")["texts"]
        )
        self.assertLess(bells["voices.complaint_low"], bells["voices.complaint_share"])
        self.assertEqual(bells["voices.worsening"], "yes")
        self.assertEqual(bells["voices.wishes"], 3)
        self.assertEqual(
            rows["net float"]["voices.texts"], None
        )  # Nothing is written: not known, and not 0.
        self.assertEqual(rows["net float"]["voices.worsening"], None)
        # Two of the five leaders are written about, which is not half of them.
        self.assertEqual(bells["voices.fault_share"], None)
        self.assertEqual(self.names("complaint that grows is yes"), ["Rhubarb forcers"])
        self.assertEqual(self.names("voices.complaint_share >= 5%"), ["Rhubarb forcers"])
        self.assertEqual(self.names("voices.complaint_share >= 90%"), [])

    def test_files_and_application_tell_the_same(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **spoken_market())
            done = CliRunner().invoke(main, ["analyse", str(folder)])
        self.assertEqual(done.exit_code, 0, done.output)
        read = {row["niche_id"]: row["voices"] for row in map(json.loads, done.stdout.splitlines())}
        rows = {row["id"]: row["extra"] for row in self.ledger(figures=",".join(self.KEYS))["rows"]}
        for niche, found in rows.items():
            for key in self.KEYS:
                told, wanted = (read[niche] or {}).get(key.removeprefix("voices.")), found[key]
                if isinstance(wanted, float):
                    self.assertAlmostEqual(told, wanted, places=4, msg=(niche, key))
                else:
                    self.assertEqual(told, wanted, (niche, key))
