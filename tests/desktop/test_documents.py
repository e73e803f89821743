import shutil
import unittest
from dataclasses import replace
from unittest.mock import patch

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from tamarind.desktop.translation.screen import TranslationScreen
from tamarind.transcript.model import Word
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.routes import Router
from tamarind.translation.tracks import Track, with_edit
from tests.desktop.support import WindowTest


class Spanish:
    """An engine that marks what it was given, and can be told to fail."""

    name, label, kind = "spanish", "for a test", "rules"

    def __init__(self, fails=False, pairs=(("en", "es"), ("en", "ca"))):
        self._fails, self._pairs = fails, list(pairs)

    def pairs(self):
        return self._pairs

    def translate(self, texts, source, target, is_stopped=None):
        if self._fails:
            raise TranslationError("The translator failed: no reason given.")
        return [f"{target}: {text}" for text in texts]


class Translating(WindowTest):
    def setUp(self):
        super().setUp()
        self.key = self.named("Water table lecture")
        self.session.show(self.key)

    def screen(self, engine):
        self.session.translating._over = Router([engine])
        window = self.window
        screen = TranslationScreen(
            self.session, window.player, window.checking, window.hearing_dialog
        )
        screen.resize(1200, 600)
        screen.show()
        self.addCleanup(screen.deleteLater)
        return screen

    def track(self):
        return self.session.texts.document(self.key).track("es")

    def test_a_language_is_added_translated_corrected_and_undone(self):
        screen = self.screen(Spanish())
        screen.show_language("es")
        cues = self.session.texts.transcript(self.key).cues
        self.wait(lambda: self.track().text(cues[-1].id))
        self.assertEqual(self.track().text(cues[0].id), f"es: {cues[0].text}")
        screen.sheet.caret.set((0, 0))
        screen.sheet.editing.insert("Bien, ")
        entry = self.track().texts[cues[0].id]
        self.assertTrue(entry.by_person and entry.text.startswith("Bien, es:"))
        on_disk = self.session.store.document(self.key).track("es")
        self.assertEqual(on_disk, self.track())
        self.session.texts.undo()
        self.assertEqual(self.track().text(cues[0].id), f"es: {cues[0].text}")
        self.session.texts.undo()
        self.assertEqual(self.track().texts, {})

    def test_english_is_made_of_what_is_heard_and_spares_what_a_person_wrote(self):
        texts = self.session.texts
        text = replace(texts.transcript(self.key), language="es")
        texts.edit(self.key, "taken for Spanish", text)
        cues = text.cues
        document = texts.document(self.key)
        written = with_edit(Track("en"), cues[1], "By a person.")
        texts.edit_document(self.key, "by hand", document.with_track(written))
        screen = self.screen(Spanish(pairs=()))
        asked = []
        with patch.object(self.session.on_demand, "hear", lambda *a: asked.append(a)):
            screen.languages.hear_in_english()
        self.assertEqual(asked, [(self.key, (), True)])
        words = tuple(Word(f"w{n}", cue.start, cue.start + 40, 0.9) for n, cue in enumerate(cues))
        self.session.on_demand.heard.emit(self.key, words)
        track = texts.document(self.key).track("en")
        self.assertEqual([track.text(cue.id) for cue in cues[:3]], ["w0", "By a person.", "w2"])
        texts.undo()
        self.assertEqual(texts.document(self.key).track("en").text(cues[0].id), "")

    def test_only_missing_and_stale_cues_are_translated_again(self):
        screen = self.screen(Spanish())
        screen.show_language("es")
        cues = self.session.texts.transcript(self.key).cues
        self.wait(lambda: self.track().text(cues[-1].id))
        self.window.show_step("proof")
        self.sheet.caret.set((1, 0))
        self.sheet.editing.insert("Well ")
        screen.refresh()
        self.assertIn("1 stale", screen.state.text())
        screen.translate()
        self.wait(lambda: "Well" in self.track().text(cues[1].id))

    def test_backspace_at_a_cues_start_does_not_run_cues_together(self):
        screen = self.screen(Spanish())
        screen.show_language("es")
        cues = self.session.texts.transcript(self.key).cues
        self.wait(lambda: self.track().text(cues[-1].id))
        before = self.track()
        screen.sheet.setFocus()
        screen.sheet.caret.set((2, 0))
        screen.sheet.editing.delete(screen.sheet.movement.step(-1))
        self.assertEqual(self.track(), before)
        self.assertEqual(screen.sheet.caret.place[0], 1)

    def test_a_failing_engine_is_told_and_can_be_tried_again(self):
        told = []
        self.session.trouble.connect(told.append)
        screen = self.screen(Spanish(fails=True))
        screen.show_language("es")
        self.wait(lambda: told)
        self.assertIn("failed", told[0])
        self.assertTrue(screen.go.isEnabled())

    def test_without_an_engine_it_says_how_to_get_one(self):
        screen = self.screen(Spanish(pairs=()))
        self.assertIn("sudo apt install", screen.empty.note.text())
        self.assertFalse(screen.go.isVisible())

    @unittest.skipUnless(shutil.which("apertium"), "Apertium is not installed")
    def test_the_real_engine_in_the_real_window(self):
        self.window.show_step("translation")
        self.window.translation.show_language("es")
        cues = self.session.texts.transcript(self.key).cues
        self.wait(lambda: self.track().text(cues[-1].id))
        self.assertIn("agua", " ".join(self.track().text(c.id) for c in cues))


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
