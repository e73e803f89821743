"""Damaged jobs: each opens as far as it is whole, or is refused in one sentence; the file stays as
it was, nothing crashes, and what opens is a text like any other.

As a module it tries the jobs that it is given by path; see ``apart``.
"""

from __future__ import annotations

import json
import random
import shutil
import sqlite3
import tempfile
from contextlib import closing
from itertools import pairwise
from pathlib import Path
from typing import Any

from attacks.apart import answer_all, run_apart
from attacks.verdicts import Verdict

DEMO_JOB = Path(__file__).parent.parent / "demo" / "Peatland voices.tamarind"
PATIENCE_S = 60
SEEN_EVERY = 5
"""One in so many is also opened in the window, and each of its pages painted."""

ODD: tuple[Any, ...] = (
    None, "", "x", -1, 0, 1, 2**31, 2**62, -(2**62), 1.5, float("inf"), b"\xff\xfe", "null", "{}",
    "[]", "[[]]", "[1]", '[["a"]]', '[["a",1,2,NaN]]', '[["a",NaN,2,0.5]]', '[["a",-5,-2,0.5]]',
    '[["a",9000000000000,9000000000001,0.5]]', '[["\\ud800",1,2,0.5]]', '[["a",5,1,0.5]]',
    '[["",1,2,0.5]]', '[["a",1,2,7]]', '[["a",1,2,0.5,"r"]]', '[["a",1,2,0.5,[1]]]',
    '[["' + "w" * 30_000 + '",1,2,0.5]]', "[" * 5_000, '{"a":', "[999999999]", "[-1]", "[1,1,1]",
    "\x00", "a\x1b[2J", "\u202ereversed", "9" * 400, "line:0 --> 1", "draft", "queued", "nonsense",
    '{"language": 5}', '{"channel": "up"}', '[[1, "A"], [1, "B"]]', '[["x", 1]]', '[[5, null]]',
)  # fmt: skip


def attack(seed: int, count: int) -> Verdict:
    """So many damaged copies of the demo job."""
    verdict = Verdict("damaged jobs", "a damaged job opens as far as it is whole")
    chance = random.Random(seed)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        trials = []
        for number in range(count):
            path = folder / str(number) / "job.tamarind"
            path.parent.mkdir()
            shutil.copy(DEMO_JOB, path)
            how = chance.choice(
                (flipped, flipped, cut, crafted, crafted, crafted, swapped, strangers_beside)
            )
            trials.append(
                [str(path), f"{seed}/{number} {how(path, chance)}", number % SEEN_EVERY == 0]
            )
        homes = {f"XDG_{kind}_HOME": str(folder / kind) for kind in
                 ("CACHE", "DATA", "CONFIG", "STATE")}  # fmt: skip
        environment = {**homes, "QT_QPA_PLATFORM": "offscreen"}
        for trial, how, words in run_apart(__name__, trials, PATIENCE_S, environment):
            if how == "held":
                verdict.held(words)
            else:
                verdict.failed(f"{trial[1]}: {how}: {words}")
    return verdict


# Ways to damage one


def flipped(path: Path, chance: random.Random) -> str:
    """Some bytes are others."""
    data = bytearray(path.read_bytes())
    count = chance.choice((1, 1, 3, 20, 400))
    for _ in range(count):
        data[chance.randrange(len(data))] = chance.randrange(256)
    path.write_bytes(data)
    return f"{count} bytes flipped"


def cut(path: Path, chance: random.Random) -> str:
    """The end is missing, or a piece of it is zeros."""
    data = bytearray(path.read_bytes())
    at = chance.randrange(len(data))
    if chance.random() < 0.5:
        path.write_bytes(data[:at])
        return f"cut off at {at}"
    length = min(chance.choice((100, 4096, 30_000)), len(data) - at)
    data[at : at + length] = bytes(length)
    path.write_bytes(data)
    return f"{length} zeros at {at}"


def swapped(path: Path, chance: random.Random) -> str:
    """Two pages have changed places."""
    data = bytearray(path.read_bytes())
    first, second = (chance.randrange(len(data) // 4096) * 4096 for _ in range(2))
    one, other = data[first : first + 4096], data[second : second + 4096]
    data[first : first + 4096], data[second : second + 4096] = other, one
    path.write_bytes(data)
    return f"pages {first} and {second} swapped"


def crafted(path: Path, chance: random.Random) -> str:
    """A sound database with something in it that no job has."""
    with closing(sqlite3.connect(path)) as db:
        tables = [row[0] for row in db.execute("SELECT name FROM sqlite_master WHERE type='table'")]
        said = []
        for _ in range(chance.choice((1, 1, 2, 6))):
            table = chance.choice([t for t in tables if not t.startswith("sqlite_")])
            columns = [row[1] for row in db.execute(f"PRAGMA table_info({table})")]
            column, value = chance.choice(columns), chance.choice(ODD)
            if table == "setting" and column == "key":
                column = "value"
            which = chance.choice(("", " WHERE rowid % 3 = 0")) if table in ("step",) else ""
            act = chance.random()
            try:
                if act < 0.85:
                    db.execute(f"UPDATE OR REPLACE {table} SET {column} = ?{which}", (value,))
                    said.append(f"{table}.{column} = {str(value)[:30]!r}")
                elif act < 0.93:
                    db.execute(f"DELETE FROM {table}{which}")
                    said.append(f"{table} emptied")
                else:
                    db.execute(f"ALTER TABLE {table} RENAME COLUMN {column} TO other")
                    said.append(f"{table}.{column} renamed")
            except (sqlite3.Error, OverflowError) as error:
                said.append(f"({error})")
        db.commit()
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    return "; ".join(said)


def strangers_beside(path: Path, chance: random.Random) -> str:
    """Beside it lies what SQLite would take for its log, its index or its journal."""
    end = chance.choice(("-wal", "-shm", "-journal"))
    data = chance.randbytes(chance.choice((0, 32, 5_000, 40_000)))
    if end == "-wal" and chance.random() < 0.5:
        data = b"\x37\x7f\x06\x82\x00\x2d\xe2\x18\x00\x00\x10\x00" + data
    path.with_name(path.name + end).write_bytes(data)
    return f"{len(data)} bytes of chance as {end}"


# Trying one


def try_one(trial: Any) -> tuple[bool, str]:
    """Open a job as the program does; whether it held, and how it ended."""
    from tamarind.job.jobfile import JobError
    from tamarind.job.opening import open_job

    path, _, is_seen = Path(trial[0]), trial[1], trial[2]
    before = path.read_bytes()
    try:
        opened = open_job(path)
    except JobError as error:
        if path.read_bytes() != before:
            return False, "the file is another one after it was refused"
        return _is_sentence(str(error)), "refused" if _is_sentence(str(error)) else str(error)
    store = opened.store
    outcome = "opened in part" if opened.told else "opened"
    try:
        if opened.told and path.read_bytes() != before:
            return False, "the damaged file was changed"
        if opened.told and store.path == path:
            return False, "work goes on in the damaged file"
        problem = _problem_in(store) or ("" if opened.told else _silently_other(store, trial[1]))
    finally:
        store.close()
    if problem:
        return False, problem
    if is_seen:
        _paint(store.path)
    return True, outcome


def _silently_other(store: Any, how: str) -> str:
    """What says something else than the demo's job, and was not told of."""
    from tamarind.job.jobfile import examine

    if "emptied" in how or "recording." in how:
        # What was taken out, or put to other recordings, leaves no trace that could be told.
        return ""
    sound = examine(DEMO_JOB)
    for recording in store.recordings():
        now, then = store.document(recording.id), sound.documents.get(recording.id)
        if then is None or [c.text for c in now.transcript.cues] != [
            c.text for c in then.transcript.cues
        ]:
            return "it says something else, and nobody was told"
        if _translations(now) != _translations(then):
            return "a translation says something else, and nobody was told"
    return ""


def _translations(document: Any) -> list[list[tuple[int, str]]]:
    return [sorted((c, e.text) for c, e in t.texts.items()) for t in document.tracks if t.texts]


def _is_sentence(text: str) -> bool:
    return bool(text.strip()) and "Traceback" not in text and "\n" not in text and len(text) < 500


def _problem_in(store: Any) -> str:
    """What in an opened job is not as any text is; nothing if all is well."""
    from tamarind.transcript.bounds import LATEST, is_clean

    for recording in store.recordings():
        document = store.document(recording.id)
        store.draft(recording.id)
        ids = [cue.id for cue in document.transcript.cues]
        if len(set(ids)) != len(ids):
            return "two cues of one number"
        for cue in document.transcript.cues:
            if not 0 <= cue.start < cue.end <= LATEST:
                return f"times of a cue: {cue.start} {cue.end}"
            for one, other in pairwise(cue.words):
                if one.start > other.start:
                    return "words out of order"
            if not all(is_clean(word.text) and word.text for word in cue.words):
                return "letters that are none"
    json.dumps(store.settings())
    return ""


def _paint(path: Path) -> None:
    """Every page of the window with this job, drawn."""
    from PySide6.QtCore import QCoreApplication, QEvent
    from PySide6.QtWidgets import QApplication

    from tamarind.desktop.app import make_application
    from tamarind.desktop.qtloop import open_session
    from tamarind.desktop.window import make_window
    from tamarind.job.store import JobStore

    make_application()
    failed: list[BaseException] = []
    import sys

    before, sys.excepthook = sys.excepthook, lambda _kind, error, _trace: failed.append(error)
    window = make_window(open_session(JobStore(path)))
    try:
        window.resize(1280, 800)
        window.show()
        shown = [r.id for r in window.session.recordings.all()]
        for key in shown[:3]:
            window.session.show(key)
            for step in ("intake", "proof", "translation", "export"):
                window.show_step(step)
                window.grab()
                QApplication.processEvents()
        while window.session.texts.undo_labels()[0]:
            before_labels = window.session.texts.undo_labels()
            window.session.texts.undo()
            if window.session.texts.undo_labels() == before_labels:
                break
    finally:
        window.close_at_once()
        window.deleteLater()
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        sys.excepthook = before
    if failed:
        raise failed[0]


if __name__ == "__main__":
    answer_all(try_one)
