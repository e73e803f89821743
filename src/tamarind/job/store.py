"""The job file: one SQLite database; every edit is one small transaction of what changed."""

from __future__ import annotations

import contextlib
import json
import os
import sqlite3
import tempfile
from array import array
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass
from operator import attrgetter
from pathlib import Path

from tamarind.job import contents as reading
from tamarind.job import schema
from tamarind.job.contents import Contents
from tamarind.job.cuedata import checksum, row_of
from tamarind.job.document import Document
from tamarind.job.lock import JobLock, holder_now, holds_still, read_holder
from tamarind.job.recording import Recording, State
from tamarind.job.schema import APPLICATION_ID, SCHEMA_VERSION
from tamarind.language.stylebook import ORDINARY_STYLE
from tamarind.speech.howtohear import AS_USUAL, HowToHear
from tamarind.system.files import NotAFileError, open_file
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.survey import changed_range
from tamarind.translation.tracks import Track

SUFFIX = ".tamarind"
HOLDER = "held by"
"""The setting that tells who has the job open."""

_MAGIC = b"SQLite format 3\0"


class JobError(Exception):
    """A job cannot be opened or written; the message is one sentence, the file is untouched."""


class DamagedJobError(JobError):
    """A job cannot be opened as it is; ``contents`` is what could be read of it."""

    def __init__(self, sentence: str, contents: Contents) -> None:
        super().__init__(sentence)
        self.contents = contents


@dataclass(frozen=True, slots=True)
class KeptStep:
    """A step of undo as it is kept; ``change`` is empty where it is not wanted."""

    number: int
    recording: int
    label: str
    undone: bool
    change: bytes = b""


class JobStore:
    """An open job. Use it from one thread; close it to give up its lock."""

    def __init__(self, path: Path) -> None:
        """Open a job, making it if there is nothing at that place.

        Raises JobError, and DamagedJobError where something in the file is not as it was written;
        the file is as it was then.
        """
        self.path = path.absolute()
        _check_header(self.path)
        self._lock = JobLock(self.path)
        self._together = False
        self._orders: dict[int, tuple[tuple[Cue, ...], array[int]]] = {}
        try:
            if not os.path.lexists(self.path):
                _make_file(self.path)
            if not self._lock.take():
                raise JobError(_held(self.path))
            contents = _examined(self.path)
            self._read = dict(contents.documents)
            self._db = sqlite3.connect(self.path, isolation_level=None)
            self._prepare()
            for recording_id in contents.reordered:
                self._keep_order(recording_id, self._read[recording_id].transcript.cues)
        except BaseException as error:
            if hasattr(self, "_db"):
                self._db.close()
            self._lock.release()
            if isinstance(error, sqlite3.Error | OSError):
                raise JobError(_sentence(self.path, error)) from None
            raise

    def tidy(self) -> None:
        """Move what was written since the last time from SQLite's log into the file itself.

        It waits for the disk, so it may be called from another thread; writing goes on meanwhile.
        """
        with (
            contextlib.suppress(sqlite3.Error),
            contextlib.closing(sqlite3.connect(self.path)) as db,
        ):
            db.execute("PRAGMA wal_checkpoint(PASSIVE)")

    def close(self) -> None:
        """Finish writing and let others open the job."""
        with contextlib.suppress(sqlite3.Error, JobError):
            self._db.execute("DELETE FROM setting WHERE key = ?", (HOLDER,))
        with contextlib.suppress(sqlite3.Error):
            self._db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        self._db.close()
        self._lock.release()

    def beat(self) -> None:
        """Tell other computers that the job is still open here; raises JobError."""
        self.set_setting(HOLDER, holder_now(self.path, self._since).written())

    def is_there(self) -> bool:
        """Whether the job's file still lies where it was opened."""
        return self._lock.is_there()

    def setting(self, key: str, default: str = "") -> str:
        """A value kept with the job."""
        row = self._db.execute("SELECT value FROM setting WHERE key = ?", (key,)).fetchone()
        return str(row[0]) if row else default

    def set_setting(self, key: str, value: str) -> None:
        """Keep a value with the job."""
        with self._transaction():
            self._db.execute("REPLACE INTO setting VALUES (?, ?)", (key, value))

    def recordings(self) -> list[Recording]:
        """All recordings in their order."""
        rows = self._db.execute(
            f"SELECT {reading.RECORDING_COLUMNS} FROM recording ORDER BY position, id"
        )
        return [reading.recording_of(row, self.path.parent)[0] for row in rows]

    def add_recording(
        self, path: Path, how: HowToHear = AS_USUAL, style: str = ORDINARY_STYLE
    ) -> Recording:
        """Take a file into the job, at the end, to be heard in this way."""
        with self._transaction():
            cursor = self._db.execute(
                "INSERT INTO recording (position, path, fingerprint, duration, state, language,"
                " part_start, heard_until, how, style)"
                " SELECT coalesce(max(position), 0) + 1, ?, '', 0, ?, ?, 0, 0, ?, ? FROM recording",
                (
                    self._relative(path),
                    State.ARRIVED.value,
                    how.language,
                    json.dumps(how.data()),
                    style,
                ),
            )
        assert cursor.lastrowid is not None
        return Recording(cursor.lastrowid, path.absolute(), how=how, style=style)

    def settings(self) -> dict[str, str]:
        """All values that are kept with the job."""
        rows = self._db.execute("SELECT key, value FROM setting WHERE key != ?", (HOLDER,))
        return dict(rows.fetchall())

    def put(self, contents: Contents) -> None:
        """Write all of another job into this one, which is empty, all or nothing."""
        empty = Document(Transcript(""))
        with self._transaction():
            for key, value in contents.settings.items():
                if key != HOLDER:
                    self._db.execute("REPLACE INTO setting VALUES (?, ?)", (key, value))
            for place, recording in enumerate(contents.recordings, 1):
                self._db.execute(
                    "INSERT INTO recording (id, position, path, fingerprint, duration, state,"
                    " language, part_start, heard_until) VALUES (?, ?, '', '', 0, '', '', 0, 0)",
                    (recording.id, place),
                )
                self._save_recording(recording)
                document = contents.documents.get(recording.id, empty)
                self._save_transcript(recording.id, empty.transcript, document.transcript)
                self._save_tracks(recording.id, empty, document)
                self._add_to_draft(recording.id, contents.drafts.get(recording.id, ()), True)

    def save_all(
        self,
        recordings: Sequence[Recording],
        settings: Mapping[str, str],
        documents: Mapping[int, tuple[Document, Document]],
    ) -> None:
        """Write what may not have been written: which recordings there are and all that is known of
        them, settings, and texts that changed (before, after); all or nothing."""
        with self._transaction():
            kept = {recording.id for recording in recordings}
            for (number,) in self._db.execute("SELECT id FROM recording").fetchall():
                if number not in kept:
                    self._db.execute("DELETE FROM recording WHERE id = ?", (number,))
            for place, recording in enumerate(recordings, 1):
                self._save_recording(recording)
                self._db.execute(
                    "UPDATE recording SET position = ? WHERE id = ?", (place, recording.id)
                )
            for key, value in settings.items():
                self._db.execute("REPLACE INTO setting VALUES (?, ?)", (key, value))
            for recording_id, (before, after) in documents.items():
                self._save_transcript(recording_id, before.transcript, after.transcript)
                self._save_tracks(recording_id, before, after)

    def set_order(self, recording_ids: Sequence[int]) -> None:
        """Keep the recordings in this order."""
        with self._transaction():
            self._db.executemany(
                "UPDATE recording SET position = ? WHERE id = ?",
                [(place, number) for place, number in enumerate(recording_ids, 1)],
            )

    def save_recording(self, recording: Recording) -> None:
        """Write what is known of a recording; its text is not touched."""
        with self._transaction():
            self._save_recording(recording)

    def save_heard(
        self,
        recording: Recording,
        before: Document,
        after: Document,
        heard: Sequence[Cue] = (),
        afresh: bool = False,
    ) -> None:
        """Write newly heard text and how far hearing is with it, all or nothing.

        ``heard`` is what came, for the draft, which begins ``afresh`` or goes on.
        """
        with self._transaction():
            self._save_recording(recording)
            self._save_transcript(recording.id, before.transcript, after.transcript)
            self._save_tracks(recording.id, before, after)
            self._add_to_draft(recording.id, heard, afresh)

    def save_draft(self, recording_id: int, cues: Sequence[Cue]) -> None:
        """Keep a text as the draft from which a person starts."""
        with self._transaction():
            self._add_to_draft(recording_id, cues, True)

    def draft(self, recording_id: int) -> tuple[Cue, ...]:
        """The text as it came, before anybody changed it; empty if none is kept."""
        return reading.read_draft(self._db, recording_id)

    def _add_to_draft(self, recording_id: int, cues: Sequence[Cue], afresh: bool) -> None:
        if afresh:
            self._db.execute("DELETE FROM draft WHERE recording = ?", (recording_id,))
        if not cues:
            return
        (last,) = self._db.execute(
            "SELECT coalesce(max(number), 0) FROM draft WHERE recording = ?", (recording_id,)
        ).fetchone()
        rows = [(recording_id, n, row_of(cue)) for n, cue in enumerate(cues, last + 1)]
        self._db.executemany(
            "INSERT INTO draft VALUES (?, ?, ?, ?, ?, ?, ?)",
            [(key, n, row[1], row[2], row[3], row[4], row[7]) for key, n, row in rows],
        )

    def steps(self) -> list[KeptStep]:
        """All steps of undo in order, without their changes."""
        rows = self._db.execute("SELECT number, recording, label, undone FROM step ORDER BY number")
        return [KeptStep(number, key, label, bool(undone)) for number, key, label, undone in rows]

    def step_change(self, number: int) -> bytes:
        """What a step changed, packed; empty for a step that is not there."""
        row = self._db.execute("SELECT change FROM step WHERE number = ?", (number,)).fetchone()
        return bytes(row[0]) if row else b""

    def save_steps(self, steps: Sequence[KeptStep], gone: Iterable[int]) -> None:
        """Write steps that are new or changed, and take out those that are gone."""
        with self._transaction():
            self._db.executemany("DELETE FROM step WHERE number = ?", [(n,) for n in gone])
            self._db.executemany(
                "REPLACE INTO step VALUES (?, ?, ?, ?, ?)",
                [(s.number, s.recording, s.label, s.undone, s.change) for s in steps],
            )

    def _save_recording(self, recording: Recording) -> None:
        info = json.dumps(asdict(recording.info)) if recording.info else None
        self._db.execute(
            "UPDATE recording SET path = ?, fingerprint = ?, info = ?, duration = ?, state = ?,"
            " problem = ?, language = ?, part_start = ?, part_end = ?, heard_until = ?,"
            " how = ?, unheard = ?, style = ?, bookmark = ?, listened = ? WHERE id = ?",
            (
                self._relative(recording.path),
                recording.fingerprint,
                info,
                recording.duration,
                recording.state.value,
                recording.problem,
                recording.language,
                *recording.part,
                recording.heard_until,
                json.dumps(recording.how.data()),
                json.dumps(recording.unheard),
                recording.style,
                recording.bookmark,
                json.dumps(recording.listened),
                recording.id,
            ),
        )

    def remove_recording(self, recording_id: int) -> None:
        """Take a recording and its text out of the job; its file stays where it is."""
        with self._transaction():
            self._db.execute("DELETE FROM recording WHERE id = ?", (recording_id,))

    def document(self, recording_id: int) -> Document:
        """A recording's text with its translations; empty if it has none yet."""
        known = self._read.pop(recording_id, None)
        if known is not None:
            return known
        row = self._db.execute(
            f"SELECT {reading.RECORDING_COLUMNS}, {reading.TEXT_COLUMNS} FROM recording"
            " WHERE id = ?",
            (recording_id,),
        ).fetchone()
        if row is None:
            raise KeyError(recording_id)
        about = row[-4:]
        recording, _ = reading.recording_of(row[:-4], self.path.parent)
        return reading.read_document(self._db, recording, about)[0]

    def save_document(self, recording_id: int, before: Document, after: Document) -> None:
        """Write what differs between two versions of a text, in one transaction."""
        with self._transaction():
            self._save_transcript(recording_id, before.transcript, after.transcript)
            self._save_tracks(recording_id, before, after)

    def _save_transcript(self, recording_id: int, before: Transcript, after: Transcript) -> None:
        if before is after:
            return
        first, old_last, new_last = changed_range(before.cues, after.cues)
        old = {cue.id: cue for cue in before.cues[first:old_last]}
        new = {cue.id: cue for cue in after.cues[first:new_last]}
        self._db.executemany(
            "REPLACE INTO cue VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            [
                (recording_id, *(row := row_of(cue)), checksum(row))
                for cue in new.values()
                if old.get(cue.id) is not cue
            ],
        )
        self._db.executemany(
            "DELETE FROM cue WHERE recording = ? AND id = ?",
            [(recording_id, number) for number in old.keys() - new.keys()],
        )
        order = self._order_of(recording_id, before.cues)
        if list(old) != list(new):
            order = order[:first] + array("q", new) + order[old_last:]
            self._db.execute(
                "UPDATE recording SET cue_order = ? WHERE id = ?",
                (order.tobytes(), recording_id),
            )
        self._orders[recording_id] = (after.cues, order)
        about = before.speakers, before.language, before.preamble
        if about != (after.speakers, after.language, after.preamble):
            speakers = json.dumps([[s.id, s.name] for s in after.speakers], ensure_ascii=False)
            self._db.execute(
                "UPDATE recording SET speakers = ?, text_language = ?, preamble = ? WHERE id = ?",
                (speakers, after.language, after.preamble, recording_id),
            )

    def _order_of(self, recording_id: int, cues: tuple[Cue, ...]) -> array[int]:
        """The ids of a text's cues in order, at no cost if it is the text that was saved last."""
        known = self._orders.get(recording_id)
        if known is not None and known[0] is cues:
            return known[1]
        return array("q", map(attrgetter("id"), cues))

    def _save_tracks(self, recording_id: int, before: Document, after: Document) -> None:
        old_tracks = {track.language: track for track in before.tracks}
        new_tracks = {track.language: track for track in after.tracks}
        for language in old_tracks.keys() - new_tracks.keys():
            for table in ("track", "translated"):
                self._db.execute(
                    f"DELETE FROM {table} WHERE recording = ? AND language = ?",
                    (recording_id, language),
                )
        for language, track in new_tracks.items():
            if old_tracks.get(language) is track:
                continue
            self._db.execute("INSERT OR IGNORE INTO track VALUES (?, ?)", (recording_id, language))
            old = old_tracks.get(language, Track(language)).texts
            self._db.executemany(
                "REPLACE INTO translated VALUES (?, ?, ?, ?, ?, ?, ?)",
                [
                    (
                        recording_id,
                        *(row := (language, cue, entry.text, entry.source, entry.by_person)),
                        checksum(row),
                    )
                    for cue, entry in track.texts.items()
                    if old.get(cue) is not entry
                ],
            )
            self._db.executemany(
                "DELETE FROM translated WHERE recording = ? AND language = ? AND cue = ?",
                [(recording_id, language, cue) for cue in old.keys() - track.texts.keys()],
            )

    def _keep_order(self, recording_id: int, cues: tuple[Cue, ...]) -> None:
        order = array("q", map(attrgetter("id"), cues))
        with self._transaction():
            self._db.execute(
                "UPDATE recording SET cue_order = ? WHERE id = ?", (order.tobytes(), recording_id)
            )

    def _prepare(self) -> None:
        self._db.execute("PRAGMA trusted_schema = OFF")
        self._db.execute("PRAGMA foreign_keys = ON")
        self._db.execute("PRAGMA journal_mode = WAL")
        self._db.execute("PRAGMA synchronous = NORMAL")
        # Otherwise every so many pages a keystroke would wait for the disk; see ``tidy``.
        self._db.execute("PRAGMA wal_autocheckpoint = 0")
        if schema.version_of(self._db) < SCHEMA_VERSION:
            with self._transaction():
                schema.migrate(self._db)
        holder = holder_now(self.path)
        self._since = holder.since
        self.set_setting(HOLDER, holder.written())

    @contextlib.contextmanager
    def together(self) -> Iterator[None]:
        """Many changes as one: all or nothing, and written once."""
        with self._transaction():
            self._together = True
            try:
                yield
            finally:
                self._together = False

    @contextlib.contextmanager
    def _transaction(self) -> Iterator[None]:
        """All or nothing; raises JobError when the disk refuses."""
        if self._together:
            yield
            return
        try:
            # SQLite would go on writing to a file that has been deleted or moved away.
            if not self._lock.is_there():
                raise JobError(
                    f"“{self.path.name}” is no longer in its folder: nothing can be saved there."
                )
            self._db.execute("BEGIN IMMEDIATE")
            yield
            self._db.execute("COMMIT")
        except BaseException as error:
            if self._db.in_transaction:
                with contextlib.suppress(sqlite3.Error):
                    self._db.execute("ROLLBACK")
            if isinstance(error, sqlite3.Error | UnicodeError | OverflowError):
                raise JobError(_sentence(self.path, error)) from error
            raise

    def _relative(self, path: Path) -> str | bytes:
        """Files below the job's folder move with it, so their paths are kept relative.

        A path that is no UTF-8 is kept as its bytes.
        """
        path = path.absolute()
        folder = self.path.parent
        kept = str(path.relative_to(folder) if path.is_relative_to(folder) else path)
        try:
            kept.encode()
        except UnicodeEncodeError:
            return os.fsencode(kept)
        return kept


def examine(path: Path, drafts: bool = False) -> Contents:
    """Read all of a job without touching the file; raises JobError for what is no job.

    The caller sees to it that nobody writes to it meanwhile.
    """
    _check_header(path)
    log = path.with_name(f"{path.name}-wal")
    has_log = log.exists() and log.stat().st_size > 0
    # What was not yet moved from the log into the file can be read only with the log.
    how = "mode=ro" if has_log else "mode=ro&immutable=1"
    address = f"file:{_quoted(path)}?{how}"
    with contextlib.closing(sqlite3.connect(address, uri=True, isolation_level=None)) as db:
        try:
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


def _examined(path: Path) -> Contents:
    """All of a job that is locked; raises DamagedJobError unless it is whole, and JobError when
    another computer has it open."""
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


def _held(path: Path) -> str:
    """Who has a job open, in a sentence."""
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
    """A path as it stands in an address."""
    return "".join(
        chr(byte) if (chr(byte).isalnum() and byte < 128) or byte in b"/._-" else f"%{byte:02X}"
        for byte in os.fsencode(path)
    )


def _make_file(path: Path) -> None:
    """Put an empty job where nothing is, all at once; raises JobError where something is."""
    handle, name = tempfile.mkstemp(prefix=".tamarind-", dir=path.parent)
    os.close(handle)
    made = Path(name)
    try:
        with contextlib.closing(sqlite3.connect(made, isolation_level=None)) as db:
            db.execute("BEGIN")
            schema.make(db)
            db.execute("COMMIT")
        made.chmod(0o666 & ~_umask())
        try:
            os.link(made, path)
        except FileExistsError:
            raise JobError(f"“{path.name}” is there already.") from None
        except OSError:
            # Some file systems have no links; there is nothing to be replaced all the same.
            made.rename(path)
    finally:
        made.unlink(missing_ok=True)


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _check_header(path: Path) -> None:
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
    version = int.from_bytes(header[60:64], "big")
    if version > SCHEMA_VERSION:
        raise JobError(f"“{path.stem}” was made by a newer Tamarind; this one cannot open it.")


def _sentence(path: Path, error: Exception) -> str:
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
