"""What a researcher does at the desk; each use case is a file."""

from .decide import decide
from .lenses import remove_lens, save_lens
from .sieves import remove_sieve, save_sieve, save_sieves
from .undo import undo

__all__ = [
    "decide",
    "remove_lens",
    "remove_sieve",
    "save_lens",
    "save_sieve",
    "save_sieves",
    "undo",
]
