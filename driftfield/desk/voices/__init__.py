"""What buyers write about a niche, and what the researcher makes of it."""

from .beside import NicheBeside, voices_beside
from .laid import Laid, decided, lay, own_id
from .rows import theme_rows
from .sentences import sentences_of_theme
from .themes import read_themes
from .told import TONES, NicheThemes, Sentence, ToldTheme

__all__ = [
    "TONES",
    "Laid",
    "NicheBeside",
    "NicheThemes",
    "Sentence",
    "ToldTheme",
    "decided",
    "lay",
    "own_id",
    "read_themes",
    "sentences_of_theme",
    "theme_rows",
    "voices_beside",
]
