import itertools
import os
import shutil
import signal
import subprocess
import sys
import textwrap
import time
from dataclasses import replace
from pathlib import Path
from unittest import mock

import numpy as np
from PySide6.QtCore import QEvent, QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent, QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from tamarind.audio import soundcache
from tamarind.desktop.intake import hearing_fields
from tamarind.desktop.intake.card import CARD_MIME, make_up
from tamarind.desktop.intake.folder_dialog import FolderDialog
from tamarind.desktop.intake.glossary_dialog import GlossaryDialog
from tamarind.desktop.intake.speech_dialog import SpeechDialog
from tamarind.desktop.intake.terms_dialog import TermsDialog
from tamarind.desktop.widgets.parts import ElidedLabel
from tamarind.desktop.words import differences, stage_of
from tamarind.job.bringing import found
from tamarind.job.recording import State
from tamarind.job.store import JobStore
from tamarind.speech.glossary import read_glossary
from tamarind.speech.hearingoptions import Care, Voices
from tests.desktop.support import WindowTest
from tests.support import DEMO, FolderTest, database, human_recording, tone, write_wav

SRT = "1\n00:00:01,000 --> 00:00:02,000\nEver tried.\n"


class IntakeTest(WindowTest):
    demo = False
    warm = True

    def drop(self, *paths):
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
        event = QDropEvent(
            QPointF(300, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )  # fmt: skip
        self.window.dropEvent(event)
        QApplication.processEvents()

    def choose(self, key, adding=False):
        how = Qt.KeyboardModifier.ControlModifier if adding else Qt.KeyboardModifier.NoModifier
        self.window.intake.choose(key, how)

    def states(self):
        return {r.path.name: r.state for r in self.session.recordings.all()}

    def problems(self):
        return [recording.problem for recording in self.session.recordings.all()]

    def settled(self):
        pending = (State.ARRIVED, State.QUEUED)
        return all(state not in pending for state in self.states().values())


class Heard(IntakeTest):
    hears = True

    def test_dropped_files_good_and_bad_are_heard_without_a_person(self):
        empty = self.folder / "empty.wav"
        empty.touch()
        notes = self.folder / "notes.mp3"
        notes.write_text("not a sound")
        half = self.folder / "half.mp4"
        data = (DEMO / "media" / "Water table lecture.mp4").read_bytes()
        half.write_bytes(data[: len(data) // 2])
        self.drop(notes, human_recording("beckett.wav"), half, empty,
                  human_recording("endgame_nagg_nell.wav"))  # fmt: skip
        self.wait(self.settled)
        self.window.intake.transcribe()
        self.wait(self.settled)
        self.assertEqual(
            self.states(),
            {
                "notes.mp3": State.FAILED, "beckett.wav": State.DRAFT, "half.mp4": State.FAILED,
                "empty.wav": State.FAILED, "endgame_nagg_nell.wav": State.DRAFT,
            },
        )  # fmt: skip
        for recording in self.session.recordings.all():
            stage = stage_of(self.session, recording)
            if recording.state is State.FAILED:
                self.assertEqual(stage.text, "Cannot be transcribed")
                self.assertTrue(stage.detail.endswith("."))
            else:
                self.assertEqual(stage.text, "Draft ready")
        text = " ".join(c.text for c in self.session.texts.transcript(self.named("beckett")).cues)
        self.assertIn("Fail again. Fail better.", text)


class Batch(IntakeTest):
    def test_the_same_file_twice_and_a_folder(self):
        (self.folder / "in").mkdir()
        for name in ("a.wav", "b.wav"):
            shutil.copy(human_recording("beckett.wav"), self.folder / "in" / name)
        self.drop(self.folder / "in" / "a.wav")
        self.drop(self.folder / "in", self.folder / "in" / "a.wav")
        self.assertEqual(list(self.states()), ["a.wav", "b.wav"])
        self.assertEqual(self.window.intake.note.text(), "1 added, 2 already here")

    def test_a_part_is_heard_and_shown(self):
        self.drop(human_recording("two_cities.wav"))
        self.wait(self.settled)
        key = self.named("two_cities")
        self.choose(key)
        panel = self.window.intake.panel
        panel.start.setText("21")
        panel.end.setText("0:29")
        panel.take_part()
        self.assertEqual(self.session.recordings.get(key).part, (21_000, 29_000))
        self.window.intake.transcribe()
        self.wait(self.settled)
        cues = self.session.texts.transcript(key).cues
        self.assertGreaterEqual(cues[0].start, 20_900)
        self.assertLessEqual(cues[-1].words[-1].end, 29_100)

    def test_how_to_hear_is_set_for_all_chosen_kept_and_used(self):
        stereo = np.stack([tone(3), 0 * tone(3)], 1)
        self.drop(human_recording("beckett.wav"), write_wav(self.folder / "sides.wav", stereo))
        self.wait(self.settled)
        panel = self.window.intake.panel
        one, two = self.named("beckett"), self.named("sides")
        self.choose(one)
        self.assertFalse(panel.box(hearing_fields.SIDES).isEnabled())
        panel.box(hearing_fields.CARE).setCurrentText("Thorough")
        panel.box(hearing_fields.CARE).activated.emit(1)
        self.choose(two, adding=True)
        self.assertEqual(panel.box(hearing_fields.CARE).currentText(), "")
        self.assertTrue(panel.box(hearing_fields.SIDES).isEnabled())
        panel.box(hearing_fields.SPEAKERS).setCurrentText("2")
        panel.box(hearing_fields.SPEAKERS).activated.emit(2)
        panel.clean.click()
        for key, care in ((one, Care.THOROUGH), (two, Care.QUICK)):
            how = self.session.recordings.get(key).how
            self.assertEqual(
                (how.care, how.voices, how.source.clean), (care, Voices(True, 2), True)
            )
            self.assertEqual(self.session.store.recordings()[key - 1].how, how)

    def test_a_glossary_is_written_once_for_the_job(self):
        dialog = GlossaryDialog(read_glossary("peat"))
        (self.folder / "more.txt").write_text("coir = koyer\n")
        dialog.add_from(self.folder / "more.txt")
        dialog.text.appendPlainText("= nothing")
        dialog.accept()
        self.assertIn("Line 3", dialog.problem.text())
        dialog.text.setPlainText("peat\ncoir = koyer")
        dialog.accept()
        self.assertEqual(dialog.result(), dialog.DialogCode.Accepted)
        self.session.set_glossary(read_glossary(dialog.text.toPlainText()))
        self.assertEqual(len(self.session.glossary().terms), 2)
        self.window.intake.panel.show_choice([])
        self.assertEqual(self.window.intake.panel.glossary.text(), "2 terms…")

    def test_names_of_a_document_dropped_on_it_are_proposed_and_taken(self):
        paper = self.folder / "agenda.csv"
        paper.write_text("Present,Ishbel Penhallow\nApologies,Tom Garrick\n")
        with mock.patch.object(TermsDialog, "exec", return_value=True):
            self.drop(paper)
        terms = [term.text for term in self.session.glossary().terms]
        self.assertEqual(sorted(terms), ["Ishbel Penhallow", "Tom Garrick"])
        self.assertIn("2 terms", self.window.intake.note.text())
        self.assertEqual(len(self.session.recordings.all()), 0)
        troubles = []
        self.session.trouble.connect(troubles.append)
        with mock.patch.object(TermsDialog, "exec", side_effect=AssertionError):
            self.drop(paper)
        self.assertIn("names or rare words that are new", troubles[0])

    def test_names_of_the_recordings_are_one_click_away(self):
        dialog = GlossaryDialog(read_glossary("peat"), "en", ["2026-03_Penhallow interview"])
        self.assertIn("Penhallow", dialog.from_names.text())
        dialog.from_names.click()
        self.assertEqual([t.text for t in dialog.glossary().terms], ["peat", "Penhallow"])

    def test_a_part_that_makes_no_sense_is_told(self):
        self.drop(human_recording("beckett.wav"))
        self.wait(self.settled)
        key = self.named("beckett")
        self.choose(key)
        panel = self.window.intake.panel
        for start, end, words in (("x", "", "not a time"), ("8", "2", "before it starts"),
                                  ("50", "", "shorter")):  # fmt: skip
            panel.start.setText(start)
            panel.end.setText(end)
            panel.take_part()
            self.assertIn(words, panel.part_note.text())
            self.assertEqual(self.session.recordings.get(key).part, (0, None))

    def test_cancel_keeps_what_was_heard_and_transcribe_goes_on_from_there(self):
        once = soundcache.fetch(human_recording("two_cities.wav")).samples()
        path = write_wav(self.folder / "long.wav", np.tile(once, 3))
        self.drop(path)
        self.wait(self.settled)
        key = self.named("long")
        self.session.queue.transcribe([key])
        self.wait(lambda: self.session.texts.transcript(key).cues)
        self.session.queue.cancel(key)
        recording = self.session.recordings.get(key)
        self.assertIs(recording.state, State.STOPPED)
        kept = self.session.texts.transcript(key).cues
        self.assertLess(recording.heard_until, recording.duration)
        self.session.queue.transcribe([key])
        self.wait(self.settled)
        cues = self.session.texts.transcript(key).cues
        self.assertEqual(cues[: len(kept)], kept)
        self.assertEqual(len({cue.id for cue in cues}), len(cues))
        self.assertIs(self.session.recordings.get(key).state, State.DRAFT)
        for before, after in itertools.pairwise(cues):
            self.assertLessEqual(before.start, after.start)

    def test_editing_while_the_rest_is_being_heard_loses_neither(self):
        once = soundcache.fetch(human_recording("two_cities.wav")).samples()
        self.drop(write_wav(self.folder / "long.wav", np.tile(once, 3)))
        self.wait(self.settled)
        key = self.named("long")
        self.session.queue.transcribe([key])
        self.wait(lambda: self.session.texts.transcript(key).cues)
        self.window.show_step("proof")
        self.sheet.setFocus()
        self.sheet.caret.set((0, 0))
        self.type("Well, ")
        self.wait(self.settled)
        cues = self.session.texts.transcript(key).cues
        self.assertTrue(cues[0].text.startswith("Well, The water"))
        self.assertIs(self.session.recordings.get(key).state, State.DRAFT)
        if self.session.texts.undo_labels()[0] == "paragraphs and names":
            self.session.texts.undo()
        self.session.texts.undo()
        undone = self.session.texts.transcript(key).cues
        self.assertEqual(len(undone), len(cues))
        self.assertTrue(undone[0].text.startswith("The water"))

    def test_a_file_that_comes_back_can_be_tried_again(self):
        path = self.folder / "late.wav"
        path.touch()
        self.drop(path)
        self.wait(self.settled)
        self.assertIs(self.states()["late.wav"], State.FAILED)
        shutil.copy(human_recording("beckett.wav"), path)
        card = self.window.intake.cards[self.named("late")]
        card.refresh()
        self.assertEqual(card.act.text(), "Try again")
        card.act.click()
        self.wait(self.settled)
        self.assertIs(self.states()["late.wav"], State.READY)


class BringingIn(IntakeTest):
    def heap(self):
        folder = self.folder / "heap"
        (folder / "more").mkdir(parents=True)
        shutil.copy(human_recording("beckett.wav"), folder / "one.wav")
        shutil.copy(human_recording("beckett.wav"), folder / "more" / "two.wav")
        (folder / "more" / "two.de.srt").write_text(SRT)
        for name in ("notes.docx", "photo.jpg", "more/.hidden.wav"):
            (folder / name).write_text("x")
        return folder

    def test_a_folder_brings_its_recordings_and_offers_its_captions(self):
        self.drop(self.heap())
        self.assertEqual(list(self.states()), ["one.wav", "two.wav"])
        self.assertIn("2 not added", self.window.intake.note.text())
        (offer,) = self.window.intake.offers.findChildren(ElidedLabel)
        self.assertEqual(offer.whole(), "two.de.srt looks like the text of two.wav")

    def test_a_folder_is_shown_before_it_comes(self):
        folder = self.heap()
        dialog = FolderDialog(folder, found([folder]))
        names = [path.name for path in dialog.chosen()]
        self.assertEqual(names, ["one.wav", "two.wav", "two.de.srt"])
        self.assertIn("1 .docx, 1 .jpg", dialog.skipped.text())
        dialog.list.item(0).setCheckState(Qt.CheckState.Unchecked)
        self.assertEqual(dialog.bring.text(), "Add 2")

    def test_paths_are_pasted(self):
        folder = self.heap()
        QApplication.clipboard().setText(f"{folder / 'one.wav'}\nfile://{folder}/more/two.wav\n")
        self.window.intake.cards.clear()
        self.window.intake.setFocus()
        self.key(Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(sorted(self.states()), ["one.wav", "two.wav"])
        QApplication.clipboard().setText("no path at all")
        self.window.intake.paste()
        self.assertIn("no files that exist", self.window.intake.note.text())

    def test_what_a_recording_is_stands_on_its_card(self):
        quiet = write_wav(self.folder / "quiet.wav", 0.002 * np.stack([tone(5), tone(5)], 1))
        loud = write_wav(self.folder / "loud.wav", np.clip(9 * tone(5), -1, 1))
        shutil.copy(loud, self.folder / "again.wav")
        self.drop(quiet, loud, self.folder / "again.wav")
        self.wait(self.settled)

        def made_up(name):
            return make_up(self.session.recordings.get(self.named(name)), self.session)

        # What tells a file from others is known a little later than what it is.
        self.wait(lambda: "the same as" in made_up("again"))
        said = {name: made_up(name) for name in ("quiet", "loud", "again")}
        self.assertEqual(said["quiet"], "00:05 · WAV · stereo · very quiet")
        self.assertIn("too loud, peaks cut off", said["loud"])
        self.assertIn("the same as loud.wav", said["again"])

    def test_new_recordings_are_heard_as_was_said_and_others_say_how_they_differ(self):
        panel = self.window.intake.panel
        panel.box(hearing_fields.CARE).setCurrentText("Thorough")
        panel.box(hearing_fields.CARE).activated.emit(1)
        panel.house_style.setCurrentText("Teletext width")
        panel.house_style.activated.emit(1)
        self.drop(human_recording("beckett.wav"), human_recording("two_cities.wav"))
        self.wait(self.settled)
        one, two = self.session.recordings.all()
        self.assertEqual((one.how.care, one.style), (Care.THOROUGH, "teletext"))
        self.assertEqual(differences(one, *self.session.usual()), [])
        self.choose(two.id)
        panel.box(hearing_fields.CARE).setCurrentText("Fast")
        panel.box(hearing_fields.CARE).activated.emit(0)
        two = self.session.recordings.get(two.id)
        self.assertEqual(differences(two, *self.session.usual()), ["fast"])
        self.reopen()
        self.assertEqual(self.session.usual()[1], "teletext")
        panel = self.window.intake.panel
        self.choose(two.id)
        self.assertTrue(panel.make_default.isVisibleTo(panel))
        panel.make_default.click()
        self.assertEqual(self.session.usual()[0].care, Care.QUICK)


class Line(IntakeTest):
    def setUp(self):
        super().setUp()
        names = ("two_cities.wav", "endgame_nagg_nell.wav", "beckett.wav")
        self.drop(*map(human_recording, names))
        self.wait(self.settled)
        self.keys = [recording.id for recording in self.session.recordings.all()]
        self.queue = self.session.queue

    def waiting(self):
        places = {key: self.queue.place_in_queue(key) for key in self.keys}
        return sorted((key for key in self.keys if places[key]), key=places.get)

    def test_cards_are_dragged_into_another_order_and_the_line_follows(self):
        one, two, three = self.keys
        self.queue.pause()
        self.queue.transcribe(self.keys)
        self.queue.pause()
        data = QMimeData()
        data.setData(CARD_MIME, str(three).encode())
        event = QDropEvent(
            QPointF(200, 5), Qt.DropAction.MoveAction, data, Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )  # fmt: skip
        self.window.intake.column.dropEvent(event)
        self.assertEqual([r.id for r in self.session.recordings.all()], [three, one, two])
        self.assertEqual(self.waiting(), [three, one, two])
        card = self.window.intake.cards[three]
        card.setFocus()
        self.key(Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.waiting(), [one, three, two])
        self.reopen()
        self.assertEqual([r.id for r in self.session.recordings.all()], [one, three, two])

    def test_the_line_outlives_the_program_paused_or_not(self):
        line = self.queue
        line.transcribe(self.keys)
        line.pause()
        self.assertEqual(stage_of(self.session, self.session.recordings.get(self.keys[0])).detail,
                         "the batch is paused")  # fmt: skip
        self.reopen()
        self.assertTrue(self.session.queue.paused)
        self.assertEqual(set(self.states().values()), {State.QUEUED}, self.problems())
        self.window.intake.panel.batch.pause.click()
        self.wait(self.settled)
        self.assertEqual(set(self.states().values()), {State.DRAFT}, self.problems())
        ((title, text),) = self.window.batch_end.notices.shown
        self.assertIn("3 drafts are ready", title)
        self.assertIn("to proof", text)
        self.assertFalse(self.window.batch_end.awake.held)

    def test_cancelling_all_leaves_what_was_heard_and_the_rest_ready(self):
        self.queue.transcribe(self.keys)
        self.wait(lambda: self.session.texts.transcript(self.keys[0]).cues)
        self.window.intake.panel.batch.cancel.click()
        self.assertEqual(self.queue.totals().side_by_side, 0)
        states = list(self.states().values())
        self.assertNotIn(State.QUEUED, states)
        self.assertEqual(states[2], State.READY)

    def test_added_while_running_it_comes_last_and_a_vanished_file_says_so(self):
        gone = self.folder / "gone.wav"
        shutil.copy(human_recording("beckett.wav"), gone)
        self.drop(gone)
        self.wait(self.settled)
        self.queue.transcribe(self.keys[:2])
        key = self.named("gone")
        self.queue.transcribe([key])
        self.assertEqual(self.waiting()[-1:], self.keys[1:2])
        gone.unlink()
        self.wait(self.settled)
        recording = self.session.recordings.get(key)
        self.assertIs(recording.state, State.FAILED)
        self.assertEqual(
            recording.problem, "The file is no longer there: put it back, then try again."
        )
        self.assertEqual(self.queue.totals().failed, 1)
        shutil.copy(human_recording("beckett.wav"), gone)
        self.window.intake.cards[key].refresh()
        self.window.intake.cards[key].act.click()
        self.wait(lambda: self.session.recordings.get(key).state is State.DRAFT)


class TheSoundOnACard(IntakeTest):
    def setUp(self):
        super().setUp()
        self.drop(human_recording("two_cities.wav"))
        self.wait(self.settled)
        self.recording = self.named("two_cities")
        self.sound = self.window.intake.cards[self.recording].sound

    def at(self, share):
        return QPoint(round(self.sound.width() * share), 20)

    def drag(self, first, last):
        QTest.mousePress(self.sound, Qt.MouseButton.LeftButton, pos=self.at(first))
        for share in (first + (last - first) / 2, last):
            point = QPointF(self.at(share))
            QApplication.sendEvent(self.sound, QMouseEvent(
                QEvent.Type.MouseMove, point, self.sound.mapToGlobal(point),
                Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier,
            ))  # fmt: skip
        QTest.mouseRelease(self.sound, Qt.MouseButton.LeftButton, pos=self.at(last))

    def part(self):
        recording = self.session.recordings.get(self.recording)
        return tuple(
            None if time is None else round(time / recording.duration, 1) for time in recording.part
        )

    def test_a_click_listens_from_there(self):
        QTest.mouseClick(self.sound, Qt.MouseButton.LeftButton, pos=self.at(0.5))
        duration = self.session.recordings.get(self.recording).duration
        # The player may still be loading what has only just become known.
        self.wait(lambda: self.window.player.is_playing, 5)
        self.assertAlmostEqual(self.window.player.position, duration / 2, delta=800)
        QTest.qWait(400)
        self.assertAlmostEqual(self.window.player.position, duration / 2 + 400, delta=800)
        self.window.player.stop()
        self.assertEqual(self.part(), (0, None))

    def test_a_part_is_dragged_out_changed_at_an_end_and_given_up(self):
        self.drag(0.2, 0.6)
        self.assertEqual(self.part(), (0.2, 0.6))
        self.assertFalse(self.window.player.is_playing)
        self.drag(0.6, 0.8)
        self.assertEqual(self.part(), (0.2, 0.8))
        panel = self.window.intake.panel
        self.choose(self.recording)
        self.assertRegex(panel.start.text(), r"^00:0[89]")
        QTest.mouseDClick(self.sound, Qt.MouseButton.LeftButton, pos=self.at(0.5))
        self.assertEqual(self.part(), (0, None))
        self.window.player.stop()


class ByHand(IntakeTest):
    def test_empty_cues_where_somebody_speaks(self):
        self.drop(human_recording("two_cities.wav"))
        self.wait(self.settled)
        key = self.named("two_cities")
        dialog = SpeechDialog(self.session, key, 20_000, self.window)
        self.wait(lambda: dialog.make.isEnabled())
        all_of_it = len(dialog.spans)
        self.assertTrue(all(end - start <= 6_100 for start, end in dialog.spans))
        dialog.longest.setValue(3)
        self.assertGreater(len(dialog.spans), all_of_it)
        dialog.sensitivity.setValue(dialog.sensitivity.minimum())
        clear = sum(end - start for start, end in dialog.spans)
        dialog.sensitivity.setValue(dialog.sensitivity.maximum())
        self.assertGreater(sum(end - start for start, end in dialog.spans), clear)
        dialog.from_playhead.setChecked(True)
        self.assertTrue(all(start >= 19_900 for start, _ in dialog.spans))
        dialog.look()
        cues = self.session.texts.transcript(key).cues
        self.assertEqual([(cue.start, cue.end) for cue in cues], dialog.spans)
        self.assertIs(self.session.recordings.get(key).state, State.DRAFT)
        more = SpeechDialog(self.session, key, 0, self.window)
        more.keeping.setChecked(True)
        self.wait(lambda: more.make.isEnabled())
        more.show()
        more.look()
        self.assertEqual(self.session.texts.transcript(key).cues[-1], cues[-1])
        self.assertGreater(len(self.session.texts.transcript(key).cues), len(cues))
        self.session.texts.undo()
        self.assertEqual(self.session.texts.transcript(key).cues, cues)


class Captions(IntakeTest):
    def press(self, text):
        buttons = self.window.intake.offers.findChildren(QPushButton)
        next(b for b in buttons if b.text() == text and b.isVisible()).click()
        QApplication.processEvents()

    def test_a_dropped_caption_file_becomes_the_text_of_its_recording(self):
        shutil.copy(human_recording("beckett.wav"), self.folder / "memo.wav")
        self.drop(self.folder / "memo.wav")
        self.wait(self.settled)
        captions = self.folder / "memo.en.vtt"
        captions.write_text("WEBVTT\n\n00:01.000 --> 00:02.000\n<v Pat>Ever tried.\n")
        self.drop(captions)
        key = self.named("memo")
        self.assertEqual(self.session.texts.transcript(key).cues, ())
        self.press("Import")
        self.assertEqual(self.session.texts.transcript(key).cues[0].text, "Ever tried.")
        self.assertEqual(self.session.texts.transcript(key).speakers[0].name, "Pat")
        self.assertIs(self.session.recordings.get(key).state, State.DRAFT)
        self.session.texts.undo()
        self.assertEqual(self.session.texts.transcript(key).cues, ())
        self.assertTrue(self.session.queue.can_hear(self.session.recordings.get(key)))

    def test_a_bad_caption_file_is_told_and_changes_nothing(self):
        shutil.copy(human_recording("beckett.wav"), self.folder / "memo.wav")
        self.drop(self.folder / "memo.wav")
        told = []
        self.session.trouble.connect(told.append)
        bad = self.folder / "memo.srt"
        bad.write_text("nothing")
        self.drop(bad)
        self.press("Import")
        self.assertEqual(len(told), 1)
        self.assertIn("no SRT cue", told[0])
        self.assertEqual(self.session.texts.transcript(self.named("memo")).cues, ())


class Demo(WindowTest):
    def test_there_is_one_recording_at_every_stage(self):
        stages = {r.name: stage_of(self.session, r) for r in self.session.recordings.all()}
        self.assertEqual(stages["Volunteers round table"].text, "Not transcribed yet")
        self.assertEqual(stages["Water table lecture"].text, "Draft ready")
        self.assertTrue(0.2 < stages["Warden interview"].proofed < 0.8)
        self.assertEqual(stages["Site memo, north drain"].text, "Proofed")
        self.assertTrue(self.session.texts.document(self.named("Site memo, north drain")).tracks)

    def test_a_recording_that_went_away_keeps_its_text(self):
        key = self.named("Water table lecture")
        path = self.session.recordings.get(key).path
        self.window.close()
        path.unlink()
        shutil.rmtree(self.folder / "XDG_CACHE_HOME")
        self.open()
        self.wait(lambda: self.session.recordings.get(key).problem)
        self.assertIn("no longer there", self.session.recordings.get(key).problem)
        self.assertTrue(self.session.texts.transcript(key).cues)
        self.assertIs(self.session.recordings.get(key).state, State.DRAFT)

    def test_taking_a_recording_out(self):
        key = self.named("Water table lecture")
        self.session.remove(key)
        self.assertNotIn(key, self.window.intake.cards)
        self.reopen()
        self.assertNotIn("Water table lecture", [r.name for r in self.session.recordings.all()])

    def test_a_full_disk_is_told_and_what_could_not_be_saved_is_saved_later(self):
        told = []
        self.session.trouble.connect(told.append)
        database(self.session.store).execute("PRAGMA max_page_count = 1")
        self.window.show_step("proof")
        self.sheet.caret.set((0, 0))
        self.sheet.editing.insert("word " * 4000)
        self.assertTrue(any("disk is full" in text for text in told), told)
        self.assertTrue(self.sheet.rows.text(0).startswith("word word"))
        database(self.session.store).execute("PRAGMA max_page_count = 100000")
        self.sheet.caret.set((5, 0))
        self.sheet.editing.insert("Later ")
        self.reopen()
        self.assertTrue(self.sheet.rows.text(0).startswith("word word"))
        self.assertTrue(self.sheet.rows.text(5).startswith("Later "))


class Killed(FolderTest):
    """The whole program, killed with -9, then opened again."""

    PROGRAM = textwrap.dedent(
        """
        import sys
        from dataclasses import replace
        from pathlib import Path
        from PySide6.QtCore import QTimer
        from tamarind.job.settings import Usual
        from tamarind.speech.recognisers.known.pretended import PRETENDED
        from tamarind.desktop.app import make_application
        from tamarind.desktop.qtloop import open_session
        from tamarind.desktop.window import make_window
        from tamarind.job.store import JobStore

        if __name__ == "__main__":
            app = make_application()
            window = make_window(open_session(JobStore(Path(sys.argv[1]))))
            window.show()
            session = window.session
            usual = session.usual()
            session.set_usual(Usual(replace(usual.how, recogniser=PRETENDED), usual.style))
            window.intake.add([Path(sys.argv[2])])
            key = session.recordings.all()[0].id
            state = {"shown": 0, "asked": False}

            def look():
                recording = session.recordings.get(key)
                if session.queue.can_hear(recording) and not state["asked"]:
                    state["asked"] = True
                    session.queue.transcribe([key])
                sheet = window.proof.sheet
                if sheet.rows.row_count() and sheet.rows.row_count() != state["shown"]:
                    state["shown"] = sheet.rows.row_count()
                    sheet.caret.set((0, 0))
                    sheet.editing.insert("typed ")
                    print(sheet.rows.row_count(), sheet.rows.text(0).count("typed"), flush=True)

            timer = QTimer(interval=5)
            timer.timeout.connect(look)
            timer.start()
            sys.exit(app.exec())
        """
    )

    def test_killed_while_hearing_and_typing_nothing_on_the_screen_is_missing(self):
        once = soundcache.fetch(human_recording("two_cities.wav")).samples()
        sound = write_wav(self.folder / "long.wav", np.tile(once, 4))
        script = self.folder / "program.py"
        script.write_text(self.PROGRAM)
        job = self.folder / "killed.tamarind"
        process = subprocess.Popen(
            [sys.executable, str(script), str(job), str(sound)],
            stdout=subprocess.PIPE,
            text=True,
            cwd=Path(__file__).parent.parent.parent,
            env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
        )
        rows, typed = map(int, process.stdout.readline().split())
        os.kill(process.pid, signal.SIGKILL)
        process.wait()
        process.stdout.close()
        store = JobStore(job)
        recording = store.recordings()[0]
        cues = store.document(recording.id).transcript.cues
        self.assertGreaterEqual(len(cues), rows)
        self.assertGreaterEqual(cues[0].text.count("typed"), typed)
        self.assertIs(recording.state, State.QUEUED)
        self.assertTrue(0 < recording.heard_until < recording.duration)
        store.close()
        self.assert_goes_on(job, cues)

    def assert_goes_on(self, job, before):
        from tamarind.desktop.app import make_application
        from tamarind.desktop.qtloop import open_session

        make_application()
        session = open_session(JobStore(job))
        self.addCleanup(session.close)
        key = session.recordings.all()[0].id
        end = time.monotonic() + 60
        while session.recordings.get(key).state is State.QUEUED and time.monotonic() < end:
            QApplication.processEvents()
            time.sleep(0.01)
        self.assertIs(session.recordings.get(key).state, State.DRAFT)
        cues = session.texts.transcript(key).cues
        # Paragraphs are found when all of it has been heard.
        said = [replace(cue, opens_paragraph=False) for cue in cues[: len(before)]]
        self.assertEqual(said, [replace(cue, opens_paragraph=False) for cue in before])
        self.assertGreater(len(cues), len(before))
