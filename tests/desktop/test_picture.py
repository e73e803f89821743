"""The picture while proofing, and the looks of captions on it."""

from dataclasses import replace
from unittest.mock import patch

import numpy as np
from PySide6.QtCore import QPoint, QSize, Qt
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QColorDialog, QInputDialog

from tamarind.desktop.looks.editor import LookEditor
from tamarind.desktop.widgets.framing import shown
from tamarind.job.store import JobStore
from tamarind.picture.compose import compose
from tamarind.picture.lookbook import SHIPPED
from tamarind.picture.looks import Box, Fit, Ground, Letters, Look, Place
from tamarind.transcript.edits import set_text
from tamarind.transcript.retiming import Retiming
from tests.desktop.support import WindowTest

SAID, BETWEEN = 17_000, 21_000
"""Times at which a caption stands in the lecture, and at which none does."""


def pixels(image):
    rows = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), -1)
    return rows[:, : image.width() * 3].reshape(image.height(), image.width(), 3)


def shifted(text, by):
    """The cues of a text later (ms)."""
    return Retiming(by).of(text)[0].cues


class PictureTest(WindowTest):
    def setUp(self):
        super().setUp()
        self.session.show(self.named("Water table lecture"))
        self.window.show_step("proof")
        self.picture = self.window.proof.desk.picture
        self.at(SAID)

    def at(self, time):
        self.window.player.seek(time)
        self.wait(lambda: not self.picture.image.isNull())
        self.picture.set_time(time)
        QApplication.processEvents()


class WhileProofing(PictureTest):
    def test_captions_stand_on_it_as_they_will_be_written(self):
        first = self.picture.drawing
        self.assertIsNotNone(first)
        whole = pixels(shown(self.picture.frame, first, QSize(4_000, 4_000)))
        written = compose(self.picture.frame, first).to_ndarray(format="rgb24")
        self.assertTrue((whole == written).all())
        self.at(BETWEEN)
        self.assertIsNone(self.picture.drawing)

    def test_what_is_typed_is_seen_at_once(self):
        before = self.picture.drawing
        place = self.session.texts.transcript(self.session.shown).place_at(SAID)
        self.sheet.cue_caret.go_to((place, 0))
        QTest.keyClicks(self.sheet.viewport(), "Moss")
        QApplication.processEvents()
        self.assertIsNot(self.picture.drawing, before)
        self.assertNotEqual(self.picture.drawing.rgba.shape, before.rgba.shape)

    def test_it_is_large_beside_the_text_and_stays_so(self):
        desk = self.window.proof.desk
        small = desk.width()
        self.window.commands.run("picture_large")
        self.assertGreater(desk.width(), small + 150)
        self.reopen()
        self.assertGreater(self.window.proof.desk.width(), small + 150)
        self.window.commands.run("picture_large")
        self.assertEqual(self.window.proof.desk.width(), small)

    def test_a_window_of_its_own_shows_the_same_and_goes_with_the_program(self):
        picturing = self.window.proof.picturing
        self.window.commands.run("picture_window")
        own = picturing.own_window
        QApplication.processEvents()
        self.assertTrue(own.isVisible())
        self.window.commands.run("picture_window")
        self.assertIsNone(picturing.own_window)
        self.window.commands.run("picture_window")
        self.shut()
        self.assertIsNone(picturing.own_window)
        self.open()

    def test_frames_are_stepped_through_and_safe_areas_shown(self):
        player = self.window.player
        rate = self.session.shown_recording().info.frame_rate
        self.window.commands.run("frame_on")
        self.assertEqual(player.position, SAID + round(1000 / rate))
        self.window.commands.run("frame_back")
        self.assertEqual(player.position, SAID)
        self.window.commands.run("safe_areas")
        self.assertTrue(self.picture.shows_safe_areas)


class Editing(PictureTest):
    def edit(self, do, key="safe_areas"):
        """Open the editor and do something in it; its answer."""
        found = []

        def run(editor):
            found.append(editor)
            editor.show()
            QApplication.processEvents()
            return do(editor)

        with patch.object(LookEditor, "exec", run):
            self.window.commands.run("look")
        return found[0]

    def test_a_change_of_one_that_ships_is_a_copy_kept_with_the_job(self):
        def change(editor):
            editor.choose("torch")
            editor.set("letters", "size", 0.1)
            editor.accept_for_all()
            return True

        before = self.picture.drawing
        self.edit(change)
        self.assertEqual(self.session.looks.of(self.session.shown).letters.size, 0.1)
        self.assertEqual(self.session.looks.of(None).name, "Torch, own")
        self.assertEqual(SHIPPED["torch"].letters.size, 0.06)
        self.assertGreater(self.picture.drawing.rgba.shape[0], before.rgba.shape[0])
        path = self.folder / "copy.tamarind"
        self.session.save_copy(path)
        store = JobStore(path)
        self.addCleanup(store.close)
        self.assertIn("Torch, own", store.settings()["looks"])

    def test_one_recording_may_have_its_own(self):
        def take(editor):
            editor.choose("birch")
            editor.accept()
            return True

        self.edit(take)
        self.assertEqual(self.session.looks.of(self.session.shown).name, "Birch")
        self.assertEqual(self.session.looks.of(None).name, "Slate")
        other = self.named("Warden interview")
        self.assertEqual(self.session.looks.of(other).name, "Slate")

    def test_single_captions_may_have_their_own(self):
        def take(editor):
            editor.choose("high-ground")
            editor.accept_for_cues()
            return True

        key = self.session.shown
        place = self.session.texts.transcript(key).place_at(SAID)
        self.sheet.cue_caret.go_to((place, 0))
        before = self.picture.drawing
        self.edit(take)
        self.assertLess(self.picture.drawing.top, before.top)
        cues = self.session.texts.transcript(key).cues
        self.assertEqual([cue.look for cue in cues[place - 1 : place + 2]], ["", "high-ground", ""])
        self.assertEqual(self.session.looks.of(key).name, "Slate")
        self.reopen()
        self.assertEqual(self.session.texts.transcript(key).cues[place].look, "high-ground")
        self.session.texts.undo()

    def test_a_look_that_cuts_a_long_text_anew_keeps_nobody_waiting(self):
        key = self.session.shown
        text = self.session.texts.transcript(key)
        more = [
            replace(cue, id=1_000 * round_ + cue.id)
            for round_ in range(1, 40)
            for cue in shifted(text, 120_000 * round_)
        ]
        self.session.texts.edit(key, "more", replace(text, cues=(*text.cues, *more)))
        short = replace(SHIPPED["slate"], name="Short", fit=Fit(line_length=14, lines=1))
        self.session.looks.keep("short", short)
        self.session.looks.choose("short")
        self.session.preview.drawing(key, "", SAID, (640, 360))
        self.wait(lambda: self.at_once(key) is not None, 20)
        first = self.at_once(key)
        place = self.session.texts.transcript(key).place_at(SAID)
        self.session.texts.edit(
            key, "typed", set_text(self.session.texts.transcript(key), place, "Moss and peat")
        )
        self.assertIs(self.at_once(key), first)
        self.wait(lambda: self.at_once(key) is not first, 20)
        self.session.texts.undo()
        self.session.texts.undo()

    def at_once(self, key):
        return self.session.preview.drawing(key, "", SAID, (640, 360))

    def test_what_is_hard_to_read_on_its_own_picture_is_a_check_with_a_box_as_its_fix(self):
        key = self.session.shown
        pale = Look("Pale", Letters(colour="#e0e0e0", outline=0.0), Ground(Box.NONE))
        checking = self.window.checking

        def hard():
            found = checking.findings(key)
            return [one.finding for one in found if one.finding.rule == "contrast"]

        self.wait(lambda: checking.is_known(key), 20)
        self.assertEqual(hard(), [])
        self.session.looks.keep("pale", pale)
        self.session.looks.choose("pale")
        self.wait(hard, 30)
        first = hard()[0]
        self.assertIn("is wanted", first.reason)
        place = self.session.texts.transcript(key).place_of(first.cue)
        checking.fix(key, first.fixes[:1], "a box")
        self.assertTrue(self.session.texts.transcript(key).cues[place].look)
        self.at(first.start + 100)
        self.assertGreater((self.picture.drawing.rgba[..., 3] > 200).mean(), 0.5)
        self.wait(lambda: checking.is_known(key) and first.cue not in [o.cue for o in hard()], 30)

    def test_one_that_is_taken_away_is_gone_for_good(self):
        def make(editor):
            editor.set("letters", "size", 0.1)
            editor.accept_for_all()
            return True

        def remove(editor):
            editor.take_away()
            editor.accept_for_all()
            return True

        self.edit(make)
        self.assertIn("slate-own", self.session.looks.all())
        self.edit(remove)
        self.assertNotIn("slate-own", self.session.looks.all())
        self.reopen()
        self.assertNotIn("slate-own", self.session.looks.all())

    def test_a_recording_that_goes_leaves_its_look_to_nobody(self):
        self.session.looks.choose("birch", [self.session.shown])
        gone = self.session.shown
        self.session.remove(gone)
        self.assertEqual(self.session.looks.of(gone).name, "Slate")

    def test_who_thinks_better_of_it_has_changed_nothing(self):
        def leave(editor):
            editor.set("letters", "size", 0.2)
            return False

        before = self.picture.drawing
        self.edit(leave)
        self.assertIs(self.picture.drawing, before)
        self.assertNotIn("slate-own", self.session.looks.all())

    def test_captions_are_dragged_to_their_place(self):
        def drag(editor):
            sample = editor.sample
            QTest.mousePress(sample, Qt.MouseButton.LeftButton, pos=QPoint(260, 250))
            QTest.mouseMove(sample, QPoint(130, 60))
            QTest.mouseRelease(sample, Qt.MouseButton.LeftButton, pos=QPoint(130, 60))
            standing = editor.item_now().standing
            self.assertEqual(standing.place, Place.FREE)
            self.assertAlmostEqual(standing.across, 0.25, delta=0.02)
            self.assertAlmostEqual(standing.down, 0.2, delta=0.03)
            return False

        self.edit(drag)

    def test_colours_are_chosen_and_files_taken_and_saved(self):
        path = self.folder / "mist.look.json"
        (self.folder / "broken.json").write_text("[]")

        def work(editor):
            with patch.object(QColorDialog, "getColor", return_value=QColor("#123456")):
                fields = editor.parts["letters"]
                fields._rows["colour"].click()
            self.assertEqual(editor.item_now().letters.colour, "#123456")
            editor.take(self.folder / "broken.json")
            self.assertIn("no caption style", editor.note.text())
            editor.save(path)
            editor.take(path)
            self.assertEqual(editor.item_now().name, "Slate, own 2")
            with patch.object(QInputDialog, "getText", return_value=("Mist", True)):
                editor.ask_copy()
            self.assertEqual(editor.item_now().name, "Mist")
            editor.take_away()
            self.assertNotIn("mist", editor.items)
            return False

        self.edit(work)
        self.assertIn("Slate, own", path.read_text())

    def test_letters_that_do_not_stand_out_are_told(self):
        def work(editor):
            self.wait(lambda: editor.legible.text().startswith("Contrast"))
            self.assertNotIn("wanted", editor.legible.text())
            editor.set("ground", "box", Box.NONE)
            self.wait(lambda: "4.5 to 1 is needed" in editor.legible.text())
            editor.set("letters", "outline", 0.1)
            self.wait(lambda: "wanted" not in editor.legible.text())
            return False

        self.edit(work)

    def test_a_recording_without_a_picture_has_a_sample_too(self):
        self.session.show(self.named("Warden interview"))
        editor = self.edit(lambda editor: False)
        self.assertIsNone(editor.other)
        self.assertIsInstance(editor.item_now(), Look)
