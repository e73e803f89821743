import unittest
import wave
from unittest.mock import patch

import numpy as np
from PySide6.QtCore import QMimeData, QPointF, QRectF, Qt, QUrl
from PySide6.QtGui import QDropEvent, QImage, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QLabel

from tamarind.audio import soundcache
from tamarind.audio.source import Source
from tamarind.desktop import app as application
from tamarind.desktop.commands import all_commands
from tamarind.desktop.rescued_dialog import ToldDialog
from tamarind.desktop.theme import colours
from tamarind.desktop.widgets.waveform import draw_sound, shares
from tamarind.job.store import JobStore
from tests.desktop.support import WindowTest
from tests.support import FolderTest, database, human_recording


class Opening(FolderTest):
    def setUp(self):
        super().setUp()
        application.make_application()
        self.opener = application.Opener()
        self.addCleanup(self.close)

    def close(self):
        if self.opener.window is not None:
            self.opener.window.close()

    def test_a_first_start_makes_a_job_and_the_next_opens_the_last(self):
        first = application.last_job()
        self.assertEqual(first, application.default_job())
        other = self.folder / "other.tamarind"
        self.assertTrue(self.opener.open(other))
        self.assertEqual(application.last_job(), other)
        self.assertEqual(self.opener.window.windowTitle(), "other – Tamarind")

    def test_another_job_takes_the_place_of_the_one_that_is_open(self):
        one, two = self.folder / "one.tamarind", self.folder / "two.tamarind"
        self.opener.open(one)
        first = self.opener.window
        first.job_asked.emit(two)
        self.assertEqual(self.opener.window.session.name, "two")
        self.assertFalse(first.isVisible())
        self.assertTrue(self.opener.open(one), "its lock was given up")

    def test_a_recording_opens_in_a_new_job(self):
        recording = human_recording("beckett.wav")
        self.assertTrue(self.opener.open_recording(recording))
        session = self.opener.window.session
        self.assertEqual(session.name, "beckett")
        self.assertEqual([r.path for r in session.recordings.all()], [recording])
        self.assertEqual(self.opener.window.step(), "intake")
        self.assertTrue(self.opener.open_recording(recording))
        self.assertEqual(self.opener.window.session.name, "beckett (new)")

    def test_a_damaged_job_opens_in_a_copy_and_says_what_is_missing(self):
        job = self.folder / "work.tamarind"
        store = JobStore(job)
        store.add_recording(self.folder / "a.wav")
        database(store).execute("UPDATE recording SET duration = 'long'")
        store.close()
        self.assertTrue(self.opener.open(job))
        self.assertEqual(self.opener.window.session.name, "work (saved)")
        (dialog,) = self.opener.window.findChildren(ToldDialog)
        self.assertTrue(dialog.isVisible())

    def test_what_is_no_job_leaves_the_open_one_alone(self):
        self.opener.open(self.folder / "one.tamarind")
        bad = self.folder / "bad.tamarind"
        bad.write_text("no job " * 40)
        with patch.object(application.QMessageBox, "warning") as warned:
            self.assertFalse(self.opener.open(bad))
        self.assertIn("not a Tamarind job", warned.call_args.args[2])
        self.assertEqual(self.opener.window.session.name, "one")


class Window(WindowTest):
    def test_a_dropped_job_is_asked_for_not_taken_for_a_recording(self):
        asked = []
        self.window.job_asked.connect(asked.append)
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(self.folder / "x.tamarind"))])
        count = len(self.session.recordings.all())
        self.window.dropEvent(
            QDropEvent(QPointF(9, 9), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
                       Qt.KeyboardModifier.NoModifier)
        )  # fmt: skip
        self.assertEqual(asked, [self.folder / "x.tamarind"])
        self.assertEqual(len(self.session.recordings.all()), count)

    def test_a_sentence_is_shown_and_goes_at_a_click(self):
        notice = self.window.said
        self.session.trouble.emit("The disk is full: <b>the last change</b> could not be saved.")
        self.assertTrue(notice.isVisible())
        self.assertEqual(notice.findChild(QLabel).textFormat(), Qt.TextFormat.PlainText)
        self.assertTrue(self.window.rect().contains(notice.geometry()))
        self.click(notice, 5, 5)
        self.assertFalse(notice.isVisible())

    def test_undo_says_what_it_would_take_back(self):
        self.window.show_step("proof")
        self.sheet.caret.set((2, 0))
        self.window.proof.cutting.join_next()
        self.window.undoing.name_undo()
        self.assertEqual(self.window.commands.action("undo").text(), "Undo: join")
        self.session.texts.undo()
        self.window.undoing.name_undo()
        self.assertEqual(self.window.commands.action("undo").text(), "Undo")
        self.assertEqual(self.window.commands.action("redo").text(), "Redo: join")

    def test_the_keys_are_all_listed(self):
        seen = []

        def look(dialog):
            rows = map(dialog.list.topLevelItem, range(dialog.list.topLevelItemCount()))
            seen.extend(row.text(0) for row in rows)
            return 0

        with patch.object(QDialog, "exec", look):
            self.window.help.keys()
        for command in all_commands():
            self.assertIn(command.together[0] if command.together else command.label, seen)

    def test_the_strip_at_the_foot_leads_to_any_place(self):
        overview = self.window.transport.overview
        self.click(overview, overview.width() / 2, 20)
        duration = self.session.shown_recording().duration
        self.assertAlmostEqual(self.window.player.position, duration / 2, delta=duration / 50)

    def test_the_recordings_beside_the_sheet_change_what_is_shown(self):
        self.window.show_step("proof")
        QApplication.processEvents()
        lecture = self.named("Water table lecture")
        self.window.proof.list.chosen.emit(lecture)
        self.assertEqual(self.session.shown, lecture)
        self.assertEqual(self.sheet.transcript, self.session.texts.transcript(lecture))
        self.assertIn("Water table lecture", self.window.transport.length.whole())

    def test_what_is_not_heard_yet_says_so_in_place_of_the_sheet(self):
        self.window.show_step("proof")
        self.session.show(self.named("Volunteers round table"))
        proof = self.window.proof
        self.assertIs(proof.pages.currentWidget(), proof.empty)
        self.assertEqual(proof.empty.title.text(), "Nothing to proof yet")


class CleanedSound(WindowTest):
    def test_it_is_made_on_asking_and_played_from_the_same_place(self):
        self.session.show(self.named("Site memo, north drain"))
        player, transport = self.window.player, self.window.transport
        player.seek(4_000)
        QTest.keyClick(self.window, Qt.Key.Key_C, Qt.KeyboardModifier.AltModifier)
        self.assertEqual(transport.sound.text(), "Cleaning…")
        self.wait(lambda: transport.sound.text() == "Cleaned")
        self.assertEqual(player.position, 4_000)
        self.assertEqual(player.path.suffix, ".wav")
        with wave.open(str(player.path)) as file:
            length = file.getnframes() / file.getframerate()
            cleaned = np.frombuffer(file.readframes(file.getnframes()), "<i2") / 32768
        recording = self.session.shown_recording()
        self.assertAlmostEqual(length * 1000, recording.duration, delta=100)
        heard = soundcache.fetch(recording.path, Source(clean=True)).samples()
        np.testing.assert_allclose(cleaned, np.clip(heard, -1, 1), atol=1e-4)
        QTest.keyClick(self.window, Qt.Key.Key_C, Qt.KeyboardModifier.AltModifier)
        self.assertEqual(player.path, recording.path)


class Colours(unittest.TestCase):
    def luminance(self, colour):
        parts = [int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)]
        linear = [p / 12.92 if p <= 0.03928 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    def test_text_meets_wcag_aa_on_every_ground(self):
        for ground in (colours.PAPER, colours.SAND, colours.SHEET, colours.CARD):
            for ink in (colours.INK, colours.BARK, colours.GREY, colours.PLUM, colours.LEAF_TEXT,
                        colours.PULP):  # fmt: skip
                light, dark = sorted((self.luminance(ground), self.luminance(ink)), reverse=True)
                self.assertGreaterEqual((light + 0.05) / (dark + 0.05), 4.5, (ground, ink))


class Waveforms(unittest.TestCase):
    def test_loud_is_tall_and_quiet_is_low(self):
        peaks = np.concatenate([np.full(100, 0.8), np.full(100, 0.05)]).astype(np.float16)
        heights = shares(peaks, (0, 2000), 20)
        self.assertGreater(heights[:10].min(), 3 * heights[10:].max())
        self.assertLessEqual(heights.max(), 1)

    def test_it_is_drawn_within_its_area_in_both_directions(self):
        application.make_application()
        peaks = np.random.default_rng(2).uniform(0, 1, 500).astype(np.float16)
        for downwards in (False, True):
            image = QImage(200, 200, QImage.Format.Format_RGB32)
            image.fill(0xFFFFFFFF)
            painter = QPainter(image)
            area = QRectF(50, 60, 100, 80)
            draw_sound(painter, area, peaks, (0, 5000), "#000000", downwards)
            painter.end()
            rows = np.frombuffer(image.constBits(), np.uint32).reshape(200, 200) & 0xFFFFFF
            ys, xs = np.nonzero(rows != 0xFFFFFF)
            self.assertGreater(len(xs), 1000)
            self.assertTrue(xs.min() >= 49 and xs.max() <= 151)
            self.assertTrue(ys.min() >= 59 and ys.max() <= 141)
