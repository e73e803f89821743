"""Formats for captions, whose times people go by."""
