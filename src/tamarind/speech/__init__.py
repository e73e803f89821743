"""Samples become timed words. ``hearing`` is the whole way through, readable top to bottom."""
