"""Errors that are shown to a person."""

from __future__ import annotations


class ToldError(Exception):
    """Something cannot be done; the message is a sentence for the person that says why."""
