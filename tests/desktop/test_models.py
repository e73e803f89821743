"""Choosing recognisers and languages on the Intake page, and models of the person's own."""

import os
from dataclasses import replace
from unittest import mock

from PySide6.QtCore import QEvent, Qt
from PySide6.QtWidgets import QApplication, QLabel, QPushButton

from tamarind.desktop.intake.hearing_fields import LANGUAGE
from tamarind.desktop.intake.models_dialog import ModelsDialog
from tamarind.job.recording import State
from tamarind.speech.recognisers.known import multilingual
from tamarind.speech.recognisers.offered import offer_for
from tamarind.speech.recognisers.pretendedhub import PretendedHub
from tamarind.speech.recognisers.shelf import models_home, own_shelf
from tests.desktop.support import WindowTest
from tests.speech.tinymodel import make_model


class Models(WindowTest):
    hears = True

    def setUp(self):
        super().setUp()
        self.recording = self.named("Volunteers round table")
        self.turn_to_it()

    def turn_to_it(self):
        self.window.show_step("intake")
        self.intake = self.window.intake
        self.panel = self.intake.panel
        self.intake.choose(self.recording, Qt.KeyboardModifier.NoModifier)

    def listed(self, dialog):
        return " ".join(part.text() for part in dialog.findChildren(QLabel))

    def pick(self, box, text):
        index = box.findText(text, Qt.MatchFlag.MatchStartsWith)
        self.assertGreaterEqual(index, 0, text)
        box.setCurrentIndex(index)
        box.activated.emit(index)

    def test_a_language_that_nothing_hears_is_told_before_the_batch(self):
        self.pick(self.panel.box(LANGUAGE), "Welsh")
        without = mock.patch.object(multilingual, "languages_of_many", return_value=())
        without.start()
        self.addCleanup(without.stop)
        self.wait(lambda: "Nothing here recognises Welsh" in self.panel.go_note.text())
        self.assertFalse(self.panel.go.isEnabled())
        self.intake.transcribe()
        self.assertEqual(self.session.recordings.get(self.recording).state, State.READY)

    def test_an_added_folder_is_described_chosen_and_heard_with(self):
        folder = self.folder / "many tongues"
        make_model(folder)
        dialog = ModelsDialog(own_shelf(), models_home())
        dialog.add(self.folder)
        self.assertIn("holds no model", dialog.note.text())
        dialog.add(folder)
        self.assertIn("for 3 languages", self.listed(dialog))
        self.assertEqual(own_shelf().folders(), [folder])
        self.reopen()
        self.turn_to_it()
        self.pick(self.panel.recogniser, "many tongues")
        self.pick(self.panel.box(LANGUAGE), "Welsh")
        self.wait(self.panel.go.isEnabled)
        recording = self.session.recordings.get(self.recording)
        self.session.recordings.change(replace(recording, part=(0, 3_000)))
        self.intake.transcribe()
        self.wait(lambda: self.session.recordings.get(self.recording).state is State.DRAFT)
        self.assertEqual(self.session.texts.transcript(self.recording).language, "cy")
        dialog.remove(folder)
        self.assertEqual(own_shelf().folders(), [])
        self.assertTrue(folder.is_dir())

    def test_a_folder_that_is_gone_is_said_in_the_list(self):
        folder = self.folder / "gone"
        make_model(folder)
        own_shelf().add(folder)
        (folder / "config.json").unlink()
        dialog = ModelsDialog(own_shelf(), models_home())
        self.assertIn("config.json is missing", self.listed(dialog))

    def fetched(self, dialog, name="tiny"):
        """Fetch from the stand-in and wait for the end."""
        dialog.measure = lambda folder: None
        dialog.fetch(offer_for(name))
        self.wait(lambda: dialog._coming is None)

    def hub(self):
        """A stand-in of the hub with one model."""
        make_model(self.folder / "hub" / "tiny")
        stand_in = PretendedHub(self.folder / "hub")
        self.enterContext(stand_in)
        self.enterContext(mock.patch.dict(os.environ, TAMARIND_HUB=stand_in.address))
        return stand_in

    def test_a_model_is_fetched_listed_and_removed_again(self):
        self.hub()
        dialog = ModelsDialog(own_shelf(), models_home())
        self.assertIn("Download 78 MB", self.acts(dialog))
        self.fetched(dialog)
        self.assertEqual(own_shelf().folders(), [models_home() / "tiny"])
        self.assertIn("for 3 languages", self.listed(dialog))
        self.assertNotIn("Download 78 MB", self.acts(dialog))
        dialog.remove(models_home() / "tiny")
        self.assertFalse((models_home() / "tiny").exists())
        self.assertIn("Download 78 MB", self.acts(dialog))

    def test_what_is_stopped_goes_on_later(self):
        stand_in = self.hub()
        stand_in.faults.seconds_a_piece = 0.05
        dialog = ModelsDialog(own_shelf(), models_home())
        dialog.measure = lambda folder: None
        dialog.fetch(offer_for("tiny"))
        self.wait(lambda: dialog.progress.done[0] > 0)
        dialog.progress.cancel.click()
        self.wait(lambda: dialog._coming is None)
        self.assertIn("resumes from here", dialog.note.text())
        self.assertTrue(any(one.startswith("Resume download (") for one in self.acts(dialog)))
        self.assertEqual(own_shelf().folders(), [])
        stand_in.faults.seconds_a_piece = 0.0
        self.fetched(dialog)
        self.assertEqual(own_shelf().folders(), [models_home() / "tiny"])

    def test_without_a_connection_there_is_a_sentence_and_nothing_on_the_list(self):
        self.enterContext(mock.patch.dict(os.environ, TAMARIND_HUB="http://127.0.0.1:9"))
        dialog = ModelsDialog(own_shelf(), models_home())
        self.fetched(dialog)
        self.assertIn("connected to the internet", dialog.note.text())
        self.assertEqual(own_shelf().folders(), [])

    def acts(self, dialog):
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        return [part.text() for part in dialog.findChildren(QPushButton)]
