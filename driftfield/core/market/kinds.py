"""What a row can stand for. Every kind has figures, a ledger, a sieve and a curve."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Kind:
    """One kind of subject.

    key: how addresses, the command line and the store name it. name, plural: as in a sentence.
    identity: the field of a record that says which one it is.
    """

    key: str
    name: str
    plural: str
    identity: str

    def many(self, number: int) -> str:
        """A number of them, as in “1 niche” and “2,700 terms”."""
        return f"{number:,} {self.name if number == 1 else self.plural}"


NICHE = Kind(key="niche", name="niche", plural="niches", identity="niche_id")
TERM = Kind(key="term", name="term", plural="terms", identity="term")

KINDS = (NICHE, TERM)
KINDS_BY_KEY = {kind.key: kind for kind in KINDS}
