"""Writing a file so that it is whole or not there: beside it first, then renamed."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path


def write_whole(path: Path, data: bytes) -> None:
    """Write beside ``path`` and rename; raises OSError and leaves an older file as it was."""
    handle, name = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        Path(name).chmod(0o666 & ~_umask())
        Path(name).replace(path)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
