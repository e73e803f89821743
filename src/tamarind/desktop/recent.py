"""The recently opened jobs, latest first."""

from __future__ import annotations

from pathlib import Path

from tamarind.application import personal

MOST = 12


def recent() -> list[Path]:
    """Return the jobs that still exist."""
    return [path for path in map(Path, _kept()) if path.is_file()]


def remember(path: Path) -> None:
    """Put a job that was opened at the top."""
    text = str(path.absolute())
    personal.keep(personal.RECENT_JOBS, [text, *(one for one in _kept() if one != text)][:MOST])


def follow(old: Path, new: Path) -> None:
    """Rename a job in the list."""
    before, after = str(old.absolute()), str(new.absolute())
    personal.keep(personal.RECENT_JOBS, [after if one == before else one for one in _kept()])


def _kept() -> list[str]:
    return [one for one in personal.read(personal.RECENT_JOBS) if isinstance(one, str)]
