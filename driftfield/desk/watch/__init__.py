"""The watch: what each analysis leaves behind, and what changed since the one before."""

from .digest import digest
from .looks import figures_kept, history_of, keep_look, note_sieve, standing_looks
from .telling import changes_since, look_before, tell
from .watched import watched

__all__ = [
    "changes_since",
    "digest",
    "figures_kept",
    "history_of",
    "keep_look",
    "look_before",
    "note_sieve",
    "standing_looks",
    "tell",
    "watched",
]
