"""Formats for other programs: tables, everything, chapters, edit lists."""
