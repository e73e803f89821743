"""Measure how the time of every act grows with a text: 1000, 5000 and 20 000 cues, five languages,
300 excerpts, 200 recordings.

    .venv/bin/python benchmarks/growth.py [ACT...]

Printed for each act are the milliseconds at each size, in the thread of the window unless it says
otherwise, and how much faster than the text it grows: the time at 20 000 over that at 5000, over 4.
What takes less than 5 ms at the end is not held against its growth.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
HERE = Path(__file__).parent
SIZES = (1_000, 5_000, 20_000)
LANGUAGES = ("es", "fr", "de", "pt", "it")
EXCERPTS, RECORDINGS = 300, 200
WORDS = "the water table in a healthy bog stays near the surface".split()
BATCH = 20
LITTLE_MS = 5.0


def main() -> None:
    """Measure and print."""
    wanted = sys.argv[1:]
    told: dict[str, list[float]] = {}
    for size in SIZES:
        with tempfile.TemporaryDirectory() as folder:
            os.environ["XDG_CACHE_HOME"] = f"{folder}/cache"
            os.environ["XDG_DATA_HOME"] = f"{folder}/data"
            for act, took in measure(Path(folder), size, wanted):
                told.setdefault(act, []).append(took)
                print(f"{size:6} {act:46} {took:9.1f} ms", flush=True)
    print(f"\n{'':46} {'':>9}" + "".join(f"{size:>9}" for size in SIZES) + "   growth")
    for act, times in told.items():
        growth = times[-1] / max(times[-2], 1e-3) / (SIZES[-1] / SIZES[-2])
        mark = "  <-- more than 1.2" if growth > 1.2 and times[-1] > LITTLE_MS else ""
        print(f"{act:56}" + "".join(f"{one:9.1f}" for one in times) + f"   {growth:.2f}{mark}")


def make_job(path: Path, count: int) -> None:
    """Make one large recording with tracks and excerpts, and many small ones."""
    from tamarind.job.document import Document
    from tamarind.job.recording import State
    from tamarind.job.store import JobStore
    from tamarind.transcript.excerpts import Excerpt
    from tamarind.transcript.model import Cue, Speaker, Transcript, Word
    from tamarind.translation.tracks import Track, with_some

    store = JobStore(path)
    media = path.parent / "media"
    media.mkdir()
    for number in range(RECORDINGS):
        file = media / f"{number:03}.wav"
        file.write_bytes(b"RIFF")
        recording = store.add_recording(file)
        size = count if number == 0 else 5
        cues = tuple(
            Cue(
                at + 1,
                at * 1800,
                at * 1800 + 1700,
                tuple(
                    Word(text, at * 1800 + n * 150, at * 1800 + n * 150 + 140,
                         0.3 if n == at % 90 else 0.95)
                    for n, text in enumerate(WORDS)
                ),
                speaker=1 + at // 7 % 2,
                opens_paragraph=at % 7 == 0,
            )
            for at in range(size)
        )  # fmt: skip
        text = Transcript("en", cues, (Speaker(1, "Ann"), Speaker(2, "Ben")))
        tracks = tuple(
            with_some(Track(tag), cues, {cue.id: f"{tag} {cue.text}" for cue in cues})
            for tag in (LANGUAGES if number == 0 else ())
        )
        step = max(size // EXCERPTS, 1)
        excerpts = tuple(
            Excerpt(n + 1, cues[n * step].start, cues[n * step].end, f"{n:05}")
            for n in range(min(EXCERPTS, size // step) if number == 0 else 0)
        )
        empty = store.document(recording.id)
        store.save_document(recording.id, empty, Document(text, tracks, excerpts))
        store.save_recording(replace(recording, state=State.DRAFT, duration=size * 1800))
    store.close()


def timed(act: Callable[[], object]) -> float:
    """Measure in ms."""
    began = time.perf_counter()
    act()
    return (time.perf_counter() - began) * 1000


def measure(folder: Path, count: int, wanted: list[str]):
    """Yield each act and how long it took."""
    from PySide6.QtCore import Qt
    from PySide6.QtTest import QTest

    from tamarind.captions.limits import ORDINARY
    from tamarind.captions.lines import with_breaks
    from tamarind.captions.relayout import relay
    from tamarind.desktop.app import make_application
    from tamarind.desktop.qtloop import open_session
    from tamarind.desktop.window import make_window
    from tamarind.formats import documents
    from tamarind.formats.captions import srt
    from tamarind.job.store import JobStore
    from tamarind.transcript import edits

    path = folder / "large.tamarind"
    make_job(path, count)
    app = make_application()
    made = []

    def open_job() -> None:
        made.append(make_window(open_session(JobStore(path))))
        made[0].resize(1280, 800)
        made[0].show_step("proof")
        made[0].show()
        made[0].grab()

    yield "open", timed(open_job)
    window = made[0]
    session, sheet = window.session, window.proof.sheet
    shown = session.shown

    def rest(seconds: float) -> float:
        """Run the window's loop; return the longest turn in ms."""
        end, longest = time.monotonic() + seconds, 0.0
        while time.monotonic() < end:
            longest = max(longest, timed(app.processEvents))
            time.sleep(0.001)
        return longest

    def wait(until: Callable[[], object], seconds: float = 600) -> float:
        end, longest = time.monotonic() + seconds, 0.0
        while not until() and time.monotonic() < end:
            longest = max(longest, timed(app.processEvents))
            time.sleep(0.001)
        return longest

    def is_wanted(act: str) -> bool:
        return not wanted or any(one in act for one in wanted)

    yield "after opening, the longest turn", rest(4)
    middle = count // 2

    def each(act: Callable[[int], object], times: int = 20) -> float:
        took = []
        for number in range(times):
            app.processEvents()
            took.append(timed(lambda number=number: (act(number), sheet.viewport().repaint())))
        return sorted(took)[times * 9 // 10]

    if is_wanted("check"):
        done = []
        session_checks = window.checking
        session_checks.changed.connect(lambda key: done.append(key))
        session_checks.start_afresh()
        began = time.perf_counter()
        longest = wait(lambda: done)
        yield "check all (in a thread)", (time.perf_counter() - began) * 1000
        yield "check all, the longest turn", longest
    if is_wanted("type"):
        sheet.setFocus()
        sheet.caret.set((middle, 5))
        yield "type a letter", each(lambda n: QTest.keyClick(sheet, "abc de"[n % 6]))
        yield "after typing, the longest turn", rest(3)
    if is_wanted("split"):

        def split(number: int) -> None:
            sheet.caret.set((middle + 2 * number, 9))
            QTest.keyClick(sheet, Qt.Key.Key_Return)

        yield "split", each(split)
        yield "after splitting, the longest turn", rest(3)
    if is_wanted("find"):
        bar = window.proof.find_bar
        bar.open()
        yield "find, a word that is everywhere", timed(lambda: bar.wanted.setText("water"))
        yield "find, a word that is nowhere", timed(lambda: bar.wanted.setText("waterless"))
        bar.close_bar()
        from tamarind.desktop.anything import AnythingDialog

        dialog = AnythingDialog(window.anything.finder(), window)
        dialog.show()
        yield "find anything, a letter", timed(lambda: dialog.query.setText("zebra"))
        yield "find anything, the longest turn after it", rest(1.5)
        dialog.close()
    if is_wanted("translat"):
        window.show_step("translation")
        screen = window.translation
        screen.show_language("es")
        rest(1)
        screen.sheet.setFocus()
        screen.sheet.caret.set((middle, 5))

        def type_there(number: int) -> None:
            QTest.keyClick(screen.sheet, "abc de"[number % 6])
            screen.sheet.viewport().repaint()

        yield "type a letter of a translation", each(type_there)
        yield "after it, the longest turn", rest(3)
        from tamarind.application.translating import Task

        cues = session.texts.transcript(shown).cues

        def take(first: int) -> None:
            texts = {cue.id: f"nuevo {cue.id}" for cue in cues[first : first + BATCH]}
            session.translating._take(Task(shown, "es"), list(cues), texts, {})

        took = [timed(lambda at=at: take(at)) for at in range(0, min(count, 5_000), BATCH)]
        yield "take a batch of translations, the last", sorted(took[-10:])[5]
        rest(2)
        window.show_step("proof")
    if is_wanted("undo"):
        for _number in range(120):
            session.texts.close_edit_group()
            text = session.texts.transcript(shown)
            session.texts.edit(shown, "x", edits.set_text(text, middle, f"word {_number}"))

        def undo() -> None:
            for _ in range(100):
                session.texts.undo()

        yield "undo 100", timed(undo)
        rest(1)
    text = session.texts.transcript(shown)
    if is_wanted("relay"):
        yield (
            "lay all out again (the function)",
            timed(lambda: relay(text, 0, len(text.cues), ORDINARY)),
        )
    if is_wanted("export"):
        laid = with_breaks(text, ORDINARY)
        yield "break all lines", timed(lambda: with_breaks(text, ORDINARY))
        yield "write as SRT", timed(lambda: srt.write(laid))
        (folder / "in.srt").write_text(srt.write(laid))
        yield "read from SRT", timed(lambda: documents.read(folder / "in.srt", "en"))
        window.show_step("export")
        yield "the Export page, the longest turn", rest(3)
    yield "close", timed(window.close_at_once)
    rest(0.2)


if __name__ == "__main__":
    main()
