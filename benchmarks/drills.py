"""Homes that break: what is said and what is lost. A table of what was tried and what happened.

    PYTHONPATH=. .venv/bin/python benchmarks/drills.py

Each drill begins with the small market loaded and three decisions made, breaks something, runs a command,
puts it right as the sentence says, and counts the decisions again. Full and read-only disks are small ones
in memory, which only root can mount; without that those drills are said to be left out. Killing at random
moments is kill_at_random.py's.
"""

from __future__ import annotations

import json
import os
import shutil
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing, contextmanager
from dataclasses import dataclass
from pathlib import Path

from driftfield.exchange.tests.packages import small_market, write

ROOT = Path(__file__).resolve().parents[1]
PORT = 8191
DECIDE = (
    "from driftfield.cli.common import set_up; set_up()\n"
    "from driftfield.desk.actions import decide\n"
    "from driftfield.desk.models import Choice\n"
    "[decide('north', n, Choice.KEEP) for n in ('rf', 'mf', 'net float')]\n"
)


@dataclass(frozen=True, slots=True)
class Told:
    """How a command ended, and what it said."""

    code: int
    text: str

    @property
    def sound(self) -> bool:
        """No traceback, and not ended by a signal."""
        return "Traceback" not in self.text and self.code >= 0


class Home:
    """A data folder with the small market in it, and the package it came from."""

    def __init__(self, folder: Path, data: Path | None = None) -> None:
        self.folder, self.data = folder, data or folder / "data"
        self.package = write(folder / "in", **small_market())
        self.kept = folder / "kept.sqlite3"

    @property
    def environment(self) -> dict[str, str]:
        return {**os.environ, "DRIFTFIELD_DATA": str(self.data), "PYTHONPATH": str(ROOT)}

    def run(self, *words: str) -> Told:
        return self._told([sys.executable, "-m", "driftfield", *words])

    def _told(self, command: list[str]) -> Told:
        made = subprocess.run(
            command, env=self.environment, capture_output=True, text=True, check=False
        )
        return Told(made.returncode, made.stderr.strip())

    def load(self) -> None:
        """The market, three decisions, and a copy of both."""
        for words in (["import", str(self.package)], ["backup", str(self.kept)]):
            told = self.run(*words)
            assert told.code == 0, told.text
            if words[0] == "import":
                self._told([sys.executable, "-c", DECIDE])

    def decisions(self) -> int:
        with closing(sqlite3.connect(self.data / "driftfield.sqlite3")) as opened:
            found = opened.execute("SELECT count(*) FROM desk_decision WHERE current")
            return int(found.fetchone()[0])


@contextmanager
def small_disk(size: str) -> Iterator[Path]:
    """A disk of so many bytes. Raises OSError where none can be mounted."""
    place = Path(tempfile.mkdtemp())
    made = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={size}", "tmpfs", str(place)], capture_output=True, check=False
    )  # fmt: skip
    if made.returncode:
        place.rmdir()
        raise OSError(made.stderr.decode().strip())
    try:
        yield place
    finally:
        subprocess.run(["umount", "-l", str(place)], check=False)
        place.rmdir()


Row = tuple[str, Told, int | None]


def damaged(home: Home, name: str, at: int, raw: bytes) -> Row:
    home.load()
    with (home.data / "driftfield.sqlite3").open("r+b") as out:
        out.seek(at)
        out.write(raw)
    told = home.run("renew")
    assert home.run("restore", str(home.kept)).code == 0
    return f"{name}, then restored", told, home.decisions()


def header(home: Home) -> Row:
    return damaged(home, "Database: first page overwritten", 0, b"x" * 16_384)


def middle(home: Home) -> Row:
    return damaged(home, "Database: 300 KB in the middle zeroed", 200_000, b"\0" * 300_000)


def cut_short(home: Home) -> Row:
    home.load()
    live = home.data / "driftfield.sqlite3"
    os.truncate(live, live.stat().st_size // 2)
    told = home.run("renew")
    assert home.run("restore", str(home.kept)).code == 0
    return "Database cut to half, then restored", told, home.decisions()


def foreign(home: Home) -> Row:
    home.data.mkdir()
    with closing(sqlite3.connect(home.data / "driftfield.sqlite3")) as other, other:
        other.execute("CREATE TABLE recipes (name TEXT)")
    return "Another program's database in its place", home.run("renew"), None


def work_damaged(home: Home) -> Row:
    home.load()
    (home.data / "work.sqlite3").write_bytes(b"x" * 50_000)
    return "Work database overwritten", home.run("renew"), home.decisions()


def no_folder(home: Home) -> Row:
    home.data = home.folder / "kept" / "deeper"
    (home.folder / "kept").write_text("a file")
    return "Data folder below a file", home.run("renew"), None


def two_starts(home: Home) -> Row:
    command = [sys.executable, "-m", "driftfield", "import", str(home.package)]
    both = [
        subprocess.Popen(command, env=home.environment, stderr=subprocess.PIPE, text=True)
        for _ in range(2)
    ]
    told = [one.communicate()[1].strip() for one in both]
    code = max(one.returncode for one in both)
    return "Two first starts and imports at once", Told(code, " | ".join(told)), None


def full_at_start(home: Home) -> Row:
    with small_disk("200k") as disk:
        home.data = disk / "data"
        return "Disk full at the first start", home.run("import", str(home.package)), None


def full_in_import(home: Home) -> Row:
    with small_disk("24m") as disk:
        home.data = disk / "data"
        home.load()
        filler = disk / "filler"
        with filler.open("wb") as out:
            try:
                while True:
                    out.write(b"x" * 65_536)
                    out.flush()
            except OSError:
                pass
        os.truncate(filler, max(filler.stat().st_size - 200_000, 0))
        more = write(home.folder / "more", **small_market(weeks=160, seed=9))
        told = home.run("import", str(more))
        filler.unlink()
        return "Disk full in an import", told, home.decisions()


def read_only(home: Home) -> Row:
    with small_disk("40m") as disk:
        home.data = disk / "data"
        home.load()
        subprocess.run(["mount", "-o", "remount,ro", str(disk)], check=True)
        told = home.run("import", str(home.package))
        subprocess.run(["mount", "-o", "remount,rw", str(disk)], check=True)
        return "Data folder read-only", told, home.decisions()


def killed_import(home: Home) -> Row:
    home.load()
    more = write(home.folder / "more", **small_market(weeks=160, seed=9))
    for wait in (0.5, 0.9, 1.3):
        made = subprocess.Popen(
            [sys.executable, "-m", "driftfield", "import", str(more)], env=home.environment,
            stderr=subprocess.DEVNULL,
        )  # fmt: skip
        time.sleep(wait)
        made.send_signal(signal.SIGKILL)
        made.wait()
    return "Import killed three times, then done", home.run("import", str(more)), home.decisions()


@contextmanager
def served(home: Home) -> Iterator[None]:
    """A server of that home, once it and its worker are there."""
    server = subprocess.Popen(
        [sys.executable, "-m", "driftfield", "serve", "--port", str(PORT)], env=home.environment,
        stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    try:
        _until(lambda: bool(_ask("GET", "markets/")))
        _until(lambda: _pids("driftfield.work.worker"))
        yield
    finally:
        server.terminate()
        server.wait()


def six_starts(home: Home) -> Row:
    """Six windows start a job at the same moment: one of them is first."""
    home.load()
    with served(home):
        folders = [_hand_over(home) for _ in range(6)]
        with ThreadPoolExecutor(6) as pool:
            found = list(pool.map(_started, folders))
        accepted = [one for one in found if one == 201]
        text = f"{len(accepted)} of 6 accepted; the others: {sorted(set(found) - {201})}"
        return (
            "Six jobs started at once",
            Told(0 if len(accepted) == 1 else -1, text),
            home.decisions(),
        )


def _started(folder: str) -> int:
    try:
        _ask("POST", "intake/jobs/", _wanted(folder))
    except urllib.error.HTTPError as error:
        return error.code
    return 201


def killed_keeper(home: Home) -> Row:
    """The program that keeps the worker, and the worker, are killed while a job waits."""
    home.load()
    with served(home):
        first = _check_job(home)
        for pid in _pids("driftfield.work.worker"):
            os.kill(pid, signal.SIGKILL)
        time.sleep(1)
        with closing(sqlite3.connect(home.data / "work.sqlite3")) as opened, opened:
            # As it stands where the worker was killed in the middle of it.
            opened.execute("UPDATE work_job SET state = 'running' WHERE id = ?", [first["id"]])
        second = _check_job(home)
        _until(lambda: _ask("GET", f"intake/jobs/{second['id']}/")["state"] == "done")
        before = _ask("GET", f"intake/jobs/{first['id']}/")
        text = f"{before['text'][0]} The next job was accepted and done."
        return "Keeper and worker killed in a job", Told(0, text), home.decisions()


def _check_job(home: Home) -> dict[str, str]:
    return _ask("POST", "intake/jobs/", _wanted(_hand_over(home)))


def _hand_over(home: Home) -> str:
    folder = _ask("POST", "intake/uploads/")["incoming"]
    for file in home.package.iterdir():
        _ask("PUT", f"intake/uploads/{folder}/file/{file.name}/", file.read_bytes())
    return folder


def _wanted(folder: str) -> bytes:
    return json.dumps({"kind": "check", "incoming": folder, "name": "drill"}).encode()


def _ask(method: str, path: str, body: bytes = b"") -> dict[str, str]:
    kind = "application/octet-stream" if method == "PUT" else "application/json"
    request = urllib.request.Request(
        f"http://127.0.0.1:{PORT}/api/{path}", data=body or None, method=method,
        headers={"Content-Type": kind},
    )  # fmt: skip
    with urllib.request.urlopen(request, timeout=20) as answer:
        found: dict[str, str] = json.loads(answer.read())
        return found


def _pids(words: str) -> list[int]:
    found = subprocess.run(["pgrep", "-f", words], capture_output=True, text=True, check=False)
    return [int(one) for one in found.stdout.split()]


def _until(holds: Callable[[], object], seconds: float = 60) -> None:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        try:
            if holds():
                return
        except (urllib.error.URLError, OSError):
            pass
        time.sleep(0.2)
    raise TimeoutError(f"It did not come about in {seconds:.0f} s.")


DRILLS = (
    header, middle, cut_short, foreign, work_damaged, no_folder, two_starts, full_at_start, full_in_import,
    read_only, killed_import, six_starts, killed_keeper,
)  # fmt: skip


def main() -> int:
    failed = 0
    print("| tried | exit | said | decisions of 3 |\n|---|---|---|---|")
    for drill in DRILLS:
        holder = Path(tempfile.mkdtemp(prefix="drill-"))
        try:
            name, told, left = drill(Home(holder))
        except OSError as error:
            print(f"| {drill.__name__} | – | left out: {error} | – |")
            continue
        finally:
            shutil.rmtree(holder, ignore_errors=True)
        failed += not told.sound or left not in {None, 3}
        text = told.text.replace(str(holder), "…").replace("\n", " ")
        print(
            f"| {name} | {told.code} | {text[:260]} | {'–' if left is None else left} |", flush=True
        )
    print(f"\n{len(DRILLS)} drills, {failed} with a traceback or a loss")
    return int(failed > 0)


if __name__ == "__main__":
    sys.exit(main())
