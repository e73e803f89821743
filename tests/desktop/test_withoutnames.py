"""The dialog that takes names out of a copy, and putting them back."""

from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog

from tamarind.desktop.withoutnames_dialog import IN_FILE, WithoutNamesDialog
from tamarind.job.keylist import is_encrypted
from tamarind.job.settings import KEY_LIST
from tests.desktop.support import WindowTest


class WithoutNames(WindowTest):
    def setUp(self):
        super().setUp()
        self.dialog = WithoutNamesDialog(self.session, self.window)
        self.addCleanup(self.dialog.close)
        self.dialog.show()
        self.wait(self.dialog.go.isEnabled)

    def ready(self):
        return "Checked" in self.dialog.said.text()

    def test_what_was_found_is_listed_and_what_is_ticked_goes(self):
        rows = self.dialog.rows
        found = [item.text(1) for item in rows.items()]
        self.assertTrue(any("Martin Hale" in text for text in found), found)
        place = next(n for n, text in enumerate(found) if "Martin Hale" in text)
        rows.items()[place].setText(2, "Person A")
        rows.items()[place + 1].setCheckState(0, Qt.CheckState.Unchecked)
        entries = self.dialog.entries()
        self.assertEqual(entries[place].replacement, "Person A")
        self.assertEqual(len(entries), len(rows.ticked()))
        self.dialog.copy_to(self.folder / "copy")
        self.wait(self.ready, 60)
        self.assertTrue(list((self.folder / "copy").glob("*.tamarind")))
        self.assertFalse((self.folder / "copy.key.json").exists())
        self.assertIn("Martin", self.session.settings.get(KEY_LIST))

    def test_a_key_list_goes_to_a_file_and_brings_the_names_back(self):
        self.dialog.key.setCurrentText(IN_FILE)
        self.dialog.password.setText("sphagnum")
        self.dialog.copy_to(self.folder / "copy")
        self.wait(self.ready, 60)
        key = self.folder / "copy.key.json"
        self.assertTrue(is_encrypted(key.read_text()))
        self.dialog.copy_to(self.folder / "copy")
        self.assertIn("already exists", self.dialog.said.text())
        before = {r.id: self.session.texts.transcript(r.id) for r in self.session.recordings.all()}
        told = []
        self.session.trouble.connect(told.append)
        with (
            mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(key), "")),
            mock.patch(
                "tamarind.desktop.keylist_opening.QInputDialog.getText",
                side_effect=[("wrong", True), ("sphagnum", True)],
            ),
        ):
            self.window.job.put_names_back()
            self.assertIn("password", told[0])
            self.window.job.put_names_back()
        after = {r.id: self.session.texts.transcript(r.id) for r in self.session.recordings.all()}
        self.assertEqual(before, after)
