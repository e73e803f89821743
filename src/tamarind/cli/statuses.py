"""The exit statuses of the command."""

from __future__ import annotations

DONE = 0
BREACHES = 1
WRONG_USE = 2
SOME_FAILED = 3
INTERRUPTED = 130
ENDED = 143
