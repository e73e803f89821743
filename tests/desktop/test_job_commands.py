"""Jobs as a whole: recent ones, another name, earlier states, recordings that have moved."""

import shutil
from unittest.mock import patch

from tamarind.desktop import recent
from tamarind.desktop.app import Opener, make_application
from tamarind.desktop.job_commands import EarlierDialog, MovedDialog
from tamarind.desktop.pack_dialog import PackDialog
from tamarind.job import backups, setting
from tamarind.job.opening import open_job
from tests.desktop.support import WindowTest
from tests.support import FolderTest

NOTE = setting.text("note")


class JobCommandsTest(FolderTest):
    def setUp(self):
        super().setUp()
        make_application()
        self.opener = Opener()
        self.path = self.folder / "Moor.tamarind"
        open_job(self.path).store.close()
        self.assertTrue(self.opener.open(self.path))
        self.addCleanup(self.opener.close)

    @property
    def shown(self):
        return self.opener.window

    def test_a_new_name_keeps_all_and_goes_on_in_the_same_place(self):
        self.shown.session.settings.keep(NOTE, "kept")
        self.shown.job.rename_to("Harrow Moor")
        self.assertEqual(self.shown.session.store.path.name, "Harrow Moor.tamarind")
        self.assertFalse(self.path.exists())
        self.assertEqual(self.shown.session.settings.get(NOTE), "kept")
        self.assertEqual(recent.recent()[0].name, "Harrow Moor.tamarind")

    def test_a_name_that_is_taken_or_none_is_refused(self):
        open_job(self.folder / "Bog.tamarind").store.close()
        told = []
        self.shown.session.told.connect(told.append)
        for name in ("Bog", "a/b", "x" * 300):
            self.shown.job.rename_to(name)
        self.assertEqual(len(told), 3)
        self.shown.job.rename_to(" ")
        self.assertEqual(self.shown.session.store.path, self.path)

    def test_recent_jobs_are_offered_the_last_one_first(self):
        for name in ("A", "B"):
            path = self.folder / f"{name}.tamarind"
            open_job(path).store.close()
            self.opener.open(path)
        (self.folder / "A.tamarind").unlink()
        menu = self.shown.job.recent_menu()
        menu.aboutToShow.emit()
        self.assertEqual([act.text() for act in menu.actions()], ["Moor"])
        menu.actions()[0].trigger()
        self.assertEqual(self.shown.session.name, "Moor")

    def test_earlier_states_are_kept_by_themselves_and_opened_beside(self):
        self.shown.session.settings.keep(NOTE, "before")
        self.shown.job.back_up()
        self.shown.session.settings.keep(NOTE, "after")
        dialog = EarlierDialog(self.path, self.opener.open, self.shown)
        self.assertEqual(dialog.list.count(), len(backups.backups(self.path)))
        dialog.open_chosen()
        self.assertEqual(self.shown.session.settings.get(NOTE), "before")
        self.assertIn("earlier", self.shown.session.name)
        self.assertTrue(self.path.exists())


class Packed(WindowTest):
    def test_a_job_is_packed_from_its_dialog_and_opened_from_the_file(self):
        session = self.window.session
        target = self.folder / "out" / "Moor.tamarind.zip"
        target.parent.mkdir()
        dialog = PackDialog(session, self.window)
        dialog.open()
        self.assertIn("Recordings (", dialog.recordings.text())
        dialog.drafts.setChecked(False)
        dialog.pack(target)
        self.assertFalse(dialog.go.isEnabled())
        self.wait(lambda: not session.export_queue.is_busy)
        self.assertTrue(dialog.folder.isVisible())
        self.assertIn("1 file written.", dialog.strip.told.text())
        texts = [session.texts.document(one.id) for one in session.recordings.all()]
        dialog.reject()
        opener = Opener()
        self.addCleanup(opener.close)
        self.assertTrue(opener.open(target))
        there = opener.window.session
        self.assertEqual(there.store.path.parent.parent, target.parent)
        self.assertEqual([there.texts.document(one.id) for one in there.recordings.all()], texts)
        target.write_bytes(target.read_bytes()[:-100])
        with patch("tamarind.desktop.app.QMessageBox.warning") as warned:
            self.assertFalse(opener.open(target))
        self.assertIn("is damaged", warned.call_args[0][2])

    def test_a_recording_that_is_gone_is_told_before_packing(self):
        self.window.session.recordings.all()[0].path.unlink()
        dialog = PackDialog(self.window.session, self.window)
        self.assertFalse(dialog.go.isEnabled())
        self.assertIn("Not found", dialog.problem.text())
        dialog.recordings.setChecked(False)
        self.assertTrue(dialog.go.isEnabled())


class Moved(WindowTest):
    def test_recordings_beside_the_job_are_found_and_others_asked_for_once(self):
        recordings = self.window.session.recordings.all()
        old = recordings[0].path.parent
        new = old.parent / "moved"
        self.shut()
        shutil.move(old, new)
        self.open()
        with patch.object(MovedDialog, "open") as asked:
            self.window.job.find_moved()
        asked.assert_not_called()
        self.assertEqual({r.path.parent for r in self.window.session.recordings.all()}, {new})
        self.shut()
        away = self.folder.parent / f"{self.folder.name}-away"
        self.addCleanup(shutil.rmtree, away, True)
        shutil.move(new, away)
        self.open()
        with patch.object(MovedDialog, "open") as asked:
            self.window.job.find_moved()
            self.window.job.find_moved()
        asked.assert_called_once()
        self.window.job.look_in(away)
        self.assertEqual({r.path.parent for r in self.window.session.recordings.all()}, {away})
