"""Every command in every place where it may be pressed: none of them fails or harms the text, and
none changes a text that nobody sees."""

import sys
from contextlib import ExitStack
from dataclasses import replace
from traceback import format_exception
from unittest import mock

from PySide6.QtCore import QCoreApplication, QEvent
from PySide6.QtGui import QKeySequence
from PySide6.QtWidgets import QApplication, QDialog, QFileDialog, QInputDialog, QMenu, QMessageBox

from tamarind.desktop.commands import NOTHING, Where, all_commands
from tamarind.desktop.proof import marking
from tamarind.desktop.theme import colours
from tests.desktop.support import WindowTest

LEFT_OUT = {"quit"}
PAGES = ("intake", "proof", "translation", "export", "excerpts")
SHOWS = {
    "intake": (), "export": (), "excerpts": (), "proof": ("transcript",),
    "translation": ("tracks",),
}  # fmt: skip
"""What of a text is seen, and so may be changed, on each page."""


SLOW = ("about", "dark", "high_contrast", "house_style", "keys", "look", "make_videos")
"""Each builds a large dialog or the whole style anew; they are pressed once, beside texts."""

SEEN_ELSEWHERE = {
    "back", "clean_sound", "dark", "faster", "forward", "high_contrast", "louder", "menu_bar_shown",
    "next_recording", "open_menu", "play", "play_word", "previous_recording", "quieter", "slower",
}  # fmt: skip
"""What changes neither a text nor the page, says nothing and asks nothing: it is heard, or seen in
a part of the page, and has a test of its own."""


class MenuNobodyChoosesFrom(QMenu):
    def exec(self, *_):
        return None


class EveryCommand(WindowTest):
    def setUp(self):
        super().setUp()
        # Nobody looks: what is not painted takes a fifth of the time.
        self.window.setUpdatesEnabled(False)
        self.errors = []
        self.answer = 0
        self.asked, self.did = [], set()
        stack = ExitStack()
        self.addCleanup(stack.close)
        stack.enter_context(
            mock.patch.object(
                sys,
                "excepthook",
                lambda *error: self.errors.append("".join(format_exception(*error))),
            )
        )
        stack.enter_context(mock.patch.object(marking, "QMenu", MenuNobodyChoosesFrom))
        stack.enter_context(mock.patch.object(QDialog, "exec", self.ask))
        for kind, name, answer in (
            (QFileDialog, "getOpenFileName", ("", "")),
            (QFileDialog, "getOpenFileNames", ([], "")),
            (QFileDialog, "getSaveFileName", ("", "")),
            (QMessageBox, "question", QMessageBox.StandardButton.No),
            (QInputDialog, "getText", ("", False)),
            (QInputDialog, "getItem", ("", False)),
        ):
            stack.enter_context(
                mock.patch.object(kind, name, lambda *_, a=answer, **__: self.asked.append(a) or a)
            )

    def ask(self, *_):
        """Somebody is asked, and answers."""
        self.asked.append(self.answer)
        return self.answer

    def texts(self):
        return {r.id: self.session.texts.document(r.id) for r in self.session.recordings.all()}

    def state(self):
        """All that a command may change of the texts, and what is seen."""
        return self.texts(), self.session.texts.undo_labels(), self.window.step()

    def press(self, command, page):
        """A command on a page: it does nothing where it may not act, and nothing unseen."""
        self.window.show_step(page)
        before = self.state()
        here = replace(self.window.where(), page=command.opens or page)
        self.window.said.say("–")
        self.asked.clear()
        self.window.commands.run(command.name)
        if command.name == "headings" and command.needs.holds(here):
            self.wait(lambda: self.window.said.text() != "–")
        self.wait(lambda: not self.window.proof.sounds.is_busy)
        QApplication.processEvents()
        # Dialogs go when the loop that they were asked in goes on, and here is none.
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        label = f"{command.name} on {page}"
        self.assertEqual(self.errors, [], label)
        if self.state() != before or self.window.said.text() != "–" or self.asked:
            self.did.add(command.name)
        if not command.needs.holds(here):
            self.assertEqual(self.state(), (*before[:2], command.opens or page), label)
            self.assertEqual(self.window.said.text(), command.needs.sentence, label)
        self.check_seen(command.name, page, before[0])

    def press_all(self, but=(), pages=PAGES):
        """Every command on every page, the slow ones on one."""
        for page in pages:
            left_out = {*LEFT_OUT, *but, *(SLOW if page != "proof" else ())}
            for command in self.window.commands.commands():
                if command.name not in left_out:
                    self.press(command, page)
        self.window.player.stop()
        if colours.is_dark():
            self.window.theme.set_dark(False)
        if colours.has_high_contrast():
            self.window.theme.change_contrast()

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
        while self.session.texts.undo_labels()[0]:
            self.session.texts.undo()

    def test_in_a_job_with_texts(self):
        before = {r.id: self.session.texts.transcript(r.id) for r in self.session.recordings.all()}
        self.press_all()
        names = {command.name for command in self.window.commands.commands()} - LEFT_OUT
        self.assertEqual(names - self.did, SEEN_ELSEWHERE)
        self.undo_all()
        after = {r.id: self.session.texts.transcript(r.id) for r in self.session.recordings.all()}
        self.assertEqual(after, before)

    def test_with_cues_selected_and_every_dialog_accepted(self):
        before = self.texts()
        self.answer = 1
        self.sheet.caret.select((2, 0), (4, 3))
        self.press_all(but=("anything", "room", *SLOW))
        self.undo_all()
        for key, document in before.items():
            self.assertEqual(self.session.texts.transcript(key), document.transcript)

    def test_at_a_doubt(self):
        self.window.show_step("proof")
        self.window.commands.run("next_doubt")
        self.assertTrue(self.window.where().at_doubt)
        self.press_all(SLOW, ("proof", "translation"))

    def test_the_keys_themselves_on_a_page_without_text(self):
        """As they were pressed when it was found: italics, speakers, lines."""
        for page in ("intake", "export"):
            self.window.show_step(page)
            before = self.texts()
            for command in self.window.commands.commands():
                if command.name in LEFT_OUT or command.opens or command.needs is NOTHING:
                    continue
                for key in command.keys:
                    combination = QKeySequence(key)[0]
                    self.key(combination.key(), combination.keyboardModifiers())
                    self.assertEqual(self.window.step(), page, command.name)
            self.assertEqual(self.texts(), before, page)

    def test_on_a_recording_without_text(self):
        key = self.named("Volunteers round table")
        self.session.show(key)
        elsewhere = ("next_recording", "previous_recording", "play_excerpts", "smooth")
        self.press_all((*SLOW, *elsewhere))
        self.undo_all()
        self.assertEqual(self.session.texts.transcript(key).cues, ())

    def test_in_an_empty_job(self):
        self.shut()
        self.job = self.folder / "demo" / "Empty.tamarind"
        self.open()
        self.press_all(SLOW)
        self.assertEqual(self.session.recordings.all(), [])

    def test_every_condition_keeps_something_out_and_says_why(self):
        for command in all_commands():
            if command.needs is not NOTHING:
                self.assertFalse(command.needs.holds(Where("export")), command.name)
                self.assertTrue(command.needs.sentence.endswith("."), command.name)
