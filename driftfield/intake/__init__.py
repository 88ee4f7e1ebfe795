"""Batches: what came in, when, and what it changed."""
