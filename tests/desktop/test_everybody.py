"""For everybody: what is seen described, sounds named, chapters, and whether all can follow."""

from unittest.mock import patch

import av
from PySide6.QtWidgets import QFileDialog

from tamarind.application.exportqueue import FileStage
from tamarind.desktop.export.everybody_dialog import EverybodyDialog
from tamarind.desktop.proof.describing import DescribingDialog
from tamarind.desktop.proof.sounds import SoundsDialog
from tamarind.speech import espeak
from tamarind.speech.soundevents import SoundEvent, SoundKind
from tamarind.transcript import edits
from tests.desktop.support import WindowTest


class Everybody(WindowTest):
    def setUp(self):
        super().setUp()
        self.lecture = self.named("Water table lecture")
        self.session.show(self.lecture)
        self.window.show_step("proof")

    def dialog(self, kind, command, run=lambda dialog: None, answer=True):
        """Open what a command opens, do something in it, and leave it."""

        def shown(dialog):
            dialog.show()
            run(dialog)
            dialog.close()
            return answer

        with patch.object(kind, "exec", shown):
            self.window.commands.run(command)


class Describing(Everybody):
    def test_what_is_typed_is_kept_shown_in_the_sheet_and_undone_as_one_step(self):
        def run(dialog):
            dialog.rows.choose(2)
            room = dialog.rooms[2]
            self.assertIn(f"0 of about {room.words} words", dialog.told.text())
            dialog.text.setPlainText("A pipe")
            dialog.text.setPlainText("A pipe stands")
            self.assertIn("3 of about", dialog.told.text())
            self.wait(lambda: not dialog.picture._image.isNull(), 20)
            dialog.text.setPlainText("A pipe stands in the peat and water fills it to its rim")
            self.assertIn("words too long", dialog.told.text())
            dialog.text.setPlainText("A pipe stands")

        self.dialog(DescribingDialog, "describe", run)
        (one,) = self.session.describing.of(self.lecture)
        self.assertEqual(one.text, "A pipe stands")
        notes = [self.sheet.notes.above(row) for row in range(self.sheet.text.row_count())]
        self.assertIn("· seen: A pipe stands ·", [note.text for note in notes if note])
        self.window.undoing.undo()
        self.assertEqual(self.session.describing.of(self.lecture), ())
        self.window.undoing.redo()
        self.reopen()
        self.assertEqual(self.session.describing.of(self.lecture), (one,))

    def test_it_can_be_moved_put_at_the_playhead_and_taken_out(self):
        def run(dialog):
            dialog.rows.choose(0)
            dialog.text.setPlainText("A slide")
            dialog.start.setText("0:00:20.5")
            dialog.start.editingFinished.emit()
            self.window.player.seek(40_000)
            dialog.add_here()
            dialog.text.setPlainText("A drawing")
            self.assertIn("It begins while somebody speaks", dialog.told.text())

        self.dialog(DescribingDialog, "describe", run)
        found = self.session.describing.of(self.lecture)
        self.assertEqual([(one.start, one.text) for one in found],
                         [(20_500, "A slide"), (40_000, "A drawing")])  # fmt: skip

        def empty(dialog):
            row = next(n for n, room in enumerate(dialog.rooms)
                       if room.described and room.described.text == "A drawing")  # fmt: skip
            dialog.rows.choose(row)
            dialog.text.setPlainText("  ")

        self.dialog(DescribingDialog, "describe", empty)
        self.assertEqual(
            [one.text for one in self.session.describing.of(self.lecture)], ["A slide"]
        )

    def test_a_file_with_them_read_aloud_is_made(self):
        if not espeak.program():
            self.skipTest("no synthesiser is installed here")
        self.session.describing.write(self.lecture, 20_400, "A cut through peat.")
        target = self.folder / "described.mp4"

        def run(dialog):
            with patch.object(QFileDialog, "getSaveFileName", lambda *_: (str(target), "")):
                dialog.ask_write()

        self.dialog(DescribingDialog, "describe", run)
        self.wait(lambda: not self.session.export_queue.is_busy)
        self.assertEqual([v.stage for v in self.session.export_queue.made], [FileStage.DONE])
        self.assertTrue(target.exists())

    def test_they_go_out_with_transcripts_and_as_a_track(self):
        self.session.describing.write(self.lecture, 20_400, "A cut through peat.")
        panel, screen = self.window.export.panel, self.window.export
        self.window.show_step("export")
        for suffix, box in panel.kinds.items():
            box.setChecked(suffix in ("txt", "descriptions.vtt"))
        names = [file.name for file in screen.files]
        self.assertEqual([n for n in names if "descriptions" in n],
                         ["Water table lecture.descriptions.vtt"])  # fmt: skip
        panel.described.setChecked(True)
        self.assertTrue(panel.described.isEnabled())
        screen.set_folder(self.folder)
        screen.write()
        self.wait(lambda: screen.go.isEnabled() or screen.is_waiting)
        if screen.is_waiting:
            screen.write()
        self.wait(lambda: (self.folder / "Water table lecture.txt").exists())
        self.assertIn("Description: [A cut through peat.]",
                      (self.folder / "Water table lecture.txt").read_text())  # fmt: skip


class Sounds(Everybody):
    def test_those_that_are_named_come_into_the_text_and_can_be_undone(self):
        before = self.session.texts.transcript(self.lecture)
        events = [SoundEvent(9_700, 10_400, SoundKind.SOUND, 20.0),
                  SoundEvent(98_000, 98_700, SoundKind.MUSIC, 30.0)]  # fmt: skip

        def run(dialog):
            self.assertEqual(dialog.rows.ticked(), [1])
            dialog.rows.choose(0)
            dialog.name.setEditText("chalk on the board")
            self.assertEqual(dialog.rows.ticked(), [0, 1])

        with patch("tamarind.speech.soundevents.sound_events", lambda *_: events):
            asked = []

            def shown(dialog):
                asked.append(dialog)
                run(dialog)
                return True

            with patch.object(SoundsDialog, "exec", shown):
                self.window.commands.run("sounds")
                self.wait(lambda: asked)
        text = self.session.texts.transcript(self.lecture)
        named = [cue for cue in text.cues if cue.text.startswith("[")]
        self.assertEqual([cue.text for cue in named], ["[chalk on the board]", "[music]"])
        self.assertTrue(9_600 <= named[0].start < named[0].end <= 10_600)
        starts = [cue.start for cue in text.cues]
        self.assertEqual(starts, sorted(starts))
        self.window.undoing.undo()
        self.assertEqual(self.session.texts.transcript(self.lecture), before)

    def test_where_there_are_none_it_says_so(self):
        self.window.commands.run("sounds")
        self.wait(lambda: "There are no loud sounds" in self.window.said.text(), 30)


class Following(Everybody):
    def test_what_is_missing_leads_to_where_it_is_mended(self):
        def run(dialog):
            rows = [item.text(0) for item in dialog.points.items()]
            dialog.points.choose(rows.index("No uncertain words"))
            dialog.mend.click()

        self.dialog(EverybodyDialog, "everybody", run)
        self.assertEqual(self.window.step(), "proof")
        self.assertTrue(self.window.where().at_doubt)

    def test_that_nothing_needs_to_be_described_is_kept_and_the_report_written(self):
        path = self.folder / "report.html"

        def run(dialog):
            self.wait(lambda: self.window.checking.is_known(self.lecture))
            before = dialog.recordings.items()[1].text(0)
            dialog.needless.setChecked(True)
            self.assertNotEqual(dialog.recordings.items()[1].text(0), before)
            dialog.write_report(path)
            dialog.write_report(self.folder / "no folder" / "report.html")
            self.assertIn("cannot be written", dialog.said.text())

        self.dialog(EverybodyDialog, "everybody", run)
        page = path.read_text()
        self.assertIn("All that matters is said.", page)
        self.assertEqual(page.count("<h2>"), 5)

        def again(dialog):
            self.assertTrue(dialog.needless.isChecked())

        self.dialog(EverybodyDialog, "everybody", again)


class Chapters(Everybody):
    def test_a_copy_with_chapter_marks(self):
        text = self.session.texts.transcript(self.lecture)
        for place, cue in enumerate(text.cues):
            text = edits.set_heading(text, place, "") if cue.heading else text
        self.session.texts.edit(self.lecture, "without", text)
        self.window.commands.run("chapter_marks")
        self.assertIn("no headings yet", self.window.said.text())
        self.session.texts.edit(self.lecture, "h", edits.set_heading(text, 6, "Measuring it"))
        target = self.folder / "marked.mp4"
        with patch.object(QFileDialog, "getSaveFileName", lambda *_: (str(target), "")):
            self.window.commands.run("chapter_marks")
        self.wait(lambda: not self.session.export_queue.is_busy)
        self.assertEqual([one.problem for one in self.session.export_queue.made], [""])
        with av.open(str(target)) as read:
            titles = [one["metadata"]["title"] for one in read.chapters()]
        self.assertEqual(titles, ["Water table lecture", "Measuring it"])
