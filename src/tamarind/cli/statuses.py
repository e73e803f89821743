"""The exit statuses of the command, and the error for wrong use."""

from __future__ import annotations

from tamarind.system.errors import ToldError

DONE = 0
BREACHES = 1
WRONG_USE = 2
SOME_FAILED = 3
INTERRUPTED = 130
ENDED = 143


class UseError(ToldError):
    """The command was used wrongly, or its options do not go together."""
