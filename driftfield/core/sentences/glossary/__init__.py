"""The glossary: what headings, marks and words of the screens mean, in a sentence and in full."""

from .catalogue import CATALOGUE
from .competition import COMPETITION
from .dates import DATES
from .demand import DEMAND
from .dossier import DOSSIER
from .field import FIELD
from .intake import INTAKE
from .proof import PROOF
from .things import THINGS
from .word import Word

WORDS = (*THINGS, *DATES, *DEMAND, *COMPETITION, *FIELD, *DOSSIER, *CATALOGUE, *PROOF, *INTAKE)
WORDS_BY_KEY = {one.key: one for one in WORDS}

__all__ = ["WORDS", "WORDS_BY_KEY", "Word"]
