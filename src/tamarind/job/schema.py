"""The tables of a job: creating them, migrating older ones, and refusing foreign ones."""

from __future__ import annotations

import sqlite3
from functools import cache

APPLICATION_ID = 0x54414D41
SCHEMA_VERSION = 17

_FIRST = """
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
    # Fingerprints were made of a file's ends only; they are made anew from all of it.
    # What is in a row has a checksum; rows of earlier versions have none.
    8: "UPDATE recording SET fingerprint = '';"
    "ALTER TABLE cue ADD COLUMN mark INTEGER;"
    "ALTER TABLE translated ADD COLUMN mark INTEGER",
    # Fields of cues that came later lie together, and drafts have all of them.
    9: "ALTER TABLE cue ADD COLUMN more TEXT NOT NULL DEFAULT '';"
    "ALTER TABLE draft ADD COLUMN more TEXT NOT NULL DEFAULT ''",
    10: "ALTER TABLE recording ADD COLUMN guesses TEXT NOT NULL DEFAULT '[]'",
    11: "ALTER TABLE translated ADD COLUMN comment TEXT NOT NULL DEFAULT ''",
    12: "ALTER TABLE recording ADD COLUMN voices TEXT NOT NULL DEFAULT '[]'",
    13: "ALTER TABLE recording ADD COLUMN at_once TEXT NOT NULL DEFAULT '[]'",
    14: "ALTER TABLE recording ADD COLUMN excerpts TEXT NOT NULL DEFAULT '[]'",
    15: "ALTER TABLE recording ADD COLUMN descriptions TEXT NOT NULL DEFAULT '[]'",
    # Times counted from where a recording's sound begins, before.
    16: "ALTER TABLE recording ADD COLUMN from_sound INTEGER NOT NULL DEFAULT 0;"
    "UPDATE recording SET from_sound = 1;"
    # Translations stand in the order in which they were made.
    "ALTER TABLE track ADD COLUMN position INTEGER NOT NULL DEFAULT 0",
    # A long step of undo is kept in parts.
    17: "ALTER TABLE step ADD COLUMN goes_on INTEGER NOT NULL DEFAULT 0",
}
"""What makes each version from the one before it."""


def make(db: sqlite3.Connection) -> None:
    """Create the current tables in an empty database, within the caller's transaction."""
    for statement in _FIRST.split(";"):
        db.execute(statement)
    db.execute(f"PRAGMA application_id = {APPLICATION_ID}")
    db.execute("PRAGMA user_version = 1")
    migrate(db)


def migrate(db: sqlite3.Connection) -> None:
    """Convert the tables of an older version, within the caller's transaction."""
    for later in range(version_of(db) + 1, SCHEMA_VERSION + 1):
        for statement in _STEPS[later].split(";"):
            db.execute(statement)
        db.execute(f"PRAGMA user_version = {later}")


def version_of(db: sqlite3.Connection) -> int:
    """Return the version of a database's tables."""
    (version,) = db.execute("PRAGMA user_version").fetchone()
    return int(version)


def foreign_parts(db: sqlite3.Connection) -> list[str]:
    """Return triggers, views and the like, which no job has."""
    rows = db.execute("SELECT type, name, sql FROM sqlite_master").fetchall()
    return [
        f"{kind} “{name}”"
        for kind, name, sql in rows
        if kind not in ("table", "index") or "VIRTUAL" in str(sql or "").upper()[:20]
    ]


def is_as_made(db: sqlite3.Connection) -> bool:
    """Whether the tables are exactly those of their version."""
    return _tables(db) == _made(version_of(db))


@cache
def _made(version: int) -> frozenset[tuple[str, str, str]]:
    db = sqlite3.connect(":memory:")
    try:
        for statement in _FIRST.split(";"):
            db.execute(statement)
        for later in range(2, version + 1):
            for statement in _STEPS[later].split(";"):
                db.execute(statement)
        return _tables(db)
    finally:
        db.close()


def _tables(db: sqlite3.Connection) -> frozenset[tuple[str, str, str]]:
    return frozenset(
        (kind, name, sql)
        for kind, name, sql in db.execute("SELECT type, name, sql FROM sqlite_master")
        if not str(name).startswith("sqlite_")
    )
