"""Read and write files safely: read regular files only, write completely or not at all."""

from __future__ import annotations

import errno
import io
import os
import stat
import tempfile
from pathlib import Path
from typing import BinaryIO

NOT_A_FILE = "it is a folder, a pipe or a device, not a file"


class NotAFileError(OSError):
    """The path is no regular file that could be read to its end."""

    def __init__(self) -> None:
        super().__init__(0, NOT_A_FILE)


def shown(name: str) -> str:
    """Return a file's name as text, with marks for what is not UTF-8."""
    return os.fsencode(name).decode("utf-8", "replace")


def open_file(path: Path) -> BinaryIO:
    """Open a file for reading. Raises OSError, for a pipe or a device too.

    A pipe that nobody writes to would keep us waiting for ever, and reading from some devices
    changes the system.
    """
    handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC | os.O_NOCTTY)
    try:
        if not stat.S_ISREG(os.fstat(handle).st_mode):
            raise NotAFileError
        return os.fdopen(handle, "rb")
    except BaseException:
        os.close(handle)
        raise


def read_file(path: Path, largest: int | None = None) -> bytes:
    """Return all bytes of a file. Raises OSError, and ValueError if there are more than
    ``largest``.

    What says that it is empty is not read: the system's own files (/proc) say so, and some of them
    never end.
    """
    with open_file(path) as file:
        size = os.fstat(file.fileno()).st_size
        if size == 0:
            return b""
        if largest is not None and size > largest:
            raise ValueError(f"it is larger than {largest // (1 << 20)} MB")
        return file.read(size)


class OpenedFile(io.RawIOBase):
    """Reads a file that another process opened, from its start, with a position of its own.

    ``handle`` stays open when this is closed, so one handle can be read several times.
    """

    def __init__(self, handle: int) -> None:
        super().__init__()
        self._handle = handle
        self._size = os.fstat(handle).st_size
        self._place = 0

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return True

    def fileno(self) -> int:
        return self._handle

    def readinto(self, buffer: memoryview) -> int:  # type: ignore[override]
        count = os.preadv(self._handle, [buffer], self._place)
        self._place += count
        return count

    def seek(self, offset: int, whence: int = os.SEEK_SET) -> int:
        start = {os.SEEK_SET: 0, os.SEEK_CUR: self._place, os.SEEK_END: self._size}[whence]
        self._place = max(start + offset, 0)
        return self._place

    def tell(self) -> int:
        return self._place


def write_whole(path: Path, data: bytes, new: bool = False, lasting: bool = True) -> None:
    """Write beside ``path`` and rename. Raises OSError and leaves an older file as it was.

    With ``new`` it raises FileExistsError where something is already. What is not ``lasting`` need
    not survive a failure of the power.
    """
    # Its name is short, since that of the file may be as long as names can be.
    handle, name = tempfile.mkstemp(prefix=".tamarind-", dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            if lasting:
                os.fsync(file.fileno())
        Path(name).chmod(0o666 & ~umask())
        if new:
            put_in_place(Path(name), path)
        else:
            Path(name).replace(path)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise


def put_in_place(made: Path, path: Path) -> None:
    """Rename a finished file to its name. Raises FileExistsError if something is there."""
    try:
        os.link(made, path)
        made.unlink()
    except FileExistsError:
        raise
    except OSError:
        # Some file systems, as on most memory sticks, have no second names.
        if os.path.lexists(path):
            raise FileExistsError(errno.EEXIST, os.strerror(errno.EEXIST), path) from None
        made.rename(path)


def umask() -> int:
    """Return the rights that new files do not get (``umask(2)``)."""
    mask = os.umask(0)
    os.umask(mask)
    return mask
