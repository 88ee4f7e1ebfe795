"""Decide on themes of what buyers wrote about a niche, pin their sentences, and undo both."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.core.market import NICHE
from driftfield.core.voices import Act, Theme, stems_of
from driftfield.desk.models import Pin, ThemeDecision
from driftfield.desk.voices import TONES, Laid, lay
from driftfield.desk.write_queue import writing
from driftfield.market.models import Voice
from driftfield.readings.reading import Reading

LONGEST_NAME, LONGEST_TEXT, MOST_WORDS, LONGEST_WORDS, MOST_PINS = 120, 1000, 40, 80, 200
_TONE_OF = {name: tone for tone, name in TONES.items()}


@dataclass(frozen=True, slots=True)
class ThemeAct:
    """What is to be decided: the theme by its id, and what the act takes."""

    act: Act
    theme: str = ""
    name: str = ""
    words: Sequence[str] = ()
    into: str = ""
    tone: str = ""
    text: str = ""


def decide_theme(reading: Reading, language: str, wanted: ThemeAct) -> ThemeDecision:
    """Decide on a theme of a niche, or make one by words.

    Raises CoreError where nothing is written about the niche, for a theme there is not, and where what the act
    takes is lacking; then nothing is written.
    """
    with writing():
        laid = lay(reading, language)
        if laid is None:
            raise CoreError(
                "Nothing that could be read is written about this niche. Import voices."
            )
        made = ThemeDecision(
            market_id=reading.market.market_id,
            niche_id=reading.niche.niche_id,
            language=laid.stored.language,
            act=wanted.act.value,
        )
        if wanted.act is not Act.OWN:
            made.of = _named(laid, wanted.theme)
        if wanted.act is Act.HIDE and wanted.theme in laid.applied.hidden:
            raise CoreError("This theme is hidden already. Reload the page.")
        if wanted.act is Act.MERGE:
            if wanted.into == wanted.theme:
                raise CoreError("A theme cannot be merged with itself. Choose another one.")
            made.into = _named(laid, wanted.into)
        if wanted.act in (Act.RENAME, Act.SPLIT, Act.OWN):
            made.name = _text(wanted.name, LONGEST_NAME, "a name")
        if wanted.act in (Act.SPLIT, Act.OWN):
            made.words = _words(wanted.words, laid.stored.language)
        if wanted.act is Act.REMEDY:
            made.text = _text(wanted.text, LONGEST_TEXT, "what a better product would do")
        if wanted.act in (Act.TONE, Act.OWN):
            if (wanted.tone or "either") not in _TONE_OF:
                raise CoreError(f"A tone is {', '.join(_TONE_OF)}; got “{wanted.tone}”.")
            made.tone = _TONE_OF[wanted.tone or "either"]
        made.save()
    return made


def undo_theme(key: int) -> ThemeDecision:
    """Undo a decision on a theme; those made after it hold, as far as their themes are there.

    Raises CoreError for one there is not, and one that was undone already.
    """
    with writing():
        found = ThemeDecision.objects.filter(pk=key).first()
        if found is None or found.undone_at is not None:
            raise CoreError("There is no such decision, or it was undone already. Reload the page.")
        found.undone_at = timezone.now()
        found.save(update_fields=["undone_at", "changed_at"])
    return found


def pin(reading: Reading, voice_id: str, said: str, theme: str) -> Pin:
    """Keep a sentence with a niche's note; one that is pinned already stays so.

    Raises CoreError for a sentence that does not stand in that text, and for too many.
    """
    voice = Voice.objects.filter(voice_id=voice_id).first()
    said = said.strip()
    if voice is None or not said or said not in voice.text:
        raise CoreError("This sentence does not stand in the text any more. Reload the page.")
    own = {
        "market_id": reading.market.market_id,
        "kind": NICHE.key,
        "subject": reading.niche.niche_id,
    }
    with writing():
        pinned = Pin.objects.filter(**own, removed_at=None)
        before = pinned.filter(voice_id=voice_id, said=said).first()
        if before is not None:
            return before
        if pinned.count() >= MOST_PINS:
            raise CoreError(f"At most {MOST_PINS} sentences are pinned to a niche. Remove some.")
        return Pin.objects.create(**own, voice_id=voice_id, said=said, theme=theme.strip()[:200])


def unpin(key: int) -> Pin:
    """Remove a pinned sentence. Raises CoreError for one there is not."""
    with writing():
        found = Pin.objects.filter(pk=key, removed_at=None).first()
        if found is None:
            raise CoreError("This sentence is not pinned any more. Reload the page.")
        found.removed_at = timezone.now()
        found.save(update_fields=["removed_at", "changed_at"])
    return found


def _named(laid: Laid, key: str) -> dict[str, Any]:
    theme = laid.theme(key)
    if theme is None:
        raise CoreError("There is no such theme any more. Reload the page.")
    return {**_identity(laid, theme), "name": theme.name}


def _identity(laid: Laid, theme: Theme) -> dict[str, Any]:
    """By what it is known again: one that was found by its stems and the tone in which it was found."""
    found = next((one for one in laid.found if one.id == theme.id), None)
    if found is None:
        return {"id": theme.id, "tone": 0, "stems": []}
    return {"id": found.id, "tone": found.tone, "stems": list(found.stems)}


def _text(given: str, longest: int, what: str) -> str:
    text = " ".join(given.split())
    if not text:
        raise CoreError(f"Give {what}.")
    if len(text) > longest:
        raise CoreError(f"Give {what} of up to {longest} letters; got {len(text)}.")
    return text


def _words(given: Sequence[str], language: str) -> list[str]:
    words = list(dict.fromkeys(" ".join(one.split()) for one in given if one.strip()))
    if not words:
        raise CoreError("Give the words, separated by commas, as “too small, does not fit”.")
    if len(words) > MOST_WORDS or any(len(one) > LONGEST_WORDS for one in words):
        raise CoreError(f"At most {MOST_WORDS} phrases of up to {LONGEST_WORDS} letters.")
    for one in words:
        stems_of([one], language)
    return words
