"""How much may be noted in the log."""

LEVELS = ("debug", "info", "warning", "error")
