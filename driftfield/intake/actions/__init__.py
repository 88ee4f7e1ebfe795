"""What can be done at the door; each use case is a file, called alike by command and view."""

from .export_folder import export_folder, export_zip
from .feed_schedule import claim_due_pull, next_at, schedule, set_schedule
from .import_folder import import_folder
from .mappings import keep_mapping, kept_mappings
from .pull_feed import feed_client, pull_feed
from .undo_batch import undo_batch

__all__ = [
    "claim_due_pull",
    "export_folder",
    "export_zip",
    "feed_client",
    "import_folder",
    "keep_mapping",
    "kept_mappings",
    "next_at",
    "pull_feed",
    "schedule",
    "set_schedule",
    "undo_batch",
]  # fmt: skip
