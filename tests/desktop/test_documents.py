import json
import shutil
import unittest
from unittest.mock import patch

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QMessageBox

from tamarind.desktop.export.plan import plan
from tamarind.desktop.translation.screen import TranslationScreen
from tamarind.formats import srt, vtt
from tamarind.translation.engines.base import TranslationError
from tests.desktop.support import WindowTest


class Spanish:
    """An engine that marks what it was given, and can be told to fail."""

    def __init__(self, fails=False, pairs=(("en", "es"), ("en", "ca"))):
        self._fails, self._pairs = fails, list(pairs)

    def pairs(self):
        return self._pairs

    def translate(self, texts, source, target):
        if self._fails:
            raise TranslationError("The translator failed: no reason given.")
        return [f"{target}: {text}" for text in texts]


class Translating(WindowTest):
    def setUp(self):
        super().setUp()
        self.key = self.named("Water table lecture")
        self.session.show(self.key)

    def screen(self, engine):
        screen = TranslationScreen(self.session, engine)
        screen.resize(1200, 600)
        screen.show()
        self.addCleanup(screen.deleteLater)
        return screen

    def track(self):
        return self.session.document(self.key).track("es")

    def test_a_language_is_added_translated_corrected_and_undone(self):
        screen = self.screen(Spanish())
        screen.show_language("es")
        cues = self.session.transcript(self.key).cues
        self.wait(lambda: self.track().text(cues[-1].id))
        self.assertEqual(self.track().text(cues[0].id), f"es: {cues[0].text}")
        screen.sheet.set_caret((0, 0))
        screen.sheet.insert("Bien, ")
        entry = self.track().texts[cues[0].id]
        self.assertTrue(entry.by_person and entry.text.startswith("Bien, es:"))
        on_disk = self.session.store.document(self.key).track("es")
        self.assertEqual(on_disk, self.track())
        self.session.undo()
        self.assertEqual(self.track().text(cues[0].id), f"es: {cues[0].text}")
        self.session.undo()
        self.assertEqual(self.track().texts, {})

    def test_only_missing_and_stale_cues_are_translated_again(self):
        screen = self.screen(Spanish())
        screen.show_language("es")
        cues = self.session.transcript(self.key).cues
        self.wait(lambda: self.track().text(cues[-1].id))
        self.window.show_step("proof")
        self.sheet.set_caret((1, 0))
        self.sheet.insert("Well ")
        screen._refresh()
        self.assertIn("1 stale", screen._state.text())
        screen.translate()
        self.wait(lambda: self.track().text(cues[1].id).startswith("es: Well"))

    def test_backspace_at_a_cues_start_does_not_run_cues_together(self):
        screen = self.screen(Spanish())
        screen.show_language("es")
        cues = self.session.transcript(self.key).cues
        self.wait(lambda: self.track().text(cues[-1].id))
        before = self.track()
        screen.sheet.setFocus()
        screen.sheet.set_caret((2, 0))
        screen.sheet._anchor = screen.sheet._step(-1)
        screen.sheet._delete_selection()
        self.assertEqual(self.track(), before)
        self.assertEqual(screen.sheet.caret[0], 1)

    def test_a_failing_engine_is_told_and_can_be_tried_again(self):
        told = []
        self.session.trouble.connect(told.append)
        screen = self.screen(Spanish(fails=True))
        screen.show_language("es")
        self.wait(lambda: told)
        self.assertIn("failed", told[0])
        self.assertTrue(screen._go.isEnabled())

    def test_without_an_engine_it_says_how_to_get_one(self):
        screen = self.screen(Spanish(pairs=()))
        self.assertIn("sudo apt install", screen._empty_note.text())
        self.assertFalse(screen._go.isVisible())

    @unittest.skipUnless(shutil.which("apertium"), "Apertium is not installed")
    def test_the_real_engine_in_the_real_window(self):
        self.window.show_step("translation")
        self.window.translation.show_language("es")
        cues = self.session.transcript(self.key).cues
        self.wait(lambda: self.track().text(cues[-1].id))
        self.assertIn("agua", " ".join(self.track().text(c.id) for c in cues))


class Exporting(WindowTest):
    def setUp(self):
        super().setUp()
        self.out = self.folder / "out"
        self.out.mkdir()
        self.screen = self.window.export
        self.screen.set_folder(self.out)
        self.window.show_step("export")
        QApplication.processEvents()

    def tick(self, *suffixes):
        for suffix, box in self.screen._kinds.items():
            box.setChecked(suffix in suffixes)

    def test_the_preview_is_what_is_written(self):
        self.tick("txt", "srt", "vtt", "json")
        self.screen._languages["es"].setChecked(True)
        files = list(self.screen._files)
        self.assertEqual(len(files), 3 * 4 + 4)
        previews = {}
        for file in files:
            self.screen._choose(file)
            previews[file.name] = self.screen._preview.toPlainText()
        self.screen.write()
        written = {path.name: path.read_text() for path in self.out.iterdir()}
        self.assertEqual(written, previews)
        self.assertIn("16 files are written", self.screen._said.text())
        self.assertIn("<v Warden>", written["Warden interview.vtt"])
        self.assertIn("Nota de campo", written["Site memo, north drain.es.srt"])
        memo = srt.read(written["Site memo, north drain.es.srt"], "es")
        source = self.session.transcript(self.named("Site memo, north drain"))
        self.assertEqual([c.start for c in memo.cues], [c.start for c in source.cues])
        data = json.loads(written["Site memo, north drain.json"])
        self.assertEqual(len(data["translations"]["es"]), len(data["cues"]))
        self.assertEqual(vtt.read(written["Warden interview.vtt"], "en").speakers[1].name, "Warden")

    def test_what_has_no_text_is_left_out_and_nothing_to_write_is_said(self):
        names = {file.name for file in self.screen._files}
        self.assertNotIn("Volunteers round table.txt", names)
        self.tick()
        self.assertFalse(self.screen._go.isEnabled())
        self.assertIn("Tick a document", self.screen._said.text())

    def test_files_that_are_there_are_asked_about_once(self):
        self.tick("txt")
        target = self.out / "Warden interview.txt"
        target.write_text("mine")
        with patch.object(
            QMessageBox, "question", return_value=QMessageBox.StandardButton.No
        ) as asked:
            self.screen.write()
        self.assertEqual(asked.call_count, 1)
        self.assertEqual([path.name for path in self.out.iterdir()], [target.name])
        self.assertEqual(target.read_text(), "mine")
        with patch.object(QMessageBox, "question", return_value=QMessageBox.StandardButton.Yes):
            self.screen.write()
        self.assertIn("Interviewer:", target.read_text())

    def test_a_folder_that_went_away_is_told(self):
        self.tick("txt")
        self.out.rmdir()
        self.screen.write()
        self.assertIn("could not be written", self.screen._said.text())

    def test_options_change_the_transcript(self):
        self.tick("txt")
        file = next(f for f in self.screen._files if f.name == "Warden interview.txt")
        self.screen._choose(file)
        self.screen._times.setChecked(True)
        self.assertTrue(self.screen._preview.toPlainText().startswith("[00:00:00] Interviewer:"))
        self.screen._speakers.setChecked(False)
        self.assertNotIn("Interviewer:", self.screen._preview.toPlainText())

    def test_two_recordings_of_one_name_do_not_write_over_each_other(self):
        (recording,) = [r for r in self.session.recordings() if r.name == "Warden interview"]
        document = self.session.document(recording.id)
        files = plan([(recording, document), (recording, document)], ["srt"], [None])
        self.assertEqual(len({file.name for file in files}), 2)


class Keys(WindowTest):
    def test_every_step_has_its_key(self):
        for number, step in enumerate(("intake", "proof", "translation", "export"), 1):
            self.window.setFocus()
            key = getattr(Qt.Key, f"Key_{number}")
            self.key(key, Qt.KeyboardModifier.ControlModifier)
            self.assertEqual(self.window.step(), step)

    def test_no_key_means_two_things(self):
        seen = {}
        for action in self.window.actions():
            for sequence in action.shortcuts():
                text = sequence.toString()
                self.assertNotIn(text, seen, f"{action.text()} and {seen.get(text)}")
                seen[text] = action.text()

    def test_every_control_has_an_accessible_name(self):
        from PySide6.QtWidgets import QAbstractButton, QComboBox, QLineEdit

        for step in ("intake", "proof", "translation", "export"):
            self.window.show_step(step)
            QApplication.processEvents()
            for kind in (QAbstractButton, QComboBox, QLineEdit):
                for widget in self.window.findChildren(kind):
                    named = widget.accessibleName() or getattr(widget, "text", str)()
                    if widget.isVisible():
                        self.assertTrue(named, widget)
