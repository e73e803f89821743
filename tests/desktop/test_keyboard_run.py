"""A proofing run with the keyboard alone: twenty known errors, and every key counted."""

from dataclasses import replace
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog

from tamarind.desktop.widgets import changes_dialog
from tamarind.transcript.model import Word
from tests.desktop.test_proof import ALT, CTRL, KEY, SHIFT, ProofTest

MOST_KEYS = 52
"""The figure in docs/benchmarks.md; 28 of them are letters of new words."""

READINGS = 11
TYPED = ("bog", "sedge", "tarn")
REPEATED = "sphagnum"
UNSEEN = ("moor", "peat")


class TwentyErrors(ProofTest):
    """Eleven doubts have the right reading, three are typed, one mistake stands four times, and
    two wrong words look certain and are only caught by ear."""

    def setUp(self):
        super().setUp()
        self.session.show(self.named("Water table lecture"))
        self.sheet.setFocus()
        self.keys = 0
        text = self.text
        places = [
            (row, place)
            for row, cue in enumerate(text.cues)
            for place, word in enumerate(cue.words)
            if 3 < len(word.text) < 9 and word.text.isalpha()
        ][:: len(text.cues) // 9]
        rights = [*[None] * READINGS, *TYPED, *[REPEATED] * 4, *UNSEEN]
        kinds = rights[::3] + rights[1::3] + rights[2::3]
        right = self.settled(text)
        wrong = right
        for (row, place), new in zip(places, kinds, strict=False):
            word = right.cues[row].words[place]
            true = Word(new or word.text, word.start, word.end)
            right = self.put(right, row, place, true)
            heard = Word("fogum" if new == REPEATED else "wrong", word.start, word.end, 0.4)
            if new is None:
                heard = replace(heard, alternatives=("else", true.text))
            if new in UNSEEN:
                heard = replace(heard, confidence=0.99)
            wrong = self.put(wrong, row, place, heard)
        self.assertEqual(sum(a != b for a, b in zip(_words(right), _words(wrong), strict=True)), 20)
        self.right = _words(right)
        self.unseen = [w.start for c in wrong.cues for w in c.words if w.confidence == 0.99]
        self.session.texts.edit(self.session.shown, "x", wrong)
        self.sheet.cue_caret.go_to((0, 0))

    def settled(self, text):
        cues = tuple(
            replace(cue, words=tuple(Word(w.text, w.start, w.end) for w in cue.words))
            for cue in text.cues
        )
        return replace(text, cues=cues)

    def put(self, text, row, place, word):
        cue = text.cues[row]
        words = (*cue.words[:place], word, *cue.words[place + 1 :])
        cues = (*text.cues[:row], replace(cue, words=words), *text.cues[row + 1 :])
        return replace(text, cues=cues)

    def key(self, key, *modifiers):
        self.keys += 1
        super().key(key, *modifiers)

    def type(self, text):
        self.keys += len(text)
        QTest.keyClicks(QApplication.focusWidget(), text)
        QApplication.processEvents()

    def fix_elsewhere(self):
        """The dialog comes up with the same mistakes ticked; Enter takes them."""
        pressed = []

        def run(dialog):
            dialog.show()
            self.keys += 1
            QTest.keyClick(dialog, Qt.Key.Key_Return)
            pressed.append(dialog.result())
            return dialog.result()

        with mock.patch.object(changes_dialog.ChangesDialog, "exec", run):
            self.key(KEY.Key_O, ALT)
            self.wait(lambda: pressed)
        self.window.activateWindow()
        QApplication.processEvents()
        self.assertEqual(pressed, [QDialog.DialogCode.Accepted])

    def test_from_the_draft_to_the_right_text(self):
        self.key(KEY.Key_J, CTRL)
        while self.session.survey(self.session.shown).doubts():
            row, place = self.sheet.cue_caret.place(), self.sheet.cue_caret.word()
            word = self.text.cues[row].words[place]
            number = sum(len(cue.words) for cue in self.text.cues[:row]) + place
            if word.alternatives:
                self.key(KEY.Key_0 + word.alternatives.index(self.right[number]) + 1)
                continue
            self.type(self.right[number])
            if self.right[number] == REPEATED:
                self.fix_elsewhere()
            self.key(KEY.Key_J, CTRL)
        for start in self.unseen:
            # Playing is begun once for both; what is caught by ear is typed over.
            self.window.player.seek(start + 30)
            self.key(KEY.Key_F4)
            word = self.sheet.cue_caret.word()
            row = self.sheet.cue_caret.place()
            number = sum(len(cue.words) for cue in self.text.cues[:row]) + word
            self.type(self.right[number])
            self.key(KEY.Key_Space, CTRL)
        self.window.player.stop()
        self.key(KEY.Key_End, CTRL)
        self.key(KEY.Key_Return, CTRL, SHIFT)
        self.assertEqual(_words(self.text), self.right)
        self.assertEqual(_words(self.on_disk()), self.right)
        self.assertTrue(all(cue.settled for cue in self.text.cues))
        self.assertLessEqual(self.keys, MOST_KEYS)


def _words(text):
    return [word.text for cue in text.cues for word in cue.words]
