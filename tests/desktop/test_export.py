import json
from dataclasses import replace
from pathlib import Path
from unittest.mock import patch

from PySide6.QtWidgets import QApplication, QMessageBox

from tamarind.formats.captions import srt, vtt
from tamarind.job.export import ExportOptions, plan
from tamarind.transcript.edits import toggle_span
from tests.desktop.support import WindowTest

YES, NO = QMessageBox.StandardButton.Yes, QMessageBox.StandardButton.No


class Exporting(WindowTest):
    def setUp(self):
        super().setUp()
        self.out = self.folder / "out"
        self.out.mkdir()
        self.screen = self.window.export
        self.panel = self.screen.panel
        self.screen.set_folder(self.out)
        self.window.show_step("export")
        QApplication.processEvents()

    def tick(self, *suffixes):
        for suffix, box in self.panel.kinds.items():
            box.setChecked(suffix in suffixes)

    def write(self, answer=YES):
        """Write all the files; how often was asked about anything."""
        with patch.object(QMessageBox, "question", return_value=answer) as asked:
            self.screen.write()
            self.wait(self.is_done, 60)
        return [call.args[1] for call in asked.call_args_list]

    def is_done(self):
        screen = self.screen
        return not screen.is_waiting and (screen.go.isEnabled() or not screen.files)

    def preview(self, name):
        file = next(f for f in self.screen.files if f.name == name)
        self.screen.choose(file)
        self.wait(lambda: self.screen.shown is not None and self.screen.shown[0] == file, 20)
        return self.screen.preview.toPlainText()

    def files(self):
        return {path.name: path.read_bytes() for path in self.out.iterdir()}

    def test_the_preview_is_the_very_bytes_that_are_written(self):
        self.tick(*self.panel.kinds)
        self.panel.languages["pt"].setChecked(True)
        # Nothing is described in the demo, which leaves out that kind.
        self.assertEqual(len(self.screen.files), (len(self.panel.kinds) - 1) * 5)
        shown = {}
        for file in list(self.screen.files):
            self.preview(file.name)
            shown[file.name] = self.screen.shown[1].data
        self.write()
        written = self.files()
        self.assertEqual(written, shown)
        self.assertIn("85 files written", self.screen.said.text())
        self.assertIn("<v Warden>", written["Warden interview.vtt"].decode())
        memo = srt.read(written["Site memo, north drain.pt.srt"].decode(), "pt")
        source = self.session.texts.transcript(self.named("Site memo, north drain"))
        self.assertEqual([c.start for c in memo.cues], [c.start for c in source.cues])
        data = json.loads(written["Site memo, north drain.json"])
        self.assertEqual(len(data["translations"]["pt"]), len(data["cues"]))
        text = vtt.read(written["Warden interview.vtt"].decode(), "en")
        self.assertEqual(text.speakers[1].name, "Warden")

    def test_broadcasters_files_begin_at_the_timecode_and_what_they_lack_is_a_check(
        self,
    ):
        key = self.named("Site memo, north drain")
        self.tick("srt")
        self.assertFalse(self.panel.timecode.isEnabled())
        self.tick("scc", "stl")
        self.panel.timecode.setText("10:00")
        self.assertIn("not a timecode", self.panel.timecode_said.text())
        self.panel.timecode.setText("10:00:00:00")
        self.assertFalse(self.panel.timecode_said.isVisible())
        self.assertIn("\n10:00:", self.preview("Site memo, north drain.scc"))
        self.assertIn("00:00:00.", self.preview("Site memo, north drain.stl")[:20])
        self.wait(lambda: self.screen.unchecked() == [], 20)
        found = self.window.checking.findings(key)
        limits = [one for one in found if one.finding.rule == "file-limits"]
        self.assertIn("SCC: it takes 3 rows", limits[0].finding.reason)
        self.tick("srt")
        self.wait(lambda: self.screen.unchecked() == [], 20)
        self.assertNotIn(
            "file-limits", [one.finding.rule for one in self.window.checking.findings(key)]
        )

    def test_files_that_can_say_a_look_have_it_where_that_is_wished(self):
        self.tick("vtt", "ass")
        self.session.looks.choose("torch")
        self.assertNotIn("STYLE", self.preview("Site memo, north drain.vtt"))
        self.panel.look.setChecked(True)
        self.assertIn("font-weight: bold", self.preview("Site memo, north drain.vtt"))
        self.assertIn("words that come as they are said", self.panel.look_said.text())
        self.assertIn("Style: Captions", self.preview("Site memo, north drain.ass"))

    def test_word_count_and_length_stand_beside_each_document(self):
        self.tick("txt", "docx")
        self.preview("Site memo, north drain.docx")
        self.assertIn("199 words", self.screen.facts.text())
        self.assertIn("00:01:06", self.screen.facts.text())
        self.assertIn("\nSURVEYOR\n", self.screen.preview.toPlainText())

    def test_what_has_no_text_is_left_out_and_nothing_to_write_is_said(self):
        names = {file.name for file in self.screen.files}
        self.assertNotIn("Volunteers round table.txt", names)
        self.tick()
        self.assertFalse(self.screen.go.isEnabled())
        self.assertIn("Tick a document", self.screen.said.text())

    def test_files_that_are_there_are_asked_about_once(self):
        self.tick("txt")
        target = self.out / "Warden interview.txt"
        target.write_text("mine")
        with patch.object(self.screen, "musts", return_value=0):
            self.assertEqual(self.write(NO), ["Replace files?"])
            self.assertEqual(self.files(), {target.name: b"mine"})
            self.assertEqual(self.write(), ["Replace files?"])
        self.assertIn("Interviewer:", target.read_text())

    def test_what_must_be_mended_is_summed_up_and_asked_about_before_writing(self):
        self.tick("srt")
        key = self.named("Site memo, north drain")
        self.session.show(key)
        self.panel.all.setChecked(False)
        text = self.session.texts.transcript(key)
        word = "(Site " + text.cues[0].text[5:]
        from tamarind.transcript.edits import set_text

        self.session.texts.edit(key, "a bracket", set_text(text, 0, word))
        self.wait(lambda: self.window.checking.is_known(key), 30)
        self.assertGreater(self.screen.musts(), 0)
        self.wait(lambda: any("error" in line for line in self.lines()), 5)
        self.assertEqual(self.write(NO), ["Export anyway?"])
        self.assertEqual(self.files(), {})

    def lines(self):
        """What is said of the checks."""
        return [line.text() for line in self.screen.checked.findChildren(type(self.screen.go))]

    def test_checks_of_many_recordings_are_told_once_for_many(self):
        self.tick("srt")
        self.wait(lambda: self.lines() and not any("checking" in line for line in self.lines()))
        lines = self.lines()
        made = self.screen.checked.findChildren(type(self.screen.go))
        checking = self.window.checking
        with patch.object(checking, "summary", wraps=checking.summary) as asked:
            for recording in self.session.recordings.all() * 20:
                checking.changed.emit(recording.id)
            self.assertEqual(asked.call_count, 0)
            self.wait(lambda: asked.call_count, 5)
        self.assertEqual(asked.call_count, len(lines))
        self.assertEqual(self.lines(), lines)
        self.assertEqual(self.screen.checked.findChildren(type(self.screen.go)), made)

    def test_some_of_the_recordings_are_written_and_remembered(self):
        self.tick("txt")
        memo, interview = self.named("Site memo, north drain"), self.named("Warden interview")
        self.session.show(memo)
        self.assertFalse(self.panel.recordings.isVisible())
        self.panel.all.setChecked(False)
        self.assertTrue(self.panel.recordings.isVisible())
        self.assertEqual([f.name for f in self.screen.files], ["Site memo, north drain.txt"])
        self.panel.tick(interview, True)
        self.session.show(interview)
        names = ["Warden interview.txt", "Site memo, north drain.txt"]
        self.assertEqual([f.name for f in self.screen.files], names)
        self.panel.tick(memo, False)
        self.assertEqual([f.name for f in self.screen.files], names[:1])
        self.reopen()
        self.window.show_step("export")
        QApplication.processEvents()
        self.assertEqual([f.name for f in self.window.export.files], names[:1])

    def test_it_waits_for_the_checks_before_it_asks(self):
        self.tick("srt")
        self.window.checking.start_afresh()
        self.assertTrue(self.screen.unchecked())
        with patch.object(QMessageBox, "question", return_value=NO) as asked:
            self.screen.write()
            self.assertIn("first", self.screen.said.text())
            self.assertEqual(self.screen.go.text(), "Write without waiting")
            self.assertFalse(asked.called or self.files())
            self.wait(lambda: not self.screen.is_waiting, 60)
            self.assertEqual(asked.called, self.screen.musts() > 0)
        self.assertNotEqual(self.screen.go.text(), "Write without waiting")

    def test_who_does_not_want_to_wait_need_not(self):
        self.tick("txt")
        self.window.checking.start_afresh()
        self.screen.write()
        with patch.object(QMessageBox, "question", return_value=YES):
            self.screen.write()
            self.wait(lambda: self.is_done() and bool(self.files()), 30)
        self.assertIn("written", self.screen.said.text())

    def test_who_goes_elsewhere_does_not_write_by_surprise(self):
        self.tick("txt")
        self.window.checking.start_afresh()
        self.screen.write()
        self.window.show_step("proof")
        self.screen.write_if_waiting()
        self.wait(lambda: not self.screen.unchecked(), 60)
        self.assertEqual(self.files(), {})

    def test_checks_of_many_recordings_leave_room_for_the_files(self):
        lines = self.screen.checked.findChildren(type(self.screen.go))
        self.assertEqual(len(lines), len({f.recording_id for f in self.screen.files}))
        needed = sum(line.sizeHint().height() for line in lines)
        self.assertGreaterEqual(self.screen.checked.height(), min(needed, 190))
        self.assertLessEqual(self.screen.checked.height(), 190)

    def test_a_folder_that_went_away_is_told(self):
        self.tick("txt")
        self.out.rmdir()
        self.write()
        self.assertIn("No such file", self.screen.said.text())

    def test_the_house_style_shapes_the_transcript(self):
        self.tick("txt")
        key = self.named("Warden interview")
        self.assertTrue(self.preview("Warden interview.txt").startswith("Interviewer:"))
        self.session.styles.choose([key], "verbatim")
        text = self.preview("Warden interview.txt")
        self.assertTrue(text.startswith("[00:00:00] Interviewer:"))

    def test_names_encodings_and_kinds_of_captions_are_by_choice(self):
        self.tick("srt", "vtt")
        self.panel.pattern.setText("{client} {recording} {date}.{language}")
        self.panel.client.setText("Moor/Trust")
        self.panel.line_ends.setCurrentIndex(1)
        self.panel.mark.setCurrentIndex(1)
        self.panel.way.setCurrentIndex(1)
        self.panel.word_times.setChecked(True)
        self.write()
        written = self.files()
        day = self.panel.export_options().date
        name = f"Moor-Trust Site memo, north drain {day}"
        self.assertTrue(written[f"{name}.srt"].startswith(b"\xef\xbb\xbf1\r\n"))
        self.assertIn(b"<00:00:", written[f"{name}.vtt"])
        cues = srt.read(written[f"{name}.srt"].decode("utf-8-sig"), "en").cues
        self.assertEqual(cues[0].lines[-1], cues[1].lines[0])
        self.panel.pattern.setText("{what}")
        self.assertIn("not {what}", self.screen.said.text())
        self.assertFalse(self.screen.go.isEnabled())

    def test_two_languages_go_into_one_file_of_captions(self):
        self.tick("srt")
        self.panel.below.setCurrentIndex(1)
        self.panel.below.activated.emit(1)
        text = self.preview("Site memo, north drain.srt")
        self.assertIn("It is blowing hard,\nNota de campo", text)

    def test_styles_and_notes_of_a_file_are_written_or_left_out(self):
        key = self.named("Site memo, north drain")
        text = self.session.texts.transcript(key)
        first = replace(text.cues[0], note="For the trust")
        noted = replace(text, cues=(first, *text.cues[1:]), preamble="STYLE\n::cue { color: teal }")
        self.session.texts.edit(key, "notes", toggle_span(noted, [(1, 0)], "i"))
        self.session.show(key)
        self.panel.kinds["vtt"].setChecked(True)
        file = next(f for f in self.screen.files if f.name == "Site memo, north drain.vtt")
        kept = ("NOTE For the trust", "STYLE", "<i>")
        for wanted in (True, False):
            self.panel.kept.setChecked(wanted)
            self.screen.choose(file)
            text = self.screen.preview.toPlainText
            self.wait(lambda text=text, wanted=wanted: ("STYLE" in text()) is wanted, 20)
            shown = text()
            self.assertEqual([each in shown for each in kept], [wanted] * 3)

    def test_choices_are_kept_with_the_job(self):
        self.tick("vtt", "docx")
        self.panel.pattern.setText("{recording} x")
        self.reopen()
        panel = self.window.export.panel
        self.assertEqual(panel.export_options().suffixes, ("docx", "vtt"))
        self.assertEqual(panel.export_options().pattern, "{recording} x")

    def test_two_recordings_of_one_name_do_not_write_over_each_other(self):
        (recording,) = [r for r in self.session.recordings.all() if r.name == "Warden interview"]
        document = self.session.texts.document(recording.id)
        files = plan([(recording, document), (recording, document)], ExportOptions(("srt",)))
        self.assertEqual(len({file.name for file in files}), 2)

    def test_what_cannot_be_written_leaves_an_older_file_as_it_was(self):
        self.tick("txt")
        target = self.out / "Warden interview.txt"
        target.write_text("mine")
        with patch.object(Path, "replace", side_effect=OSError(28, "No space left on device")):
            self.write()
        self.assertEqual(self.files(), {target.name: b"mine"})
        self.assertIn("No space left", self.screen.said.text())
