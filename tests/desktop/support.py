"""Real windows, driven without a screen."""

from __future__ import annotations

import atexit
import os
import shutil
import sys
import tempfile
import time
from collections.abc import Callable
from functools import cache
from pathlib import Path
from unittest.mock import patch

from PySide6.QtCore import QCoreApplication, QEvent, QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from tamarind.audio import soundcache
from tamarind.audio.fingerprint import fingerprint
from tamarind.batch import listening
from tamarind.batch.pool import WorkerPool
from tamarind.desktop.app import make_application
from tamarind.desktop.attention import KeptNotices
from tamarind.desktop.qtloop import open_session
from tamarind.desktop.window import make_window
from tamarind.job.store import JobStore
from tamarind.speech.alignment import Aligner
from tamarind.speech.diarisation.encoder import VoiceEncoder
from tamarind.speech.hearing import Tools
from tamarind.speech.recognisers.catalogue import PRETENDED
from tamarind.speech.recognisers.pretended import PretendedRecogniser
from tamarind.system.folders import cache_home
from tests.support import DEMO, FolderTest

DEMO_JOB = "Peatland voices.tamarind"


@cache
def decoded_demo() -> Path:
    """The decoded sound of the demo's recordings, made once for all tests of this process."""
    folder = Path(tempfile.mkdtemp(prefix="decoded-demo-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    with patch.dict(os.environ, XDG_CACHE_HOME=str(folder)):
        for path in (DEMO / "media").iterdir():
            soundcache.fetch(path)
        return cache_home()


@cache
def _pretending(_recogniser: str = PRETENDED) -> Tools:
    """What the stand-in works with, whoever was asked for."""
    return Tools(PretendedRecogniser(), Aligner(), VoiceEncoder())


def put_in_cache(folder: Path) -> None:
    """Let this test find what others have decoded."""
    shutil.copytree(folder, cache_home(), copy_function=os.link)


class WindowTest(FolderTest):
    """Opens a copy of the demo or an empty job in the real window.

    The demo's sound is decoded and its files are known, so that no worker is started for them.
    """

    demo = True
    warm = False
    """Whether a worker is started before it is needed; few tests need one."""
    hears = False
    """Whether recordings are really heard; else a stand-in says something at once. Workers that are
    processes hear in any case."""

    def setUp(self) -> None:
        super().setUp()
        make_application()
        # Qt goes on after an error in what it calls, which would hide it, a failed test included.
        self.slot_errors: list[BaseException] = []
        hook = patch.object(
            sys, "excepthook", lambda _kind, error, _at: self.slot_errors.append(error)
        )
        hook.start()
        self.addCleanup(self._tell_errors)
        self.addCleanup(hook.stop)
        if not self.warm:
            cold = patch.object(WorkerPool, "warm_up")
            cold.start()
            self.addCleanup(cold.stop)
        if not self.hears:
            pretended = patch.object(listening, "tools", _pretending)
            pretended.start()
            self.addCleanup(pretended.stop)
        self.job = self.folder / "demo" / DEMO_JOB
        self.job.parent.mkdir()
        if self.demo:
            shutil.copy(DEMO / DEMO_JOB, self.job)
            shutil.copytree(DEMO / "media", self.job.parent / "media")
            put_in_cache(decoded_demo())
            for recording in (self.job.parent / "media").iterdir():
                fingerprint(recording)
        self.open()
        self.addCleanup(self.shut)

    def _tell_errors(self) -> None:
        if self.slot_errors:
            raise self.slot_errors[0]

    def open(self) -> None:
        self.window = make_window(open_session(JobStore(self.job)), KeptNotices())
        self.window.resize(1280, 800)
        self.window.show()
        self.window.activateWindow()
        self.session = self.window.session
        self.sheet = self.window.proof.sheet
        QApplication.processEvents()

    def shut(self) -> None:
        self.window.close()
        self.window.deleteLater()
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    def reopen(self) -> None:
        self.shut()
        self.open()

    def named(self, name: str) -> int:
        return next(r.id for r in self.session.recordings.all() if r.name == name)

    def wait(self, until: Callable[[], object], seconds: float = 150) -> None:
        end = time.monotonic() + seconds
        while not until():
            self.assertLess(time.monotonic(), end, "waited too long")
            QApplication.processEvents()
            time.sleep(0.005)
        QApplication.processEvents()

    def key(self, key: Qt.Key, *modifiers: Qt.KeyboardModifier) -> None:
        joined = Qt.KeyboardModifier.NoModifier
        for modifier in modifiers:
            joined |= modifier
        QTest.keyClick(QApplication.focusWidget() or self.window, key, joined)
        QApplication.processEvents()

    def type(self, text: str) -> None:
        QTest.keyClicks(self.sheet, text)
        QApplication.processEvents()

    def click(self, widget: QWidget, x: float, y: float, *modifiers: Qt.KeyboardModifier) -> None:
        joined = Qt.KeyboardModifier.NoModifier
        for modifier in modifiers:
            joined |= modifier
        point = QPoint(int(x), int(y))
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, joined, point)
        QApplication.processEvents()
