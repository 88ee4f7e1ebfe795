"""What a researcher does at the desk; each use case is a file."""

from .decide import decide
from .undo import undo

__all__ = ["decide", "undo"]
