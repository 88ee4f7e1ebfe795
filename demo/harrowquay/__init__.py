"""Harrow Quay: an invented marketplace, generated from fixed seeds."""
