"""Every command in every place where it may be pressed: none of them fails or harms the text, and
none changes a text that nobody sees."""

import sys
from contextlib import ExitStack
from unittest import mock

from PySide6.QtWidgets import QApplication, QDialog, QFileDialog, QInputDialog, QMenu

from tamarind.desktop.actions import COMMANDS, EVERYWHERE
from tamarind.desktop.proof import screen
from tests.desktop.support import WindowTest

LEFT_OUT = {"quit"}
SHOWS = {"intake": (), "export": (), "proof": ("transcript",), "translation": ("tracks",)}
"""What of a text is seen, and so may be changed, on each page."""


class MenuNobodyChoosesFrom(QMenu):
    def exec(self, *_):
        return None


class EveryCommand(WindowTest):
    def setUp(self):
        super().setUp()
        self.errors = []
        self.answer = 0
        stack = ExitStack()
        self.addCleanup(stack.close)
        stack.enter_context(
            mock.patch.object(sys, "excepthook", lambda *error: self.errors.append(error[1]))
        )
        stack.enter_context(mock.patch.object(screen, "QMenu", MenuNobodyChoosesFrom))
        stack.enter_context(mock.patch.object(QDialog, "exec", lambda *_, **__: self.answer))
        for kind, name, answer in (
            (QFileDialog, "getOpenFileName", ("", "")),
            (QFileDialog, "getSaveFileName", ("", "")),
            (QInputDialog, "getText", ("", False)),
        ):
            stack.enter_context(mock.patch.object(kind, name, lambda *_, a=answer, **__: a))

    def every_action(self):
        """All that a key or the menu can set off, those of speakers too, by name."""
        names = {action: command.name for command in COMMANDS
                 for action in [self.window._actions[command.name]]}  # fmt: skip
        return [(names.get(action, action.text()), action) for action in self.window.actions()]

    def texts(self):
        return {r.id: self.session.document(r.id) for r in self.session.recordings()}

    def press_all(self):
        """Every command on every page."""
        for page in EVERYWHERE:
            for name, action in self.every_action():
                if name in LEFT_OUT:
                    continue
                self.window.show_step(page)
                self.sheet.caret.select_all() if name == "join" else None
                before = self.texts()
                action.trigger()
                QApplication.processEvents()
                self.assertEqual(self.errors, [], f"{name} on {page}")
                self.check_seen(name, page, before)
        self.window.player.stop()
        self.window.set_dark(False)

    def check_seen(self, name, page, before):
        """What has changed is what the page that is open now shows."""
        seen = SHOWS[self.window.step()]
        for key, now in self.texts().items():
            for part in ("transcript", "tracks"):
                if getattr(now, part) != getattr(before[key], part) and not (
                    name in ("undo", "redo") and self.window.step() in ("proof", "translation")
                ):
                    follows = part == "tracks" and "transcript" in seen
                    self.assertTrue(part in seen or follows, f"{name} on {page} changed {part}")
                    self.assertEqual(key, self.session.shown, f"{name} on {page}")

    def undo_all(self):
        while self.session.undo_labels()[0]:
            self.session.undo()

    def test_in_a_job_with_texts(self):
        before = {r.id: self.session.transcript(r.id) for r in self.session.recordings()}
        self.press_all()
        self.undo_all()
        after = {r.id: self.session.transcript(r.id) for r in self.session.recordings()}
        self.assertEqual(after, before)

    def test_with_cues_selected_and_every_dialog_accepted(self):
        before = self.texts()
        self.sheet.caret.set((2, 0))
        self.sheet.caret.select_all()
        self.answer = 1
        for name, action in self.every_action():
            if name in LEFT_OUT or name in ("keys", "anything", "house_style", "room"):
                continue
            for page in ("intake", "export"):
                self.window.show_step(page)
                kept = self.texts()
                action.trigger()
                QApplication.processEvents()
                self.assertEqual(self.errors, [], f"{name} on {page}")
                self.check_seen(name, page, kept)
        self.undo_all()
        for key, document in before.items():
            self.assertEqual(self.session.transcript(key), document.transcript)

    def test_the_keys_themselves_on_a_page_without_text(self):
        """As they were pressed when it was found: italics, speakers, lines."""
        for page in ("intake", "export"):
            self.window.show_step(page)
            before = self.texts()
            for name, action in self.every_action():
                if not action.shortcut().isEmpty() and action.shortcut().count() == 1:
                    combination = action.shortcut()[0]
                    if (
                        name not in LEFT_OUT
                        and name not in EVERYWHERE
                        and (name not in {c.name for c in COMMANDS if c.on == EVERYWHERE})
                    ):
                        self.key(combination.key(), combination.keyboardModifiers())
                        self.assertEqual(self.window.step(), page, name)
            self.assertEqual(self.texts(), before, page)

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
