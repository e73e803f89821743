"""Lock a job, so that only one program has it open, on this machine or another.

Two things tell. An advisory lock (``flock(2)``) on the job's file itself holds for every process of
this machine, by whatever name or link they reach the file, and is given up by the system if we are
killed. For other machines, of which a shared folder's lock may know nothing, a note in the job says
host, process and time; it is written anew every minute, and is stale when nobody has for three.
"""

from __future__ import annotations

import errno
import fcntl
import getpass
import json
import os
import platform
import time
from dataclasses import asdict, dataclass
from pathlib import Path

BEAT_S = 60
STALE_S = 180

_open_here: set[tuple[int, int]] = set()
"""Files of the jobs that this process has open: it must not even close a second handle to one of
them, since that would give up the locks of the first."""


@dataclass(frozen=True, slots=True)
class Holder:
    """Who has a job open: computer, person, process and when that began; since when it is open, and
    when that was last confirmed (seconds of the clock); and of which file that was noted."""

    host: str
    user: str
    process: int
    begun: str
    since: float
    at: float
    file: int

    def written(self) -> str:
        """Return the holder as text to keep in the job."""
        return json.dumps(asdict(self))

    @property
    def where(self) -> str:
        """Describe the holder."""
        if self.host == platform.node():
            return f"process {self.process} of {self.user} on this computer"
        return f"{self.user} on the computer “{self.host}”"


def holder_now(file: Path, since: float | None = None) -> Holder:
    """Return this process as holder."""
    now = time.time()
    return Holder(
        platform.node(), _user(), os.getpid(), begun=_begun(os.getpid()), since=since or now,
        at=now,
        file=file.stat().st_ino,
    )  # fmt: skip


def read_holder(text: str) -> Holder | None:
    """Read a holder from its text; None if it is none."""
    try:
        data = json.loads(text)
        return Holder(
            str(data["host"])[:100], str(data["user"])[:100], int(data["process"]),
            begun=str(data["begun"])[:100], since=float(data["since"]), at=float(data["at"]),
            file=int(data["file"]),
        )  # fmt: skip
    except (ValueError, KeyError, TypeError, OverflowError, RecursionError):
        return None


def holds_still(holder: Holder, file: Path) -> bool:
    """Whether a note still holds: not of a copied file, of a process that has ended, or of a
    computer that has been silent for some minutes."""
    try:
        if holder.file != file.stat().st_ino:
            return False
    except OSError:
        return False
    if holder.host == platform.node():
        if holder.process == os.getpid():
            return False
        return _begun(holder.process) == holder.begun != ""
    age = time.time() - holder.at
    return -STALE_S < age < STALE_S


class JobLock:
    """This machine's lock on a job's file."""

    def __init__(self, job: Path) -> None:
        self._path = job
        self._handle: int | None = None
        self._file: tuple[int, int] | None = None

    def take(self) -> bool:
        """Take the lock; return whether it is ours. Raises OSError if the file cannot be opened."""
        found = self._path.stat()
        file = (found.st_dev, found.st_ino)
        if file in _open_here:
            return False
        handle = os.open(self._path, os.O_RDONLY | os.O_CLOEXEC)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            if error.errno not in (errno.ENOLCK, errno.EOPNOTSUPP, errno.EINVAL):
                os.close(handle)
                return False
            # This file system has no locks: the note in the job has to do.
        _open_here.add(file)
        self._handle, self._file = handle, file
        return True

    def is_there(self) -> bool:
        """Whether the locked file is still in its place."""
        try:
            found = self._path.stat()
        except OSError:
            return False
        return (found.st_dev, found.st_ino) == self._file

    def release(self) -> None:
        """Release the lock; call it when nothing else has the file open any more."""
        if self._handle is not None and self._file is not None:
            os.close(self._handle)
            _open_here.discard(self._file)
        self._handle = self._file = None


def _user() -> str:
    try:
        return getpass.getuser()
    except (KeyError, OSError):
        return str(os.getuid())


def _begun(process: int) -> str:
    """Return when a process of this machine began, in the system's own unit; "" if there is
    none."""
    try:
        after_name = Path(f"/proc/{process}/stat").read_text().rpartition(")")[2]
        return after_name.split()[19]
    except (OSError, IndexError):
        return ""
