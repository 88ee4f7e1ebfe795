"""Packed files unpacked in a program of its own, which can take only so much memory and time.

python -m driftfield.exchange.limited FILE FOLDER [BYTES]

A damaged page can end the one that reads it, not only fail, and a file can say less of itself than comes
out of it. The program writes each table as CSV into FOLDER, and what it found into manifest.json there.
"""

from __future__ import annotations

import json
import os
import resource
import subprocess
import sys
from dataclasses import asdict
from pathlib import Path
from tempfile import TemporaryDirectory

from .forms import Made, Unpacking, refusal
from .problems import ExchangeError, Problem, Problems

MANIFEST = "manifest.json"
# Bytes of memory: what the program needs by itself, for each byte of the file, and at most.
OWN, EACH, MEMORY = 400 << 20, 60, 8 << 30
# Seconds: at least, for each MB of the file, and at most.
BRIEF, PER_MB, SECONDS = 10, 2, 600

# Threads that tidy memory wait for ever for what is not to be had; without them it ends at once.
SPARING = {"POLARS_MAX_THREADS": "2", "_RJEM_MALLOC_CONF": "background_thread:false"}


def unpack(file: Path, upto: int | None = None) -> tuple[TemporaryDirectory[str], list[Made]]:
    """The tables in a packed file, and the folder that keeps their text as long as it is held.

    Raises ExchangeError where the file is not what its ending says, or is far more than its size says.
    """
    root = str(Path(__file__).resolve().parents[2])
    folder = TemporaryDirectory(prefix="driftfield-")
    size = file.stat().st_size
    seconds = min(BRIEF + PER_MB * (size >> 20), SECONDS)
    words = [str(file), folder.name, *([] if upto is None else [str(upto)])]
    try:
        done = subprocess.run(
            [sys.executable, "-m", "driftfield.exchange.limited", *words],
            env={**os.environ, **SPARING, "PYTHONPATH": root}, capture_output=True,
            timeout=seconds * 2, check=False,
        )  # fmt: skip
        manifest = json.loads((Path(folder.name) / MANIFEST).read_text("utf-8"))
    except subprocess.TimeoutExpired:
        raise refusal(
            file.name, f"To unpack it took over {seconds * 2} s.",
            "Unpack it yourself and give the folder.",
        ) from None  # fmt: skip
    except (OSError, ValueError):
        # It was ended in the middle: by its limits, or by a part that is damaged.
        raise refusal(
            file.name, _ending_of(done),
            "Save or pack it again; or unpack it yourself and give the tables as CSV.",
        ) from None  # fmt: skip
    if manifest["problems"]:
        problems = Problems()
        for one in manifest["problems"]:
            problems.add(Problem(**one))
        raise ExchangeError(problems)
    return folder, [Made(**{**one, "text": Path(one["text"])}) for one in manifest["made"]]


def _ending_of(done: subprocess.CompletedProcess[bytes]) -> str:
    told = done.stderr.decode("utf-8", "replace").lower()
    if "memory" in told or "alloc" in told:
        return "It needs far more memory than a file of its size does."
    return "It is damaged, or far more than its size says."


def main(file: str, folder: str, upto: str | None = None) -> None:
    """Unpack a file and say what came of it."""
    size = Path(file).stat().st_size
    memory = min(OWN + EACH * size, MEMORY)
    resource.setrlimit(resource.RLIMIT_DATA, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    seconds = min(BRIEF + PER_MB * (size >> 20), SECONDS)
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
    manifest: dict[str, list[dict[str, object]]] = {"problems": [], "made": []}
    try:
        work = Unpacking(Path(file), Path(folder), None if upto is None else int(upto))
        manifest["made"] = [{**asdict(one), "text": str(one.text)} for one in work.run()]
    except ExchangeError as error:
        manifest["problems"] = [asdict(one) for one in error.problems.kept]
    (Path(folder) / MANIFEST).write_text(json.dumps(manifest), "utf-8")


if __name__ == "__main__":
    main(*sys.argv[1:])
