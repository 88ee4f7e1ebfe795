"""What can be asked of long work; each use case is a file."""

from .go_on import go_on
from .start import start
from .stop import stop

__all__ = ["go_on", "start", "stop"]
