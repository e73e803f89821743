"""Examine a job's file before it is opened: whether it is one, who has it open, and whether it is
whole.

Nothing here changes a file; a new one is put in place whole.
"""

from __future__ import annotations

import contextlib
import os
import sqlite3
import tempfile
from pathlib import Path

from tamarind.job import contents as reading
from tamarind.job import schema
from tamarind.job.contents import Contents
from tamarind.job.lock import holds_still, read_holder
from tamarind.job.schema import APPLICATION_ID, SCHEMA_VERSION
from tamarind.system.errors import ToldError
from tamarind.system.files import NotAFileError, open_file, put_in_place, umask
from tamarind.system.garbage import without_collecting

SUFFIX = ".tamarind"
PACKED_SUFFIX = f"{SUFFIX}.zip"
HOLDER = "held by"
"""The setting that tells who has the job open."""

_MAGIC = b"SQLite format 3\0"


class JobError(ToldError):
    """A job cannot be opened or written; the message is one sentence, the file is untouched."""


class DamagedJobError(JobError):
    """A job cannot be opened as it is; ``contents`` is what could be read of it."""

    def __init__(self, sentence: str, contents: Contents) -> None:
        super().__init__(sentence)
        self.contents = contents


def is_packed(path: Path) -> bool:
    """Whether a file is a packed job, by its name."""
    return path.name.casefold().endswith(PACKED_SUFFIX)


def examine(path: Path, drafts: bool = False) -> Contents:
    """Read all of a job without touching the file. Raises JobError if it is no job.

    The caller sees to it that nobody writes to it meanwhile.
    """
    check_header(path)
    log = path.with_name(f"{path.name}-wal")
    has_log = log.exists() and log.stat().st_size > 0
    # What was not yet moved from the log into the file can be read only with the log.
    how = "mode=ro" if has_log else "mode=ro&immutable=1"
    address = f"file:{_quoted(path)}?{how}"
    with contextlib.closing(sqlite3.connect(address, uri=True, isolation_level=None)) as db:
        try:
            with without_collecting():
                return _read_through(db, path, drafts)
        except reading.BROKEN as error:
            contents = Contents()
            contents.damage.append(f"The file is damaged ({error}).")
            return contents


def _read_through(db: sqlite3.Connection, path: Path, drafts: bool) -> Contents:
    damage: list[str] = []
    # What is no UTF-8 is noticed where it is checked, not by failing here.
    db.text_factory = lambda data: data.decode("utf-8", "surrogateescape")
    db.execute("PRAGMA trusted_schema = OFF")
    foreign = schema.foreign_parts(db)
    if foreign:
        raise JobError(
            f"“{path.name}” has parts that no Tamarind job has ({', '.join(foreign)[:200]}) and is"
            " not opened."
        )
    found = db.execute("PRAGMA quick_check(1)").fetchone()
    if found is None or found[0] != "ok":
        damage.append("Parts of the file are damaged.")
    elif not schema.is_as_made(db):
        damage.append("The tables of the file are other ones than a job's.")
    elif db.execute("PRAGMA foreign_key_check").fetchone():
        damage.append("Some of what is in the file belongs to no recording.")
    with contextlib.closing(sqlite3.connect(":memory:", isolation_level=None)) as copy:
        if schema.version_of(db) < SCHEMA_VERSION:
            db.backup(copy)
            schema.migrate(copy)
            copy.text_factory = db.text_factory
            db = copy
        contents = reading.read_all(db, path.parent, drafts or bool(damage))
    contents.damage[:0] = damage
    return contents


def examined(path: Path) -> Contents:
    """Return all of a job that is locked. Raises DamagedJobError unless it is whole, and JobError
    if another computer has it open."""
    contents = examine(path)
    holder = read_holder(contents.settings.get(HOLDER, ""))
    if holder is not None and holds_still(holder, path):
        raise JobError(
            f"“{path.stem}” is open elsewhere: {holder.where}. If that is no longer so, it can be"
            " opened here in three minutes."
        )
    if contents.damage:
        raise DamagedJobError(f"“{path.name}” is damaged.", examine(path, drafts=True))
    return contents


def held_by(path: Path) -> str:
    """Say in a sentence who has a job open."""
    holder = None
    with (
        contextlib.suppress(sqlite3.Error),
        contextlib.closing(sqlite3.connect(f"file:{_quoted(path)}?mode=ro", uri=True)) as db,
    ):
        row = db.execute("SELECT value FROM setting WHERE key = ?", (HOLDER,)).fetchone()
        holder = read_holder(str(row[0])) if row else None
    by = f" ({holder.where})" if holder is not None else ""
    return f"“{path.stem}” is open in another window{by}."


def _quoted(path: Path) -> str:
    """Return a path as part of an address."""
    return "".join(
        chr(byte) if (chr(byte).isalnum() and byte < 128) or byte in b"/._-" else f"%{byte:02X}"
        for byte in os.fsencode(path)
    )


def make_file(path: Path) -> None:
    """Make an empty job, completely or not at all. Raises JobError if something is there."""
    handle, name = tempfile.mkstemp(prefix=".tamarind-", dir=path.parent)
    os.close(handle)
    made = Path(name)
    try:
        with contextlib.closing(sqlite3.connect(made, isolation_level=None)) as db:
            db.execute("BEGIN")
            schema.make(db)
            db.execute("COMMIT")
            # Now, since to change it later takes a journal beside the job.
            db.execute("PRAGMA journal_mode = WAL")
        made.chmod(0o666 & ~umask())
        put_in_place(made, path)
    except FileExistsError:
        raise JobError(f"“{path.name}” already exists.") from None
    finally:
        made.unlink(missing_ok=True)


def check_header(path: Path) -> None:
    """Raise JobError for what is no job of this or an older version, before touching the file."""
    if not os.path.lexists(path) and path.parent.is_dir():
        return
    try:
        with open_file(path) as file:
            # What says that it is empty is not read: some of the system's files never end.
            header = file.read(100) if os.fstat(file.fileno()).st_size else b""
    except FileNotFoundError:
        if path.is_symlink():
            raise JobError(f"“{path.name}” points to a file that is not there.") from None
        raise JobError(f"The folder “{path.parent}” does not exist.") from None
    except NotAFileError:
        what = "a folder" if path.is_dir() else "a pipe or a device"
        raise JobError(f"“{path.name}” is {what}, not a job.") from None
    except (OSError, ValueError) as error:
        reason = getattr(error, "strerror", None) or error
        raise JobError(f"“{path.name}” cannot be opened: {reason}.") from None
    application = int.from_bytes(header[68:72], "big")
    if not header.startswith(_MAGIC) or len(header) < 100 or application != APPLICATION_ID:
        raise JobError(f"“{path.name}” is not a Tamarind job.")
    journal = path.with_name(f"{path.name}-journal")
    if journal.exists():
        # SQLite would write what is in it over the job; ours are written to in another way.
        raise JobError(f"“{journal.name}” beside “{path.name}” is none of its own: move it away.")
    version = int.from_bytes(header[60:64], "big")
    if version > SCHEMA_VERSION:
        raise JobError(f"“{path.stem}” was made by a newer Tamarind; this one cannot open it.")


def refusal(path: Path, error: Exception) -> str:
    """Say in a sentence why a job could not be written or read."""
    text = str(error)
    if isinstance(error, UnicodeError | OverflowError):
        return "The last change holds something that is no text and could not be saved."
    if "readonly" in text or "unable to open" in text or isinstance(error, PermissionError):
        return f"“{path.name}” cannot be written: the file or its folder is read-only."
    if "full" in text or "No space" in text:
        return "The disk is full: the last change could not be saved."
    if "locked" in text:
        return f"“{path.stem}” is in use by another program."
    if isinstance(error, OSError):
        return f"“{path.name}” cannot be written: {error.strerror or error}."
    return f"“{path.name}” is damaged and cannot be read ({text})."
