"""Write and parse times, in whole milliseconds."""

from __future__ import annotations

import re

from tamarind.transcript.bounds import LATEST

_TIME = re.compile(r"(?:(\d+):)?(\d{1,5}):(\d{1,2})(?:[.,](\d{1,3})\d*)?")
_SECONDS = re.compile(r"(\d+)(?:[.,](\d{1,3})\d*)?")
_UNITS = re.compile(
    r"(?:(\d+) ?h)? ?(?:(\d+) ?m(?:in)?)? ?(?:(\d+)(?:[.,](\d{1,3})\d*)? ?s)? ?(?:(\d+) ?ms)?"
)


def clock(time: int, decimals: int = 3, mark: str = ".", hours: bool = True) -> str:
    """Return 01:02:03.045; without ``hours`` these are left out while they are 0. Truncated, not
    rounded."""
    time = time if time > 0 else 0
    whole_hours, minutes = time // 3_600_000, time // 60_000 % 60
    seconds, ms = time // 1000 % 60, time % 1000
    if hours and decimals == 3:
        return "%02d:%02d:%02d%s%03d" % (whole_hours, minutes, seconds, mark, ms)  # noqa: UP031
    text = f"{minutes:02}:{seconds:02}"
    if hours or whole_hours:
        text = f"{whole_hours:02}:{text}"
    return f"{text}{mark}{f'{ms:03}'[:decimals]}" if decimals else text


def parse_time(text: str) -> int:
    """Return the milliseconds of "1:02:03.5", "02:03", "75:03", "1h 30m", "90 s" or plain seconds
    "123.4". Raises ValueError."""
    text = text.strip()
    time = _time_of(text) if len(text) < 40 else None
    if time is None:
        raise ValueError(f"“{text[:40]}” is not a time. Write it like 1:30:00, 90m or 5400s.")
    if time > LATEST:
        raise ValueError(f"“{text}” is beyond the end of any recording.")
    return time


def _time_of(text: str) -> int | None:
    match = _TIME.fullmatch(text)
    if match:
        hours, minutes, seconds, fraction = match.groups(default="0")
        whole = int(hours) * 3600 + int(minutes) * 60 + int(seconds)
        return whole * 1000 + int(fraction.ljust(3, "0"))
    match = _SECONDS.fullmatch(text)
    if match:
        return int(match.group(1)) * 1000 + int((match.group(2) or "0").ljust(3, "0"))
    match = _UNITS.fullmatch(text)
    if match and text:
        hours, minutes, seconds, fraction, ms = match.groups(default="0")
        whole = int(hours) * 3600 + int(minutes) * 60 + int(seconds)
        return whole * 1000 + int(fraction.ljust(3, "0")) + int(ms)
    return None
