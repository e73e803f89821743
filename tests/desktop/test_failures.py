"""What goes wrong unforeseen is told and noted, and nothing stays at work for it."""

import os
import subprocess
import sys
import threading
import time
from pathlib import Path
from unittest.mock import patch

from PySide6.QtGui import QGuiApplication

from tamarind.application.failures import failed
from tamarind.audio import soundcache
from tamarind.desktop.proof import shaping_dialog
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.room_dialog import RoomDialog
from tamarind.system.log import log_file, start_logging, stop_logging
from tests.desktop.support import WindowTest


class NothingVanishes(WindowTest):
    def setUp(self):
        super().setUp()
        start_logging()
        self.addCleanup(stop_logging)
        self.told = []
        failed.connect(self.told.append)
        self.addCleanup(lambda: failed.disconnect(self.told.append))
        self.session.trouble.connect(self.told.append)

    def fail(self, *_, **__):
        raise KeyError("the text of somebody’s recording")

    def check_told(self):
        self.wait(lambda: self.told, 20)
        self.assertIn("went wrong in Tamarind itself (KeyError)", self.told[0])
        self.check_noted()
        self.told.clear()

    def check_noted(self):
        log = log_file().read_text()
        self.assertIn("KeyError at test_failures.py", log)
        self.assertNotIn("somebody", log)

    def test_in_any_task(self):
        tasks_of(self.window, "trying").run(self.fail, self.told.append)
        self.check_told()

    def test_in_a_thread_of_a_library(self):
        from tamarind.desktop.failures import watch

        before = sys.excepthook, threading.excepthook, sys.unraisablehook
        try:
            watch()
            threading.Thread(target=self.fail).start()
            self.check_told()
        finally:
            sys.excepthook, threading.excepthook, sys.unraisablehook = before

    def test_translating_is_not_working_for_ever(self):
        self.session.show(self.named("Warden interview"))
        self.window.show_step("translation")
        with patch("tamarind.translation.draft.draft", self.fail):
            self.window.translation.show_language("es")
            self.check_told()
        self.assertFalse(self.session.translating.queue())
        self.window.translation.translate()
        self.wait(lambda: not self.session.translating.queue(), 60)
        self.assertTrue(self.session.texts.document(self.session.shown).track("es").texts)

    def test_checking(self):
        with patch("tamarind.checks.checker.Checker.check", self.fail):
            self.window.checking.start_afresh()
            self.check_told()
        self.window.checking.start_afresh()
        self.wait(lambda: self.window.checking.findings(self.session.shown), 60)

    def test_looking_for_other_places(self):
        self.window.proof.fixing.elsewhere.last = object()
        with (
            patch("tamarind.desktop.proof.fixing.other_places", self.fail),
            patch.object(self.window.proof.fixing, "_check", lambda: None),
        ):
            for _ in range(2):
                self.window.proof.fixing.look_elsewhere()
                self.check_told()

    def test_writing_and_previewing_documents(self):
        export = self.window.export
        export.set_folder(self.folder)
        with patch("tamarind.desktop.export.screen.written", self.fail):
            self.window.show_step("export")
            self.wait(lambda: "itself (KeyError)" in export.facts.whole(), 20)
            with patch.object(export, "_may_write_all_the_same", lambda _: True):
                export.write()
                if export.is_waiting:
                    export.write()
                self.wait(lambda: "itself (KeyError)" in export.said.text(), 60)
        self.assertTrue(export.go.isEnabled())

    def test_shaping_captions(self):
        recording = self.session.shown_recording()
        with (
            patch.object(shaping_dialog, "AT_ONCE", 0),
            patch.object(shaping_dialog, "reshape", self.fail),
        ):
            dialog = shaping_dialog.ShapingDialog(
                self.sheet.transcript,
                None,
                self.session.styles.of(recording),
                speech=(),
                shots=(),
                parent=self.window,
            )
            self.wait(lambda: "itself (KeyError)" in dialog.note.text(), 20)
        self.check_noted()
        dialog.choose(shaping_dialog.Reshaping.MERGE)
        self.assertNotIn("itself", dialog.note.text())

    def test_finding_a_pattern(self):
        bar = self.window.proof.find_bar
        self.window.show_step("proof")
        bar.open()
        bar.pattern.setChecked(True)
        with patch("tamarind.desktop.finding.find_bar.found_in", self.fail):
            bar.wanted.setText("bog|fen")
            self.wait(lambda: "itself (KeyError)" in bar.count.text(), 20)
        self.check_noted()

    def test_looking_what_room_is_taken(self):
        with patch.object(soundcache, "kept", self.fail):
            dialog = RoomDialog(self.window)
            self.wait(lambda: "itself (KeyError)" in dialog.kept.text(), 20)
        self.check_noted()

    def test_the_details_can_be_copied(self):
        tasks_of(self.window, "trying").run(self.fail, self.told.append)
        said = self.window.said
        self.wait(lambda: said.isVisible(), 20)
        self.assertEqual(said.offer.text(), "Copy the details")
        said.offer.click()
        copied = QGuiApplication.clipboard().text()
        self.assertIn("trying: KeyError at test_failures.py", copied)
        self.assertIn("Python 3", copied)
        self.assertNotIn("somebody", copied)
        self.assertTrue(said.offer.isHidden())

    def test_in_a_worker(self):
        from tamarind.batch.messages import Decode, Failed
        from tamarind.batch.work import do

        with patch("tamarind.batch.work.decoded", self.fail):
            (event,) = do(Decode(1, Path("x.wav")))
        self.assertIsInstance(event, Failed)
        self.assertIn("itself (KeyError)", event.reason)


class LogLevel(WindowTest):
    def test_a_command_notes_what_it_is_told_to(self):
        program = "from tamarind.system.log import logger; logger.info('%s', 'a note')"
        program = f"""
import sys
from tamarind.cli import main, text
def convert(options):
    {program}
    return 0
text.convert = convert
sys.exit(main.program())
"""
        for level, noted in (("info", True), ("error", False)):
            log_file().unlink(missing_ok=True)
            arguments = ["convert", "a.srt", "b.vtt", "--log-level", level]
            subprocess.run([sys.executable, "-c", program, *arguments], check=True, env=os.environ)
            self.assertEqual("a note" in log_file().read_text(), noted, level)


class Patience(WindowTest):
    def test_a_pattern_that_never_ends_does(self):
        bar = self.window.proof.find_bar
        self.window.show_step("proof")
        self.sheet.caret.set((0, 0))
        self.sheet.editing.insert("a" * 60 + "b ")
        bar.open()
        bar.pattern.setChecked(True)
        for pattern, said in ((r"(\w+\s?)+$", ""), (r"(a|aa)+$", "too long")):
            began = time.monotonic()
            bar.wanted.setText(pattern)
            self.assertLess(time.monotonic() - began, 5)
            self.wait(lambda said=said: said in bar.count.text() != "looking…", 30)
        # What is asked for meanwhile does not wait for it.
        bar.wanted.setText(r"(a|aa)+$ ")
        bar.pattern.setChecked(False)
        bar.wanted.setText("aaab")
        self.assertTrue(bar.list.count())

    def test_a_word_of_twenty_thousand_letters_beside_the_caret(self):
        self.window.show_step("proof")
        self.sheet.caret.set((0, 0))
        began = time.monotonic()
        self.sheet.editing.insert("w" * 20_000 + " ", typed=False)
        self.type("a b ")
        self.key_backspace()
        self.window.grab()
        self.assertLess(time.monotonic() - began, 10)
        self.assertLessEqual(max(map(len, self.sheet.rows.text(0).split())), 1_000)

    def key_backspace(self):
        from PySide6.QtCore import Qt

        for _ in range(3):
            self.key(Qt.Key.Key_Backspace)
