"""The limits of captions; times are in milliseconds."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from enum import StrEnum

from tamarind.system.declared import milliseconds, number, one_of, option, or_none, whole, yes_or_no

ROUNDING = 0.5
"""So many characters a second beyond the reading speed are within the rounding of times to whole
milliseconds and frames, and no breach."""

_WIDE = re.compile(
    "[\u1100-\u115f\u2e80-\u303e\u3041-\ua4cf\uac00-\ud7a3\uf900-\ufaff\ufe30-\ufe6f"
    "\uff00-\uff60\uffe0-\uffe6\U0001f300-\U0001f64f\U00020000-\U0003fffd]"
)
"""Letters of full width (Unicode Standard Annex 11)."""


def wide_letters(text: str) -> int:
    """Count the full-width characters of a text, which take the room of two."""
    return 0 if text.isascii() else len(_WIDE.findall(text))


class SpeakerMarks(StrEnum):
    """How captions show who speaks: not at all; a dash each where two share a cue; the name at
    every change (NAME: or [Name]); a colour each."""

    NONE = "none"
    DASHES = "dashes"
    NAME = "name"
    BRACKETS = "brackets"
    COLOURS = "colours"


SPEAKERS = {
    "not shown": SpeakerMarks.NONE,
    "MARTIN HALE: at every change": SpeakerMarks.NAME,
    "[Martin Hale] at every change": SpeakerMarks.BRACKETS,
    "dashes where two share a cue": SpeakerMarks.DASHES,
    "a colour each": SpeakerMarks.COLOURS,
}
RATES = {
    "none": None, "23.976": 24_000 / 1_001, "24": 24.0, "25": 25.0, "29.97": 30_000 / 1_001,
    "30": 30.0, "50": 50.0, "59.94": 60_000 / 1_001, "60": 60.0,
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Limits:
    """The limits of captions; by default 42 characters, two lines, one to seven seconds, 20
    characters a second.

    ``reading_speed`` is in characters per second, spaces counted if ``counts_spaces``; a line
    border counts as a space. ``frame_rate`` is None unless times must sit on frames.
    ``wide_line_length`` and ``wide_reading_speed`` are for letters of full width, as in Chinese,
    Japanese and Korean, which take the room of two and are read more slowly. With ``own_frames``
    times sit on the frames of the recording's own picture, with ``to_shots`` captions keep to its
    shots from the draft on.
    """

    line_length: int = option(42, whole(5, 200), "Characters per line", section="Lines")
    wide_line_length: int = option(
        16, whole(4, 100), "Full-width characters per line", section="Full width", rare=True
    )
    lines: int = option(2, whole(1, 6), "Lines in a cue", section="Lines")
    speakers: SpeakerMarks = option(
        SpeakerMarks.NONE, one_of(SPEAKERS), "Speakers", section="Lines"
    )
    reading_speed: float = option(
        20.0, number(3, 100), "Characters per second", section="Reading", hint="at most"
    )
    counts_spaces: bool = option(True, yes_or_no(), "Count spaces", section="Reading", rare=True)
    wide_reading_speed: float = option(
        8.0, number(1, 50), "Full-width characters per second", section="Full width", rare=True
    )
    shortest: int = option(1_000, milliseconds(100, 60_000), "Shortest", section="Times")
    longest: int = option(7_000, milliseconds(500, 120_000), "Longest", section="Times")
    gap: int = option(
        40, milliseconds(0, 2_000), "Gap between cues", section="Times", hint="at least"
    )
    lead_in: int = option(
        60,
        milliseconds(0, 2_000),
        "Before speech",
        section="Times",
        hint="in silence only",
        rare=True,
    )
    lead_out: int = option(
        240,
        milliseconds(0, 5_000),
        "After speech",
        section="Times",
        hint="in silence only",
        rare=True,
    )
    frame_rate: float | None = option(
        None, or_none(number(1, 240), RATES), "Frame rate", section="Times", rare=True
    )
    own_frames: bool = option(
        False,
        yes_or_no(),
        "Use the video's own frame rate, if there is one",
        section="Times",
        rare=True,
    )
    to_shots: bool = option(
        False, yes_or_no(), "Keep to the video's shot changes, from the draft on", section="Times"
    )

    def on_picture(self, rate: float | None) -> Limits:
        """Return the limits at the frame rate of a recording's picture (None: no picture), if the
        style asks for that."""
        if not self.own_frames or rate is None or rate == self.frame_rate:
            return self
        return replace(self, frame_rate=rate)

    def width(self, text: str) -> float:
        """Return the width of a text in characters, of which ``line_length`` fill a line."""
        wide = wide_letters(text)
        return (
            len(text) + wide * (self.line_length / self.wide_line_length - 1) if wide else len(text)
        )

    def letters(self, text: str) -> float:
        """Count the characters of a text for its reading speed."""
        wide = wide_letters(text)
        count = len(text) if self.counts_spaces else len(text) - text.count(" ")
        if not wide:
            return count
        return count + wide * (self.reading_speed / self.wide_reading_speed - 1)

    def too_long(self, line: str) -> str:
        """Say by how many characters a line is too long."""
        if wide_letters(line) * 2 > len(line):
            wide = self.width(line) * self.wide_line_length / self.line_length
            return f"{wide:.0f} full-width characters per line, {self.wide_line_length} at most"
        return f"{self.width(line):.0f} characters per line, {self.line_length} at most"

    def too_fast(self, text: str, start: int, end: int) -> str:
        """Say how fast a text would have to be read."""
        speed, most = self.speed(text, start, end), self.reading_speed
        if wide_letters(text) * 2 > len(text):
            speed, most = speed * self.wide_reading_speed / most, self.wide_reading_speed
        return f"{speed:.0f} characters per second, {most:g} at most"

    def speed(self, text: str, start: int, end: int) -> float:
        """Return the characters per second of a text shown from start to end (ms)."""
        return 1000 * self.letters(text) / max(end - start, 1)

    def is_too_fast(self, text: str, start: int, end: int) -> bool:
        """Whether a text cannot be read in the time it is shown."""
        return self.speed(text, start, end) > self.reading_speed + ROUNDING

    def reading_time(self, text: str) -> int:
        """Return how long (ms) a text must be shown to be read at the style's speed."""
        return -int(-1000 * self.letters(text) // self.reading_speed)


ORDINARY = Limits()
