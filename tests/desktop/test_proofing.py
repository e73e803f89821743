"""Proofing by key: times, doubts, marks, ways of listening, find and replace."""

from dataclasses import replace
from unittest.mock import patch

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from tamarind.audio.media import probe
from tamarind.desktop.proof.marks import MARKS, filled, read_marks
from tamarind.desktop.proof.times_dialog import TimesDialog
from tamarind.desktop.widgets.changes_dialog import ChangesDialog, ProposedChange
from tests.desktop.test_proof import ALT, CTRL, KEY, SHIFT, ProofTest


class Times(ProofTest):
    def cue(self, row=10):
        return self.text.cues[row]

    def test_edges_are_nudged_and_set_to_the_playhead(self):
        self.sheet.caret.set((10, 0))
        before = self.cue()
        self.key(KEY.Key_Up, ALT | SHIFT)
        self.assertEqual(self.cue().end, before.end - 10)
        self.key(KEY.Key_Right, ALT | SHIFT)
        self.assertEqual(self.cue().start, before.start + 10)
        self.window.player.seek(before.start + 200)
        self.key(KEY.Key_F8)
        self.assertEqual(self.cue().start, before.start + 200)
        self.window.player.seek(before.end - 300)
        self.key(KEY.Key_F9)
        self.assertEqual(self.cue().end, before.end - 300)
        self.window.proof.show_desk()
        self.assertIn(f"{before.end - 300}"[-3:-1], self.window.proof.desk.times.text())
        self.assertEqual(self.on_disk().cues[10], self.cue())
        for _ in range(4):
            self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.cue(), before)

    def test_a_video_is_nudged_by_its_frames(self):
        key = self.named("Water table lecture")
        self.session.show(key)
        recording = self.session.recordings.get(key)
        rate = probe(recording.path).frame_rate
        self.session.recordings.change(
            replace(recording, info=replace(recording.info, frame_rate=rate))
        )
        self.sheet.caret.set((5, 0))
        before = self.text.cues[5]
        self.key(KEY.Key_Up, ALT | SHIFT)
        self.assertEqual(self.text.cues[5].end, before.end - round(1000 / rate))

    def test_nothing_is_changed_where_the_caret_is_not_seen(self):
        self.sheet.caret.set((10, 0))
        before = self.text
        for step in ("intake", "export"):
            self.window.show_step(step)
            self.key(KEY.Key_Up, ALT | SHIFT)
            self.key(KEY.Key_M, CTRL)
            self.key(KEY.Key_W, ALT)
        self.assertEqual(self.text, before)

    def test_a_neighbour_in_the_way_is_told(self):
        told = []
        self.session.told.connect(told.append)
        self.sheet.caret.set((10, 0))
        before = self.text
        self.window.player.seek(before.cues[12].start)
        self.key(KEY.Key_F9)
        self.key(KEY.Key_F9)
        self.assertLessEqual(self.cue().end, self.cue(11).start)
        self.assertIn("in the way", told[-1])

    def test_a_word_goes_to_the_neighbour_and_back(self):
        self.sheet.caret.set((10, 0))
        word = self.cue().words[-1].text
        self.key(KEY.Key_W, ALT)
        self.assertEqual(self.cue(11).words[0].text, word)
        self.sheet.caret.set((11, 0))
        self.key(KEY.Key_Q, ALT)
        self.assertEqual(self.cue().words[-1].text, word)

    def test_exact_times_and_gaps(self):
        text = self.text
        dialog = TimesDialog(text, 4, 7, self.window)
        dialog.end.setText("00:00:05")
        dialog.accept()
        self.assertIn("after the start", dialog.problem.text())
        dialog.end.setText("1:00:00")
        dialog.accept()
        self.assertIn("next cue has begun", dialog.problem.text())
        end = text.cues[6].end - 100
        dialog.end.setText(f"{end // 1000}.{end % 1000:03}")
        dialog.accept()
        self.assertEqual(dialog.result_text().cues[6].end, end)
        changes = ChangesDialog(
            "Close gaps", [ProposedChange(3, "a", "b", "x"), ProposedChange(5, "c", "d", "y")]
        )
        changes.rows.topLevelItem(0).setCheckState(0, Qt.CheckState.Unchecked)
        self.assertEqual((changes.chosen(), changes.take.text()), ([5], "Make 1 change"))

    def test_an_empty_cue_in_a_gap_is_typed_into(self):
        last = self.text.cues[-1]
        self.window.player.seek(last.end + 300)
        self.key(KEY.Key_I, CTRL)
        self.type("Afterwards.")
        self.assertEqual(self.text.cues[-1].text, "Afterwards.")
        self.assertEqual(self.text.cues[-1].start, last.end + 300)


class DoubtsByNumber(ProofTest):
    def setUp(self):
        super().setUp()
        self.session.show(self.named("Water table lecture"))
        self.sheet.setFocus()
        self.sheet.caret.set((0, 0))

    def doubts(self):
        return self.session.survey(self.session.shown).doubts()

    def test_a_number_takes_a_reading_and_nought_keeps_the_word(self):
        doubts = self.doubts()
        (row, place) = next(
            (r, p) for r, p in doubts if len(self.text.cues[r].words[p].alternatives) > 1
        )
        self.window.proof.doubts.go_to(row, place)
        wanted = self.text.cues[row].words[place].alternatives[1]
        self.key(KEY.Key_2)
        self.assertEqual(self.text.cues[row].words[place].text, wanted.split()[0])
        self.assertEqual(len(self.doubts()), len(doubts) - 1)
        kept = self.text
        self.key(KEY.Key_0)
        self.assertEqual(len(self.doubts()), len(doubts) - 2)
        self.assertEqual([c.text for c in self.text.cues], [c.text for c in kept.cues])

    def test_any_other_key_goes_back_to_typing(self):
        self.key(KEY.Key_J, CTRL)
        self.key(KEY.Key_Right)
        before = self.text
        self.key(KEY.Key_1)
        row = self.sheet.caret.place[0]
        self.assertIn("1", self.text.cues[row].text)
        self.assertNotEqual(before, self.text)

    def test_all_of_one_spelling_are_kept_at_once(self):
        text = self.text
        row, place = self.doubts()[0]
        word = text.cues[row].words[place]
        self.session.texts.edit(self.session.shown, "the same", type(text)(
            text.language,
            tuple(
                type(cue)(**{**{n: getattr(cue, n) for n in cue.__slots__}, "words": (word,)})
                for cue in text.cues[:3]
            ),
            text.speakers,
        ))  # fmt: skip
        self.sheet.caret.set((0, 0))
        self.assertEqual(len(self.doubts()), 3)
        self.key(KEY.Key_K, ALT | SHIFT)
        self.assertEqual(self.doubts(), [])


class Marks(ProofTest):
    def test_a_mark_has_the_time_and_stands_apart(self):
        self.assertEqual(filled(MARKS[0], 723_000), "[inaudible 00:12:03]")
        self.assertEqual(read_marks("cough\n[door {time}]\n\n"), ("cough", "door {time}"))
        self.assertEqual(read_marks(" \n"), MARKS)
        self.sheet.caret.set((3, 4))
        self.window.proof.marking.insert_mark("[laughter]")
        self.assertIn("Dry. [laughter] You", self.text.cues[3].text)


class Listening(ProofTest):
    def setUp(self):
        super().setUp()
        self.player = self.window.player
        self.listening = self.window.proof.listening

    def stops_at(self, time: int) -> None:
        """What is being played ends there."""
        self.player.seek(time - 300)
        self.assertTrue(self.player.is_playing)
        self.wait(lambda: not self.player.is_playing)
        self.assertAlmostEqual(self.player.position, time, delta=60)

    def test_a_cue_again_and_over_and_over(self):
        self.sheet.caret.set((4, 0))
        cue = self.text.cues[4]
        self.key(KEY.Key_F6)
        self.assertAlmostEqual(self.player.position, cue.start, delta=300)
        self.stops_at(cue.end)
        self.key(KEY.Key_F7)
        self.player.seek(cue.end + 5)
        self.wait(lambda: self.player.position < cue.end and self.player.is_playing)
        self.key(KEY.Key_F7)
        self.player.seek(cue.end + 5)
        self.assertFalse(self.player.is_playing)

    def test_it_stops_at_every_cue_and_steps_back(self):
        self.key(KEY.Key_E, ALT)
        self.sheet.caret.set((4, 0))
        self.key(KEY.Key_Space, CTRL)
        self.stops_at(self.text.cues[4].end)
        self.key(KEY.Key_Space, CTRL)
        self.listening.set_step_back(1000)
        self.player.seek(20_000)
        self.key(KEY.Key_Space, CTRL)
        self.assertAlmostEqual(self.player.position, 19_000, delta=400)
        self.reopen()
        self.assertEqual(self.window.proof.listening.step_back, 1000)

    def test_going_to_a_time(self):
        word = self.text.cues[6].words[2]
        self.window.proof.listening.go_to_time(word.start + 5)
        self.assertEqual((self.sheet.caret.place[0], self.sheet.cue_caret.word()), (6, 2))
        self.assertEqual(self.player.position, word.start + 5)


class Finding(ProofTest):
    def setUp(self):
        super().setUp()
        self.bar = self.window.proof.find_bar
        self.key(KEY.Key_F, CTRL)
        self.bar.wanted.setFocus()

    def test_places_are_gone_through_in_the_whole_job(self):
        self.assertTrue(self.bar.isVisible())
        self.bar.wanted.setText("water")
        self.bar.scope.setCurrentIndex(1)
        count = self.bar.list.count()
        self.assertTrue(self.bar.marks())
        seen = set()
        for _ in range(count):
            self.key(KEY.Key_F3)
            self.assertEqual(self.sheet.caret.selected_text().casefold(), "water")
            seen.add((self.session.shown, self.sheet.caret.selection()[0]))
        self.assertEqual(len(seen), count)
        self.assertGreater(len({recording_id for recording_id, _ in seen}), 1)
        self.bar.wanted.setFocus()
        self.key(KEY.Key_Escape)
        self.assertFalse(self.bar.isVisible())
        self.assertIs(QApplication.focusWidget(), self.sheet)

    def test_replacing_keeps_times_and_is_undone_at_once(self):
        before = self.text
        self.bar.wanted.setText("the")
        self.bar.whole.setChecked(True)
        count = self.bar.list.count()
        self.bar.replacement.setText("that")
        self.bar.replace_all()
        self.assertIn(f"{count} replaced", self.bar.count.text())
        row = next(n for n, c in enumerate(before.cues) if " the " in c.text)
        self.assertIn(" that ", self.text.cues[row].text)
        self.assertEqual(
            [word.start for word in self.text.cues[row].words],
            [word.start for word in before.cues[row].words],
        )
        self.session.texts.undo()
        self.assertEqual(self.text, before)

    def test_in_a_long_text_nobody_waits_and_a_key_counts_once_places_are_known(self):
        with patch("tamarind.desktop.finding.find_bar.AT_ONCE", 0):
            self.bar.wanted.setText("walk")
            self.assertEqual(self.bar.count.text(), "looking…")
            self.key(KEY.Key_Return)
            self.wait(lambda: self.sheet.caret.selected_text() == "walk", 10)
            self.bar.replacement.setText("wade")
            self.bar.replace_one()
            self.wait(lambda: self.bar.count.text() not in ("", "looking…"), 10)
            self.assertIn("wade", " ".join(cue.text for cue in self.text.cues))
            before = self.text
            self.bar.wanted.setText("the")
            self.bar.whole.setChecked(True)
            self.bar.replacement.setText("that")
            self.bar.replace_all()
            self.wait(lambda: " replaced" in self.bar.count.text(), 10)
            self.session.texts.undo()
            self.assertEqual(self.text, before)

    def test_one_place_at_a_time_and_a_bad_pattern(self):
        self.bar.wanted.setText("walk")
        self.bar.step(1)
        self.bar.replacement.setText("wade")
        self.bar.replace_one()
        self.assertEqual(sum("wade" in c.text for c in self.text.cues), 1)
        self.bar.pattern.setChecked(True)
        self.bar.wanted.setText("(")
        self.wait(lambda: "makes no sense" in self.bar.count.text(), 20)
