"""A voice that is in several recordings is named in all of them at once."""

from tests.application.test_same_voices import give_voices
from tests.desktop.support import WindowTest


class NamingAVoice(WindowTest):
    def setUp(self):
        super().setUp()
        self.one, self.other = give_voices(self.session)
        self.session.show(self.one)
        self.window.show_step("proof")

    def names(self, key):
        return [speaker.name for speaker in self.session.texts.transcript(key).speakers]

    def test_naming_it_names_it_everywhere_and_the_own_step_is_undone_first(self):
        self.window.proof.sheet.cue_caret.go_to((0, 0))
        self.window.proof.speakers.give_name("Anna Voss")
        self.assertEqual(self.names(self.one), ["Anna Voss", ""])
        self.assertEqual(self.names(self.other), ["", "Anna Voss"])
        self.assertIn("in 1 other recording too", self.window.said.text())
        self.session.texts.undo()
        self.assertEqual(self.names(self.one), ["", ""])
        self.session.texts.undo()
        self.assertEqual(self.names(self.other), ["", ""])
