"""Identify recordings by a digest of all their bytes.

Its first and last bytes would not do: two tracks of the same session are as long as each other and
begin and end in the same silence.
"""

from __future__ import annotations

import hashlib
import json
import os
from pathlib import Path

from tamarind.audio.media import MediaError, open_recording
from tamarind.system.files import read_file, write_whole
from tamarind.system.folders import cache_home

DIGITS = 40
"""Hexadecimal digits of a fingerprint; those of earlier versions had 32 and told less."""

READ_AT_ONCE = 1 << 20


def is_whole(mark: str) -> bool:
    """Whether a kept fingerprint is of the current kind, made from all bytes."""
    return len(mark) == DIGITS


def fingerprint(path: Path) -> str:
    """Return the digest of a file's bytes (BLAKE2b, 40 hex digits), read once as long as its size
    and times do not change. Raises MediaError if it cannot be read."""
    try:
        with open_recording(path) as file:
            before = _state(os.fstat(file.fileno()))
            known = _known(before)
            if known:
                return known
            digest = hashlib.blake2b(digest_size=DIGITS // 2)
            while block := file.read(READ_AT_ONCE):
                digest.update(block)
            mark = digest.hexdigest()
            # A file that is still being copied is another one in a moment.
            if _state(os.fstat(file.fileno())) == before:
                _keep(before, mark)
    except OSError as error:
        raise MediaError(f"The file cannot be read: {error.strerror}.") from None
    return mark


def known_fingerprint(path: Path) -> str:
    """Return the fingerprint of a file if it was computed before, else ""."""
    try:
        return _known(_state(path.stat()))
    except OSError:
        return ""


def _state(found: os.stat_result) -> tuple[int, int, int, int, int]:
    return (found.st_dev, found.st_ino, found.st_size, found.st_mtime_ns, found.st_ctime_ns)


def _file(state: tuple[int, ...]) -> Path:
    return cache_home() / "marks" / f"{state[0]:x}-{state[1]:x}.json"


def _known(state: tuple[int, ...]) -> str:
    try:
        kept, mark = json.loads(read_file(_file(state), 4096))
    except (OSError, ValueError, TypeError):
        return ""
    return mark if kept == list(state) and isinstance(mark, str) and is_whole(mark) else ""


def _keep(state: tuple[int, ...], mark: str) -> None:
    try:
        _file(state).parent.mkdir(parents=True, exist_ok=True)
        write_whole(_file(state), json.dumps([state, mark]).encode(), lasting=False)
    except OSError:
        # Without room for it the file is read again the next time.
        return
