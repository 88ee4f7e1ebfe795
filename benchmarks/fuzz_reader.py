"""Ten thousand broken files against the reader: each is read, or refused with a sentence; nothing else.

    PYTHONPATH=. .venv/bin/python benchmarks/fuzz_reader.py [FILES [SEED]]

Small packages in every form are changed at random: bytes turned, cut out, doubled, files cut short,
cells swapped for awkward ones (absurd dates and numbers among them); of archives and workbooks also what
is inside of them, and what they say of their sizes. Some are of other layouts; what looks like one is read
by the mapping that is proposed for it, or for the file before it was changed. Told are what was read and
refused, the longest time a file took, the memory at its highest, and every other outcome with its seed.
"""

from __future__ import annotations

import gzip
import io
import json
import random
import resource
import struct
import sys
import tempfile
import time
import traceback
import warnings
import zipfile
from collections import Counter
from pathlib import Path

import polars as pl

from driftfield.core.base import CoreError
from driftfield.exchange.mapping import Agreed, look, look_through, propose, try_mapping
from driftfield.exchange.mapping.tests.test_mapping import KNOWN, LAYOUTS
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.reader import read_package
from driftfield.exchange.sources import SourceFile
from driftfield.exchange.tests.packages import supplied_market
from driftfield.exchange.tests.test_forms import book

PACKED = (".zip", ".xlsx", ".gz", ".parquet")
AWKWARD = (
    b"", b"\0", b'"', b"\n", b"\r", b",", b";", b"\t", b"\xff\xfe", b"\xef\xbb\xbf", b"-1", b"1e999", b"nan",
    b"inf", b"=1+1", b"9" * 400, b"2024-02-30", b"0000-00-00", b"9999-12-27", b"2024-01-02", b"\xc3",
    b"\xed\xa0\x80", b"{", b"[", b"null", b"true", b"x" * 100_000, b"term", b"week",
    b"1025-01-06", b"0204-01-02", b"2924-01-07", b"1e39", b"1e308", b"-1e-320", b"[" * 50_000, b"," * 20_000,
)  # fmt: skip


def samples() -> dict[str, bytes]:
    """A small package as files of every form, by name."""
    tables = {
        name: "\n".join(text.splitlines()[:40]) + "\n" for name, text in supplied_market().items()
    }
    weeks = tables["term_weeks"]
    head, *rows = (line.split(",") for line in weeks.splitlines())
    records = [dict(zip(head, row, strict=True)) for row in rows]
    parquet, packed = io.BytesIO(), io.BytesIO()
    pl.read_csv(io.StringIO(weeks)).write_parquet(parquet)
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in tables.items():
            archive.writestr(f"{name}.csv", text)
    return {
        "term_weeks.csv": weeks.encode(),
        "listings.csv": tables["listings"].encode(),
        "term_weeks.tsv": weeks.replace(",", "\t").encode(),
        "term_weeks.csv.gz": gzip.compress(weeks.encode()),
        "term_weeks.jsonl": "\n".join(json.dumps(record) for record in records).encode(),
        "term_weeks.parquet": parquet.getvalue(),
        "term_weeks.xlsx": book(term_weeks=[tuple(head), *(tuple(row) for row in rows)]),
        "package.zip": packed.getvalue(),
        **{name: text if isinstance(text, bytes) else text.encode() for name, text, *_ in LAYOUTS},
    }


def read(path: Path, unchanged: bytes) -> None:
    """Read a file as the application does: looked through, a mapping proposed and tried, then all of it."""
    agreed = {}
    for raw in (unchanged, path.read_bytes()):
        # The mapping of the sound file on the changed one, and the changed one's own.
        layout = look(SourceFile(path.name, raw)) if path.suffix in {".csv", ".tsv"} else None
        if layout is not None:
            agreed[layout.key] = propose(layout, path.name).mapping
    for alike in look_through(path)[0]:
        offered = propose(alike.layout, alike.files[0].name).mapping
        try_mapping(alike.files[0], alike.layout, offered)
    read_package(path, agreed=Agreed(before=agreed), known=KNOWN)


def mutated(raw: bytes, rng: random.Random) -> bytes:
    """One to four changes somewhere."""
    out = bytearray(raw)
    for _ in range(rng.randint(1, 4)):
        at = rng.randrange(len(out) + 1)
        kind = rng.randrange(5)
        if kind == 0 and out:
            out[min(at, len(out) - 1)] ^= 1 << rng.randrange(8)
        elif kind == 1:
            del out[at : at + rng.choice((1, 8, 200))]
        elif kind == 2:
            out[at:at] = out[at : at + rng.choice((1, 30, 2_000))]
        elif kind == 3:
            out[at : at + rng.randint(0, 12)] = rng.choice(AWKWARD)
        else:
            del out[at + len(out) // 2 :]
    return bytes(out)


def mutated_inside(raw: bytes, rng: random.Random) -> bytes:
    """An archive one member of which is changed, or blown up and said to be small."""
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(raw)) as archive,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as changed,
    ):
        names = archive.namelist()
        chosen = rng.choice(names)
        swollen = rng.random() < 0.1
        for name in names:
            text = archive.read(name)
            if name == chosen:
                text = text + b"0" * SWOLLEN if swollen else mutated(text, rng)
            changed.writestr(name, text)
    made = bytearray(out.getvalue())
    if swollen:
        size = struct.pack("<I", len(archive_size(raw, chosen)) + SWOLLEN)
        while (at := made.find(size)) >= 0:
            made[at : at + 4] = struct.pack("<I", 1_000)
    return bytes(made)


SWOLLEN = 80 << 20  # Bytes of a member that says it has a thousand.


def archive_size(raw: bytes, name: str) -> bytes:
    with zipfile.ZipFile(io.BytesIO(raw)) as archive:
        return archive.read(name)


def main(files: int, seed: int) -> int:
    warnings.simplefilter("ignore")
    kept, outcomes, slowest, failures = samples(), Counter[str](), (0.0, 0), 0
    with tempfile.TemporaryDirectory() as holder:
        for number in range(files):
            rng = random.Random(seed * 1_000_003 + number)
            # What is packed is read by a program of its own, which takes a while to start.
            name = rng.choices(list(kept), [0.3 if one.endswith(PACKED) else 1 for one in kept])[0]
            path = Path(holder) / name
            inside = name.endswith((".zip", ".xlsx")) and rng.random() < 0.6
            path.write_bytes((mutated_inside if inside else mutated)(kept[name], rng))
            started = time.perf_counter()
            try:
                read(path, kept[name])
                outcomes["read"] += 1
            except (ExchangeError, CoreError) as error:
                outcomes["refused"] += 1
                if not str(error).strip():
                    failures += 1
                    print(f"{name}, number {number}: refused without a word")
            except BaseException:  # A panic of a library written in Rust is no Exception.
                failures += 1
                print(f"{name}, number {number}:")
                traceback.print_exc(limit=-2)
            slowest = max(slowest, (time.perf_counter() - started, number))
            path.unlink()
    both = (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN)
    memory = max(resource.getrusage(one).ru_maxrss for one in both) / 1024
    print(
        f"{files:,} files: {outcomes['read']:,} read, {outcomes['refused']:,} refused, {failures} neither"
    )
    print(
        f"slowest {slowest[0] * 1000:.0f} ms (number {slowest[1]}); memory at most {memory:,.0f} MB"
    )
    return int(failures > 0)


if __name__ == "__main__":
    numbers = [int(word) for word in sys.argv[1:]]
    sys.exit(main(*(numbers + [10_000, 1][len(numbers) :])))
