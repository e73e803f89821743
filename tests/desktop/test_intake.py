import itertools
import os
import shutil
import signal
import subprocess
import sys
import textwrap
import time
from pathlib import Path

import numpy as np
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QApplication, QPushButton

from tamarind.audio import soundcache
from tamarind.desktop.intake.glossary_dialog import GlossaryDialog
from tamarind.desktop.words import stage_of
from tamarind.job.recording import State
from tamarind.job.store import JobStore
from tamarind.speech.glossary import read_glossary
from tamarind.speech.howtohear import Care, Voices
from tests.desktop.support import WindowTest
from tests.support import DEMO, FolderTest, human_recording, tone, write_wav


class IntakeTest(WindowTest):
    demo = False

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
        self.window.intake._choose(key, how)

    def states(self):
        return {r.path.name: r.state for r in self.session.recordings()}

    def settled(self):
        pending = (State.ARRIVED, State.QUEUED)
        return all(state not in pending for state in self.states().values())


class Batch(IntakeTest):
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
        for recording in self.session.recordings():
            stage = stage_of(self.session, recording)
            if recording.state is State.FAILED:
                self.assertEqual(stage.text, "Cannot be heard")
                self.assertTrue(stage.detail.endswith("."))
            else:
                self.assertEqual(stage.text, "Draft ready")
        text = " ".join(c.text for c in self.session.transcript(self.named("beckett")).cues)
        self.assertIn("Fail again. Fail better.", text)

    def test_the_same_file_twice_and_a_folder(self):
        (self.folder / "in").mkdir()
        for name in ("a.wav", "b.wav"):
            shutil.copy(human_recording("beckett.wav"), self.folder / "in" / name)
        self.drop(self.folder / "in" / "a.wav")
        self.drop(self.folder / "in", self.folder / "in" / "a.wav")
        self.assertEqual(list(self.states()), ["a.wav", "b.wav"])
        self.assertEqual(self.window.intake._note.text(), "1 added, 2 already here")

    def test_a_part_is_heard_and_shown(self):
        self.drop(human_recording("two_cities.wav"))
        self.wait(self.settled)
        key = self.named("two_cities")
        self.choose(key)
        panel = self.window.intake._panel
        panel._start.setText("21")
        panel._end.setText("0:29")
        panel._part_changed()
        self.assertEqual(self.session.recording(key).part, (21_000, 29_000))
        self.window.intake.transcribe()
        self.wait(self.settled)
        cues = self.session.transcript(key).cues
        self.assertGreaterEqual(cues[0].start, 20_900)
        self.assertLessEqual(cues[-1].words[-1].end, 29_100)

    def test_how_to_hear_is_set_for_all_chosen_kept_and_used(self):
        stereo = np.stack([tone(3), 0 * tone(3)], 1)
        self.drop(human_recording("beckett.wav"), write_wav(self.folder / "sides.wav", stereo))
        self.wait(self.settled)
        panel = self.window.intake._panel
        one, two = self.named("beckett"), self.named("sides")
        self.choose(one)
        self.assertFalse(panel._channel.isEnabled())
        panel._care.setCurrentText("Thorough, takes longer")
        panel._care.activated.emit(1)
        self.choose(two, adding=True)
        self.assertEqual(panel._care.currentText(), "")
        self.assertTrue(panel._channel.isEnabled())
        panel._voices.setCurrentText("told apart, 2 of them")
        panel._voices.activated.emit(2)
        panel._clean.click()
        for key, care in ((one, Care.THOROUGH), (two, Care.QUICK)):
            how = self.session.recording(key).how
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
        self.session.set_glossary(dialog.glossary())
        self.assertEqual(len(self.session.glossary().terms), 2)
        self.window.intake._panel.show_choice([])
        self.assertEqual(self.window.intake._panel._glossary.text(), "2 terms…")

    def test_a_part_that_makes_no_sense_is_told(self):
        self.drop(human_recording("beckett.wav"))
        self.wait(self.settled)
        key = self.named("beckett")
        self.choose(key)
        panel = self.window.intake._panel
        for start, end, words in (("x", "", "no time"), ("8", "2", "before it starts"),
                                  ("50", "", "shorter")):  # fmt: skip
            panel._start.setText(start)
            panel._end.setText(end)
            panel._part_changed()
            self.assertIn(words, panel._part_note.text())
            self.assertEqual(self.session.recording(key).part, (0, None))

    def test_cancel_keeps_what_was_heard_and_transcribe_goes_on_from_there(self):
        once = soundcache.fetch(human_recording("two_cities.wav")).samples()
        path = write_wav(self.folder / "long.wav", np.tile(once, 5))
        self.drop(path)
        self.wait(self.settled)
        key = self.named("long")
        self.session.background.transcribe([key])
        self.wait(lambda: self.session.transcript(key).cues)
        self.session.background.cancel(key)
        recording = self.session.recording(key)
        self.assertIs(recording.state, State.STOPPED)
        kept = self.session.transcript(key).cues
        self.assertLess(recording.heard_until, recording.duration)
        self.session.background.transcribe([key])
        self.wait(self.settled)
        cues = self.session.transcript(key).cues
        self.assertEqual(cues[: len(kept)], kept)
        self.assertEqual(len({cue.id for cue in cues}), len(cues))
        self.assertTrue(cues[-1].text.endswith("only."))
        for before, after in itertools.pairwise(cues):
            self.assertLessEqual(before.start, after.start)

    def test_editing_while_the_rest_is_being_heard_loses_neither(self):
        once = soundcache.fetch(human_recording("two_cities.wav")).samples()
        self.drop(write_wav(self.folder / "long.wav", np.tile(once, 5)))
        self.wait(self.settled)
        key = self.named("long")
        self.session.background.transcribe([key])
        self.wait(lambda: self.session.transcript(key).cues)
        self.window.show_step("proof")
        self.sheet.setFocus()
        self.sheet.set_caret((0, 0))
        self.type("Well, ")
        self.wait(self.settled)
        cues = self.session.transcript(key).cues
        self.assertTrue(cues[0].text.startswith("Well, It was"))
        self.assertTrue(cues[-1].text.endswith("only."))
        self.session.undo()
        undone = self.session.transcript(key).cues
        self.assertEqual(len(undone), len(cues))
        self.assertTrue(undone[0].text.startswith("It was"))

    def test_a_file_that_comes_back_can_be_tried_again(self):
        path = self.folder / "late.wav"
        path.touch()
        self.drop(path)
        self.wait(self.settled)
        self.assertIs(self.states()["late.wav"], State.FAILED)
        shutil.copy(human_recording("beckett.wav"), path)
        card = self.window.intake._cards[self.named("late")]
        card.refresh()
        self.assertEqual(card._act.text(), "try again")
        card._act.click()
        self.wait(self.settled)
        self.assertIs(self.states()["late.wav"], State.READY)


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
        self.assertEqual(self.session.transcript(key).cues, ())
        self.press("take it")
        self.assertEqual(self.session.transcript(key).cues[0].text, "Ever tried.")
        self.assertEqual(self.session.transcript(key).speakers[0].name, "Pat")
        self.assertIs(self.session.recording(key).state, State.DRAFT)
        self.session.undo()
        self.assertEqual(self.session.transcript(key).cues, ())
        self.assertTrue(self.session.background.can_hear(self.session.recording(key)))

    def test_a_bad_caption_file_is_told_and_changes_nothing(self):
        shutil.copy(human_recording("beckett.wav"), self.folder / "memo.wav")
        self.drop(self.folder / "memo.wav")
        told = []
        self.session.trouble.connect(told.append)
        bad = self.folder / "memo.srt"
        bad.write_text("nothing")
        self.drop(bad)
        self.press("take it")
        self.assertEqual(len(told), 1)
        self.assertIn("no SRT cue", told[0])
        self.assertEqual(self.session.transcript(self.named("memo")).cues, ())


class Demo(WindowTest):
    def test_there_is_one_recording_at_every_stage(self):
        stages = {r.name: stage_of(self.session, r) for r in self.session.recordings()}
        self.assertEqual(stages["Volunteers round table"].text, "Not heard yet")
        self.assertEqual(stages["Water table lecture"].text, "Draft ready")
        self.assertTrue(0.2 < stages["Warden interview"].proofed < 0.8)
        self.assertEqual(stages["Site memo, north drain"].text, "Proofed")
        self.assertTrue(self.session.document(self.named("Site memo, north drain")).tracks)

    def test_a_recording_that_went_away_keeps_its_text(self):
        key = self.named("Water table lecture")
        path = self.session.recording(key).path
        self.window.close()
        path.unlink()
        shutil.rmtree(self.folder / "XDG_CACHE_HOME")
        self.open()
        self.wait(lambda: self.session.recording(key).problem)
        self.assertIn("no longer there", self.session.recording(key).problem)
        self.assertTrue(self.session.transcript(key).cues)
        self.assertIs(self.session.recording(key).state, State.DRAFT)

    def test_taking_a_recording_out(self):
        key = self.named("Water table lecture")
        self.session.remove(key)
        self.assertNotIn(key, self.window.intake._cards)
        self.reopen()
        self.assertNotIn("Water table lecture", [r.name for r in self.session.recordings()])

    def test_a_full_disk_is_told_and_what_could_not_be_saved_is_saved_later(self):
        told = []
        self.session.trouble.connect(told.append)
        self.session.store._db.execute("PRAGMA max_page_count = 1")
        self.window.show_step("proof")
        self.sheet.set_caret((0, 0))
        self.sheet.insert("word " * 4000)
        self.assertTrue(any("disk is full" in text for text in told), told)
        self.assertTrue(self.sheet.row_text(0).startswith("word word"))
        self.session.store._db.execute("PRAGMA max_page_count = 100000")
        self.sheet.set_caret((5, 0))
        self.sheet.insert("Later ")
        self.reopen()
        self.assertTrue(self.sheet.row_text(0).startswith("word word"))
        self.assertTrue(self.sheet.row_text(5).startswith("Later "))


class Killed(FolderTest):
    """The whole program, killed with -9, then opened again."""

    PROGRAM = textwrap.dedent(
        """
        import sys
        from pathlib import Path
        from PySide6.QtCore import QTimer
        from tamarind.desktop.app import make_application
        from tamarind.desktop.session import Session
        from tamarind.desktop.window import MainWindow
        from tamarind.job.store import JobStore

        if __name__ == "__main__":
            app = make_application()
            window = MainWindow(Session(JobStore(Path(sys.argv[1]))))
            window.show()
            session = window.session
            window.intake.add([Path(sys.argv[2])])
            key = session.recordings()[0].id
            state = {"shown": 0, "asked": False}

            def look():
                recording = session.recording(key)
                if session.background.can_hear(recording) and not state["asked"]:
                    state["asked"] = True
                    session.background.transcribe([key])
                sheet = window.proof.sheet
                if sheet.row_count() and sheet.row_count() != state["shown"]:
                    state["shown"] = sheet.row_count()
                    sheet.set_caret((0, 0))
                    sheet.insert("typed ")
                    print(sheet.row_count(), sheet.row_text(0).count("typed"), flush=True)

            timer = QTimer(interval=5)
            timer.timeout.connect(look)
            timer.start()
            sys.exit(app.exec())
        """
    )

    def test_killed_while_hearing_and_typing_nothing_on_the_screen_is_missing(self):
        once = soundcache.fetch(human_recording("two_cities.wav")).samples()
        sound = write_wav(self.folder / "long.wav", np.tile(once, 6))
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
        from tamarind.desktop.session import Session

        make_application()
        session = Session(JobStore(job))
        self.addCleanup(session.close)
        key = session.recordings()[0].id
        end = time.monotonic() + 60
        while session.recording(key).state is State.QUEUED and time.monotonic() < end:
            QApplication.processEvents()
            time.sleep(0.01)
        self.assertIs(session.recording(key).state, State.DRAFT)
        cues = session.transcript(key).cues
        self.assertEqual(cues[: len(before)], before)
        self.assertGreater(len(cues), len(before))
