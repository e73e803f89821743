"""Interpret damaged time lines of caption files.

What stands below such a line is a caption, not more text of the one before.
"""

from __future__ import annotations

import re

_ARROW = re.compile(r"[ \t]*(?:-{1,3}>|[→⟶])[ \t]*")
_STAMP = re.compile(
    r"([-−–])?\s*(?:(?:(\d{1,4})\s*:\s*)?(\d{1,3})\s*:\s*)?(\d{1,5})(?:\s*[.,:;]\s*(\d{1,9}))?(?!\d)"
)
_MEANT = re.compile(r"[\d\s:.,;−–-]*")
SHOWN_MS = 2_000
"""For so long a caption is shown of which it is not told when it ends."""

Times = tuple[int | None, int | None]


def meant_times(line: str) -> Times | None:
    """Return the start and end (ms) that a line is meant to give, each None if it cannot be read;
    None for a line without times."""
    arrow = _ARROW.search(line)
    if arrow is None or not any(map(str.isdigit, line)):
        return None
    before, after = line[: arrow.start()], line[arrow.end() :]
    start, end = _STAMP.fullmatch(before.strip()), _STAMP.match(after.strip())
    plain = _MEANT.fullmatch(before) and re.match(r"[\d\s:.,;−–-]|$", after)
    if not plain and not any(one and one[3] and one[5] for one in (start, end)):
        return None
    return _ms(start), _ms(end)


def in_place(times: Times, before: int) -> tuple[int, int]:
    """Return times (ms) for a caption of which not both could be read, after a time (ms)."""
    start, end = times
    if start is None:
        start = before if end is None else max(min(before, end - 1), 0)
    return max(start, 0), max(end if end is not None else start + SHOWN_MS, 0)


def _ms(match: re.Match[str] | None) -> int | None:
    if match is None:
        return None
    sign, hours, minutes, seconds, fraction = match.groups()
    whole = (int(hours or 0) * 60 + int(minutes or 0)) * 60 + int(seconds)
    ms = whole * 1000 + int((fraction or "0").ljust(3, "0")[:3])
    return -ms if sign else ms
