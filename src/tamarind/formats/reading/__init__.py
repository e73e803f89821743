"""Formats for transcripts to be read."""
