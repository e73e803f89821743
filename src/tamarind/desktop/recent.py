"""The jobs that were open lately, the last one first."""

from __future__ import annotations

from pathlib import Path

from tamarind.application import personal

MOST = 12


def recent() -> list[Path]:
    """Those that are still there."""
    return [path for path in map(Path, _kept()) if path.is_file()]


def remember(path: Path) -> None:
    """A job has been opened."""
    text = str(path.absolute())
    personal.keep(personal.RECENT_JOBS, [text, *(one for one in _kept() if one != text)][:MOST])


def follow(old: Path, new: Path) -> None:
    """A job is called otherwise now."""
    before, after = str(old.absolute()), str(new.absolute())
    personal.keep(personal.RECENT_JOBS, [after if one == before else one for one in _kept()])


def _kept() -> list[str]:
    return [one for one in personal.read(personal.RECENT_JOBS) if isinstance(one, str)]
