"""Runs the core over a market and keeps what it found: derived data, dropped and rebuilt at will."""
