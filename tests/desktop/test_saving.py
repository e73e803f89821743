"""The word "saved" is true at every moment, and what cannot be saved is kept."""

import os
import shutil
import sqlite3
import subprocess
import sys
import textwrap
import time
from pathlib import Path
from unittest.mock import patch

from attacks.kills import children_of
from PySide6.QtWidgets import QDialog, QFileDialog, QPushButton

from tamarind.desktop.rescued_dialog import RescuedDialog
from tamarind.desktop.unsaved_dialog import UnsavedDialog
from tamarind.job import rescue
from tamarind.job.opening import open_job
from tamarind.job.settings import EXPORT_CLIENT
from tests.desktop.support import WindowTest
from tests.jobtest import DEMO_JOB
from tests.support import DEMO, database


class Saved(WindowTest):
    def head(self):
        return self.window.header.saved.text()

    def type_at_the_start(self, text):
        self.window.show_step("proof")
        self.sheet.caret.set((0, 0))
        self.sheet.editing.insert(text)

    def refuse(self):
        database(self.session.store).execute("PRAGMA max_page_count = 1")

    def allow(self):
        database(self.session.store).execute("PRAGMA max_page_count = 1000000")

    def test_the_head_says_so_only_while_it_is_true(self):
        self.type_at_the_start("first ")
        self.assertEqual(self.head(), "saved")
        self.refuse()
        self.type_at_the_start("word " * 2000)
        self.assertEqual(self.head(), "not saved")
        self.assertIn("full", self.window.header.saved.toolTip())
        self.type_at_the_start("more ")
        self.assertEqual(self.head(), "not saved")
        self.allow()
        self.wait(lambda: self.head() == "saved", 10)
        kept = sqlite3.connect(self.job).execute("SELECT words FROM cue").fetchall()
        self.assertTrue(any('"more"' in row[0] for row in kept))

    def test_a_folder_that_goes_away_while_nobody_types(self):
        gone = self.job.parent.rename(self.folder / "moved")
        self.wait(lambda: self.head() == "not saved", 10)
        self.type_at_the_start("meanwhile ")
        gone.rename(self.job.parent)
        self.wait(lambda: self.head() == "saved", 10)
        self.reopen()
        self.assertTrue(self.sheet.rows.text(0).startswith("meanwhile"))

    def test_text_that_is_none_is_no_text(self):
        self.type_at_the_start("half \ud800 a\x00 letter ")
        self.assertEqual(self.head(), "saved")
        self.assertTrue(self.sheet.rows.text(0).startswith("half a letter "))
        self.session.settings.keep(EXPORT_CLIENT, "Moor \udfff")
        self.assertEqual(self.head(), "saved")

    def test_closing_asks_and_what_was_typed_is_there_at_the_next_start(self):
        self.refuse()
        typed = [f"typed{number}" for number in range(40)]
        for word in typed:
            self.type_at_the_start(f"{word} " * 30)
        asked = []
        with patch.object(QDialog, "exec", lambda dialog: asked.append(dialog) or 0):
            self.assertFalse(self.window.close())
        self.assertIsInstance(asked[0], UnsavedDialog)
        self.assertTrue(self.window.isVisible())
        with patch.object(QDialog, "exec", lambda _: 1):
            self.assertTrue(self.window.close())
        (copy,) = rescue.rescued()
        self.assertEqual(copy.origin, self.job)
        dialog = RescuedDialog([copy])
        opened = []
        dialog.open_asked.connect(opened.append)
        opens = next(b for b in dialog.findChildren(QPushButton) if b.text() == "Open")
        opens.click()
        self.assertEqual(opened, [copy])
        store = open_job(copy.path).store
        said = " ".join(
            cue.text for r in store.recordings() for cue in store.document(r.id).transcript.cues
        )
        self.assertTrue(all(word in said for word in typed))
        self.assertEqual({r.path.is_file() for r in store.recordings()}, {True})
        store.close()
        self.open()

    def test_another_place_takes_all_of_it(self):
        self.refuse()
        self.type_at_the_start("elsewhere " * 3000)
        dialog = UnsavedDialog(self.session, self.window)
        place = self.folder / "other.tamarind"
        with patch.object(QFileDialog, "getSaveFileName", lambda *_: (str(place), "")):
            dialog.ask_place()
        self.assertTrue(dialog.result())
        store = open_job(place).store
        self.assertEqual(len(store.recordings()), 5)
        shown = store.document(self.session.shown).transcript
        self.assertEqual(shown, self.session.texts.transcript(self.session.shown))
        store.close()
        self.allow()


class AnotherFile(WindowTest):
    def test_a_text_whose_recording_was_replaced_says_so(self):
        key = self.named("Warden interview")
        path = self.session.recordings.get(key).path
        text = self.session.texts.transcript(key)
        self.shut()
        shutil.copy(path.parent / "Site memo, north drain.ogg", path)
        self.open()
        self.wait(lambda: self.session.recordings.get(key).problem, 60)
        self.assertIn("another one than that which this text is of",
                      self.session.recordings.get(key).problem)  # fmt: skip
        self.assertEqual(self.session.texts.transcript(key), text)

    def test_a_list_of_addresses_is_never_given_to_the_player(self):
        key = self.named("Warden interview")
        self.session.recordings.get(key).path.write_text("#EXTM3U\nhttp://10.9.8.7/a.ts\n")
        self.session.show(self.named("Water table lecture"))
        self.session.show(key)
        self.assertFalse(self.window.player.has_recording)


class Ended(WindowTest):
    demo = False

    def test_a_polite_end_and_ctrl_c_leave_nothing_running(self):
        program = textwrap.dedent(
            """
            import sys
            from pathlib import Path
            from PySide6.QtCore import QTimer
            from tamarind.desktop import app
            app.make_application()
            QTimer.singleShot(1500, lambda: print("up", flush=True))
            sys.exit(app.run(Path(sys.argv[1])))
            """
        )
        for number, status in ((15, 143), (2, 130)):
            job = self.folder / f"{number}" / DEMO_JOB
            shutil.copytree(DEMO, job.parent)
            process = subprocess.Popen(
                [sys.executable, "-c", program, str(job)], stdout=subprocess.PIPE, text=True,
                stderr=subprocess.PIPE, env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
            )  # fmt: skip
            self.assertEqual(process.stdout.readline(), "up\n")
            children = children_of(process.pid)
            began = time.monotonic()
            process.send_signal(number)
            _, errors = process.communicate(timeout=20)
            self.assertEqual(process.returncode, status, errors)
            self.assertNotIn("Traceback", errors)
            self.assertLess(time.monotonic() - began, 10)
            self.assertTrue(children)
            for child in children:
                self.assertFalse(Path(f"/proc/{child}/exe").exists(), "a worker lives on")
            store = open_job(job).store
            self.assertEqual(len(store.recordings()), 5)
            store.close()
