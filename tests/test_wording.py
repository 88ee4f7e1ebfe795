"""Wordings that were dropped stay dropped: in the interface, in messages and in the documents."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path
from unittest import TestCase

ROOT = Path(__file__).parent.parent
# What was said once and reads like a translation, or as a unit that is none.
DROPPED = (
    "What is known", "Nothing is called that", "Check it like this", r"[Tt]ake \S+ back", "Take back",
    "taken back", "sum of the files", "Handing over", "Left out, being", "asked never by itself",
    "Every line is right", ">Go on<", "List of them", "What they say as", "[a-z]_[a-z]+ would bring", r"would bring (the|them|how|it|one)\b", "[Tt]erms? holds? [“$]",
    "makes from near zero", "fall makes to", "it drifts", "leans between", "calendar has no part in it",
    "no three listings", "bought after most", "year a listing", "returns take of it", "left of a year of",
    "most it may cost", "maker’s door", "of that sold again", "Takings of", "last call", "[Aa] sheet a niche",
    "[Ss]tands? beside [0-9{]", "[Mm]uch is sent back", "niches read", r"\bfraction of\b", "±0%", r"[\"'`]÷",
    r"”\]? came\b", r"Reviews I can stand", "[Bb]ought after", "Nobody holds it", "sent back", "[Hh]anded over",
    "near zero before", "nothing to go on with", "sold again", "[Hh]and files over", r"\b(row|line|file|record) a (niche|term|file|week)\b",
)  # fmt: skip
PLACES = (
    "web/src/**/*.vue",
    "web/src/**/*.ts",
    "driftfield/**/*.py",
    "docs/**/*.md",
    "demo/README.md",
    "README.md",
    "CONTRIBUTING.md",
)
# Dictionaries of what others write, generated files, and what is told of the past.
EXCEPT = re.compile(r"schema\.d\.ts|/tests/|migrations/|sieve/parse\.py|exchange/mapping/|feed/")
COMMENT = re.compile(r"^\s*(//|/?\*)")


def told(path: Path) -> Iterator[tuple[int, str]]:
    """Lines of a file that somebody reads on screen: of a program its texts, without docstrings and comments."""
    text = path.read_text("utf-8")
    if path.suffix != ".py":
        for number, line in enumerate(text.splitlines(), start=1):
            if path.suffix == ".md" or not COMMENT.search(line):
                yield number, line
        return
    tree = ast.parse(text)
    docstrings = {
        id(node.value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
    }
    for node in ast.walk(tree):
        if (
            isinstance(node, ast.Constant)
            and isinstance(node.value, str)
            and id(node) not in docstrings
        ):
            yield node.lineno, node.value


class Wording(TestCase):
    maxDiff = None

    def test_dropped_wordings_stay_dropped(self) -> None:
        dropped = re.compile("|".join(DROPPED))
        found = []
        for place in PLACES:
            for path in ROOT.glob(place):
                name = path.relative_to(ROOT).as_posix()
                if not EXCEPT.search(name):
                    found += [
                        f"{name}:{number}: {line.strip()[:90]}"
                        for number, line in told(path)
                        if dropped.search(line)
                    ]
        self.assertEqual(found, [])
