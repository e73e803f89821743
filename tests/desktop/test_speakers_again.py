"""How many speakers there are, said in Proof after a recording has been transcribed."""

from dataclasses import replace
from unittest.mock import patch

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QInputDialog

from tamarind.desktop.intake.card import Card
from tamarind.desktop.proof.speakers_dialog import SpeakersDialog
from tamarind.job.settings import PERHAPS_SPEAKERS
from tests.desktop.support import WindowTest

ALT = Qt.KeyboardModifier.AltModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier
CTRL = Qt.KeyboardModifier.ControlModifier
KEY = Qt.Key


class SpeakersAgain(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.show_step("proof")
        self.key_of = self.named("Warden interview")
        self.session.show(self.key_of)
        self.sheet.setFocus()

    def speakers(self):
        return [cue.speaker for cue in self.sheet.transcript.cues]

    def ask(self, act):
        """Open the dialog by its key and do something in it."""
        with patch.object(SpeakersDialog, "exec", lambda dialog: act(dialog) or dialog.result()):
            self.key(KEY.Key_N, ALT | SHIFT)

    def use(self, count):
        def act(dialog):
            dialog.show()
            dialog.count.setValue(count)
            self.wait(lambda: dialog.retold is not None, 60)
            dialog.accept()

        self.ask(act)
        self.window.activateWindow()
        self.sheet.setFocus()
        self.wait(self.sheet.hasFocus)

    def flatten(self):
        """As if one voice had been found."""
        text = self.sheet.transcript
        cues = tuple(replace(cue, speaker=None) for cue in text.cues)
        self.session.texts.edit(self.key_of, "flat", replace(text, cues=cues, speakers=()))

    def test_two_are_told_apart_where_one_was_found_and_one_step_takes_it_back(self):
        right = self.speakers()
        words = [word for cue in self.sheet.transcript.cues for word in cue.words]
        self.flatten()
        flat = self.sheet.transcript
        self.use(2)
        owners = [cue.speaker for cue in self.sheet.transcript.cues for _ in cue.words]
        self.assertEqual(words, [w for cue in self.sheet.transcript.cues for w in cue.words])
        text = self.session.store.document(self.key_of).transcript
        self.assertEqual(text.cues, self.sheet.transcript.cues)
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.sheet.transcript, flat)
        self.key(KEY.Key_Z, CTRL)
        true = [cue.speaker for cue in self.sheet.transcript.cues for _ in cue.words]
        agree = sum(a == b for a, b in zip(owners, true, strict=True)) / len(true)
        self.assertGreater(max(agree, 1 - agree), 0.95)
        self.assertEqual(self.speakers(), right)

    def test_named_speakers_keep_their_names(self):
        self.use(3)
        names = [speaker.label for speaker in self.sheet.transcript.speakers]
        self.assertEqual(names[:2], ["Interviewer", "Warden"])
        self.assertEqual(len(names), 3)
        self.assertEqual(len(set(self.speakers())), 3)

    def test_nothing_changes_before_it_is_taken_and_two_can_be_joined(self):
        before = self.sheet.transcript

        def look(dialog):
            dialog.show()
            self.assertFalse(dialog.apply.isEnabled())
            self.assertEqual(dialog.list.topLevelItemCount(), 2)
            dialog.list.selectAll()
            dialog.join.click()
            self.assertEqual(dialog.list.topLevelItemCount(), 1)
            self.assertTrue(dialog.apply.isEnabled())
            dialog.reject()

        self.ask(look)
        self.assertIs(self.sheet.transcript, before)

    def test_only_the_selected_cues(self):
        before = self.speakers()
        self.sheet.caret.select((3, 0), (8, 3))
        self.use(1)
        self.assertEqual(len(set(self.speakers()[3:9])), 1)
        self.assertEqual(self.speakers()[:3] + self.speakers()[9:], before[:3] + before[9:])

    def test_one_turn_is_an_example_for_all_that_sound_alike(self):
        text = self.sheet.transcript
        true = [cue.speaker for cue in text.cues for _ in cue.words]
        cues = tuple(replace(cue, speaker=1) for cue in text.cues)
        self.session.texts.edit(self.key_of, "flat", replace(text, cues=cues))
        first = next(row for row, cue in enumerate(text.cues) if cue.speaker == 2)
        last = next(row for row in range(first, len(cues)) if text.cues[row].speaker != 2)
        self.sheet.caret.select((first, 0), (last - 1, 3))
        with patch.object(QInputDialog, "getItem", return_value=("Warden", True)):
            self.key(KEY.Key_A, ALT | SHIFT)
        self.wait(lambda: len(set(self.speakers())) == 2, 60)
        found = [cue.speaker for cue in self.sheet.transcript.cues for _ in cue.words]
        agree = sum(a == b for a, b in zip(found, true, strict=True)) / len(true)
        self.assertGreater(agree, 0.9)

    def test_a_question_in_the_dialog_takes_the_place_of_one_that_is_not_answered_yet(self):
        before = self.sheet.transcript
        with (
            patch.object(self.session.on_demand, "tell_speakers"),
            patch.object(QInputDialog, "getItem", return_value=("Warden", True)),
        ):
            self.key(KEY.Key_A, ALT | SHIFT)

        def look(dialog):
            dialog.show()
            dialog.count.setValue(3)
            self.wait(lambda: dialog.retold is not None, 60)
            dialog.reject()

        self.ask(look)
        self.assertIs(self.sheet.transcript, before)

    def test_a_number_in_doubt_is_told_on_the_card_until_somebody_says_which(self):
        self.flatten()
        self.session.settings.keep(PERHAPS_SPEAKERS.numbered(self.key_of), 2)
        self.window.show_step("intake")
        card = next(one for one in self.window.intake.findChildren(Card) if one.id == self.key_of)
        card.refresh()
        self.assertEqual(card.answers[0].text(), "Perhaps 2 speakers…")
        asked = []

        def settle(dialog):
            dialog.show()
            asked.append(dialog.count.value())
            dialog.count.setValue(1)
            self.wait(lambda: dialog.apply.isEnabled(), 60)
            dialog.accept()
            return True

        with patch.object(SpeakersDialog, "exec", settle):
            card.answers[0].click()
        self.assertEqual(asked, [2])
        card.refresh()
        self.assertEqual(card.answers[0].text(), "")
        self.assertEqual(len(set(self.speakers())), 1)
