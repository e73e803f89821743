"""A text becomes timed lines: limits, line breaks, cues and their times."""
