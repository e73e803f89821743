"""Excerpts in the window: kept in Proof, put in order, cut, parted, heard and written."""

from unittest.mock import patch

import av
from PySide6.QtCore import Qt
from PySide6.QtGui import QTextCursor
from PySide6.QtWidgets import QApplication, QMessageBox

from tamarind.desktop.excerpts.smoothing_dialog import SmoothingDialog
from tamarind.desktop.excerpts.write_dialog import WriteDialog
from tamarind.transcript import edits
from tests.desktop.support import WindowTest

CONTROL = Qt.KeyboardModifier.ControlModifier


class ExcerptsTest(WindowTest):
    has_excerpts = False

    def setUp(self):
        super().setUp()
        self.page = self.window.excerpts
        self.warden = self.named("Warden interview")
        self.lecture = self.named("Water table lecture")
        self.session.show(self.warden)

    def keep(self, recording, first, last):
        return self.session.excerpts.keep(recording, first, last)

    def three(self):
        """Kept in the order c, a, b; the keys in that order."""
        keys = [self.keep(self.warden, (1, 0), (2, 3)), self.keep(self.lecture, (2, 0), (3, 4)),
                self.keep(self.warden, (5, 0), (6, 2))]  # fmt: skip
        self.window.show_step("excerpts")
        return keys

    def order(self):
        return [one.key for one in self.session.excerpts.all()]

    def excerpt(self, key):
        return self.session.excerpts.find(key).excerpt


class Keeping(ExcerptsTest):
    def test_chosen_words_are_kept_by_key_marked_undone_and_there_again_after_a_restart(self):
        self.window.show_step("proof")
        caret = self.sheet.cue_caret
        caret.go_to_word(2, 1)
        caret.go_to((3, 6), keep_anchor=True)
        self.key(Qt.Key.Key_D, CONTROL)
        (one,) = self.session.excerpts.all()
        cues = self.session.texts.transcript(self.warden).cues
        self.assertTrue(one.quote.startswith(cues[2].words[1].text))
        before, first = cues[2].words[0], cues[2].words[1]
        self.assertTrue(before.start < one.excerpt.start <= first.start + 45)
        self.assertIn("Excerpt 1 kept", self.window.said.text())
        sheet = self.sheet.grab().toImage()
        self.window.undoing.undo()
        self.assertEqual(self.session.excerpts.all(), [])
        self.assertNotEqual(self.sheet.grab().toImage(), sheet)
        self.assertEqual(self.window.step(), "proof")
        self.window.undoing.redo()
        self.reopen()
        self.assertEqual([o.excerpt for o in self.session.excerpts.all()], [one.excerpt])

    def test_without_chosen_words_it_is_the_cue(self):
        self.window.show_step("proof")
        self.sheet.cue_caret.go_to((2, 0))
        self.window.commands.run("keep_excerpt")
        (one,) = self.session.excerpts.all()
        self.assertEqual(one.quote, self.session.texts.transcript(self.warden).cues[2].text)

    def test_what_becomes_of_its_words_is_told(self):
        (key, *_) = self.three()
        text = self.session.texts.transcript(self.warden)
        self.session.texts.edit(self.warden, "edit", edits.set_text(text, 1, "Quite other words"))
        self.page.choose(key)
        self.assertIn("has changed since", self.page.details.warning.text())
        self.page.details.accept.click()
        self.assertFalse(self.page.details.warning.isVisible())
        text = self.session.texts.transcript(self.warden)
        text = edits.delete(edits.delete(text, 2), 1)
        self.session.texts.edit(self.warden, "edit", text)
        self.assertIn("deleted from the text", self.page.details.warning.text())
        self.assertIn("deleted from the text", self.page.sequence.toPlainText())


class Working(ExcerptsTest):
    def test_they_are_put_in_order_by_key_and_by_dragging(self):
        a, b, c = self.three()
        self.page.choose(c)
        self.page.list.setFocus()
        self.key(Qt.Key.Key_Up, CONTROL)
        self.assertEqual(self.order(), [a, c, b])
        self.page.sequence.setFocus()
        self.key(Qt.Key.Key_Up, CONTROL)
        self.assertEqual(self.order(), [c, a, b])
        # Dropped at the end of what is shown, which is not the end of all.
        self.page.scope.setCurrentIndex(1)
        self.session.show(self.warden)
        self.page.refresh()
        self.assertEqual(self.page.list.keys(), [c, a])
        self.page.list.moved.emit(c, None)
        self.assertEqual(self.order(), [a, c, b])
        self.window.undoing.undo()
        self.assertEqual((self.order(), self.window.step()), ([c, a, b], "excerpts"))

    def test_words_are_cut_out_of_the_sequence_and_taken_back(self):
        _, key, _ = self.three()
        sheet = self.page.sequence
        words = [word for word in sheet._words if word.key == key]
        cursor = sheet.textCursor()
        cursor.setPosition(words[2].first)
        cursor.setPosition(words[4].last, QTextCursor.MoveMode.KeepAnchor)
        sheet.setTextCursor(cursor)
        sheet.setFocus()
        said = self.session.excerpts.find(key).quote
        self.key(Qt.Key.Key_Delete)
        cut = self.session.excerpts.find(key)
        gone = " ".join(word.word.text for word in words[2:5])
        self.assertEqual(cut.quote, said.replace(gone, "…"))
        ((start, end),) = cut.excerpt.cuts
        self.assertTrue(words[1].word.start < start <= words[2].word.start + 45)
        self.assertTrue(words[4].word.end - 45 <= end < words[5].word.end)
        words = [word for word in sheet._words if word.key == key]
        self.assertEqual([word.is_cut for word in words[1:6]], [False, True, True, True, False])
        cursor = sheet.textCursor()
        cursor.setPosition(words[3].first)
        sheet.setTextCursor(cursor)
        self.key(Qt.Key.Key_Delete)
        self.assertEqual(self.excerpt(key).cuts, ())

    def test_letters_that_take_two_places_leave_every_word_where_it_stands(self):
        key, *_ = self.three()
        text = self.session.texts.transcript(self.warden)
        text = edits.set_text(text, 1, "The 𝔐oor, 👩‍🌾 and 水苔 again")
        self.session.texts.edit(self.warden, "edit", text)
        words = [word for word in self.page.sequence._words if word.key == key]
        start, end = words[1].word.start, words[2].word.end
        self.session.excerpts.cut(key, [(start, end)])
        words = [word for word in self.page.sequence._words if word.key == key]
        self.assertIn(True, [word.is_cut for word in words])
        cursor = QTextCursor(self.page.sequence.document())
        for word in words:
            cursor.setPosition(word.first + 1)
            cut = cursor.charFormat().fontStrikeOut()
            cursor.setPosition(word.first)
            cursor.setPosition(word.last, QTextCursor.MoveMode.KeepAnchor)
            self.assertEqual((cursor.selectedText(), cut), (word.word.text, word.is_cut))

    def test_an_excerpt_is_parted_at_the_caret(self):
        a, key, c = self.three()
        sheet = self.page.sequence
        words = [word for word in sheet._words if word.key == key]
        cursor = sheet.textCursor()
        cursor.setPosition(words[3].first + 1)
        sheet.setTextCursor(cursor)
        sheet.setFocus()
        self.key(Qt.Key.Key_Return)
        self.assertEqual(len(self.order()), 4)
        first, second = self.session.excerpts.find(key), self.session.excerpts.find(self.order()[2])
        self.assertEqual(first.excerpt.end, second.excerpt.start)
        self.assertTrue(second.quote.startswith(words[3].word.text))
        self.assertEqual((self.order()[0], self.order()[3]), (a, c))

    def test_the_points_are_moved_by_key_and_one_drag_is_one_step(self):
        key, *_ = self.three()
        self.page.choose(key)
        before = self.excerpt(key)
        points = self.page.points
        points.setFocus()
        self.key(Qt.Key.Key_Left)
        self.key(Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.excerpt(key).start, before.start - 110)
        self.key(Qt.Key.Key_Down)
        self.key(Qt.Key.Key_Right)
        self.assertEqual(self.excerpt(key).end, before.end + 10)
        self.assertIn("ends at", points.accessibleDescription())

    def test_name_tags_and_note_are_kept_as_they_are_typed(self):
        key, other, _ = self.three()
        self.page.choose(key)
        details = self.page.details
        for field, text in ((details.name, "First years"), (details.tags, "water, moor")):
            field.setText(text)
            field.textEdited.emit(text)
        details.note.setPlainText("play this first")
        one = self.excerpt(key)
        self.assertEqual((one.name, one.tags, one.note),
                         ("First years", ("water", "moor"), "play this first"))  # fmt: skip
        self.page.choose(other)
        self.assertEqual((details.name.text(), details.note.toPlainText()), ("", ""))
        self.page.tag.setCurrentIndex(self.page.tag.findData("moor"))
        self.page.refresh()
        self.assertEqual(self.page.list.keys(), [key])
        self.page.tag.setCurrentIndex(0)
        self.page.sought.setText("play first")
        self.assertEqual(self.page.list.keys(), [key])
        self.assertTrue(details.name.isEnabled())

    def test_taken_out_and_brought_back(self):
        keys = self.three()
        self.page.choose(keys[1])
        self.page.list.setFocus()
        self.key(Qt.Key.Key_Delete)
        self.assertEqual(self.order(), [keys[0], keys[2]])
        self.assertEqual(self.page.current, keys[2])
        self.window.undoing.undo()
        self.assertEqual(self.order(), keys)

    def test_an_excerpt_is_shown_in_its_text(self):
        _, key, _ = self.three()
        self.page.choose(key)
        self.page.details.source_asked.emit()
        self.assertEqual((self.window.step(), self.session.shown), ("proof", self.lecture))
        self.assertEqual(self.sheet.cue_caret.place(), 2)


class Hearing(ExcerptsTest):
    def test_one_is_heard_without_what_is_cut_out_and_all_in_their_order(self):
        a, b, _ = self.three()
        words = [word.word for word in self.page.sequence._words if word.key == a]
        self.session.excerpts.cut(a, [(words[1].start, words[-2].end)])
        self.session.excerpts.set_points(b, self.excerpt(b).start, self.excerpt(b).start + 300)
        self.page.choose(a)
        reached, positions = [], []
        self.page.hearing.reached.connect(reached.append)
        self.window.player.moved.connect(positions.append)
        self.window.commands.run("play_excerpts")
        self.wait(lambda: b in reached and self.session.shown == self.lecture, 20)
        ((start, end),) = self.excerpt(a).cuts
        inside = [time for time in positions if start + 60 < time < end - 60]
        self.assertEqual(inside, [])
        self.assertTrue(any(time >= end for time in positions))
        self.window.commands.run("play_excerpts")
        self.wait(lambda: not self.window.player.is_playing, 5)
        self.assertFalse(self.page.hearing.is_going_on)

    def test_cuts_are_proposed_heard_and_taken(self):
        text = self.session.texts.transcript(self.warden)
        words = text.cues[2].text.split()
        said = " ".join([words[0], "um,", *words[1:]])
        self.session.texts.edit(self.warden, "edit", edits.set_text(text, 2, said))
        key = self.keep(self.warden, (1, 0), (4, 3))
        self.window.show_step("excerpts")
        shown = []

        def run(dialog):
            shown.append([dialog.rows.topLevelItem(row).text(1)
                          for row in range(dialog.rows.topLevelItemCount())])  # fmt: skip
            dialog.hear()
            return True

        with patch.object(SmoothingDialog, "exec", run):
            self.window.commands.run("smooth")
        self.assertIn("[um,]", shown[0][0])
        self.assertEqual(len(self.excerpt(key).cuts), len(shown[0]))
        self.assertNotIn("um,", self.session.excerpts.find(key).quote)
        self.window.undoing.undo()
        self.assertEqual(self.excerpt(key).cuts, ())


class Writing(ExcerptsTest):
    def setUp(self):
        super().setUp()
        self.out = self.folder / "out"
        self.out.mkdir()
        self.three()

    def write(self, *kinds, joined=False, burnt=False):
        def run(dialog):
            dialog.folder = self.out
            for kind, box in dialog.kinds.items():
                box.setChecked(kind in kinds)
            dialog.joined.setChecked(joined)
            dialog.burnt.setChecked(burnt)
            dialog.go.click()
            return True

        with patch.object(WriteDialog, "exec", run):
            self.window.commands.run("write_excerpts")
        self.wait(lambda: not self.session.export_queue.is_busy)
        QApplication.processEvents()
        return sorted(path.name for path in self.out.iterdir())

    def test_all_kinds_are_written_in_the_background(self):
        names = self.write("wav", "mp4", "vtt", "edl", "otio", "docx")
        self.assertEqual(sum(name.endswith(".wav") for name in names), 3)
        self.assertEqual(sum(name.endswith(".mp4") for name in names), 1)
        self.assertEqual(len(names), 3 + 1 + 3 + 3)
        self.assertIn("10 files written", self.page.strip.told.text())
        # What was chosen is chosen the next time, and what is there is asked about.
        with patch.object(
            QMessageBox, "question", return_value=QMessageBox.StandardButton.No
        ) as ask:
            self.write("wav")
        ask.assert_called_once()

    def test_joined_with_captions_drawn(self):
        names = self.write("mp4", "srt", joined=True, burnt=True)
        self.assertEqual([name.rpartition(".")[2] for name in names], ["mp4", "srt"])
        length = sum(one.excerpt.length for one in self.session.excerpts.all()) / 1000
        with av.open(str(self.out / names[0])) as read:
            seconds = sum(frame.samples for frame in read.decode(audio=0)) / 48_000
        self.assertAlmostEqual(seconds, length, delta=0.06)

    def test_a_recording_that_is_gone_is_told_and_the_others_are_made(self):
        self.session.recordings.get(self.lecture).path.unlink()
        names = self.write("flac")
        self.assertEqual(len(names), 2)
        self.assertIn("no longer there", self.page.strip.told.text())
