"""What has changed since a page last asked."""

from urllib.parse import urlencode

from driftfield.desk.actions import decide, remark, save_sieve, undo
from driftfield.desk.models import Choice, Decision

from .loaded import Loaded


class Changes(Loaded):
    def asked(self, since: str = "", etag: str = "", status: int = 200) -> dict:
        headers = {"If-None-Match": etag} if etag else {}
        answer = self.client.get(f"/api/changes/?{urlencode({'since': since})}", headers=headers)
        self.assertEqual(answer.status_code, status, answer.content)
        self.etag = answer.headers.get("ETag", "")
        self.cached = answer.headers.get("Cache-Control", "")
        return answer.json() if status == 200 else {}

    def test_decisions_undos_and_notes_are_told(self) -> None:
        start = self.asked()
        self.assertEqual((start["desk"], start["decisions"]), ("", []))
        decide("north", "rf", Choice.KEEP, "")
        remark("north", "mf", "look again", ["moon"])
        told = self.asked("2020-01-01T00:00:00+00:00")
        self.assertEqual(
            told["decisions"],
            [{"market_id": "north", "of": "niches", "id": "rf", "choice": "keep"}],
        )
        self.assertEqual(
            told["remarks"],
            [
                {
                    "market_id": "north",
                    "of": "niches",
                    "id": "mf",
                    "note": "look again",
                    "tags": ["moon"],
                }
            ],
        )
        undo(Decision.objects.get().pk)
        after = self.asked(told["desk"])
        self.assertEqual([(one["id"], one["choice"]) for one in after["decisions"]], [("rf", None)])
        self.assertEqual(after["figures"], start["figures"])

    def test_while_nothing_changes_the_answer_has_no_body(self) -> None:
        # RFC 9110, 13.1.2: a GET whose If-None-Match matches is answered 304; 15.4.5: without a body, with the
        # ETag and Cache-Control that 200 would have had.
        self.asked()
        etag, cached = self.etag, self.cached
        self.assertRegex(etag, '^"[0-9a-f]+"$')
        self.assertIn("no-cache", cached)
        answer = self.client.get("/api/changes/?since=", headers={"If-None-Match": etag})
        self.assertEqual((answer.status_code, answer.content), (304, b""))
        self.assertEqual((answer["ETag"], answer["Cache-Control"]), (etag, cached))
        for change in (
            lambda: decide("north", "rf", Choice.PASS, ""),
            lambda: save_sieve("Mine", ["price ..20"]),
            lambda: remark("north", "rf", "x"),
        ):
            change()
            self.asked(etag=etag)
            self.assertNotEqual(self.etag, etag)
            etag = self.etag

    def test_a_moment_that_is_none_is_refused(self) -> None:
        for since in ("yesterday", "2026-01-01", "2026-13-01T00:00:00+00:00"):
            self.asked(since, status=400)
        self.asked("2026-02-30T00:00:00+00:00", status=409)

    def test_a_note_is_not_written_over_one_that_was_not_seen(self) -> None:
        def write(note: str, was: str, status: int = 200) -> dict:
            body = {"market_id": "north", "of": "niches", "id": "rf", "note": note, "was": was}
            answer = self.client.put("/api/desk/remarks/", body, content_type="application/json")
            self.assertEqual(answer.status_code, status, answer.content)
            return answer.json()

        write("one", "")
        self.assertIn("changed elsewhere", write("two", "", 412)["detail"])
        self.assertEqual(write("one", "")["note"], "one")  # the same again, after a lost answer
        self.assertEqual(write("two", "one")["note"], "two")
