"""Errors that a person is told of."""

from __future__ import annotations


class ToldError(Exception):
    """Something cannot be done; the message is a sentence for the person, which says why."""
