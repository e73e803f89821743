import os
from datetime import datetime, timedelta
from pathlib import Path

from tamarind.job import backups
from tamarind.job.opening import open_job
from tests.support import FolderTest


class Backups(FolderTest):
    def setUp(self):
        super().setUp()
        self.job = self.folder / "Moor.tamarind"
        self.clock = datetime(2026, 5, 1, 9)
        self.change("first")

    def change(self, text):
        store = open_job(self.job).store
        store.set_setting("note", text)
        store.close()
        self.clock += timedelta(minutes=20)

    def back_up(self):
        return backups.back_up(self.job, lambda: self.clock)

    def test_only_what_changed_is_kept_and_only_ten_of_it(self):
        self.assertIsNotNone(self.back_up())
        self.assertIsNone(self.back_up())
        for number in range(13):
            self.change(f"state {number}")
            self.assertIsNotNone(self.back_up())
        found = backups.backups(self.job)
        self.assertEqual(len(found), backups.KEPT)
        self.assertEqual(found, sorted(found, key=lambda one: one.made, reverse=True))
        store = open_job(found[0].path).store
        self.assertEqual(store.setting("note"), "state 12")
        store.close()

    def test_while_it_is_open_what_is_written_so_far_is_copied(self):
        store = open_job(self.job).store
        store.set_setting("note", "meanwhile")
        copy = self.back_up()
        other = open_job(copy).store
        self.assertEqual(other.setting("note"), "meanwhile")
        other.close()
        store.close()

    def test_jobs_of_the_same_name_have_their_own_and_a_new_name_takes_them_along(self):
        self.back_up()
        elsewhere = self.folder / "b" / "Moor.tamarind"
        elsewhere.parent.mkdir()
        open_job(elsewhere).store.close()
        self.assertEqual(backups.backups(elsewhere), [])
        new = self.folder / "Bog.tamarind"
        self.job.rename(new)
        backups.follow(self.job, new)
        self.assertEqual(len(backups.backups(new)), 1)

    def test_where_nothing_can_be_kept_work_goes_on(self):
        home = Path(os.environ["XDG_DATA_HOME"])
        home.mkdir(parents=True, exist_ok=True)
        (home / "tamarind").mkdir(exist_ok=True)
        (home / "tamarind" / "back-ups").write_text("in the way")
        self.assertIsNone(self.back_up())
        self.assertEqual(backups.backups(self.job), [])
