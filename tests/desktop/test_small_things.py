"""Small cards, the loupe from near, and texts whose encoding is not clear."""

from unittest.mock import patch

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from tamarind.application import personal
from tamarind.desktop.intake.encoding_dialog import EncodingDialog, first_lines
from tamarind.desktop.proof.loupe import Loupe as LoupeWidget
from tamarind.formats.decoding import decode
from tests.desktop.support import WindowTest

RUSSIAN = "1\n00:00:01,000 --> 00:00:03,000\nВода\n"


class SmallCards(WindowTest):
    def test_a_line_each_on_wish_and_remembered(self):
        self.window.show_step("intake")
        intake = self.window.intake
        self.wait(lambda: len(intake.cards) == len(self.window.session.recordings.all()))
        QTest.qWait(50)
        card = next(iter(intake.cards.values()))
        high = card.sizeHint().height()
        self.assertTrue(card.sound.isVisible())
        intake.change_size()
        QTest.qWait(50)
        self.assertFalse(card.sound.isVisible())
        self.assertLess(card.sizeHint().height(), high / 2)
        self.assertTrue(card.act.isVisible())
        self.assertTrue(personal.read(personal.SMALL_CARDS))
        intake.change_size()
        QTest.qWait(50)
        self.assertEqual(card.sizeHint().height(), high)


class Loupe(WindowTest):
    def test_short_words_are_read_by_pointing_and_from_near(self):
        self.window.show_step("proof")
        self.window.proof.loupe.toggle()
        QTest.qWait(50)
        (loupe,) = self.window.proof.sheet.findChildren(LoupeWidget)
        word = loupe.cue.words[1]
        middle = loupe.x_at((word.start + word.end) // 2)
        self.assertEqual(loupe.word_at(QPointF(middle, 60)), word.text)
        whole = loupe.span
        QTest.keyClick(loupe, Qt.Key.Key_Plus, Qt.KeyboardModifier.NoModifier)
        near = loupe.span
        self.assertLess(near[1] - near[0], whole[1] - whole[0])
        self.assertTrue(whole[0] <= near[0] < near[1] <= whole[1])
        for _ in range(12):
            loupe.zoom(False)
        self.assertEqual(loupe.span, whole)


class Encodings(WindowTest):
    def put(self):
        path = self.folder / "cp.srt"
        path.write_bytes(RUSSIAN.encode("cp1251"))
        return path

    def test_where_it_is_not_clear_the_first_lines_are_shown_and_the_chosen_one_is_taken(self):
        path = self.put()
        decoded = decode(path.read_bytes())
        self.assertTrue(decoded.others)
        dialog = EncodingDialog(path.name, path.read_bytes(), decoded)
        shown = [dialog.list.item(row).text() for row in range(dialog.list.count())]
        self.assertLessEqual(len(shown), 3)
        (place,) = [row for row, text in enumerate(shown) if "Вода" in text]
        dialog.list.setCurrentRow(place)
        key = self.window.session.recordings.all()[0].id
        importing = self.window.intake.importing
        with (
            patch.object(EncodingDialog, "exec", return_value=True),
            patch.object(EncodingDialog, "encoding", dialog.encoding),
        ):
            importing.take(key, path)
        self.assertEqual(self.window.session.texts.transcript(key).cues[0].text, "Вода")

    def test_whoever_thinks_better_of_it_changes_nothing(self):
        path, key = self.put(), self.window.session.recordings.all()[0].id
        before = self.window.session.texts.transcript(key)
        with patch.object(EncodingDialog, "exec", return_value=False):
            self.window.intake.importing.take(key, path)
        self.assertEqual(self.window.session.texts.transcript(key), before)

    def test_the_lines_that_tell_are_shown(self):
        self.assertEqual(first_lines("1\n0 --> 1\nabc\nчто\n"), "что")
        self.assertEqual(first_lines("1\nabc\n"), "abc")
