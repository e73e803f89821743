"""Marks in square brackets for what is no word: [inaudible 00:12:03], [laughter], one's own."""

from __future__ import annotations

from tamarind.formats.timecode import clock

MARKS = ("inaudible {time}", "crosstalk", "laughter", "pause", "phone rings")
"""The marks that every job begins with; ``{time}`` is where the playhead is."""

MOST_MARKS = 9


def read_marks(text: str) -> tuple[str, ...]:
    """Read a list of marks, one a line; the default ones if there are none."""
    found = tuple(line.strip().strip("[]").strip() for line in text.splitlines())
    return tuple(filter(None, found))[:MOST_MARKS] or MARKS


def filled(mark: str, time: int) -> str:
    """Return a mark with its time (ms) filled in."""
    return f"[{mark.replace('{time}', clock(time, 0))}]"
