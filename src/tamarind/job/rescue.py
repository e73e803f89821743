"""Copies of jobs that cannot be saved in their place: full disk, folder gone or read-only.

They are put where there is room, the state folder first, and offered at the next start.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from tamarind.job.contents import Contents
from tamarind.job.jobfile import SUFFIX, JobError, examine
from tamarind.job.opening import write_new
from tamarind.system.folders import state_home

ORIGIN = "rescued from"
"""The setting that tells where the job lay."""


@dataclass(frozen=True, slots=True)
class Rescued:
    """A copy, and the path of its job."""

    path: Path
    origin: Path


def keep(contents: Contents, origin: Path) -> Path:
    """Write a copy of a job's contents where there is room, in place of an earlier one of the same
    job; return its path. Raises JobError if there is room nowhere."""
    contents.settings[ORIGIN] = os.fsencode(origin).decode("utf-8", "replace")
    mark = hashlib.blake2b(os.fsencode(origin), digest_size=4).hexdigest()
    stem = origin.stem.encode()[:150].decode("utf-8", "ignore")
    refused = JobError("There is no place for a copy.")
    for folder in _places():
        target = folder / f"{stem}-{mark}{SUFFIX}"
        beside = folder / f"{stem}-{mark}-new{SUFFIX}"
        try:
            folder.mkdir(mode=0o700, parents=True, exist_ok=True)
            if not _is_ours(folder):
                continue
            _remove(beside)
            write_new(contents, beside).close()
            if beside.with_name(f"{beside.name}-wal").exists():
                # What lies in SQLite's log would stay behind.
                raise JobError("The copy could not be finished.")
            for name in (f"{target.name}-wal", f"{target.name}-shm"):
                target.with_name(name).unlink(missing_ok=True)
            beside.replace(target)
            return target
        except (JobError, OSError) as error:
            refused = error if isinstance(error, JobError) else JobError(str(error))
            with contextlib.suppress(OSError):
                _remove(beside)
    raise refused


def rescued() -> list[Rescued]:
    """Return the existing copies, latest first."""
    found: list[tuple[float, Rescued]] = []
    for folder in _places():
        if not _is_ours(folder):
            continue
        for path in folder.glob(f"*{SUFFIX}"):
            with contextlib.suppress(JobError, OSError):
                origin = examine(path).settings.get(ORIGIN, path.stem)
                found.append((path.stat().st_mtime, Rescued(path, Path(origin))))
    return [one for _, one in sorted(found, key=lambda pair: pair[0], reverse=True)]


def discard(path: Path) -> None:
    """Delete a copy that is no longer needed; one that cannot be deleted is offered again."""
    with contextlib.suppress(OSError):
        _remove(path)


def _remove(path: Path) -> None:
    for name in (path.name, f"{path.name}-wal", f"{path.name}-shm"):
        path.with_name(name).unlink(missing_ok=True)


def _places() -> Iterator[Path]:
    yield state_home() / "rescued"
    for folder in (Path(tempfile.gettempdir()), Path("/var/tmp"), Path("/dev/shm")):
        yield folder / f"tamarind-rescued-{os.getuid()}"


def _is_ours(folder: Path) -> bool:
    """Whether nobody else could have written to a folder."""
    try:
        found = folder.lstat()
    except OSError:
        return False
    return found.st_uid == os.getuid() and not found.st_mode & 0o022
