"""One text in two layouts: switching keeps the place, and an edit in either shows in both."""

from dataclasses import replace
from itertools import pairwise
from unittest import mock

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QGuiApplication, QInputMethodEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QInputDialog

from tamarind.desktop.proof.rows import Layout, Rows
from tamarind.desktop.proof.sheetrows import heading_band
from tamarind.desktop.widgets.changes_dialog import ChangesDialog
from tamarind.desktop.widgets.margin import Margin
from tamarind.language.paragraphing import Paragraphing
from tamarind.transcript import edits
from tamarind.transcript.changed import changed_range
from tests.desktop.test_proof import ALT, CTRL, KEY, SHIFT, ProofTest
from tests.support import cue


class ParagraphTest(ProofTest):
    def setUp(self):
        super().setUp()
        self.window.proof.set_layout(Layout.PARAGRAPHS)
        self.before = self.text

    def row_with_cues(self, count=2):
        rows = (self.sheet.text.cues_of(row) for row in range(self.sheet.rows.row_count()))
        return next(row for row, (a, b) in enumerate(rows) if b - a >= count)

    def seam(self):
        """A row, its second cue, and the offset where that begins."""
        row = self.row_with_cues()
        first, _ = self.sheet.text.cues_of(row)
        return row, first + 1, self.sheet.spots.place_of((first + 1, 0))[1]


class FewOrMany(ParagraphTest):
    def test_the_slider_moves_paragraphs_at_once_and_undo_takes_it_back_in_one_step(self):
        slider = self.window.proof.bar.slider
        rows = self.sheet.rows.row_count()
        place = self.sheet.cue_caret.place()
        for step in (10, 13, slider.maximum()):
            slider.setValue(step)
        self.assertGreater(self.sheet.rows.row_count(), rows)
        self.assertEqual(self.sheet.cue_caret.place(), place)
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text, self.before)

    def test_keys_go_a_step_and_what_a_person_set_stays(self):
        self.sheet.caret.set((self.row_with_cues(3), 0))
        place = self.sheet.cue_caret.place() + 1
        self.sheet.cue_caret.go_to((place, 0))
        self.key(KEY.Key_P, ALT)
        step = self.window.proof.parting.step
        self.key(KEY.Key_L, ALT, SHIFT)
        self.key(KEY.Key_L, ALT, SHIFT)
        self.assertEqual(self.window.proof.bar.slider.value(), step - 2)
        self.window.proof.parting.part(0)
        self.assertTrue(self.text.cues[place].opens_paragraph)

    def test_the_slider_shows_in_paragraphs_only(self):
        self.assertTrue(self.window.proof.bar.slider.isVisible())
        self.key(KEY.Key_V, ALT)
        self.assertFalse(self.window.proof.bar.slider.isVisible())

    def test_those_of_a_draft_are_nothing_to_undo_unless_somebody_wrote_in_it_meanwhile(self):
        texts, key = self.session.texts, self.session.shown
        texts.finish(key, "paragraphs", Paragraphing(texts.transcript(key)).parted(20, 0))
        self.assertNotEqual(self.text, self.before)
        self.assertEqual(texts.undo_labels(), (None, None))
        opened = [each.opens_paragraph for each in self.text.cues]
        self.assertEqual([each.opens_paragraph for each in texts.draft(key)], opened)
        self.session.edit_shown("typed", edits.settle(self.text, 0, 1))
        texts.finish(key, "paragraphs", Paragraphing(texts.transcript(key)).parted(300, 0))
        self.assertEqual(texts.undo_labels()[0], "paragraphs")
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual([each.opens_paragraph for each in self.text.cues], opened)


class HeadingsOfParagraphs(ParagraphTest):
    def test_one_is_written_by_key_shown_kept_and_undone(self):
        with mock.patch.object(QInputDialog, "getItem", return_value=("The old drains", True)):
            self.key(KEY.Key_K, CTRL, SHIFT)
        first, _ = self.sheet.text.cues_of(self.sheet.caret.place[0])
        self.assertEqual(self.text.cues[first].heading, "The old drains")
        self.reopen()
        self.assertEqual(self.text.cues[first].heading, "The old drains")
        self.assertIn("The old drains", self.sheet.rows.description(self.sheet.caret.place))
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text.cues[first].heading, "")

    def test_a_click_on_it_asks_for_another(self):
        row = self.row_with_cues()
        first, _ = self.sheet.text.cues_of(row)
        self.session.edit_shown("heading", edits.set_heading(self.text, first, "Sluices"))
        area = self.sheet.row_geometry.text_area(row)
        band = heading_band(area, self.sheet.text.shows_speaker(row))
        with mock.patch.object(QInputDialog, "getItem", return_value=("", True)) as asked:
            QTest.mouseClick(
                self.sheet.viewport(), Qt.MouseButton.LeftButton, pos=band.center().toPoint()
            )
        self.assertEqual(asked.call_args.args[3][0], "Sluices")
        self.assertEqual(self.text.cues[first].heading, "")

    def test_proposed_ones_are_taken_together(self):
        text = self.text
        self.session.edit_shown("longer", replace(text, cues=_longer(text.cues)))
        with mock.patch.object(ChangesDialog, "exec", return_value=True):
            self.key(KEY.Key_G, CTRL, SHIFT)
            self.wait(lambda: any(each.heading for each in self.text.cues))
        headings = [each.heading for each in self.text.cues if each.heading]
        self.assertTrue(headings)
        self.key(KEY.Key_Z, CTRL)
        self.assertFalse(any(each.heading for each in self.text.cues))


def _longer(cues):
    """The same said over and over."""
    length, result = cues[-1].end + 1_000, []
    for turn in range(4):
        for each in cues:
            moved = tuple(
                replace(w, start=w.start + turn * length, end=w.end + turn * length)
                for w in each.words
            )
            result.append(
                replace(
                    each, id=len(result) + 1, start=each.start + turn * length,
                    end=each.end + turn * length, words=moved,
                )
            )  # fmt: skip
    return tuple(result)


class Switching(ParagraphTest):
    def test_there_and_back_the_caret_stays_in_its_word_at_its_height(self):
        self.window.proof.set_layout(Layout.CUES)
        self.sheet.cue_caret.go_to_word(14, 3)
        self.sheet.row_geometry.show_row(14)
        place, word = self.sheet.cue_caret.place(), self.sheet.cue_caret.word()
        y = self.sheet.row_geometry.edge_area(self.sheet.caret.place).top()
        for _ in range(2):
            self.key(KEY.Key_V, ALT)
            self.assertEqual(
                (self.sheet.cue_caret.place(), self.sheet.cue_caret.word()), (place, word)
            )
            self.assertAlmostEqual(
                self.sheet.row_geometry.edge_area(self.sheet.caret.place).top(), y, delta=40
            )
        self.assertEqual(self.text, self.before)

    def test_it_is_remembered(self):
        self.reopen()
        self.assertIs(self.sheet.text.layout, Layout.PARAGRAPHS)
        self.assertTrue(self.window.proof.bar.buttons[Layout.PARAGRAPHS].isChecked())

    def test_a_turn_is_one_row_and_reads_as_the_cues_do(self):
        shown = " ".join(self.sheet.rows.text(row) for row in range(self.sheet.rows.row_count()))
        self.assertEqual(shown, " ".join(each.text for each in self.text.cues))
        self.assertLess(self.sheet.rows.row_count(), len(self.text.cues))


class EditingParagraphs(ParagraphTest):
    def test_typing_goes_to_the_cue_at_the_caret_and_keeps_the_others(self):
        row, second, offset = self.seam()
        self.sheet.caret.set((row, offset))
        self.type("Truly ")
        self.assertEqual(self.text.cues[second].text, f"Truly {self.before.cues[second].text}")
        self.assertEqual(self.text.cues[second - 1], self.before.cues[second - 1])
        self.sheet.caret.set((row, self.sheet.spots.place_of((second, 0))[1] - 1))
        self.type(" indeed")
        self.assertTrue(self.text.cues[second - 1].text.endswith(" indeed"))
        self.assertEqual(self.on_disk(), self.text)
        self.key(KEY.Key_Z, CTRL)
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text, self.before)

    def test_deleting_over_the_border_of_cues_leaves_the_border(self):
        row, second, offset = self.seam()
        first_words = self.before.cues[second - 1].text.split()
        second_words = self.before.cues[second].text.split()
        self.sheet.caret.set((row, offset - len(first_words[-1]) - 1))
        self.sheet.caret.set((row, offset + len(second_words[0]) + 1), keep_anchor=True)
        self.key(KEY.Key_Delete)
        self.assertEqual(len(self.text.cues), len(self.before.cues))
        self.assertEqual(self.text.cues[second - 1].text.split(), first_words[:-1])
        self.assertEqual(self.text.cues[second].text.split(), second_words[1:])
        kept = self.before.cues[second].words[1:]
        self.assertEqual(self.text.cues[second].words, kept)

    def test_enter_opens_a_paragraph_and_backspace_closes_it(self):
        row, second, offset = self.seam()
        rows = self.sheet.rows.row_count()
        self.sheet.caret.set((row, offset))
        self.key(KEY.Key_Return)
        self.assertEqual(self.sheet.rows.row_count(), rows + 1)
        self.assertTrue(self.text.cues[second].opens_paragraph)
        self.assertEqual(self.sheet.caret.place, (row + 1, 0))
        self.key(KEY.Key_Backspace)
        self.assertEqual(self.sheet.rows.row_count(), rows)
        self.assertEqual(self.sheet.caret.place, (row, offset))
        self.assertEqual([c.words for c in self.text.cues], [c.words for c in self.before.cues])

    def test_enter_within_a_cue_splits_it(self):
        row, second, offset = self.seam()
        word = len(self.text.cues[second].words[0].text) + 1
        self.sheet.caret.set((row, offset + word))
        self.key(KEY.Key_Return)
        self.assertEqual(len(self.text.cues), len(self.before.cues) + 1)
        self.assertEqual(self.text.cues[second].words, self.before.cues[second].words[:1])
        self.assertTrue(self.text.cues[second + 1].opens_paragraph)

    def test_backspace_at_a_change_of_speaker_gives_the_turn_to_the_one_before(self):
        row = next(
            row
            for row in range(1, self.sheet.rows.row_count())
            if self.sheet.text.shows_speaker(row) and self.sheet.text.cues_in(row - 1)[0].speaker
        )
        place = self.sheet.text.cues_of(row)[0]
        self.sheet.caret.set((row, 0))
        self.key(KEY.Key_Backspace)
        cues = self.text.cues
        self.assertEqual(cues[place].speaker, cues[place - 1].speaker)
        self.assertFalse(cues[place].opens_paragraph)
        self.assertEqual(self.sheet.cue_caret.place(), place)

    def test_a_selection_over_paragraphs_is_cut_as_one_and_pasted(self):
        row = self.row_with_cues()
        self.sheet.caret.set((row, 3))
        self.sheet.caret.set((row + 2, 4), keep_anchor=True)
        cut = self.sheet.caret.selected_text()
        self.key(KEY.Key_X, CTRL)
        self.assertEqual(QGuiApplication.clipboard().text(), cut)
        shown = " ".join(each.text for each in self.text.cues).split()
        gone = len(" ".join(c.text for c in self.before.cues).split()) - len(shown)
        self.assertGreaterEqual(gone, len(cut.split()) - 2)
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text, self.before)

    def test_text_is_dragged_to_another_place_as_one_step(self):
        row, _, offset = self.seam()
        words = self.sheet.shown.of(row).split()
        self.sheet.caret.set((row, 0))
        self.sheet.caret.set((row, len(words[0]) + 1), keep_anchor=True)
        self.sheet.editing.move_selection((row, offset))
        text = self.sheet.shown.of(row).split()
        self.assertEqual(sorted(text), sorted(words))
        self.assertEqual(text[0], words[1])
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text, self.before)

    def test_an_input_method_and_arabic_text(self):
        row, second, offset = self.seam()
        self.sheet.caret.set((row, offset))
        event = QInputMethodEvent("مستنقع", [])
        QApplication.sendEvent(self.sheet, event)
        self.assertEqual(self.text, self.before)
        event = QInputMethodEvent()
        event.setCommitString("مستنقع ")
        QApplication.sendEvent(self.sheet, event)
        self.assertEqual(self.text.cues[second].words[0].text, "مستنقع")


class RightToLeft(ProofTest):
    def test_the_caret_goes_the_way_the_key_points(self):
        self.sheet.caret.set((3, 0))
        self.key(KEY.Key_End, SHIFT)
        self.sheet.caret.select_all()
        text = edits.set_text(self.text, 3, "الماء في المستنقع قريب")
        self.session.texts.edit(self.session.shown, "x", text)
        self.sheet.cue_caret.go_to((3, 0))
        x = self.sheet.row_geometry.edge_area(self.sheet.caret.place).x()
        self.key(KEY.Key_Left)
        self.assertLess(self.sheet.row_geometry.edge_area(self.sheet.caret.place).x(), x)
        self.assertEqual(self.sheet.caret.place, (3, 1))
        self.key(KEY.Key_Right)
        self.assertEqual(self.sheet.caret.place, (3, 0))
        area = self.sheet.row_geometry.text_area(3)
        at = self.sheet.row_geometry.place_at(QPointF(area.left() + 2, area.top() + 8))
        self.assertGreater(at[1], 10)
        for start, end in (word.span for word in self.sheet.spots.words(3)):
            self.assertGreater(self.sheet.row_geometry.span_area(3, (start, end), area).width(), 4)


class CaptionLines(ProofTest):
    def test_a_cue_stands_in_its_lines_and_shift_enter_changes_them(self):
        place = next(n for n, c in enumerate(self.text.cues) if self.sheet.text.breaks_of(c))
        breaks = self.sheet.text.breaks_of(self.text.cues[place])
        self.assertEqual(self.sheet.row_geometry.layout(place).lineCount(), len(breaks) + 1)
        self.sheet.cue_caret.go_to_word(place, breaks[0])
        self.key(KEY.Key_Return, SHIFT)
        self.assertEqual(self.text.cues[place].breaks, breaks[1:])
        self.sheet.cue_caret.go_to_word(place, 1)
        self.key(KEY.Key_Return, SHIFT)
        self.assertEqual(self.text.cues[place].breaks, (1, *breaks[1:]))
        self.assertEqual(len(self.on_disk().cues[place].lines), len(breaks) + 1)


class RowsOfATextWithoutParagraphs(ProofTest):
    def test_they_are_cut_where_sentences_end(self):
        cues = tuple(cue(n, "The bog is wet. It was dug", 2_000 * n) for n in range(1, 101))
        cues = tuple(replace(each, id=n) for n, each in enumerate(cues, 1))
        rows = Rows(Layout.PARAGRAPHS)
        rows.load(cues)
        lengths = [
            sum(len(each.words) for each in cues[slice(*rows.cues_of(row))])
            for row in range(len(rows))
        ]
        self.assertEqual(sum(lengths), 700)
        self.assertLess(max(lengths), 340)
        first, old, new = rows.follow(cues[:50], 50, 100, 50)
        self.assertEqual(rows.cues_of(len(rows) - 1)[1], 50)
        self.assertEqual(new, len(rows))
        self.assertLess(first, old)

    def test_following_edits_gives_the_rows_of_a_fresh_look(self):
        text = self.text
        rows = Rows(Layout.PARAGRAPHS)
        rows.load(text.cues)
        for change in (
            lambda t: edits.set_paragraph(t, 5, True),
            lambda t: edits.delete(t, 0),
            lambda t: edits.set_speaker(t, 3, 8, 1),
            lambda t: edits.split(t, 4, 2),
            lambda t: edits.join(t, 2),
            lambda t: edits.set_paragraph(t, 5, False),
        ):
            new = change(text)
            before = len(rows)
            first, old, now = rows.follow(new.cues, *changed_range(text.cues, new.cues))
            fresh = Rows(Layout.PARAGRAPHS)
            fresh.load(new.cues)
            self.assertEqual(
                *([each.cues_of(row) for row in range(len(each))] for each in (rows, fresh))
            )
            self.assertEqual(before - old, len(rows) - now)
            self.assertLessEqual(first, now)
            text = new


class TheMargin(ProofTest):
    def test_words_and_margin_tell_under_the_pointer(self):
        words = self.text.cues[2].words
        area = self.sheet.row_geometry.text_area(2)
        told = self.sheet.pointer.told_at(QPointF(120, area.top() + 4))
        self.assertTrue(told.startswith("00:0"), told)
        first = self.sheet.row_geometry.span_area(2, (0, len(words[0].text)), area)
        self.assertIn("by hand", self.sheet.pointer.told_at(first.center()))
        self.assertIn(words[0].text, self.sheet.pointer.told_at(first.center()))

    def test_text_without_sound_and_sound_without_text_are_found(self):
        peaks = np.full(1_000, 0.5, np.float16)
        peaks[200:300] = 0.001
        margin = Margin()
        margin.set_sound(peaks, ((7_000, 8_000),))
        cues = (cue(1, "heard well here", 500), cue(2, "nobody said so", 2_050))
        self.assertIn("heard", margin.told_at(600, cues))
        self.assertNotIn("without", margin.told_at(600, cues))
        self.assertIn("text without sound", margin.told_at(2_100, cues))
        self.assertIn("speech without text", margin.told_at(7_500, cues))

    def test_each_line_has_its_own_time(self):
        self.window.proof.set_layout(Layout.PARAGRAPHS)
        row = next(
            r
            for r in range(self.sheet.rows.row_count())
            if self.sheet.row_geometry.layout(r).lineCount() > 2
        )
        bands = self.sheet.strip.bands(row, self.sheet.row_geometry.text_area(row))
        self.assertGreater(len(bands), 2)
        for one, other in pairwise(bands):
            self.assertEqual((one.bottom, one.stop), (other.top, other.start))
            self.assertLess(one.start, one.stop)
        y = (bands[1].top + bands[1].bottom) / 2
        self.assertTrue(bands[1].start < self.sheet.strip.time_at(row, y) < bands[1].stop)
        self.click(self.sheet.viewport(), 120, bands[1].top + 2, Qt.KeyboardModifier.NoModifier)
        self.assertEqual(self.sheet.cue_caret.place(), self.text.place_at(bands[1].start + 60))
