"""The command line; see ``bin/driftfield --help``."""
