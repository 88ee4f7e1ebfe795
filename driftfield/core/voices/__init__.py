"""What buyers say: from raw texts to themes."""

from .asked import (
    Asked,
    broken_promises,
    gather,
    questions,
    sentences_of,
    wish_stems,
    wishes,
)
from .concerns import Concern, concern_of, marked_words
from .contrast import Contrast, contrast, log_odds
from .copies import copies_of, jaccard, plain_words, shingles
from .corpus import Corpus, joined, read_corpus
from .decided import (
    Act,
    Applied,
    Decided,
    Named,
    apply_decisions,
    likeness,
    sentences_with,
    stems_of,
)
from .patterns import PROMISED_BY, Promise
from .phrases import ENOUGH, Phrase, contrasts_of, elsewhere, phrase_counts, told_apart, written_as
from .scrub import BLANK, scrubbed
from .summary import Summary, said_of, summarise
from .themes import ReadTexts, Side, Theme, Voices, read_texts, read_voices, sides_of, themes_of
from .tone import COMPLAINT, NEITHER, PRAISE, Tone, tone_of
from .topics import Topics, bare_of, read_topics
from .whole import COMMENT, KINDS, QUESTION, RETURN, REVIEW, WholeTexts, read_whole

__all__ = [
    "BLANK",
    "COMMENT",
    "COMPLAINT",
    "ENOUGH",
    "KINDS",
    "NEITHER",
    "PRAISE",
    "PROMISED_BY",
    "QUESTION",
    "RETURN",
    "REVIEW",
    "Act",
    "Applied",
    "Asked",
    "Concern",
    "Contrast",
    "Corpus",
    "Decided",
    "Named",
    "Phrase",
    "Promise",
    "ReadTexts",
    "Side",
    "Summary",
    "Theme",
    "Tone",
    "Topics",
    "Voices",
    "WholeTexts",
    "apply_decisions",
    "bare_of",
    "broken_promises",
    "concern_of",
    "contrast",
    "contrasts_of",
    "copies_of",
    "elsewhere",
    "gather",
    "jaccard",
    "joined",
    "likeness",
    "log_odds",
    "marked_words",
    "phrase_counts",
    "plain_words",
    "questions",
    "read_corpus",
    "read_texts",
    "read_topics",
    "read_voices",
    "read_whole",
    "said_of",
    "scrubbed",
    "sentences_of",
    "sentences_with",
    "shingles",
    "sides_of",
    "stems_of",
    "summarise",
    "themes_of",
    "told_apart",
    "tone_of",
    "wish_stems",
    "wishes",
    "written_as",
]
