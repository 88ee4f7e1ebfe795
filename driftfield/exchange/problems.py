"""What is wrong with a file, said so that it can be put right."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field

SHOWN = 100  # Problems kept with their place; the rest are counted.


@dataclass(frozen=True, slots=True)
class Problem:
    """One problem: where it is, what came, and what to do."""

    file: str
    message: str
    remedy: str
    line: int | None = None
    column: str | None = None
    value: str | None = None

    def __str__(self) -> str:
        place = self.file
        if self.line is not None:
            place += f", line {self.line}"
        if self.column is not None:
            place += f", column {self.column}"
        return f"{place}: {self.message} {self.remedy}"


class ExchangeError(ValueError):
    """Files that cannot be taken as they are; nothing of them was used."""

    def __init__(self, problems: Problems) -> None:
        self.problems = problems
        super().__init__(str(problems))


@dataclass(slots=True)
class Problems:
    """Problems found so far: the first ``cap`` in full, all of them counted."""

    cap: int = SHOWN
    kept: list[Problem] = field(default_factory=list)
    count: int = 0
    by_file: Counter[str] = field(default_factory=Counter)

    def room(self) -> int:
        """How many more are kept in full."""
        return max(0, self.cap - len(self.kept))

    def add(self, problem: Problem) -> None:
        self.tally(problem.file, 1)
        if self.room():
            self.kept.append(problem)

    def take(self, other: Problems) -> None:
        """All that ``other`` found too."""
        for problem in other.kept:
            self.add(problem)
        for file, number in (other.by_file - Counter(p.file for p in other.kept)).items():
            self.tally(file, number)

    def tally(self, file: str, number: int) -> None:
        """Count problems without keeping them."""
        self.count += number
        self.by_file[file] += number

    def raise_if_any(self) -> None:
        if self.count:
            self.kept.sort(key=lambda p: (p.file, p.line or 0))
            raise ExchangeError(self)

    def __str__(self) -> str:
        lines = [str(problem) for problem in self.kept]
        if self.count > len(self.kept):
            lines.append(f"… and {self.count - len(self.kept)} more.")
        noun = "problem" if self.count == 1 else "problems"
        files = ", ".join(f"{file} {n}" for file, n in sorted(self.by_file.items()))
        lines.append(f"{self.count} {noun} ({files}). Nothing was changed.")
        return "\n".join(lines)
