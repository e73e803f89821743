"""Rows that are copied from pictures look just as if they were drawn."""

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tamarind.transcript import edits
from tests.desktop.support import WindowTest


class RowPictures(WindowTest):
    def seen(self, sheet):
        QApplication.processEvents()
        sheet.caret.moved.emit()  # it flashes, and is seen now
        return sheet.viewport().grab().toImage()

    def assert_as_drawn(self, sheet, what):
        copied = self.seen(sheet)
        sheet.restyle()
        self.assertEqual(copied, self.seen(sheet), what)

    def test_in_proof_after_every_kind_of_change(self):
        window, sheet = self.window, self.sheet
        window.show_step("proof")
        sheet.setFocus()
        bar = sheet.verticalScrollBar()
        text = self.session.texts.transcript(self.session.shown)
        acts = {
            "scrolled": lambda: bar.setValue(700),
            "scrolled back": lambda: bar.setValue(300),
            "the caret elsewhere": lambda: sheet.cue_caret.go_to((4, 3)),
            "selected": lambda: sheet.caret.select((3, 2), (6, 4)),
            "typed": lambda: QTest.keyClicks(sheet, "Wet"),
            "split": lambda: QTest.keyClick(sheet, Qt.Key.Key_Return),
            "undone": window.undoing.undo,
            "proofed": lambda: self.session.edit_shown("x", edits.settle(text, 0, 9)),
            "other speakers": lambda: self.session.edit_shown(
                "x", edits.name_speaker(self.session.texts.transcript(self.session.shown), 1, "Ann")
            ),
            "other doubts": lambda: self.session.set_threshold(0.99),
            "differences": lambda: sheet.mark_differences([(5, 0, 2)]),
            "heard": lambda: sheet.following.set_playhead(21_000, False),
            "larger": lambda: window.proof.change_text_size(2),
            "paragraphs": window.proof.change_layout,
            "by night": lambda: window.theme.set_dark(True),
            "by day": lambda: window.theme.set_dark(False),
            "narrower": lambda: window.resize(1000, 700),
        }
        for what, act in acts.items():
            act()
            self.assert_as_drawn(sheet, what)

    def test_in_translation(self):
        self.window.show_step("translation")
        screen = self.window.translation
        screen.show_language("pt")
        self.wait(lambda: not self.session.translating.queue())
        sheet = screen.sheet
        sheet.setFocus()
        self.wait(lambda: sheet.text.translation(2))
        for what, act in {
            "scrolled": lambda: sheet.verticalScrollBar().setValue(200),
            "typed": lambda: (sheet.caret.set((3, 0)), QTest.keyClicks(sheet, "Ora ")),
            "elsewhere": lambda: sheet.caret.set((5, 0)),
            "taken": lambda: self.window.commands.run("proofed"),
        }.items():
            act()
            self.assert_as_drawn(sheet, what)
