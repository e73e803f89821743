"""Every command in every place where it may be pressed: none of them fails or harms the text."""

import sys
from contextlib import ExitStack
from unittest import mock

from PySide6.QtWidgets import QApplication, QDialog, QFileDialog, QInputDialog, QMenu

from tamarind.desktop.actions import COMMANDS
from tamarind.desktop.proof import screen
from tests.desktop.support import WindowTest

LEFT_OUT = {"quit"}


class MenuNobodyChoosesFrom(QMenu):
    def exec(self, *_):
        return None


class EveryCommand(WindowTest):
    def setUp(self):
        super().setUp()
        self.errors = []
        stack = ExitStack()
        self.addCleanup(stack.close)
        stack.enter_context(
            mock.patch.object(sys, "excepthook", lambda *error: self.errors.append(error[1]))
        )
        stack.enter_context(mock.patch.object(screen, "QMenu", MenuNobodyChoosesFrom))
        for kind, name, answer in (
            (QDialog, "exec", 0),
            (QFileDialog, "getOpenFileName", ("", "")),
            (QFileDialog, "getSaveFileName", ("", "")),
            (QInputDialog, "getText", ("", False)),
        ):
            stack.enter_context(mock.patch.object(kind, name, lambda *_, a=answer, **__: a))

    def press_all(self):
        """Every command where the caret is seen and where it is not."""
        for step in ("proof", "export"):
            for command in COMMANDS:
                if command.name in LEFT_OUT:
                    continue
                self.window.show_step(step)
                self.window._actions[command.name].trigger()
                QApplication.processEvents()
                self.assertEqual(self.errors, [], f"{command.name} in {step}")
        self.window.player.stop()
        self.window.set_dark(False)

    def undo_all(self):
        while self.session.undo_labels()[0]:
            self.session.undo()

    def test_in_a_job_with_texts(self):
        before = {r.id: self.session.transcript(r.id) for r in self.session.recordings()}
        self.press_all()
        self.undo_all()
        after = {r.id: self.session.transcript(r.id) for r in self.session.recordings()}
        self.assertEqual(after, before)

    def test_on_a_recording_without_text(self):
        self.session.show(self.named("Volunteers round table"))
        self.press_all()
        self.undo_all()
        self.assertEqual(self.session.transcript(self.session.shown).cues, ())

    def test_in_an_empty_job(self):
        self.shut()
        self.job = self.folder / "demo" / "Empty.tamarind"
        self.open()
        self.press_all()
        self.assertEqual(self.session.recordings(), [])
