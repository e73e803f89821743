"""The levels of the log."""

LEVELS = ("debug", "info", "warning", "error")
