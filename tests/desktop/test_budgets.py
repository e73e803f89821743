"""What one keystroke, split, scrolled frame and opening may do, counted and not timed: as much with
10 000 cues as with 1000."""

from __future__ import annotations

import subprocess
import sys
from collections import Counter
from collections.abc import Callable
from dataclasses import replace
from types import FrameType
from typing import Any
from unittest import mock

from PySide6.QtCore import QCoreApplication, QEvent, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from shiboken6 import isValid

from tamarind.application.mediaprobe import MediaProbe
from tamarind.desktop.app import make_application
from tamarind.desktop.attention import KeptNotices
from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.desktop.qtloop import open_session
from tamarind.desktop.window import MainWindow, make_window
from tamarind.job.document import Document
from tamarind.job.recording import State
from tamarind.job.store import JobStore
from tamarind.transcript import changed
from tamarind.transcript.model import Cue, Transcript, Word
from tests.support import DEMO, FolderTest, database

WORDS = "the water table in a healthy bog stays near the surface".split()
FEW, MANY = 1_000, 10_000


class Budgets(FolderTest):
    def setUp(self) -> None:
        super().setUp()
        make_application()
        # What workers tell comes when it comes, and would be counted now and then.
        for name in ("look", "decode"):
            quiet = mock.patch.object(MediaProbe, name)
            quiet.start()
            self.addCleanup(quiet.stop)

    def open(self, count: int) -> MainWindow:
        """A window with one recording of so many cues, at rest."""
        path = self.folder / f"{count}.tamarind"
        store = JobStore(path)
        recording = store.add_recording(DEMO / "media" / "Warden interview.m4a")
        cues = tuple(
            Cue(number + 1, number * 1080, number * 1080 + 1000, words(number))
            for number in range(count)
        )
        store.save_document(
            recording.id, store.document(recording.id), Document(Transcript("en", cues))
        )
        store.save_recording(replace(recording, state=State.DRAFT, duration=count * 1080))
        store.close()
        window = make_window(open_session(JobStore(path)), KeptNotices())
        self.addCleanup(lambda: window.close_at_once() if isValid(window) else None)
        window.resize(1280, 800)
        window.show_step("proof")
        window.show()
        window.grab()
        QApplication.processEvents()
        return window

    def counted(self, window: MainWindow, act: Callable[[], object]) -> Counter[str]:
        """What an act does until its result is painted."""
        did: Counter[str] = Counter()
        laid_out = RowGeometry._lay_out.__code__
        alike, equal = changed._alike.__code__, Cue.__eq__.__code__

        def note(frame: FrameType, event: str, argument: Any) -> None:
            if event == "call":
                did["calls"] += 1
                did["rows laid out"] += frame.f_code is laid_out
                did["cues compared"] += frame.f_code is equal
                if frame.f_code is alike:
                    did["cues compared"] += frame.f_locals["most"]
            elif event == "c_call" and getattr(argument, "__name__", "") == "emit":
                did["signals"] += 1

        connection = database(window.session.store)
        connection.set_trace_callback(lambda _statement: did.update(("statements",)))
        sys.setprofile(note)
        try:
            act()
            window.proof.sheet.viewport().repaint()
        finally:
            sys.setprofile(None)
            connection.set_trace_callback(None)
        return did

    def told(self, act: Callable[[MainWindow], Callable[[], object]]) -> Counter[str]:
        """What an act does, which is the same in a small and in a large text."""
        found = []
        for count in (FEW, MANY):
            window = self.open(count)
            again = act(window)
            for _ in range(3):
                again()
                window.proof.sheet.viewport().repaint()
            found.append(self.counted(window, again))
        few, many = found
        for what in few | many:
            self.assertLessEqual(many[what], few[what] + SLACK.get(what, 0), (what, few, many))
        return many

    def test_a_keystroke(self):
        def typing(window):
            sheet = window.proof.sheet
            sheet.setFocus()
            sheet.caret.set((400, 5))
            return lambda: QTest.keyClick(sheet, "a")

        did = self.told(typing)
        self.assertEqual(did["rows laid out"], 1)
        self.within(did, calls=1752, statements=4, signals=2, cues_compared=1)

    def test_opening(self):
        """Every cue is read once; no more rows are laid out than are seen."""
        did = []
        for count in (FEW, MANY):
            note: Counter[str] = Counter()
            with mock.patch.object(
                RowGeometry, "_lay_out", counting(RowGeometry._lay_out, note, "rows laid out")
            ), mock.patch.object(
                JobStore, "document", counting(JobStore.document, note, "texts read")
            ):  # fmt: skip
                window = self.open(count)
            did.append(note)
            # The styles of one that is open are made anew with those of the next.
            window.close_at_once()
            window.deleteLater()
            QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        self.assertEqual(did[0], did[1])
        self.assertLessEqual(did[1]["rows laid out"], 14)
        self.assertEqual(did[1]["texts read"], 2)

    def test_a_split(self):
        def splitting(window):
            sheet = window.proof.sheet
            sheet.setFocus()
            row = iter(range(400, 500, 2))

            def split() -> None:
                sheet.caret.set((next(row), 9))
                QTest.keyClick(sheet, Qt.Key.Key_Return)

            return split

        self.within(self.told(splitting), calls=3560, statements=6, signals=3, cues_compared=1)

    def test_a_scrolled_frame(self):
        def scrolling(window):
            bar = window.proof.sheet.verticalScrollBar()
            bar.setValue(4000)
            return lambda: bar.setValue(bar.value() + 260)

        self.within(self.told(scrolling), calls=1935, statements=0, signals=0, cues_compared=0)

    def within(self, did: Counter[str], **most: int) -> None:
        """Nothing is done more often than that; a call that is added shows."""
        for what, count in most.items():
            self.assertLessEqual(did[what.replace("_", " ")], count, (what, did))


class Loaded(FolderTest):
    """How many modules are loaded before anything is done."""

    def test_by_the_help(self):
        self.assertLessEqual(self.loaded("import tamarind.cli.main as m; m.main(['--help'])"), 85)

    def test_by_the_window(self):
        script = (
            "from tamarind.desktop.app import make_application\n"
            "from tamarind.desktop.window import make_window\n"
            "from tamarind.desktop.qtloop import open_session\n"
        )
        self.assertLessEqual(self.loaded(script, "tamarind"), 299)

    def loaded(self, script: str, beginning: str = "") -> int:
        counting = (
            "import sys, atexit\n"
            "def tell():\n"
            "    print(sum(n.startswith(sys.argv[1]) for n in sys.modules), file=sys.stderr)\n"
            f"atexit.register(tell)\n{script}"
        )
        done = subprocess.run(
            [sys.executable, "-c", counting, beginning], capture_output=True, text=True, check=True
        )
        return int(done.stderr.strip().splitlines()[-1])


def counting(function: Callable[..., Any], note: Counter[str], what: str) -> Callable[..., Any]:
    """The same function, whose calls are counted."""

    def counted(*arguments: Any) -> Any:
        note[what] += 1
        return function(*arguments)

    return counted


SLACK = {"calls": 40}
"""Looking for where two texts differ halves them, which takes a few steps more in a long one."""


def words(number: int) -> tuple[Word, ...]:
    """A cue's words; the confidence of one in some cues is low."""
    start = number * 1080
    return tuple(
        Word(text, start + n * 90, start + n * 90 + 80, 0.3 if n == number % 90 else 0.95)
        for n, text in enumerate(WORDS)
    )
