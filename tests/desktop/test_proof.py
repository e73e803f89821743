from dataclasses import replace
from unittest import mock

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QGuiApplication, QInputMethodEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tamarind.desktop.player import Player
from tamarind.transcript.survey import Survey
from tests.desktop.support import WindowTest

CTRL, ALT, SHIFT = (
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.AltModifier,
    Qt.KeyboardModifier.ShiftModifier,
)
KEY = Qt.Key


class ProofTest(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.show_step("proof")
        self.sheet.setFocus()

    @property
    def text(self):
        return self.session.texts.transcript(self.session.shown)

    def on_disk(self):
        """The text as another program would find it in the file now."""
        return self.session.store.document(self.session.shown).transcript


class SpeechWithoutText(ProofTest):
    def test_it_is_said_between_the_cues_until_somebody_writes_it(self):
        cues = self.text.cues
        row = next(n for n in range(1, len(cues)) if cues[n].start - cues[n - 1].end > 700)
        gap = cues[row - 1].end, cues[row].start
        recording = self.session.shown_recording()
        room = self.sheet.rows.space(row)
        self.session.recordings.change(replace(recording, unheard=(gap,)))
        self.assertIn("speech without text", self.sheet.notes.above(row).text)
        self.assertGreaterEqual(self.sheet.rows.space(row)[0], room[0])
        self.reopen()
        self.window.show_step("proof")
        self.assertIn("speech without text", self.sheet.notes.above(row).text)
        longer = replace(cues[row - 1], end=gap[1])
        text = replace(self.text, cues=(*cues[: row - 1], longer, *cues[row:]))
        self.session.texts.edit(self.session.shown, "longer", text)
        self.assertIsNone(self.sheet.notes.above(row))

    def test_a_click_on_it_plays_it_also_after_the_last_cue(self):
        last = self.text.cues[-1]
        missed = (last.end + 500, last.end + 2_500)
        self.session.recordings.change(replace(self.session.shown_recording(), unheard=(missed,)))
        row = len(self.text.cues) - 1
        self.sheet.caret.set((row, 0))
        asked = []
        self.sheet.play_from.connect(asked.append)
        text = self.sheet.row_geometry.text_area(row)
        self.assertLess(text.bottom() + 40, self.sheet.viewport().height())
        self.click(self.sheet.viewport(), text.center().x(), text.bottom() + 24)
        self.assertEqual(asked, [missed[0]])


class Typing(ProofTest):
    def test_every_letter_is_on_disk_and_one_undo_takes_back_the_word(self):
        before = self.text
        self.sheet.caret.set((2, 0))
        for letter in "Very":
            self.type(letter)
            self.assertEqual(self.on_disk(), self.text)
        self.type(" ")
        self.assertEqual(self.text.cues[2].words[0].text, "Very")
        self.assertEqual(self.text.cues[2].text, f"Very {before.cues[2].text}")
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text.cues[2], before.cues[2])
        self.assertEqual(self.on_disk(), before)
        self.key(KEY.Key_Z, CTRL, SHIFT)
        self.assertEqual(self.text.cues[2].words[0].text, "Very")

    def test_spaces_between_words_being_typed_stay_under_the_caret(self):
        row = 3
        end = len(self.sheet.shown.of(row))
        self.sheet.caret.set((row, end))
        self.type(" and")
        self.type(" ")
        self.assertEqual(self.sheet.caret.place, (row, end + 5))
        self.type("wet")
        self.assertTrue(self.text.cues[row].text.endswith(" and wet"))

    def test_enter_splits_and_backspace_joins_with_the_caret_at_the_seam(self):
        before = self.text
        offset = before.cues[3].text.index(" ") + 1
        self.sheet.caret.set((3, offset))
        self.key(KEY.Key_Return)
        self.assertEqual(len(self.text.cues), len(before.cues) + 1)
        self.assertEqual(self.sheet.caret.place, (4, 0))
        self.assertEqual(self.text.cues[3].end, self.text.cues[4].start)
        self.key(KEY.Key_Backspace)
        self.assertEqual(self.text.cues[3].words, before.cues[3].words)
        self.assertEqual(self.sheet.caret.place, (3, offset))

    def test_a_selection_over_cues_is_copied_and_cut_and_undone_as_one(self):
        before = self.text
        self.sheet.caret.set((3, 0))
        self.sheet.caret.set((5, 4), keep_anchor=True)
        self.key(KEY.Key_C, CTRL)
        copied = QGuiApplication.clipboard().text()
        self.assertEqual(copied.split("\n")[:2], [before.cues[3].text, before.cues[4].text])
        self.key(KEY.Key_X, CTRL)
        self.assertEqual(len(self.text.cues), len(before.cues) - 2)
        self.assertEqual(self.text.cues[3].text, before.cues[5].text[4:].strip())
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text, before)

    def test_pasting_several_lines_stays_in_the_cue(self):
        QGuiApplication.clipboard().setText("one\ntwo\n\nthree")
        self.sheet.caret.set((4, 0))
        self.key(KEY.Key_V, CTRL)
        self.type(" ")
        self.assertTrue(self.text.cues[4].text.startswith("one two three "))

    def test_an_input_method_composes_in_place_and_commits(self):
        self.sheet.caret.set((4, 0))
        before = self.text.cues[4].text
        QApplication.sendEvent(self.sheet, QInputMethodEvent("みず", []))
        self.assertEqual(self.text.cues[4].text, before)
        done = QInputMethodEvent("", [])
        done.setCommitString("水 ")
        QApplication.sendEvent(self.sheet, done)
        self.assertEqual(self.text.cues[4].text, f"水 {before}")

    def test_right_to_left_text_is_kept_as_typed(self):
        self.sheet.caret.set((4, 0))
        self.sheet.editing.insert("مستنقع الخث ")
        self.assertEqual([w.text for w in self.text.cues[4].words][:2], ["مستنقع", "الخث"])
        self.key(KEY.Key_End)
        self.key(KEY.Key_Home)
        self.assertEqual(self.sheet.caret.place, (4, 0))

    def test_taking_a_cue_out_and_undoing_it(self):
        before = self.text
        self.sheet.caret.set((2, 3))
        self.key(KEY.Key_Delete, CTRL, SHIFT)
        self.assertEqual(self.text.cues, before.cues[:2] + before.cues[3:])
        self.assertEqual(self.sheet.caret.place, (2, 0))
        self.assertEqual(self.on_disk(), self.text)
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text, before)

    def test_undo_reaches_back_into_another_recording(self):
        first = self.session.shown
        before = self.text
        self.sheet.caret.set((2, 0))
        self.type("x")
        self.session.show(self.named("Water table lecture"))
        self.sheet.caret.set((0, 0))
        self.type("y")
        self.key(KEY.Key_Z, CTRL)
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.session.shown, first)
        self.assertEqual(self.text, before)


class Moving(ProofTest):
    def test_the_caret_walks_through_cues_as_through_one_text(self):
        self.sheet.caret.set((0, len(self.sheet.rows.text(0))))
        self.key(KEY.Key_Right)
        self.assertEqual(self.sheet.caret.place, (1, 0))
        self.key(KEY.Key_Left)
        self.assertEqual(self.sheet.caret.place, (0, len(self.sheet.rows.text(0))))
        self.key(KEY.Key_Home, CTRL)
        places = [self.sheet.caret.place]
        for _ in range(8):
            self.key(KEY.Key_Down)
            places.append(self.sheet.caret.place)
        self.assertEqual(places, sorted(set(places)))
        for _ in range(8):
            self.key(KEY.Key_Up)
        self.assertEqual(self.sheet.caret.place, (0, 0))
        self.key(KEY.Key_End, CTRL)
        self.assertEqual(self.sheet.caret.place[0], self.sheet.rows.row_count() - 1)

    def test_the_caret_is_always_in_view(self):
        for row in (self.sheet.rows.row_count() - 1, 0, 12):
            self.sheet.caret.set((row, 0))
            area = self.sheet.row_geometry.row_area(row)
            self.assertGreaterEqual(area.top(), 0)
            self.assertLessEqual(area.bottom(), self.sheet.viewport().height())

    def test_a_click_puts_the_caret_where_it_was(self):
        self.sheet.caret.set((3, 0))
        area = self.sheet.row_geometry.text_area(2)
        for offset in (0, 5, 11):
            layout = self.sheet.row_geometry.layout(2)
            x = layout.lineForTextPosition(offset).cursorToX(offset)
            x = x[0] if isinstance(x, tuple) else x
            self.click(self.sheet.viewport(), area.left() + x + 1, area.top() + 12)
            self.assertEqual(self.sheet.caret.place, (2, offset))


class Listening(ProofTest):
    def test_play_and_stop_leave_the_caret_in_the_text(self):
        self.sheet.caret.set((4, 3))
        start = self.sheet.cue_caret.time()
        self.key(KEY.Key_Space, CTRL)
        self.assertTrue(self.window.player.is_playing)
        self.wait(lambda: self.window.player.position > start + 300)
        self.type("a")
        self.assertTrue(self.window.player.is_playing)
        self.key(KEY.Key_Space, CTRL)
        self.assertFalse(self.window.player.is_playing)
        self.assertEqual(self.sheet.caret.place, (4, 4))
        self.assertLess(self.window.player.position, start + 3000)

    def test_back_and_forward(self):
        self.window.player.seek(10_000)
        self.key(KEY.Key_Left, ALT)
        self.assertEqual(self.window.player.position, 8_000)
        self.key(KEY.Key_Right, ALT)
        self.key(KEY.Key_Right, ALT)
        self.assertEqual(self.window.player.position, 12_000)
        self.key(KEY.Key_Down, ALT)
        self.assertEqual(
            self.window.player.position, self.text.cues[self.sheet.caret.place[0]].start
        )

    def test_slower_plays_slower(self):
        for _ in range(5):
            self.key(KEY.Key_Minus, ALT)
        self.assertAlmostEqual(self.window.player.speed, 0.5)
        self.key(KEY.Key_Minus, ALT)
        self.assertAlmostEqual(self.window.player.speed, 0.5)
        self.key(KEY.Key_Equal, ALT)
        self.assertAlmostEqual(self.window.player.speed, 0.6)

    def test_the_word_that_is_heard_is_lit(self):
        word = self.text.cues[3].words[2]
        self.window.player.seek((word.start + word.end) // 2)
        self.assertEqual(self.sheet.following.heard, (3, 2))

    def test_ctrl_click_on_a_word_plays_from_it(self):
        self.sheet.caret.set((3, 0))
        area = self.sheet.row_geometry.span_area(3, self.sheet.spots.words(3)[2].span,
                                     self.sheet.row_geometry.text_area(3))  # fmt: skip
        place = area.center()
        self.click(self.sheet.viewport(), place.x(), place.y(), CTRL)
        self.assertTrue(self.window.player.is_playing)
        word = self.text.cues[3].words[2]
        self.assertAlmostEqual(self.window.player.position, word.start, delta=400)
        self.window.player.stop()

    def test_a_click_in_the_sound_margin_plays_from_there(self):
        self.sheet.caret.set((3, 0))
        area = self.sheet.row_geometry.text_area(3)
        self.click(self.sheet.viewport(), 120, area.center().y())
        cue = self.text.cues[3]
        self.assertTrue(self.window.player.is_playing)
        middle = (cue.start + cue.end) / 2
        self.assertAlmostEqual(self.window.player.position, middle, delta=500)
        self.window.player.stop()

    def test_a_video_shows_its_picture_and_the_caption(self):
        self.session.show(self.named("Water table lecture"))
        desk = self.window.proof.desk
        self.assertTrue(desk.picture.isVisible())
        self.window.player.play(6_000)
        self.wait(lambda: not desk.picture.image.isNull() and desk.picture.drawing is not None)
        self.window.player.stop()
        self.session.show(self.named("Warden interview"))
        self.assertFalse(desk.picture.isVisible())


class Doubts(ProofTest):
    def test_walking_through_them_and_keeping_one(self):
        doubts = self.session.survey(self.session.shown).doubts()
        self.assertGreater(len(doubts), 2)
        self.sheet.caret.set((0, 0))
        self.key(KEY.Key_J, CTRL)
        self.assertEqual((self.sheet.caret.place[0], self.sheet.cue_caret.word()), doubts[0])
        self.key(KEY.Key_K, ALT)
        self.assertEqual(self.session.survey(self.session.shown).doubts(), doubts[1:])
        self.assertEqual(Survey().follow(self.on_disk()).doubts(), doubts[1:])
        self.assertEqual((self.sheet.caret.place[0], self.sheet.cue_caret.word()), doubts[1])
        self.key(KEY.Key_J, CTRL, SHIFT)
        self.assertEqual((self.sheet.caret.place[0], self.sheet.cue_caret.word()), doubts[-1])
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.session.survey(self.session.shown).doubts(), doubts)

    def test_a_doubt_is_played_with_a_little_around_it(self):
        self.key(KEY.Key_J, CTRL)
        row, place = self.session.survey(self.session.shown).doubts()[0]
        word = self.text.cues[row].words[place]
        self.key(KEY.Key_H, ALT)
        self.assertTrue(self.window.player.is_playing)
        self.assertLess(self.window.player.position, word.start)
        self.wait(lambda: not self.window.player.is_playing)
        self.assertAlmostEqual(self.window.player.position, word.end + 700, delta=120)

    def test_the_likeliest_wrong_come_first_if_that_is_wished(self):
        def sure(place):
            return self.text.cues[place[0]].words[place[1]].confidence

        self.sheet.caret.set((0, 0))
        self.window.commands.run("doubts_order")
        been = []
        doubts = self.session.survey(self.session.shown).doubts()
        for _ in doubts:
            self.key(KEY.Key_J, CTRL)
            been.append((self.sheet.caret.place[0], self.sheet.cue_caret.word()))
        self.assertEqual(sorted(been), doubts)
        self.assertEqual([sure(place) for place in been], sorted(map(sure, doubts)))
        self.key(KEY.Key_J, CTRL, SHIFT)
        self.assertEqual((self.sheet.caret.place[0], self.sheet.cue_caret.word()), been[-2])
        self.window.commands.run("doubts_order")

    def test_one_doubt_after_the_other_is_played_until_one_is_settled(self):
        doubts = self.session.survey(self.session.shown).doubts()
        self.sheet.caret.set((0, 0))
        played = []

        def play(start, end):
            played.append((start, end))
            self.window.player.playing_changed.emit(False)

        at = mock.patch.object(Player, "position", new_callable=mock.PropertyMock)
        with mock.patch.object(self.window.player, "play", play), at as position:
            position.return_value = 10**9
            self.window.commands.run("listen_to_doubts")
            self.wait(lambda: len(played) >= 3)
            self.key(KEY.Key_K, ALT)
            count = len(played)
            QTest.qWait(900)
            self.assertEqual(len(played), count)
            position.return_value = 0  # as if somebody stopped at once
            self.window.commands.run("listen_to_doubts")
            QTest.qWait(900)
            self.assertEqual(len(played), count + 1)
        for (row, place), (start, end) in zip(doubts, played[:3], strict=False):
            word = self.text.cues[row].words[place]
            self.assertEqual((start, end), (max(word.start - 1000, 0), word.end + 1000))

    def test_how_many_words_may_be_wrong_is_told(self):
        said = self.window.proof.progress.sentence()
        survey = self.session.survey(self.session.shown)
        wrong, marked = survey.forecast()
        self.assertTrue(0 < marked <= wrong)
        self.assertIn(f"about {round(wrong)} wrong, ", said)
        self.sheet.caret.set((len(self.text.cues) - 1, 0))
        self.key(KEY.Key_Return, CTRL, SHIFT)
        self.assertNotIn("wrong", self.window.proof.progress.sentence())

    def test_the_desk_tells_of_the_word_at_the_caret(self):
        self.key(KEY.Key_J, CTRL)
        row, place = self.session.survey(self.session.shown).doubts()[0]
        desk = self.window.proof.desk
        self.window.proof.show_desk()
        self.assertEqual(desk.word.whole(), self.text.cues[row].words[place].text)
        self.assertTrue(desk.kind.text().startswith("UNCERTAIN 1 OF"))
        self.sheet.caret.set((0, 0))
        self.window.proof.show_desk()
        self.assertEqual(desk.kind.text(), "AT THE CARET")


class Speakers(ProofTest):
    def test_a_number_key_gives_the_turn_and_a_name_holds_for_all(self):
        row = next(i for i, c in enumerate(self.text.cues) if c.speaker == 2)
        self.sheet.caret.set((row, 0))
        self.key(KEY.Key_1, ALT)
        self.assertEqual(self.text.cues[row].speaker, 1)
        self.window.proof.speakers.give_name("Jo")
        names = {self.text.speaker(c.speaker).name for c in self.text.cues if c.speaker == 1}
        self.assertEqual(names, {"Jo"})
        self.key(KEY.Key_0, ALT)
        self.assertIsNone(self.text.cues[row].speaker)
        self.assertEqual(self.on_disk(), self.text)

    def test_naming_a_turn_that_nobody_had_makes_the_speaker(self):
        self.session.show(self.named("Water table lecture"))
        self.window.proof.speakers.give_name("Lecturer")
        self.assertEqual([s.name for s in self.text.speakers], ["Lecturer"])
        self.assertEqual(self.text.cues[0].speaker, self.text.speakers[0].id)

    def test_proofed_up_to_here(self):
        self.session.show(self.named("Water table lecture"))
        self.sheet.caret.set((4, 0))
        self.key(KEY.Key_Return, CTRL, SHIFT)
        self.assertEqual([c.settled for c in self.text.cues[:6]], [True] * 5 + [False])
        self.key(KEY.Key_Return, CTRL, SHIFT)
        self.assertEqual([c.settled for c in self.text.cues[:6]], [True] * 4 + [False] * 2)


class Shown(ProofTest):
    def test_place_text_size_and_step_are_there_after_a_restart(self):
        lecture = self.named("Water table lecture")
        self.session.show(lecture)
        self.key(KEY.Key_Equal, CTRL)
        size = self.window.proof.text_size
        self.window.show_step("export")
        self.reopen()
        self.assertEqual(self.session.shown, lecture)
        self.assertEqual(self.window.proof.text_size, size)
        self.assertEqual(self.window.step(), "export")

    def test_text_from_a_file_is_never_markup(self):
        self.sheet.caret.set((0, 0))
        self.sheet.editing.insert("<b>bold</b> ")
        self.assertTrue(self.text.cues[0].text.startswith("<b>bold</b>"))
        self.assertEqual(self.window.proof.desk.word.textFormat(), Qt.TextFormat.PlainText)

    def test_ten_thousand_cues_open_and_scroll_to_the_end(self):
        from dataclasses import replace

        from tests.support import cue

        cues = tuple(cue(n, "peat and water and moss " * 3, n * 5000) for n in range(1, 10_001))
        shown = self.session.shown
        self.session.texts.edit(shown, "long", replace(self.text, cues=cues))
        self.sheet.caret.set((9_999, 0))
        self.assertLessEqual(
            self.sheet.row_geometry.row_area(9_999).bottom(), self.sheet.viewport().height()
        )
        self.assertLess(self.sheet.row_geometry.laid_out, 700)
        place = self.sheet.row_geometry.place_at(
            QPointF(200, self.sheet.row_geometry.row_area(9_998).center().y())
        )
        self.assertEqual(place[0], 9_998)
