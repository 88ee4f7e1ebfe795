"""Requests that only read, while another program writes."""

from django.http import HttpRequest, HttpResponse
from django.test import TransactionTestCase

from driftfield.api.moments import read_at_one_moment
from driftfield.market.tests.test_moments import elsewhere, names


class Requests(TransactionTestCase):
    def test_questions_are_answered_from_one_moment_and_changes_are_made(self) -> None:
        seen: list[list[str]] = []

        def answer(request: HttpRequest) -> HttpResponse:
            seen.append(names())
            elsewhere(f"{request.method}-{len(seen)}")
            seen.append(names())
            return HttpResponse()

        request = HttpRequest()
        for request.method in ("GET", "POST"):
            read_at_one_moment(answer)(request)
        self.assertEqual(
            seen, [[], [], ["GET-1"], ["GET-1", "POST-3"]], "a change sees what it changes"
        )
