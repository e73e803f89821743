"""Formats for broadcasters: captions on rows and columns, with timecodes."""
