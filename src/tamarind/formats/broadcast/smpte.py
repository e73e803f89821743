"""Timecodes that count frames (SMPTE ST 12-1), converted from and to milliseconds.

At 29.97 frames a second the count is either kept as it is and lags behind the clock, or the
numbers of two frames are dropped every minute but each tenth.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction

from tamarind.formats.captionfile import FormatError
from tamarind.transcript.bounds import LATEST

NTSC = Fraction(30_000, 1_001)
RATES = {"25": Fraction(25), "30": Fraction(30)}
"""Whole frames a second by how they are called."""

CALLED = {
    "25": (RATES["25"], False), "29.97 drop": (NTSC, True), "29.97": (NTSC, False),
    "30": (RATES["30"], False),
}  # fmt: skip
"""What broadcasters' files may count by: frames a second, and whether numbers are dropped."""

_CODE = re.compile(r"(\d\d):(\d\d):(\d\d)([:;.,])(\d\d)")
_DROPPED = 2


@dataclass(frozen=True, slots=True)
class Timecodes:
    """How frames are counted: ``start`` is the first frame's timecode, such as "10:00:00:00",
    ``rate`` in frames a second (None: the format's usual one), ``drops`` means drop-frame at
    29.97."""

    start: str = "00:00:00:00"
    rate: Fraction | None = None
    drops: bool = True

    @classmethod
    def called(cls, start: str, rate: str) -> Timecodes:
        """Return timecodes for a rate by its name in ``CALLED``, "" for the format's own. Raises
        ValueError."""
        if rate and rate not in CALLED:
            raise ValueError(f"“{rate}” is no rate of frames here.")
        frames, drops = CALLED[rate] if rate else (None, True)
        made = cls(start.strip(), frames, drops)
        for usual in (NTSC, RATES["25"]):
            made.at(usual)
        return made

    def at(self, usual: Fraction) -> Frames:
        """Return the frame count for a format with this usual rate."""
        rate = self.rate or usual
        frames = Frames(rate, self.drops and rate == NTSC)
        return Frames(rate, frames.drops, frames.number(self.start))


PLAIN_TIMECODES = Timecodes()


@dataclass(frozen=True, slots=True)
class Frames:
    """A count of frames; ``first`` is the number of the picture's first frame."""

    rate: Fraction
    drops: bool = False
    first: int = 0

    @property
    def nominal(self) -> int:
        """The frames in a second of timecode."""
        return round(self.rate)

    def frame(self, time: int) -> int:
        """Return the number of the frame nearest to a time (ms) of the picture."""
        return self.first + round(Fraction(time, 1000) * self.rate)

    def time(self, frame: int) -> int:
        """Return when a frame begins (ms of the picture); frames before the first begin with it."""
        return min(max(round((frame - self.first) / self.rate * 1000), 0), LATEST)

    def code(self, frame: int) -> str:
        """Return a frame's timecode, such as "10:00:03:12", with ";" for drop-frame; it wraps after
        a day."""
        if self.drops:
            minute = 60 * self.nominal - _DROPPED
            ten = 10 * minute + _DROPPED
            tens, rest = divmod(frame, ten)
            frame += _DROPPED * (9 * tens + max(rest - _DROPPED, 0) // minute)
        seconds, frames = divmod(frame, self.nominal)
        minutes, seconds = divmod(seconds, 60)
        hours, minutes = divmod(minutes, 60)
        mark = ";" if self.drops else ":"
        return f"{hours % 24:02}:{minutes:02}:{seconds:02}{mark}{frames:02}"

    def within_a_day(self, frame: int) -> None:
        """Raise FormatError for a frame whose timecode has wrapped."""
        if frame > self.number_of(23, 59, 59, self.nominal - 1):
            raise FormatError(
                "A timecode begins anew after 24 hours, and this text goes on longer: choose an"
                " earlier start, or write a part of it."
            )

    def number(self, code: str) -> int:
        """Return the number of a timecode's frame. Raises ValueError."""
        match = _CODE.fullmatch(code.strip())
        if match is None:
            raise ValueError(f"“{code[:40]}” is no timecode; write 10:00:00:00.")
        hours, minutes, seconds, _, frames = match.groups()
        return self.number_of(int(hours), int(minutes), int(seconds), int(frames))

    def number_of(self, hours: int, minutes: int, seconds: int, frames: int) -> int:
        """Return the number of the frame of a timecode's parts. Raises ValueError."""
        if hours > 23 or minutes > 59 or seconds > 59 or frames >= self.nominal:
            parts = f"{hours:02}:{minutes:02}:{seconds:02}:{frames:02}"
            raise ValueError(f"“{parts}” is no timecode at {float(self.rate):g} frames a second.")
        whole = 60 * hours + minutes
        count = (60 * whole + seconds) * self.nominal + frames
        return count - _DROPPED * (whole - whole // 10) if self.drops else count
