"""Files from anywhere: read only if they are files, written whole or not at all."""

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
    """What is named is there, but no file that could be read to its end."""

    def __init__(self) -> None:
        super().__init__(0, NOT_A_FILE)


def shown(name: str) -> str:
    """A file's name as it can be shown and kept: what in it is no UTF-8 is a mark of that."""
    return os.fsencode(name).decode("utf-8", "replace")


def open_file(path: Path) -> BinaryIO:
    """Open a file for reading; raises OSError, for a pipe or a device too.

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
    """All bytes of a file; raises OSError, and ValueError if there are more than ``largest``.

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
    """A file that another process opened, from its start, with a place of its own in it.

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
    """Write beside ``path`` and rename; raises OSError and leaves an older file as it was.

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
    """Give a file that has been made beside it its name; raises FileExistsError where something
    is already."""
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
    """The rights that new files do not get (``umask(2)``)."""
    mask = os.umask(0)
    os.umask(mask)
    return mask
