"""The themes of a niche as they are after the researcher's decisions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from driftfield.core.voices import (
    Act,
    Applied,
    Decided,
    Named,
    Side,
    Theme,
    apply_decisions,
    sides_of,
    themes_of,
)  # fmt: skip
from driftfield.desk.models import ThemeDecision
from driftfield.desk.niche_changes import parts_of
from driftfield.readings.reading import Reading
from driftfield.readings.voices import StoredVoices, stored_voices, voices_of


@dataclass(frozen=True, slots=True)
class Laid:
    """What was read of a niche, and its themes after the decisions."""

    reading: Reading
    stored: StoredVoices
    applied: Applied
    themes: list[Theme]
    decisions: list[ThemeDecision]

    @property
    def found(self) -> list[Side]:
        """Themes as they were found, before any decision."""
        return sides_of(self.stored.read)

    def theme(self, key: str) -> Theme | None:
        """The theme of an id; None where there is none."""
        return next((one for one in self.themes if one.id == key), None)


def lay(reading: Reading, language: str = "") -> Laid | None:
    """The themes of a niche in a language, by default that of most texts; None where nothing was read."""
    niche, market = reading.niche.niche_id, reading.market.market_id
    if not language:
        language = next((one for one, _, read in voices_of(market, niche) if read), "")
    stored = stored_voices(market, niche, language)
    if stored is None:
        return None
    made = list(
        ThemeDecision.objects.filter(
            market_id=market,
            niche_id__in=parts_of(market, niche),
            language=language,
            undone_at=None,
        )
    )
    applied = apply_decisions(stored.read, [decided(one) for one in made], language)
    return Laid(reading, stored, applied, themes_of(stored.read, applied.sides), made)


def decided(one: ThemeDecision) -> Decided:
    """A stored decision as the core takes it."""
    return Decided(
        own_id(one), Act(one.act), _named(one.of), one.name, tuple(one.words), _named(one.into),
        one.tone, one.text,
    )  # fmt: skip


def own_id(one: ThemeDecision) -> str:
    """What the theme that a decision makes is called."""
    return f"own/{one.pk}"


def _named(stored: Mapping[str, Any] | None) -> Named | None:
    if stored is None:
        return None
    return Named(str(stored["id"]), int(stored["tone"]), tuple(stored["stems"]))
