"""Clients in the window: chosen once, delivered in one act."""

from dataclasses import replace
from datetime import datetime
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMessageBox

from tamarind.application.delivering import parcels_of
from tamarind.desktop.clients.deliver_dialog import DeliverDialog
from tamarind.desktop.clients.details_dialog import DetailsDialog
from tamarind.desktop.clients.editor import ClientEditor
from tamarind.desktop.words import stage_of
from tamarind.job.client import CLIENTS, Client, Delivery
from tamarind.job.delivery import deliver
from tamarind.job.settings import EXPORT_DOCUMENTS
from tamarind.language.stylebook import SHIPPED
from tests.desktop.support import WindowTest


class ClientsTest(WindowTest):
    def setUp(self):
        super().setUp()
        style = replace(SHIPPED["reading"], name="Trust rules")
        CLIENTS.keep(Client("Marsh Trust", style, None, Delivery(("txt",))))
        CLIENTS.keep(Client("Water Board", SHIPPED["teletext"], None, Delivery(("srt", "vtt"))))
        self.keys = [recording.id for recording in self.session.recordings.all()]
        self.clients = self.session.clients

    def dialog(self):
        dialog = DeliverDialog(self.session, self.folder / "out", self.window)
        self.addCleanup(dialog.close)
        dialog.show()
        return dialog

    def stage(self, key):
        return stage_of(self.session, self.session.recordings.get(key)).text


class Choosing(ClientsTest):
    def test_a_client_is_chosen_for_recordings_and_dresses_them(self):
        self.window.show_step("intake")
        intake = self.window.intake
        intake.choose(self.keys[0], Qt.KeyboardModifier.NoModifier)
        box = intake.panel.client
        box.setCurrentIndex(box.findData("marsh-trust"))
        box.activated.emit(box.currentIndex())
        first = self.session.recordings.get(self.keys[0])
        self.assertEqual(self.session.styles.of(first).name, "Trust rules")
        self.assertEqual(self.clients.key_of(self.keys[0]), "marsh-trust")
        self.assertEqual(self.clients.key_of(self.keys[1]), "")
        self.reopen()
        self.assertEqual(self.session.clients.of(self.keys[0]).name, "Marsh Trust")

    def test_a_client_of_all_is_that_of_new_ones_and_of_the_export_page(self):
        self.window.show_step("export")
        self.clients.choose(self.keys, "water-board")
        self.assertEqual(self.session.settings.get(EXPORT_DOCUMENTS), ("srt", "vtt"))
        panel = self.window.export.panel
        ticked = {suffix for suffix, box in panel.kinds.items() if box.isChecked()}
        self.assertEqual(ticked, {"srt", "vtt"})
        new = self.folder / "later.wav"
        new.write_bytes(b"")
        self.session.add_files([new])
        added = self.session.recordings.all()[-1]
        self.assertEqual(self.clients.of(added.id).name, "Water Board")
        self.assertEqual(added.style, "teletext")

    def test_a_client_is_edited_renamed_and_removed_and_its_recordings_follow(self):
        self.clients.choose(self.keys[:1], "marsh-trust")
        dialog = ClientEditor(self.session, "marsh-trust", self.window)
        self.addCleanup(dialog.close)
        dialog.rename("Marsh and Moor")
        dialog.set("delivery", "names", "{client} {nothing}")
        self.assertIn("{nothing}", dialog.note.whole())
        dialog.set("delivery", "documents", ("docx",))
        dialog.keep_changes()
        now = self.clients.of(self.keys[0])
        self.assertEqual((now.name, now.delivery.documents), ("Marsh and Moor", ("docx",)))
        self.assertEqual(set(CLIENTS.own()), {"marsh-and-moor", "water-board"})

    def test_the_first_client_is_made_of_what_the_job_has(self):
        for key in list(CLIENTS.own()):
            CLIENTS.discard(key)
        dialog = ClientEditor(self.session, "", self.window)
        self.addCleanup(dialog.close)
        made = dialog.item_now()
        self.assertEqual(made.delivery.documents, self.session.settings.get(EXPORT_DOCUMENTS))
        dialog.keep_changes()
        self.assertEqual(len(CLIENTS.own()), 1)
        dialog = ClientEditor(self.session, "", self.window)
        self.addCleanup(dialog.close)
        dialog.take_away()
        dialog.keep_changes()
        self.assertEqual(CLIENTS.own(), {})


class Delivering(ClientsTest):
    def test_all_clients_get_their_folders_and_a_change_is_shown(self):
        first, second, *_ = self.keys
        self.clients.choose([first], "marsh-trust")
        self.clients.choose([second], "water-board")
        dialog = self.dialog()
        self.wait(lambda: len(dialog._found) == 2)
        self.assertEqual(dialog.rows.items()[0].text(0), "Marsh Trust")
        self.assertIn("uncertain words", dialog.list.toPlainText())
        QTest.mouseClick(dialog.go, Qt.MouseButton.LeftButton)
        self.wait(lambda: "written" in dialog.said.text())
        out = self.folder / "out"
        self.assertEqual(
            sorted(path.suffix for path in (out / "Water Board").iterdir()),
            [".srt", ".txt", ".vtt"],
        )
        self.assertEqual(self.stage(first), "Delivered")
        text = self.session.texts.transcript(first)
        cue = replace(text.cues[0], end=text.cues[0].end - 10)
        self.session.texts.edit(first, "times", replace(text, cues=(cue, *text.cues[1:])))
        self.assertEqual(self.stage(first), "Changed since delivery")
        self.session.texts.undo()
        self.assertEqual(self.stage(first), "Delivered")

    def test_what_is_there_is_replaced_only_if_that_is_wanted(self):
        self.clients.choose(self.keys[:1], "marsh-trust")
        dialog = self.dialog()
        target = self.folder / "out" / "Marsh Trust"
        target.mkdir(parents=True)
        name = f"{self.session.recordings.get(self.keys[0]).name}.txt"
        (target / name).write_text("mine")
        answer = QMessageBox.StandardButton.No
        with mock.patch.object(QMessageBox, "question", return_value=answer) as asked:
            dialog.deliver()
        asked.assert_called_once()
        self.assertEqual((target / name).read_text(), "mine")

    def test_without_a_client_it_says_what_to_do(self):
        dialog = self.dialog()
        self.assertFalse(dialog.go.isEnabled())
        self.assertIn("choose one on Intake", dialog.said.text())


class Details(ClientsTest):
    def test_details_of_a_recording_are_kept_and_written(self):
        first, second, *_ = self.keys
        fields = Delivery(("txt",), fields=("Case", "Present"), closing="By {proofed by}, {case}.",
                          proofed_by="R. Fell")  # fmt: skip
        CLIENTS.keep(Client("Court", SHIPPED["reading"], None, fields))
        self.clients.choose([first, second], "court")
        dialog = DetailsDialog(self.session, [first], self.window)
        self.addCleanup(dialog.close)
        self.assertEqual(dialog.lines.toPlainText(), "Case: \nPresent: ")
        dialog.title.setText("The north drain")
        dialog.lines.setPlainText("Case: 12/26\nPresent:\nRoom: 4")
        dialog.keep()
        about = self.clients.about(first)
        self.assertEqual(about.title, "The north drain")
        self.assertEqual(about.fields, (("Case", "12/26"), ("Room", "4")))
        (parcel,) = parcels_of(self.session)
        made = deliver(parcel, self.folder, datetime(2026, 12, 2))
        text = made.files[0].read_text()
        self.assertTrue(text.startswith("Case: 12/26\nRoom: 4\n"), text[:80])
        self.assertTrue(text.rstrip().endswith("By R. Fell, 12/26."))
        self.assertIn("“Present” is not filled in", "\n".join(parcel.left_to_do()))

    def test_of_several_each_keeps_its_title(self):
        first, second, *_ = self.keys
        self.clients.set_details(first, {"title": "One"})
        dialog = DetailsDialog(self.session, [first, second], self.window)
        self.addCleanup(dialog.close)
        dialog.date.setText("2026-12-01")
        dialog.keep()
        self.assertEqual(self.clients.about(first).title, "One")
        self.assertEqual(self.clients.about(second).date, "2026-12-01")
        self.assertEqual(self.clients.about(second).title, "")
