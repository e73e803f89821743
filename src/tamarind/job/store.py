"""The job file: one SQLite database, in which every edit is one small transaction."""

from __future__ import annotations

import contextlib
import json
import os
import re
import sqlite3
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path

from tamarind.job import contents as reading
from tamarind.job import schema
from tamarind.job.contents import Contents
from tamarind.job.cuedata import draft_row_of
from tamarind.job.document import Document
from tamarind.job.documentrows import DocumentRows
from tamarind.job.jobfile import (
    HOLDER,
    JobError,
    check_header,
    examined,
    held_by,
    make_file,
    refusal,
)
from tamarind.job.lock import JobLock, holder_now
from tamarind.job.recording import Recording, State
from tamarind.job.schema import SCHEMA_VERSION
from tamarind.language.stylebook import ORDINARY_STYLE
from tamarind.speech.hearingoptions import AS_USUAL, HearingOptions
from tamarind.transcript.bounds import clean_text
from tamarind.transcript.model import Cue, Transcript

LAST_GIVEN = "last recording given"
"""The setting that tells the highest number that any recording has had."""


@dataclass(frozen=True, slots=True)
class KeptStep:
    """A step of undo as kept; ``change`` is empty where it was not asked for."""

    number: int
    recording: int
    label: str
    undone: bool
    goes_on: bool = False
    change: bytes = b""


class JobStore:
    """An open job. Use it from one thread; close it to release its lock."""

    def __init__(self, path: Path) -> None:
        """Open a job, making it if there is none.

        Raises JobError, and DamagedJobError where something in the file is not as it was written;
        the file is as it was then.
        """
        self.path = path.absolute()
        check_header(self.path)
        self._lock = JobLock(self.path)
        self._together = False
        try:
            if not os.path.lexists(self.path):
                make_file(self.path)
            if not self._lock.take():
                raise JobError(held_by(self.path))
            contents = examined(self.path)
            self._read = dict(contents.documents)
            self._db = sqlite3.connect(self.path, isolation_level=None)
            self._rows = DocumentRows(self._db)
            self._prepare()
            for recording_id in contents.reordered:
                with self._transaction():
                    self._rows.keep_order(recording_id, self._read[recording_id].transcript.cues)
        except BaseException as error:
            if hasattr(self, "_db"):
                self._db.close()
            self._lock.release()
            if isinstance(error, sqlite3.Error | OSError):
                raise JobError(refusal(self.path, error)) from None
            raise

    def tidy(self) -> None:
        """Move what was written from SQLite's log into the file itself.

        It waits for the disk, so it may be called from another thread; writing goes on meanwhile.
        """
        with (
            contextlib.suppress(sqlite3.Error),
            contextlib.closing(sqlite3.connect(self.path)) as db,
        ):
            db.execute("PRAGMA wal_checkpoint(PASSIVE)")

    def close(self) -> None:
        """Finish writing and release the lock."""
        with contextlib.suppress(sqlite3.Error, JobError):
            self._db.execute("DELETE FROM setting WHERE key = ?", (HOLDER,))
        with contextlib.suppress(sqlite3.Error):
            self._db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        self._db.close()
        self._lock.release()

    def beat(self) -> None:
        """Confirm to other computers that the job is open here. Raises JobError."""
        self.set_setting(HOLDER, holder_now(self.path, self._since).written())

    def is_there(self) -> bool:
        """Whether the job's file is still where it was opened."""
        return self._lock.is_there()

    def setting(self, key: str) -> str | None:
        """Return the text of a setting."""
        row = self._db.execute("SELECT value FROM setting WHERE key = ?", (key,)).fetchone()
        return str(row[0]) if row else None

    def set_setting(self, key: str, value: str) -> None:
        """Keep the text of a setting."""
        with self._transaction():
            self._db.execute("REPLACE INTO setting VALUES (?, ?)", (key, value))

    def recordings(self) -> list[Recording]:
        """Return all recordings in order."""
        rows = self._db.execute(
            f"SELECT {reading.RECORDING_COLUMNS} FROM recording ORDER BY position, id"
        )
        return [reading.recording_of(row, self.path.parent)[0] for row in rows]

    def add_recording(
        self, path: Path, how: HearingOptions = AS_USUAL, style: str = ORDINARY_STYLE
    ) -> Recording:
        """Add a file at the end, with its transcription settings."""
        with self._transaction():
            cursor = self._db.execute(
                "INSERT INTO recording (id, position, path, fingerprint, duration, state, language,"
                " part_start, heard_until, how, style)"
                " SELECT ?, coalesce(max(position), 0) + 1, ?, '', 0, ?, ?, 0, 0, ?, ?"
                " FROM recording",
                (
                    self._new_id(),
                    self._relative(path),
                    State.ARRIVED.value,
                    how.language,
                    json.dumps(how.data()),
                    style,
                ),
            )
        assert cursor.lastrowid is not None
        return Recording(cursor.lastrowid, path.absolute(), how=how, style=style)

    def _new_id(self) -> int:
        """Return a number that no recording of this job has ever had, so that notes on a removed
        one are never taken for another's."""
        (last,) = self._db.execute("SELECT coalesce(max(id), 0) FROM recording").fetchone()
        noted = re.compile(r"(?:^|[ |])(\d{1,9})$")
        keys = (noted.search(key) for (key,) in self._db.execute("SELECT key FROM setting"))
        given = self.setting(LAST_GIVEN) or ""
        numbers = [int(key[1]) for key in keys if key]
        last = max([last, int(given) if given.isdecimal() else 0, *numbers])
        self._db.execute("REPLACE INTO setting VALUES (?, ?)", (LAST_GIVEN, str(last + 1)))
        return int(last) + 1

    def settings(self) -> dict[str, str]:
        """Return the texts of all settings."""
        rows = self._db.execute("SELECT key, value FROM setting WHERE key != ?", (HOLDER,))
        return dict(rows.fetchall())

    def put(self, contents: Contents) -> None:
        """Write all of another job into this empty one, completely or not at all."""
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
                self._save_document(recording.id, empty, document)
                self._add_to_draft(recording.id, contents.drafts.get(recording.id, ()), True)

    def save_all(
        self,
        recordings: Sequence[Recording],
        settings: Mapping[str, str],
        documents: Mapping[int, tuple[Document, Document]],
    ) -> None:
        """Write everything that may not have been written: recordings, settings, and texts that
        changed (before, after); completely or not at all."""
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
                self._save_document(recording_id, before, after)

    def set_order(self, recording_ids: Sequence[int]) -> None:
        """Keep the order of the recordings."""
        with self._transaction():
            self._db.executemany(
                "UPDATE recording SET position = ? WHERE id = ?",
                [(place, number) for place, number in enumerate(recording_ids, 1)],
            )

    def save_recording(self, recording: Recording) -> None:
        """Write what is known of a recording, without its text."""
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
        """Write newly transcribed text with the recording's progress, completely or not at all.

        ``heard`` is what came, for the draft, which begins ``afresh`` or goes on.
        """
        with self._transaction():
            self._save_recording(recording)
            self._save_document(recording.id, before, after)
            self._add_to_draft(recording.id, heard, afresh)

    def save_draft(self, recording_id: int, cues: Sequence[Cue]) -> None:
        """Keep a text as the draft."""
        with self._transaction():
            self._add_to_draft(recording_id, cues, True)

    def draft(self, recording_id: int) -> tuple[Cue, ...]:
        """Return the draft; empty if none is kept."""
        return reading.read_draft(self._db, recording_id)

    def _add_to_draft(self, recording_id: int, cues: Sequence[Cue], afresh: bool) -> None:
        if afresh:
            self._db.execute("DELETE FROM draft WHERE recording = ?", (recording_id,))
        if not cues:
            return
        (last,) = self._db.execute(
            "SELECT coalesce(max(number), 0) FROM draft WHERE recording = ?", (recording_id,)
        ).fetchone()
        self._db.executemany(
            "INSERT INTO draft VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            [(recording_id, n, *draft_row_of(cue)) for n, cue in enumerate(cues, last + 1)],
        )

    def steps(self) -> list[KeptStep]:
        """Return all steps of undo in order, without their changes."""
        rows = self._db.execute(
            "SELECT number, recording, label, undone, goes_on FROM step ORDER BY number"
        )
        return [
            KeptStep(number, key, label, bool(undone), bool(goes_on))
            for number, key, label, undone, goes_on in rows
        ]

    def step_change(self, number: int) -> bytes:
        """Return the packed change of a step; empty if there is no such step."""
        row = self._db.execute("SELECT change FROM step WHERE number = ?", (number,)).fetchone()
        return bytes(row[0]) if row else b""

    def save_steps(self, steps: Sequence[KeptStep], gone: Iterable[int]) -> None:
        """Write new and changed steps, and delete those that are gone."""
        with self._transaction():
            self._db.executemany("DELETE FROM step WHERE number = ?", [(n,) for n in gone])
            self._db.executemany(
                "REPLACE INTO step (number, recording, label, undone, goes_on, change)"
                " VALUES (?, ?, ?, ?, ?, ?)",
                [(s.number, s.recording, s.label, s.undone, s.goes_on, s.change) for s in steps],
            )

    def _save_recording(self, recording: Recording) -> None:
        info = json.dumps(asdict(recording.info)) if recording.info else None
        self._db.execute(
            "UPDATE recording SET path = ?, fingerprint = ?, info = ?, duration = ?, state = ?,"
            " problem = ?, language = ?, part_start = ?, part_end = ?, heard_until = ?,"
            " how = ?, unheard = ?, style = ?, bookmark = ?, listened = ?,"
            " guesses = ?, voices = ?, at_once = ?, from_sound = ? WHERE id = ?",
            (
                self._relative(recording.path),
                recording.fingerprint,
                info,
                recording.duration,
                recording.state.value,
                recording.problem and clean_text(recording.problem),
                recording.language,
                *recording.part,
                recording.heard_until,
                json.dumps(recording.how.data()),
                json.dumps(recording.unheard),
                recording.style,
                recording.bookmark,
                json.dumps(recording.listened),
                json.dumps([[one.language, one.probability] for one in recording.guesses]),
                json.dumps([[one.speaker, one.packed] for one in recording.voices]),
                json.dumps(recording.at_once),
                recording.from_sound,
                recording.id,
            ),
        )

    def remove_recording(self, recording_id: int) -> None:
        """Remove a recording and its text; its file stays."""
        with self._transaction():
            self._db.execute("DELETE FROM recording WHERE id = ?", (recording_id,))

    def document(self, recording_id: int) -> Document:
        """Return a recording's text with its translations; empty if it has none yet."""
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
        about = row[-reading.TEXT_VALUES :]
        recording, _ = reading.recording_of(row[: -reading.TEXT_VALUES], self.path.parent)
        return reading.read_document(self._db, recording, about)[0]

    def save_document(self, recording_id: int, before: Document, after: Document) -> None:
        """Write the difference between two versions of a text, in one transaction."""
        with self._transaction():
            self._save_document(recording_id, before, after)

    def _save_document(self, recording_id: int, before: Document, after: Document) -> None:
        if before is not after:
            self._read.pop(recording_id, None)
        self._rows.save(recording_id, before, after)

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
        """Make all changes within this context one transaction."""
        with self._transaction():
            self._together = True
            try:
                yield
            finally:
                self._together = False

    @contextlib.contextmanager
    def _transaction(self) -> Iterator[None]:
        """Run a transaction. Raises JobError if the disk refuses."""
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
                raise JobError(refusal(self.path, error)) from error
            raise

    def _relative(self, path: Path) -> str | bytes:
        """Return a path relative to the job's folder if it is below it, so that both can be moved
        together.

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
