"""Automatic copies of jobs: the last ten states of each, in the data folder."""

from __future__ import annotations

import contextlib
import hashlib
import os
import sqlite3
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from tamarind.job.jobfile import SUFFIX
from tamarind.system.folders import data_home
from tamarind.system.log import note_failure

KEPT = 10
_STAMP = "%Y-%m-%d %H.%M.%S"


@dataclass(frozen=True, slots=True)
class Backup:
    """A copy of a job, and when it was made."""

    path: Path
    made: datetime


def back_up(job: Path, now: Callable[[], datetime] = datetime.now) -> Path | None:
    """Copy a job unless the latest copy is the same; return the copy if one was made.

    What cannot be copied is noted in the log: work goes on without.
    """
    folder = _folder_for(job)
    try:
        state = _state(job)
        known = backups(job)
        if known and _mark(folder) == state:
            return None
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        target = folder / f"{now().strftime(_STAMP)}{SUFFIX}"
        beside = target.with_suffix(".part")
        beside.unlink(missing_ok=True)
        source = sqlite3.connect(f"{job.absolute().as_uri()}?mode=ro", uri=True)
        copy = sqlite3.connect(beside)
        try:
            source.backup(copy)
        finally:
            copy.close()
            source.close()
        beside.replace(target)
        (folder / "state").write_text(state)
        for old in backups(job)[KEPT:]:
            old.path.unlink(missing_ok=True)
    except (OSError, sqlite3.Error, ValueError) as error:
        note_failure("backing up a job", error)
        return None
    return target


def backups(job: Path) -> list[Backup]:
    """Return the copies of a job, latest first."""
    found: list[Backup] = []
    with contextlib.suppress(OSError):
        for path in _folder_for(job).glob(f"*{SUFFIX}"):
            with contextlib.suppress(ValueError):
                found.append(Backup(path, datetime.strptime(path.stem, _STAMP)))
    return sorted(found, key=lambda one: one.made, reverse=True)


def follow(old: Path, new: Path) -> None:
    """Move the copies of a job that was renamed."""
    before, after = _folder_for(old), _folder_for(new)
    with contextlib.suppress(OSError):
        if before.is_dir() and not after.exists():
            before.rename(after)


def _folder_for(job: Path) -> Path:
    """Return the folder for a job's copies, by its whole path, since many have the same name."""
    path = os.fsencode(job.absolute())
    mark = hashlib.blake2b(path, digest_size=4).hexdigest()
    stem = job.stem.encode()[:100].decode("utf-8", "ignore")
    return data_home() / "back-ups" / f"{stem}-{mark}"


def _state(job: Path) -> str:
    """Return what tells whether a job was written since."""
    parts = []
    for path in (job, job.with_name(f"{job.name}-wal")):
        with contextlib.suppress(FileNotFoundError):
            found = path.stat()
            if found.st_size:
                parts.append(f"{found.st_size} {found.st_mtime_ns}")
    return "\n".join(parts)


def _mark(folder: Path) -> str:
    with contextlib.suppress(OSError):
        return (folder / "state").read_text()
    return ""
