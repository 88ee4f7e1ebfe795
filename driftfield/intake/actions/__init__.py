"""What can be done at the door; each use case is a file, called alike by command and view."""

from .export_folder import export_folder
from .import_folder import import_folder
from .mappings import keep_mapping, kept_mappings
from .undo_batch import undo_batch

__all__ = ["export_folder", "import_folder", "keep_mapping", "kept_mappings", "undo_batch"]
