"""A lock that tells a second window that a job is open; the system gives it up if we are killed."""

from __future__ import annotations

import fcntl
import hashlib
import os
from pathlib import Path

from tamarind.audio.soundcache import cache_home


class JobLock:
    """An advisory lock on a small file in the cache, so that nothing is left beside the job."""

    def __init__(self, job: Path) -> None:
        name = hashlib.blake2b(os.fsencode(job.resolve()), digest_size=12).hexdigest()
        self._path = cache_home() / "locks" / name
        self._handle: int | None = None

    def take(self) -> bool:
        """Whether the lock is ours now."""
        self._path.parent.mkdir(parents=True, exist_ok=True)
        handle = os.open(self._path, os.O_RDWR | os.O_CREAT, 0o600)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(handle)
            return False
        self._handle = handle
        return True

    def release(self) -> None:
        """Give the lock up."""
        if self._handle is not None:
            os.close(self._handle)
            self._handle = None
