"""Videos with captions, chosen in the window and made in the background."""

import multiprocessing
import time
from unittest.mock import patch

import av
from PySide6.QtWidgets import QApplication, QMessageBox

from tamarind.application.exportqueue import FileStage
from tamarind.audio.media import MediaError
from tamarind.desktop.export.pages_dialog import PagesDialog
from tamarind.desktop.export.videos_dialog import VideosDialog
from tamarind.picture.order import VideoOrder
from tamarind.picture.shapes import Filling, ShapeKind
from tamarind.picture.video import Quality
from tests.desktop.support import WindowTest


class VideosTest(WindowTest):
    def setUp(self):
        super().setUp()
        self.lecture = self.named("Water table lecture")
        self.session.show(self.lecture)
        self.out = self.folder / "out"
        self.out.mkdir()
        self.export_queue = self.session.export_queue

    def ask(self, choose=lambda dialog: True):
        """Open the dialog, choose, and leave it."""

        def run(dialog):
            dialog.folder = self.out
            dialog.show()
            QApplication.processEvents()
            self.dialog = dialog
            return choose(dialog) is not False

        with patch.object(VideosDialog, "exec", run):
            self.window.commands.run("videos")

    def short(self, dialog):
        dialog.start.setText("0:14")
        dialog.end.setText("0:17")

    def made(self):
        self.wait(lambda: not self.export_queue.is_busy)
        QApplication.processEvents()
        return sorted(path.name for path in self.out.iterdir())


class Made(VideosTest):
    def test_one_is_made_with_its_side_files_while_the_window_goes_on(self):
        def choose(dialog):
            self.short(dialog)
            dialog.beside.setChecked(True)
            dialog.quality.setCurrentText("small")

        self.ask(choose)
        self.assertTrue(self.export_queue.is_busy)
        names = self.made()
        stem = "Water table lecture"
        self.assertEqual(names, [f"{stem}.mp4", f"{stem}.srt", f"{stem}.vtt"])
        self.assertIn("1 file written", self.window.export.queue_strip.told.text())
        with av.open(str(self.out / names[0])) as read:
            self.assertAlmostEqual(read.duration / 1e6, 3.0, delta=0.3)

    def test_one_that_fails_does_not_stop_the_others(self):
        def make(order, told, wanted):
            told(0.5)
            if "lecture" in order.target.name:
                raise MediaError("The disk is full.")
            order.target.write_text("made")

        self.export_queue._make = make
        self.ask(lambda dialog: dialog.rows.tick_all(True))
        names = self.made()
        self.assertNotIn("Water table lecture.mp4", names)
        self.assertEqual(len(names), 3)
        told = self.window.export.queue_strip.told.text()
        self.assertIn("3 files written", told)
        self.assertIn("Water table lecture.mp4: The disk is full.", told)

    def test_what_fails_in_any_way_is_told_and_nobody_waits(self):
        def wrong():
            raise ValueError("no caption file")

        self.export_queue.add([(VideoOrder(self.out / "a.mp4", self.out / "b.mp4"),
                          [(self.out / "b.srt", wrong)])])  # fmt: skip
        self.wait(lambda: not self.export_queue.is_busy)
        (one,) = self.export_queue.made
        self.assertEqual((one.stage, bool(one.problem)), (FileStage.FAILED, True))

    def test_what_is_given_up_before_it_begins_is_not_made(self):
        begun = []
        self.export_queue._make = lambda order, told, wanted: begun.append(order)
        with self.export_queue._turning:
            self.export_queue.add([(VideoOrder(self.out / "a.mp4", self.out / "b.mp4"), ())])
            time.sleep(0.1)
            self.export_queue.made[0].stage = FileStage.CANCELLED
        time.sleep(0.3)
        self.assertEqual((begun, self.export_queue.made[0].stage), ([], FileStage.CANCELLED))

    def test_giving_them_up_leaves_nothing(self):
        self.ask(lambda dialog: dialog.rows.tick_all(True))
        self.wait(lambda: any(one.share > 0.02 for one in self.export_queue.made))
        self.assertIn("left", self.window.export.queue_strip.told.text())
        self.window.export.queue_strip.stop.click()
        self.wait(lambda: not self.export_queue.is_busy)
        self.wait(lambda: not list(self.out.iterdir()), 20)
        self.assertEqual({one.stage for one in self.export_queue.made}, {FileStage.CANCELLED})

    def test_a_process_that_is_killed_is_told_and_leaves_nothing(self):
        self.ask()
        self.wait(lambda: any(one.share > 0.02 for one in self.export_queue.made))
        for process in multiprocessing.active_children():
            process.kill()
        self.assertEqual(self.made(), [])
        self.assertIn("broke off", self.export_queue.made[0].problem)

    def test_what_is_there_is_asked_about(self):
        target = self.out / "Water table lecture.mp4"
        target.write_text("mine")
        no, yes = QMessageBox.StandardButton.No, QMessageBox.StandardButton.Yes
        with patch.object(QMessageBox, "question", return_value=no):
            self.ask(self.short)
        self.assertFalse(self.export_queue.made)
        self.assertEqual(target.read_text(), "mine")
        with patch.object(QMessageBox, "question", return_value=yes):
            self.ask(self.short)
        self.made()
        self.assertGreater(target.stat().st_size, 1_000)


class Chosen(VideosTest):
    def test_the_order_is_what_was_chosen(self):
        def choose(dialog):
            self.short(dialog)
            dialog.shape.setCurrentText("portrait, for phones")
            dialog.filling.setCurrentText("crop")
            dialog.quality.setCurrentText("best")
            dialog.suffix.setCurrentText("Matroska")
            dialog._show()
            (order,) = dialog.orders()
            self.assertEqual(order.target, self.out / "Water table lecture.mkv")
            self.assertEqual(order.part, (14_000, 17_000))
            self.assertEqual(
                (order.shape.kind, order.shape.filling), (ShapeKind.UPRIGHT, Filling.CUT)
            )
            self.assertEqual(order.quality, Quality.BEST)
            self.assertEqual(order.looks, [self.session.looks.of(self.lecture)])
            self.assertEqual(order.captions, self.session.preview.captions(self.lecture))
            return False

        self.ask(choose)

    def test_a_video_beside_its_recording_never_takes_its_name(self):
        def choose(dialog):
            dialog.folder = self.session.shown_recording().path.parent
            (order,) = dialog.orders()
            self.assertEqual(order.target.name, "Water table lecture, with captions.mp4")
            return False

        self.ask(choose)

    def test_tracks_are_for_recordings_with_a_picture(self):
        def choose(dialog):
            dialog.rows.tick_all(True)
            dialog.way.setCurrentText("tracks that viewers can switch on")
            dialog._show()
            self.assertFalse(dialog.shape.isEnabled() or dialog.quality.isEnabled())
            (order,) = dialog.orders()
            self.assertEqual([track.language for track in order.tracks], ["en"])
            self.assertIn("copied", dialog.facts.text())

        self.ask(choose)
        self.assertEqual(self.made(), ["Water table lecture.mp4"])

    def test_a_part_that_is_none_is_told(self):
        def choose(dialog):
            dialog.start.setText("0:20")
            dialog.end.setText("0:10")
            dialog._show()
            self.assertIn("ends before", dialog.facts.text())
            self.assertFalse(dialog.go.isEnabled())
            dialog.rows.tick_all(False)
            dialog.end.setText("")
            dialog._show()
            self.assertFalse(dialog.go.isEnabled())
            return False

        self.ask(choose)

    def test_a_sound_gets_a_title_and_two_languages_if_there_are(self):
        memo = self.named("Site memo, north drain")
        self.session.show(memo)

        def choose(dialog):
            dialog.second.setCurrentText("and Portuguese")
            dialog.second.activated.emit(dialog.second.currentIndex())
            self.assertTrue(self.session.preview.captions(memo)[0].second)
            (order,) = dialog.orders()
            self.assertEqual(order.scene.title, "Site memo, north drain")
            self.assertTrue(all(caption.second for caption in order.captions[:5]))
            dialog.titled.setChecked(False)
            self.assertEqual(dialog.orders()[0].scene.title, "")
            return False

        self.ask(choose)


class Pages(VideosTest):
    def ask_for_pages(self, choose=lambda dialog: None):
        def run(dialog):
            dialog.folder = self.out
            dialog.rows.tick_all(True)
            choose(dialog)
            return True

        with patch.object(PagesDialog, "exec", run):
            self.window.commands.run("pages")

    def test_pages_are_made_of_all_recordings_with_a_text(self):
        def choose(dialog):
            dialog.single.setChecked(True)
            self.assertEqual(dialog.go.text(), "Make 4 pages")
            self.assertIn("1 has a picture", dialog.facts.text())

        self.ask_for_pages(choose)
        names = self.made()
        self.assertEqual(len(names), 4)
        page = (self.out / "Site memo, north drain.html").read_text()
        self.assertIn('srclang="pt"', page)
        with patch.object(
            QMessageBox, "question", return_value=QMessageBox.StandardButton.No
        ) as ask:
            self.ask_for_pages()
        ask.assert_called_once()
        self.assertFalse(self.export_queue.is_busy)
