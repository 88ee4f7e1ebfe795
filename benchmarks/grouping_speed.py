"""The whole group command against one run of igraph's Leiden alone, on the same terms.

    PYTHONPATH=. .venv/bin/python benchmarks/grouping_speed.py [--terms 100000] [--words]

Writes a market of terms by week with the clicks of the latest week: niches of 3 to 13 terms that share
twelve listings, of whose clicks a part goes to a neighbour's listings and some to listings that are
clicked after everything. Prints how well the niches are found again (adjusted Rand index), seconds,
memory and the ratio. ``--words``: without the clicks.
"""

from __future__ import annotations

import argparse
import resource
import subprocess
import sys
import tempfile
import time
from datetime import date, timedelta
from pathlib import Path

import numpy as np
import polars as pl
from scipy import sparse
from sklearn.metrics import adjusted_rand_score

from driftfield.core.market.grouping.communities import communities
from driftfield.core.market.grouping.links import strongest_links
from driftfield.core.market.vectors import unit_rows, word_vectors
from driftfield.core.market.words import stems_of

ROOT = Path(__file__).resolve().parents[1]
WEEKS, PAGES, EVERYWHERE = 54, 12, 40
LEAK, COMMON = (
    0.15,
    0.05,
)  # Of the clicks, to a neighbour's listings and to those that are everywhere.
FIRST = date(2025, 5, 5)
STUFFS = [
    "glass",
    "copper",
    "oak",
    "linen",
    "tin",
    "slate",
    "wool",
    "brass",
    "clay",
    "ash",
    "steel",
    "bone",
]
USES = [
    "small",
    "large",
    "garden",
    "folding",
    "vintage",
    "spare",
    "heavy",
    "set",
    "outdoor",
    "mini",
]


def market(count: int, seed: int = 0) -> tuple[pl.DataFrame, pl.DataFrame, np.ndarray]:
    """term_weeks (wide), term_clicks and the niche of each term."""
    rng = np.random.default_rng(seed)
    size = rng.integers(3, 14, count // 3)
    niche = np.repeat(np.arange(len(size)), size)[:count]
    niches = int(niche[-1]) + 1
    syllables = np.array(
        ["ba", "ko", "ri", "len", "dor", "mi", "tas", "vel", "pun", "so", "gra", "nek"]
    )
    things = [
        "".join(syllables[[n % 12, n // 12 % 12, n // 144 % 12, n // 1728 % 12, n // 20736 % 12]])
        for n in range(niches)
    ]
    # Each niche's terms differ by a material or a use, no two alike.
    place = np.arange(count) - np.searchsorted(niche, niche)
    start = rng.integers(0, 120, niches)[niche]
    terms = [
        f"{STUFFS[k // 10]} {things[n]}"
        if k % 10 == 0
        else f"{STUFFS[k // 10]} {USES[k % 10]} {things[n]}"
        for n, k in zip(niche.tolist(), ((start + 7 * place) % 120).tolist(), strict=True)
    ]
    level = rng.lognormal(4.5, 1, (count, 1))
    searches = rng.poisson(np.repeat(level, WEEKS, axis=1))
    days = [(FIRST + timedelta(weeks=j)).isoformat() for j in range(WEEKS)]
    weeks = pl.DataFrame({"term": terms, **{day: searches[:, j] for j, day in enumerate(days)}})
    shares = rng.dirichlet(np.linspace(2, 0.2, PAGES), count)
    near = rng.dirichlet(np.full(4, 1.0), count)
    own = niche[:, None] * PAGES + np.arange(PAGES)
    other = ((niche[:, None] + 1) % niches) * PAGES + rng.integers(0, PAGES, (count, 4))
    everywhere = niches * PAGES + rng.integers(0, EVERYWHERE, (count, 1))
    listing = np.concatenate([own, other, everywhere], axis=1).ravel()
    share = np.concatenate(
        [shares * (1 - LEAK - COMMON), near * LEAK, np.full((count, 1), COMMON)], axis=1
    ).ravel()
    term = np.repeat(np.arange(count), PAGES + 5)
    clicks = (
        pl.DataFrame({"term": pl.Series(terms).gather(term), "listing": listing, "share": share * 0.95})
        .with_columns(week=pl.lit(days[-1]))
        .group_by("term", "week", "listing").agg(click_share=pl.col("share").sum().round(4))
        .filter(pl.col("click_share") > 0)
        .select("term", "week", listing_id=pl.format("l{}", "listing"), click_share="click_share")
    )  # fmt: skip
    return weeks, clicks, niche


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--terms", type=int, default=100_000)
    parser.add_argument("--words", action="store_true")
    options = parser.parse_args()
    weeks, clicks, niche = market(options.terms)
    with tempfile.TemporaryDirectory() as holder:
        folder, out = Path(holder) / "in", Path(holder) / "out"
        folder.mkdir()
        weeks.write_csv(folder / "term_weeks.csv")
        if not options.words:
            clicks.write_csv(folder / "term_clicks.csv")
        command = [sys.executable, "-m", "driftfield", "group", str(folder), "--out", str(out)]
        started = time.perf_counter()
        told = subprocess.run(
            command, check=True, cwd=ROOT, stderr=subprocess.PIPE, text=True
        ).stderr
        seconds = time.perf_counter() - started
        memory = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1e6
        found = dict(pl.read_csv(out / "terms.csv").select("term", "niche_id").iter_rows())
    print(told.strip())
    terms = weeks["term"].to_list()
    score = adjusted_rand_score(niche, [found[term] for term in terms])
    if options.words:
        vectors = word_vectors(stems_of(terms))
    else:
        place = pl.DataFrame({"term": terms, "row": np.arange(len(terms))})
        rows = clicks.join(place, on="term")
        page = rows["listing_id"].cast(pl.Categorical).to_physical().to_numpy()
        entries = (rows["click_share"].to_numpy(), (rows["row"].to_numpy(), page))
        vectors = unit_rows(sparse.csr_array(entries, shape=(len(terms), int(page.max()) + 1)))
    links = strongest_links(vectors)
    started = time.perf_counter()
    communities(links, len(terms), 0.4)
    alone = time.perf_counter() - started
    print(
        f"{len(terms):,} terms, {len(links.first):,} links: {seconds:.1f} s, {memory:.2f} GB; adjusted Rand "
        f"index {score:.3f}; Leiden alone {alone:.1f} s, ratio {seconds / alone:.1f}"
    )


if __name__ == "__main__":
    main()
