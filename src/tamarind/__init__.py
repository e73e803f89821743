"""Tamarind: recorded speech becomes proofed, timed text, on this computer alone."""

from tamarind.system.quiet import hush

hush()

__version__ = "0.2.0"
