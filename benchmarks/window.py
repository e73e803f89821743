"""Measure how quick the window is with a 3-hour, 10 000-cue recording.

    .venv/bin/python benchmarks/window.py

Prints each budget of docs/architecture.md beside what was measured: the start with the demo, the
opening of a large job, keystrokes and scrolled frames (99th of 100), and writing SRT beside
pysubs2.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
HERE = Path(__file__).parent
CUES = 10_000
WORDS = "the water table in a healthy bog stays near the surface".split()


def main() -> None:
    """Measure and print."""
    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_CACHE_HOME"] = f"{folder}/cache"
        os.environ["XDG_DATA_HOME"] = f"{folder}/data"
        report("tamarind --help", 300, help_time())
        demo = Path(folder) / "demo"
        shutil.copytree(HERE.parent / "demo", demo)
        report("start to a usable window, demo job", 2000, start_time(demo))
        large = Path(folder) / "large.tamarind"
        make_large(large, demo)
        measure_large(large)


def report(what: str, budget: float, measured: float) -> None:
    """Print one line: what, budget and measured, in ms."""
    print(f"{what:52} budget {budget:7.1f} ms   measured {measured:8.2f} ms")


def help_time() -> float:
    """Return the median of five whole processes."""
    times = []
    for _ in range(5):
        began = time.perf_counter()
        subprocess.run(
            [sys.executable, "-m", "tamarind", "--help"], capture_output=True, check=True
        )
        times.append(time.perf_counter() - began)
    return sorted(times)[2] * 1000


def start_time(demo: Path) -> float:
    """Measure a new process from its start until the window has been painted once."""
    program = (
        "import sys, os; from pathlib import Path\n"
        "from tamarind.desktop.app import make_application\n"
        "app = make_application()\n"
        "from tamarind.desktop.qtloop import open_session\n"
        "from tamarind.desktop.window import make_window\n"
        "from tamarind.job.store import JobStore\n"
        "window = make_window(open_session(JobStore(Path(sys.argv[1]))))\n"
        "window.show(); app.processEvents(); window.grab(); print('up', flush=True)\n"
        "window.close(); os._exit(0)\n"
    )
    job = next(demo.glob("*.tamarind"))
    times = []
    for _ in range(3):
        began = time.perf_counter()
        with subprocess.Popen(
            [sys.executable, "-c", program, str(job)],
            stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
        ) as process:  # fmt: skip
            assert process.stdout is not None
            process.stdout.readline()
            times.append(time.perf_counter() - began)
    return sorted(times)[1] * 1000


def while_hearing(app, window, ninety_ninth) -> None:
    """Measure keystrokes and frames while other recordings of the job are transcribed."""
    from PySide6.QtTest import QTest

    session, sheet = window.session, window.proof.sheet
    media = session.store.path.parent / "demo" / "media"
    session.add_files(sorted(media.glob("*.[mw][pa][4v]")))
    new = [recording.id for recording in session.recordings.all()[1:]]

    def wait(until) -> None:
        end = time.monotonic() + 60
        while not until() and time.monotonic() < end:
            app.processEvents()

    wait(lambda: all(session.sounds.has(key) for key in new))
    session.queue.transcribe(new)
    wait(lambda: any(session.queue.progress(key) for key in new))
    sheet.setFocus()
    sheet.cue_caret.go_to((6000, 5))
    measured = ninety_ninth(lambda n: QTest.keyClick(sheet, "abc de"[n % 6]))
    report("the same while two are heard: a keystroke", 16, measured)
    bar = sheet.verticalScrollBar()
    measured = ninety_ninth(lambda n: bar.setValue(bar.value() + 260))
    report("the same while two are heard: a scrolled frame", 16, measured)
    busy = any(session.queue.is_being_heard(key) for key in new)
    print(f"    hearing still went on at the end: {'yes' if busy else 'no'}")
    session.queue.cancel_all()


def make_large(path: Path, demo: Path) -> None:
    """Make a job with one recording of 10 000 cues over three hours."""
    from tamarind.job.document import Document
    from tamarind.job.recording import State
    from tamarind.job.store import JobStore
    from tamarind.transcript.model import Cue, Transcript, Word

    store = JobStore(path)
    recording = store.add_recording(demo / "media" / "Warden interview.m4a")
    cues = []
    for number in range(CUES):
        start = number * 1080
        words = tuple(
            Word(text, start + n * 90, start + n * 90 + 80, 0.3 if n == number % 90 else 0.9)
            for n, text in enumerate(WORDS)
        )
        cues.append(Cue(number + 1, start, start + 1000, words))
    empty = store.document(recording.id)
    store.save_document(recording.id, empty, Document(Transcript("en", tuple(cues))))
    store.save_recording(replace(recording, state=State.DRAFT, duration=CUES * 1080))
    store.close()


def measure_large(path: Path) -> None:
    """Measure opening, typing, splitting, scrolling and writing."""
    import pysubs2
    from PySide6.QtCore import Qt
    from PySide6.QtTest import QTest

    from tamarind.captions.limits import ORDINARY
    from tamarind.captions.lines import with_breaks
    from tamarind.desktop.app import make_application
    from tamarind.desktop.qtloop import open_session
    from tamarind.desktop.window import make_window
    from tamarind.formats.captions import srt
    from tamarind.job.store import JobStore
    from tamarind.transcript import edits

    app = make_application()
    began = time.perf_counter()
    window = make_window(open_session(JobStore(path)))
    window.resize(1280, 800)
    window.show_step("proof")
    window.show()
    window.grab()
    report("open a job with 10 000 cues", 1000, (time.perf_counter() - began) * 1000)

    sheet = window.proof.sheet
    quiet = time.monotonic() + 4
    while time.monotonic() < quiet:  # the worker looks at the recording meanwhile
        app.processEvents()

    def ninety_ninth(act: Callable[[int], object]) -> float:
        times = []
        for number in range(100):
            app.processEvents()
            start = time.perf_counter()
            act(number)
            sheet.viewport().repaint()
            times.append(time.perf_counter() - start)
        print(f"{'':4}median {sorted(times)[50] * 1000:.2f} ms; ", end="")
        return sorted(times)[98] * 1000

    sheet.setFocus()
    sheet.caret.set((5000, 5))
    report("a keystroke to the painted result, 99th of 100", 16,
           ninety_ninth(lambda n: QTest.keyClick(sheet, "abc de"[n % 6])))  # fmt: skip

    def split(number: int) -> None:
        sheet.caret.set((4000 + 2 * number, 9))
        QTest.keyClick(sheet, Qt.Key.Key_Return)

    report("Enter (split) to the painted result, 99th of 100", 16, ninety_ninth(split))
    bar = sheet.verticalScrollBar()
    report("a scrolled frame, 99th of 100", 16,
           ninety_ninth(lambda n: bar.setValue(bar.value() + 260)))  # fmt: skip

    window.proof.change_layout()
    sheet.cue_caret.go_to((5000, 5))
    report("the same in paragraphs: a keystroke, 99th of 100", 16,
           ninety_ninth(lambda n: QTest.keyClick(sheet, "abc de"[n % 6])))  # fmt: skip
    window.proof.change_layout()
    while_hearing(app, window, ninety_ninth)

    quiet = time.monotonic() + 4
    while time.monotonic() < quiet:  # what was typed is checked, and what was heard told
        app.processEvents()
    text = window.session.texts.transcript(window.session.shown)
    times = []
    for number in range(200):
        start = time.perf_counter()
        edits.set_text(text, 7000, f"the water table {number} in a bog")
        times.append(time.perf_counter() - start)
    report("one edit as a value, median", 1, sorted(times)[100] * 1000)

    laid = with_breaks(text, ORDINARY)
    began = time.perf_counter()
    srt.write(laid)
    took = (time.perf_counter() - began) * 1000
    subs = pysubs2.SSAFile()
    subs.events = [
        pysubs2.SSAEvent(start=c.start, end=c.end, text="\\N".join(c.lines)) for c in laid.cues
    ]
    began = time.perf_counter()
    subs.to_string("srt")
    theirs = (time.perf_counter() - began) * 1000
    report(f"writing {len(laid.cues)} cues as SRT", 100, took)
    print(f"    pysubs2 for the same: {theirs:.1f} ms, {theirs / took:.1f} times ours")
    window.close()


if __name__ == "__main__":
    main()
