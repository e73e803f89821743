"""Tamarind: recorded speech becomes proofed, timed text, on this computer alone."""

__version__ = "0.1.0"
