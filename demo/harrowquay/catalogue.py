"""Reads niches.txt: which niches there are and how each of them behaves."""

from __future__ import annotations

import re
import zlib
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np


@dataclass(frozen=True)
class Market:
    market_id: str
    name: str
    currency: str
    region: str
    country: str


@dataclass
class Niche:
    """A niche and the truth planted in it."""

    name: str
    market: Market
    root: str
    category: str
    features: list[str]
    pattern: list[str]
    rate: float = 0.0
    size: float = 1.0
    options: dict[str, str] = field(default_factory=dict)

    @property
    def niche_id(self) -> str:
        return re.sub(r"[^a-z0-9]+", "-", f"{self.market.market_id} {self.name}".lower()).strip("-")

    @property
    def goods(self) -> str:
        """What buyers call what it sells."""
        called = self.options.get("called", "").replace("-", " ")
        return called.capitalize() or self.name

    @property
    def above_id(self) -> str:
        """The category of the second level that it lies in or below."""
        return slug(f"{self.market.market_id} {self.root} {self.category}")

    @property
    def branch(self) -> str:
        """The category of the third level that it lies in; empty where that is of the second."""
        return self.options.get("in", "").replace("-", " ")

    @property
    def category_id(self) -> str:
        return slug(f"{self.above_id} {self.branch}")


def seeded(*words: object) -> np.random.Generator:
    """The same stream of numbers for the same words, every time."""
    return np.random.default_rng(zlib.crc32("|".join(map(str, words)).encode()))


def singular(name: str) -> str:
    """The first word of a name for one of the things."""
    first = name.lower().split(",")[0]
    if first.endswith(("sses", "shes", "ches", "xes")):
        return first[:-2]
    return first[:-1] if first.endswith("s") and not first.endswith(("ss", "us")) else first


def described(feature: str, niche: Niche) -> str:
    """One of a niche's things with a feature, unless its name says that already."""
    one = singular(niche.goods)
    return one if feature in one.split() else f"{feature} {one}"


def slug(text: str) -> str:
    return re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-")


@dataclass(frozen=True)
class Further:
    """A further term of niches, and its searches over those of the first of them. loose: it has no niche."""

    term: str
    niches: list[str]
    part: float
    loose: bool


def read_further() -> list[Further]:
    """All terms of terms.txt, in its order."""
    found = []
    for line in (Path(__file__).parent / "terms.txt").read_text("utf-8").splitlines():
        if not line or line.startswith("#"):
            continue
        names, _, terms = line.removeprefix("~").partition(":")
        niches = [name.strip() for name in names.split(",")]
        for text in terms.split(";"):
            term, part = re.fullmatch(r"\s*(.+) x([\d.]+)\s*", text).groups()  # type: ignore[union-attr]
            found.append(Further(term, niches, float(part), line.startswith("~")))
    return found


def read_niches() -> list[Niche]:
    """All niches of niches.txt, in its order."""
    niches: list[Niche] = []
    market: Market | None = None
    root = category = ""
    features: list[str] = []
    for line in (Path(__file__).parent / "niches.txt").read_text("utf-8").splitlines():
        if line.startswith("= "):
            market = Market(*(part.strip() for part in line[2:].split("|")))
        elif line.startswith("@ "):
            path, words = (part.strip() for part in line[2:].split("|"))
            root, category = (part.strip() for part in path.split(">"))
            features = words.split(",")
        elif line and not line.startswith("#"):
            name, pattern, *rest = (part.strip() for part in line.split(";"))
            assert market is not None
            niche = Niche(name, market, root, category, features, pattern.split())
            for word in " ".join(rest).split():
                if re.fullmatch(r"[+-]\d+", word):
                    niche.rate = int(word) / 100
                elif re.fullmatch(r"x[\d.]+", word):
                    niche.size = float(word[1:])
                elif word.startswith("step"):
                    niche.options["step"] = word[4:]
                else:
                    key, _, value = word.partition("=")
                    niche.options[key] = value
            niches.append(niche)
    return niches
