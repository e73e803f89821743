"""What is killed: ``python -m attacks.victim ACT JOB SEED`` works as the window does, and says on
its standard output what is about to be on disk and what is, until somebody ends it."""

from __future__ import annotations

import os
import random
import sys
import time
import zlib
from collections.abc import Callable
from pathlib import Path
from typing import Any

from tamarind.formats.format import Origin

WORDS = "peat drain moor sphagnum 1962 – dry, Every water’s".split()


def mark_of(document: Any) -> str:
    """What tells a text with its translations from others, the same in every process."""
    tracks = [
        (t.language, sorted((cue, e.text, e.by_person) for cue, e in t.texts.items()))
        for t in sorted(document.tracks, key=lambda track: track.language)
    ]
    said = repr((document.transcript, tracks))
    return f"{zlib.crc32(said.encode()):08x}"


def say(*words: object) -> None:
    """A line that is out before anything else happens."""
    os.write(1, (" ".join(map(str, words)) + "\n").encode())


def editing(session: Any, chance: random.Random) -> None:
    """Edits of a text and its translation, one after the other."""
    from tamarind.transcript import edits
    from tamarind.translation.tracks import with_edit

    keys = [r.id for r in session.recordings.all() if session.texts.transcript(r.id).cues]
    while True:
        key = chance.choice(keys)
        document = session.texts.document(key)
        text = document.transcript
        place = chance.randrange(len(text.cues))
        some = " ".join(chance.choices(WORDS, k=chance.randrange(1, 8)))
        act = chance.randrange(5)
        if act == 0 and len(text.cues) > 3:
            new = document.with_transcript(edits.join(text, place))
        elif act == 1:
            new = document.with_transcript(edits.split(text, place, 1))
        elif act == 2:
            track = with_edit(document.track("es"), text.cues[place], some)
            new = document.with_track(track)
        else:
            new = document.with_transcript(edits.set_text(text, place, some))
        say("will", key, mark_of(new))
        session.texts.edit_document(key, "attack", new, chance.choice((None, "typing")))
        say("did", key, mark_of(session.texts.document(key)))


def translating(session: Any, chance: random.Random) -> None:
    """Machine translations of whole texts, as the batch puts them in."""
    from tamarind.translation.draft import draft
    from tamarind.translation.tracks import Track, with_texts

    keys = [r.id for r in session.recordings.all() if session.texts.transcript(r.id).cues]
    texts = {}
    for key in keys:
        cues = session.texts.transcript(key).cues
        if session.texts.transcript(key).language == "en":
            brief, over = session.translating.brief(key, "es"), session.translating.router
            found: dict[int, str] = {}
            for some in draft(cues, [cue.id for cue in cues], brief, over):
                found |= some
            texts[key] = [found.get(cue.id, "") for cue in cues]
    keys = list(texts)
    while True:
        key = chance.choice(keys)
        document = session.texts.document(key)
        cues = document.transcript.cues
        first = chance.randrange(len(cues))
        empty = chance.random() < 0.2
        track = Track("es") if empty else document.track("es")
        new = document.with_track(with_texts(track, cues[first:], texts[key][first:]))
        say("will", key, mark_of(new))
        session.texts.edit_document(key, "translate", new)
        say("did", key, mark_of(session.texts.document(key)))


def hearing(session: Any, _chance: random.Random) -> None:
    """A recording is heard; what came is told when the window has it."""
    from PySide6.QtWidgets import QApplication

    key = session.recordings.all()[-1].id

    def wait(done: Callable[[], object]) -> None:
        while not done():
            QApplication.processEvents()
            time.sleep(0.002)

    wait(lambda: session.queue.can_hear(session.recordings.get(key)))
    told = 0

    def tell(changed: int) -> None:
        nonlocal told
        words = [w.text for cue in session.texts.transcript(key).cues for w in cue.words]
        if changed == key and len(words) > told:
            told = len(words)
            said = " ".join(words)
            say("heard", key, told, f"{zlib.crc32(said.encode()):08x}")

    session.texts.changed.connect(tell)
    session.queue.transcribe([key])
    workers = {process.pid for process in _children()}
    say("workers", *workers)
    wait(lambda: session.texts.transcript(key).cues and not session.queue.totals().side_by_side)
    say("finished")
    wait(lambda: False)


def _children() -> list[Any]:
    import multiprocessing

    return list(multiprocessing.active_children())


def exporting(session: Any, chance: random.Random) -> None:
    """Documents are written over and over, each in one of two ways."""
    from tamarind.formats import documents
    from tamarind.system.files import write_whole

    folder = session.store.path.parent / "out"
    folder.mkdir(exist_ok=True)
    for number in range(10**9):
        key = chance.choice([r.id for r in session.recordings.all()])
        text = session.texts.transcript(key)
        suffix = chance.choice(("srt", "vtt", "docx", "json"))
        name = f"{'again' if number % 2 else 'once'}"
        data = documents.write(suffix, text, Origin(name * 2_000, 1_000))
        write_whole(folder / f"{key}.{suffix}", data + f"END {len(data)}".encode())
        say("did", key, suffix)


def main(arguments: list[str]) -> int:
    """Open the job as the window does, and begin."""
    from tamarind.desktop.app import make_application
    from tamarind.desktop.qtloop import open_session
    from tamarind.job.store import JobStore

    act, job, seed = arguments
    make_application()
    session = open_session(JobStore(Path(job)))
    chance = random.Random(int(seed))
    {"editing": editing, "translating": translating, "hearing": hearing, "exporting": exporting}[
        act
    ](session, chance)
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
