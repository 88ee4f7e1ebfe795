"""What buyers say: from raw texts to themes."""

from .contrast import Contrast, contrast, log_odds
from .copies import copies_of, jaccard, shingles
from .corpus import Corpus, read_corpus
from .scrub import BLANK, scrubbed
from .themes import Theme, Voices, read_voices
from .tone import COMPLAINT, NEITHER, PRAISE, tone_of
from .topics import Topics, read_topics

__all__ = [
    "BLANK",
    "COMPLAINT",
    "NEITHER",
    "PRAISE",
    "Contrast",
    "Corpus",
    "Theme",
    "Topics",
    "Voices",
    "contrast",
    "copies_of",
    "jaccard",
    "log_odds",
    "read_corpus",
    "read_topics",
    "read_voices",
    "scrubbed",
    "shingles",
    "tone_of",
]
