"""Names that were corrected are listened for later, for the same client, if the person wishes."""

from unittest.mock import patch

import av
from PySide6.QtWidgets import QApplication

from tamarind.application import correctednames
from tamarind.audio.media import probe
from tamarind.desktop.intake.glossary_dialog import CorrectedDialog, GlossaryDialog
from tamarind.speech.glossary import NO_TERMS
from tamarind.transcript import edits
from tests.desktop.support import WindowTest
from tests.support import tone


class CorrectedNames(WindowTest):
    def setUp(self):
        super().setUp()
        self.addCleanup(correctednames.keep_for, self.style(), [])
        self.addCleanup(correctednames.allow, False)

    def style(self):
        return self.session.shown_recording().style

    def correct(self, name):
        """Write a name where the first word stood that is none."""
        text = self.session.texts.transcript(self.session.shown)
        words = [w.text for w in text.cues[1].words]
        words[1] = name
        self.session.edit_shown("words", edits.set_text(text, 1, " ".join(words)))

    def export(self):
        self.window.export.set_folder(self.folder)
        self.window.show_step("export")
        QApplication.processEvents()
        with patch("tamarind.desktop.export.screen.QMessageBox.question"):
            self.window.export._finished(1, [])

    def listened_for(self):
        glossary = self.session.styles.glossary_of(self.session.shown_recording())
        return [term.text for term in glossary.terms]

    def test_it_is_asked_once_and_then_kept_for_the_client(self):
        self.assertFalse(correctednames.is_decided())
        self.correct("Penhallow")
        self.export()
        self.assertIn("Penhallow", self.window.said.text())
        self.assertNotIn("Penhallow", self.listened_for())
        self.window.said.offer.click()
        self.assertIn("Penhallow", self.listened_for())
        self.window.said.say("Something else.")
        self.correct("Ekofen")
        self.export()
        self.assertEqual(self.window.said.text(), "Something else.")
        self.assertIn("Ekofen", self.listened_for())

    def test_who_does_not_answer_is_not_asked_again_and_nothing_is_kept(self):
        self.correct("Penhallow")
        self.export()
        self.window.said.say("Something else.")
        self.export()
        self.assertEqual(self.window.said.text(), "Something else.")
        self.assertNotIn("Penhallow", self.listened_for())

    def test_they_can_be_looked_at_and_emptied(self):
        correctednames.add_for(self.style(), ["Ekofen", "Penhallow"])
        dialog = GlossaryDialog(NO_TERMS, client=(self.style(), "Ordinary captions"))
        self.assertEqual(
            dialog.corrected.text(), "2 names corrected earlier for “Ordinary captions”…"
        )

        def empty(dialog):
            self.assertEqual(dialog.text.toPlainText(), "Ekofen\nPenhallow\n")
            dialog.text.setPlainText("")
            dialog.remembers.setChecked(True)
            dialog.accept()

        with patch.object(CorrectedDialog, "exec", empty):
            dialog.corrected.click()
        self.assertEqual(dialog.corrected.text(), "Names corrected earlier…")
        self.assertEqual(correctednames.kept_for(self.style()), [])
        self.assertTrue(correctednames.is_allowed())

    def test_what_a_file_says_of_itself_is_proposed(self):
        path = self.folder / "memo.m4a"
        with av.open(str(path), "w") as container:
            container.metadata.update(title="Interview with Ishbel Penhallow", genre="Speech")
            stream = container.add_stream("aac", rate=16_000, layout="mono")
            frame = av.AudioFrame.from_ndarray(tone(1.0)[None].astype("float32"), "fltp", "mono")
            frame.sample_rate = 16_000
            for packet in (*stream.encode(frame), *stream.encode(None)):
                container.mux(packet)
        self.assertEqual(probe(path).tags, ("Interview with Ishbel Penhallow",))
        dialog = GlossaryDialog(NO_TERMS, "en", probe(path).tags)
        self.assertIn("Ishbel Penhallow", dialog.from_names.text())
