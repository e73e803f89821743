"""Formats for other programs: tables, JSON, chapters, edit lists."""
