"""Formats for captions, whose times matter."""
