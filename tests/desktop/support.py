"""Real windows, driven without a screen."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from unittest.mock import patch

from PySide6.QtCore import QCoreApplication, QEvent, QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from tamarind.desktop.app import make_application
from tamarind.desktop.attention import KeptNotices
from tamarind.desktop.qtloop import open_session
from tamarind.desktop.window import make_window
from tamarind.job.store import JobStore
from tests.jobtest import JobTest


class WindowTest(JobTest):
    """Opens a job in the real window."""

    def setUp(self) -> None:
        # Qt goes on after an error in what it calls, which would hide it, a failed test included.
        self.slot_errors: list[BaseException] = []
        hook = patch.object(
            sys, "excepthook", lambda _kind, error, _at: self.slot_errors.append(error)
        )
        hook.start()
        self.addCleanup(self._tell_errors)
        self.addCleanup(hook.stop)
        super().setUp()

    def _tell_errors(self) -> None:
        if self.slot_errors:
            raise self.slot_errors[0]

    def open(self) -> None:
        make_application()
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
