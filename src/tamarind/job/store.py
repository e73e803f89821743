"""The job file: one SQLite database; every edit is one small transaction of what changed."""

from __future__ import annotations

import contextlib
import json
import sqlite3
from array import array
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import asdict, dataclass
from operator import attrgetter
from pathlib import Path
from typing import Any

from tamarind.audio.media import MediaInfo
from tamarind.job.cuedata import cue_of, row_of
from tamarind.job.document import Document
from tamarind.job.lock import JobLock
from tamarind.job.recording import Recording, State
from tamarind.language.stylebook import ORDINARY_STYLE
from tamarind.speech.howtohear import AS_USUAL, HowToHear
from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.transcript.survey import changed_range
from tamarind.translation.tracks import Track, Translated

SUFFIX = ".tamarind"
APPLICATION_ID = 0x54414D41
SCHEMA_VERSION = 7
_MAGIC = b"SQLite format 3\0"

_SCHEMA = """
CREATE TABLE setting (key TEXT PRIMARY KEY, value TEXT NOT NULL) WITHOUT ROWID;
CREATE TABLE recording (
    id INTEGER PRIMARY KEY, position INTEGER NOT NULL, path TEXT NOT NULL,
    fingerprint TEXT NOT NULL, info TEXT, duration INTEGER NOT NULL, state TEXT NOT NULL,
    problem TEXT, language TEXT NOT NULL, part_start INTEGER NOT NULL, part_end INTEGER,
    heard_until INTEGER NOT NULL, text_language TEXT, speakers TEXT NOT NULL DEFAULT '[]',
    cue_order BLOB NOT NULL DEFAULT x''
);
CREATE TABLE cue (
    recording INTEGER NOT NULL REFERENCES recording(id) ON DELETE CASCADE, id INTEGER NOT NULL,
    start INTEGER NOT NULL, end INTEGER NOT NULL, speaker INTEGER,
    opens_paragraph INTEGER NOT NULL, settled INTEGER NOT NULL, breaks TEXT, words TEXT NOT NULL,
    PRIMARY KEY (recording, id)
) WITHOUT ROWID;
CREATE TABLE translated (
    recording INTEGER NOT NULL REFERENCES recording(id) ON DELETE CASCADE,
    language TEXT NOT NULL, cue INTEGER NOT NULL, text TEXT NOT NULL, source TEXT NOT NULL,
    by_person INTEGER NOT NULL, PRIMARY KEY (recording, language, cue)
) WITHOUT ROWID;
CREATE TABLE track (
    recording INTEGER NOT NULL REFERENCES recording(id) ON DELETE CASCADE,
    language TEXT NOT NULL, PRIMARY KEY (recording, language)
) WITHOUT ROWID;
"""
"""The first version; later ones are made from it by ``_STEPS``."""

_STEPS = {
    2: "ALTER TABLE recording ADD COLUMN how TEXT NOT NULL DEFAULT '{}'",
    3: "ALTER TABLE recording ADD COLUMN unheard TEXT NOT NULL DEFAULT '[]'",
    4: "ALTER TABLE recording ADD COLUMN bookmark TEXT NOT NULL DEFAULT '';"
    "ALTER TABLE recording ADD COLUMN style TEXT NOT NULL DEFAULT 'ordinary'",
    5: "ALTER TABLE recording ADD COLUMN listened TEXT NOT NULL DEFAULT '[]';"
    "CREATE TABLE draft (recording INTEGER NOT NULL REFERENCES recording(id) ON DELETE CASCADE,"
    " number INTEGER NOT NULL, start INTEGER NOT NULL, end INTEGER NOT NULL, speaker INTEGER,"
    " opens_paragraph INTEGER NOT NULL, words TEXT NOT NULL, PRIMARY KEY (recording, number)"
    ") WITHOUT ROWID;"
    "CREATE TABLE step (number INTEGER PRIMARY KEY,"
    " recording INTEGER NOT NULL REFERENCES recording(id) ON DELETE CASCADE,"
    " label TEXT NOT NULL, undone INTEGER NOT NULL, change BLOB NOT NULL)",
    6: "ALTER TABLE cue ADD COLUMN shaped INTEGER NOT NULL DEFAULT 0;"
    "ALTER TABLE cue ADD COLUMN placement TEXT NOT NULL DEFAULT '';"
    "ALTER TABLE recording ADD COLUMN preamble TEXT NOT NULL DEFAULT ''",
    7: "ALTER TABLE cue ADD COLUMN note TEXT NOT NULL DEFAULT ''",
}
"""What makes each version from the one before it."""


class JobError(Exception):
    """A job cannot be opened or written; the message is one sentence, the file is untouched."""


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
        """Open a job, making it if there is no such file; raises JobError."""
        self.path = path.absolute()
        _check_header(self.path)
        self._lock = JobLock(self.path)
        self._together = False
        self._orders: dict[int, tuple[tuple[Cue, ...], array[int]]] = {}
        if not self._lock.take():
            raise JobError(f"“{self.path.stem}” is open in another window.")
        try:
            self._db = sqlite3.connect(self.path, isolation_level=None)
            self._prepare()
        except sqlite3.DatabaseError as error:
            self._lock.release()
            raise JobError(_sentence(self.path, error)) from None

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
        with contextlib.suppress(sqlite3.Error):
            self._db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        self._db.close()
        self._lock.release()

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
            "SELECT id, path, fingerprint, info, duration, state, problem, language, part_start,"
            " part_end, heard_until, how, unheard, style, bookmark, listened FROM recording"
            " ORDER BY position, id"
        )
        return [self._recording(row) for row in rows]

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
        rows = self._db.execute(
            "SELECT number, start, end, speaker, opens_paragraph, 0, NULL, words FROM draft"
            " WHERE recording = ? ORDER BY number",
            (recording_id,),
        )
        return tuple(map(cue_of, rows))

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
        row = self._db.execute(
            "SELECT coalesce(text_language, language), speakers, cue_order, preamble FROM recording"
            " WHERE id = ?",
            (recording_id,),
        ).fetchone()
        if row is None:
            raise KeyError(recording_id)
        cues = {
            cue.id: cue
            for cue in map(
                cue_of,
                self._db.execute(
                    "SELECT id, start, end, speaker, opens_paragraph, settled, breaks, words,"
                    " shaped, placement, note FROM cue WHERE recording = ?",
                    (recording_id,),
                ),
            )
        }
        order = array("q")
        order.frombytes(row[2])
        speakers = tuple(Speaker(number, name) for number, name in json.loads(row[1]))
        transcript = Transcript(row[0], tuple(cues[number] for number in order), speakers, row[3])
        return Document(transcript, self._tracks(recording_id))

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
            "REPLACE INTO cue VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            [(recording_id, *row_of(cue)) for cue in new.values() if old.get(cue.id) is not cue],
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
                "REPLACE INTO translated VALUES (?, ?, ?, ?, ?, ?)",
                [
                    (recording_id, language, cue, entry.text, entry.source, entry.by_person)
                    for cue, entry in track.texts.items()
                    if old.get(cue) is not entry
                ],
            )
            self._db.executemany(
                "DELETE FROM translated WHERE recording = ? AND language = ? AND cue = ?",
                [(recording_id, language, cue) for cue in old.keys() - track.texts.keys()],
            )

    def _tracks(self, recording_id: int) -> tuple[Track, ...]:
        texts: dict[str, dict[int, Translated]] = {
            language: {}
            for (language,) in self._db.execute(
                "SELECT language FROM track WHERE recording = ? ORDER BY language", (recording_id,)
            )
        }
        for language, cue, text, source, by_person in self._db.execute(
            "SELECT language, cue, text, source, by_person FROM translated WHERE recording = ?",
            (recording_id,),
        ):
            texts[language][cue] = Translated(text, source, bool(by_person))
        return tuple(Track(language, entries) for language, entries in texts.items())

    def _prepare(self) -> None:
        self._db.execute("PRAGMA foreign_keys = ON")
        version = self._db.execute("PRAGMA user_version").fetchone()[0]
        if version == 0:
            self._db.execute("PRAGMA journal_mode = WAL")
            with self._transaction():
                for statement in _SCHEMA.split(";"):
                    self._db.execute(statement)
                self._db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
                self._db.execute("PRAGMA user_version = 1")
            version = 1
        self._db.execute("PRAGMA journal_mode = WAL")
        self._db.execute("PRAGMA synchronous = NORMAL")
        # Otherwise every so many pages a keystroke would wait for the disk; see ``tidy``.
        self._db.execute("PRAGMA wal_autocheckpoint = 0")
        if self._db.execute("PRAGMA quick_check(1)").fetchone()[0] != "ok":
            raise sqlite3.DatabaseError("damaged")
        for later in range(version + 1, SCHEMA_VERSION + 1):
            with self._transaction():
                for statement in _STEPS[later].split(";"):
                    self._db.execute(statement)
                self._db.execute(f"PRAGMA user_version = {later}")

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
            self._db.execute("BEGIN IMMEDIATE")
            yield
            self._db.execute("COMMIT")
        except BaseException as error:
            if self._db.in_transaction:
                self._db.execute("ROLLBACK")
            if isinstance(error, sqlite3.Error):
                raise JobError(_sentence(self.path, error)) from error
            raise

    def _recording(self, row: tuple[Any, ...]) -> Recording:
        info = MediaInfo(**_with_tuple(json.loads(row[3]))) if row[3] else None
        return Recording(
            row[0], self._absolute(row[1]), row[2], info, row[4], State(row[5]), row[6],
            HowToHear.from_data({**json.loads(row[11]), "language": row[7]}), (row[8], row[9]),
            row[10], _spans(row[12]), row[13], row[14], _spans(row[15]),
        )  # fmt: skip

    def _relative(self, path: Path) -> str:
        """Files below the job's folder move with it, so their paths are kept relative."""
        path = path.absolute()
        folder = self.path.parent
        return str(path.relative_to(folder) if path.is_relative_to(folder) else path)

    def _absolute(self, path: str) -> Path:
        return self.path.parent / path


def _check_header(path: Path) -> None:
    """Raise JobError for what is no job of this or an older version, before touching the file."""
    try:
        with path.open("rb") as file:
            header = file.read(100)
    except FileNotFoundError:
        if path.parent.is_dir():
            return
        raise JobError(f"The folder “{path.parent}” does not exist.") from None
    except IsADirectoryError:
        raise JobError(f"“{path.name}” is a folder, not a job.") from None
    except OSError as error:
        raise JobError(f"“{path.name}” cannot be opened: {error.strerror}.") from None
    if not header:
        return
    application = int.from_bytes(header[68:72], "big")
    if not header.startswith(_MAGIC) or len(header) < 100:
        raise JobError(f"“{path.name}” is not a Tamarind job.")
    version = int.from_bytes(header[60:64], "big")
    if application != APPLICATION_ID and not (application == 0 and version == 0):
        raise JobError(f"“{path.name}” is not a Tamarind job.")
    if version > SCHEMA_VERSION:
        raise JobError(f"“{path.stem}” was made by a newer Tamarind; this one cannot open it.")


def _sentence(path: Path, error: Exception) -> str:
    text = str(error)
    if "readonly" in text or "unable to open" in text:
        return f"“{path.name}” cannot be written: the file or its folder is read-only."
    if "full" in text:
        return "The disk is full: the last change could not be saved."
    if "locked" in text:
        return f"“{path.stem}” is in use by another program."
    return f"“{path.name}” is damaged and cannot be read ({text})."


def _with_tuple(info: dict[str, Any]) -> dict[str, Any]:
    picture = info.get("picture")
    return {**info, "picture": tuple(picture) if picture else None}


def _spans(data: str) -> tuple[tuple[int, int], ...]:
    return tuple((start, end) for start, end in json.loads(data))
