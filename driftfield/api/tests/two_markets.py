"""Two small markets in which something is the same, and tests that ask of both."""

import tempfile
from datetime import timedelta
from pathlib import Path

import numpy as np

from driftfield.core.curves.tests.synthetic import LENGTH, sine
from driftfield.core.curves.tests.test_beside import following
from driftfield.exchange.tests.packages import START, table, weekly, write
from driftfield.intake.actions import import_folder
from driftfield.readings.actions import analyse_all

from .loaded import Loaded

FIRST, SECOND = following(6, 3)
LEVEL = np.random.default_rng(5).poisson(900 * sine(30, 0.3)).astype(float)


def market_of(
    name: str, currency: str, price: float, **niches: tuple[str, str, np.ndarray]
) -> dict[str, str]:
    """A market of niches by id, each with a name, a term and its searches; one listing a niche."""
    days = [(START + timedelta(weeks=i)).isoformat() for i in range(LENGTH)]
    low = name.lower()
    return {
        "markets": table("market_id,name,currency", (low, f"Quay {name}", currency)),
        "categories": table("category_id,parent_id,name", ("tools", "", "Tools"), (f"{low}-own", "tools", "Own")),
        "niches": table(
            "niche_id,name,category_id,market_id",
            *((key, called, "tools", low) for key, (called, *_) in niches.items()),
        ),
        "terms": table("term,niche_id", *((term, key) for key, (_, term, _) in niches.items())),
        "term_weeks": table(
            "term,week,searches",
            *(row for _, term, values in niches.values() for row in weekly(term, values.tolist(), START)),
        ),
        "listings": table(
            "listing_id,title,price,reviews",
            *((f"{low}-{key}", called, price, 40 if low == "north" else 400) for key, (called, *_) in niches.items()),
        ),
        "term_clicks": table(
            "term,week,listing_id,click_share",
            *((term, day, f"{low}-{key}", 0.6) for key, (_, term, _) in niches.items() for day in days[-60:]),
        ),
    }  # fmt: skip


NORTH = market_of(
    "North", "GBP", 10.0,
    hooks=("Lock hooks", "lock hook", FIRST), lids=("Pail lids", "pail lid", LEVEL), n9=("Smoker", "bee smoker", LEVEL),
)  # fmt: skip
SOUTH = market_of(
    "South", "EUR", 20.0,
    hooks=("Lock hooks", "lock hook", SECOND), s7=("Pail lid", "cover", LEVEL), s9=("Bellows", "bellows", LEVEL),
)  # fmt: skip


class Two(Loaded):
    databases = frozenset({"default", "work"})

    @classmethod
    def setUpTestData(cls) -> None:
        with tempfile.TemporaryDirectory() as holder:
            for files in (NORTH, SOUTH):
                import_folder(write(Path(holder) / files["markets"].split("\n")[1][:5], **files))
        list(analyse_all())

    def across(self, row: str, market: str = "north", **more: str) -> dict:
        asked = "&".join(f"{key}={value}" for key, value in more.items())
        return self.get(f"across/?market={market}&row={row}&{asked}")

    def pairs(self, which: str, **more: str) -> dict:
        asked = "&".join(f"{key}={value}" for key, value in more.items())
        return self.get(f"across/{which}/?market=north&other=south&{asked}")

    def decide(
        self, one: str, other: str, *, same: bool = True, status: int = 200, **more: str
    ) -> dict:
        match = {
            "market_id": "north",
            "id": one,
            "other_market_id": "south",
            "other_id": other,
            "same": same,
        }
        return self.post("across/matches/", {"matches": [match | more]}, status)

    def undo(self, match_ids: list[int], status: int = 204) -> None:
        answer = self.client.post(
            "/api/across/matches/undo/", {"match_ids": match_ids}, content_type="application/json"
        )
        self.assertEqual(answer.status_code, status, answer.content)
