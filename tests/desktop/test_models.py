"""Choosing recognisers and languages on the Intake page, and models of the person's own."""

from dataclasses import replace
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel

from tamarind.desktop.home import models_home, shelf
from tamarind.desktop.intake.hearing_fields import LANGUAGE
from tamarind.desktop.intake.models_dialog import ModelsDialog
from tamarind.job.recording import State
from tamarind.speech.recognisers import catalogue, fetching
from tamarind.speech.recognisers.errors import RecogniserError
from tests.desktop.support import WindowTest
from tests.speech.tinymodel import make_model


class Models(WindowTest):
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
        index = box.findText(text)
        self.assertGreaterEqual(index, 0, text)
        box.setCurrentIndex(index)
        box.activated.emit(index)

    def test_a_language_that_nothing_hears_is_told_before_the_batch(self):
        without = mock.patch.object(catalogue, "languages_of_many", return_value=())
        without.start()
        self.addCleanup(without.stop)
        self.pick(self.panel.box(LANGUAGE), "Welsh")
        self.wait(lambda: "Nothing here hears Welsh" in self.panel.go_note.text())
        self.assertFalse(self.panel.go.isEnabled())
        self.intake.transcribe()
        self.assertEqual(self.session.recordings.get(self.recording).state, State.READY)

    def test_an_added_folder_is_described_chosen_and_heard_with(self):
        folder = self.folder / "many tongues"
        make_model(folder)
        dialog = ModelsDialog(shelf(), models_home())
        dialog.add(self.folder)
        self.assertIn("holds no model", dialog.note.text())
        dialog.add(folder)
        self.assertIn("for 3 languages", self.listed(dialog))
        self.assertEqual(shelf().folders(), [folder])
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
        self.assertEqual(shelf().folders(), [])
        self.assertTrue(folder.is_dir())

    def test_a_folder_that_is_gone_is_said_in_the_list(self):
        folder = self.folder / "gone"
        make_model(folder)
        shelf().add(folder)
        (folder / "config.json").unlink()
        dialog = ModelsDialog(shelf(), models_home())
        self.assertIn("config.json is missing", self.listed(dialog))

    def test_fetching_without_a_connection_fails_in_a_sentence_and_leaves_nothing(self):
        with (
            mock.patch("faster_whisper.download_model", side_effect=ConnectionError("no route")),
            self.assertRaisesRegex(RecogniserError, "could not be fetched"),
        ):
            fetching.fetch(fetching.names()[0], models_home())
        self.assertEqual(list(models_home().iterdir()), [])
        with self.assertRaisesRegex(RecogniserError, "no model “nobody”"):
            fetching.fetch("nobody", models_home())

    def test_a_fetched_model_is_put_on_the_list(self):
        name = fetching.names()[0]
        dialog = ModelsDialog(shelf(), models_home())
        with mock.patch(
            "faster_whisper.download_model",
            side_effect=lambda _name, output_dir: make_model(type(models_home())(output_dir)),
        ):
            dialog.fetch()
            self.wait(lambda: shelf().folders())
        self.assertEqual(shelf().folders(), [models_home() / name])
        self.assertIn("3 languages", self.listed(dialog))
