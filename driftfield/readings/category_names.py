"""What categories are called, with those above them."""

from __future__ import annotations

from dataclasses import dataclass

from driftfield.market.category_tree import with_all_below
from driftfield.market.models import Category


@dataclass(frozen=True, slots=True)
class CategoryNames:
    """The tree: of each category by its key in the database that of the one above, its id and its name."""

    found: dict[int, tuple[int | None, str, str]]

    @classmethod
    def now(cls) -> CategoryNames:
        """As the database has it."""
        rows = Category.objects.values_list("pk", "parent_id", "category_id", "name")
        return cls({pk: (parent, code, name) for pk, parent, code, name in rows})

    def path(self, category: int) -> str:
        """A category under its parent, as “Growing › Bed covers”; empty for none."""
        if category not in self.found:
            return ""
        parent, _, name = self.found[category]
        return name if parent not in self.found else f"{self.found[parent][2]} › {name}"

    def line(self, category: int) -> tuple[str, ...]:
        """The names of a category and of those above it, from the top."""
        names: list[str] = []
        at: int | None = category
        while at is not None and at in self.found and len(names) < len(self.found):
            at, _, name = self.found[at]
            names.append(name)
        return tuple(reversed(names))

    def named(self, ids: list[str]) -> dict[str, str]:
        """What some categories are called, with the one above each, by id."""
        wanted = set(ids)
        return {code: self.path(pk) for pk, (_, code, _) in self.found.items() if code in wanted}

    def counted(self, own: dict[int, int]) -> list[tuple[str, str, str, int]]:
        """Categories that hold something, with those above: path, name, id, how many in or below; by path.

        own: how many each category holds itself, by key.
        """
        counts: dict[int, int] = {}
        for category, many in own.items():
            at: int | None = category
            seen: set[int] = set()
            while at is not None and at in self.found and at not in seen:
                seen.add(at)
                counts[at] = counts.get(at, 0) + many
                at = self.found[at][0]
        rows = []
        for pk, many in counts.items():
            _, category_id, name = self.found[pk]
            rows.append((self.path(pk), name, category_id, many))
        return sorted(rows)

    def inside(self, wanted: str) -> set[int]:
        """Keys of the categories of a name or an id, and of all below them."""
        low = wanted.lower()
        named = {
            pk for pk, (_, code, name) in self.found.items() if low in (code.lower(), name.lower())
        }
        return with_all_below(named, {pk: parent for pk, (parent, _, _) in self.found.items()})
