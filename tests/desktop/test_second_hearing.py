"""Hearing a cue again on the Proof page, with real sound, and settling what differs by key."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QPushButton

from tamarind.desktop.proof.second_hearing import WAYS, ways_for
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.recognisers.shelf import own_shelf
from tamarind.transcript.edits import with_empty_cues
from tests.desktop.support import WindowTest
from tests.speech.tinymodel import make_model

ALT = Qt.KeyboardModifier.AltModifier
CTRL = Qt.KeyboardModifier.ControlModifier
KEY = Qt.Key


class SecondHearing(WindowTest):
    hears = True

    def setUp(self):
        super().setUp()
        self.window.show_step("proof")
        self.session.show(self.named("Warden interview"))
        self.sheet.setFocus()
        self.again = self.window.proof.again
        self.again.way.setCurrentText("Fast")

    def shown(self):
        """All that can be read and pressed there now."""
        parts = [*self.again.findChildren(QLabel), *self.again.findChildren(QPushButton)]
        return [part.text() for part in parts if part.isVisible()]

    def write(self, row, place, word):
        words = [w.text for w in self.sheet.transcript.cues[row].words]
        self.sheet.caret.select((row, 0), (row, len(self.sheet.shown.of(row))))
        self.sheet.editing.insert(" ".join([*words[:place], word, *words[place + 1 :]]), False)

    def hear(self):
        self.key(KEY.Key_A, ALT)
        self.assertIn("Cancel", self.shown())
        self.wait(lambda: "Cancel" not in self.shown())

    def test_a_wrong_word_is_found_taken_by_key_and_undone(self):
        row, place = 4, 8
        right = self.sheet.transcript.cues[row].text
        self.write(row, place, "hippopotamus")
        self.sheet.caret.set((row, 0))
        self.hear()
        self.assertIn("hippopotamus", self.shown())
        self.assertEqual(self.sheet.cue_caret.word(), place)
        while "Use" in self.shown():
            self.key(KEY.Key_T, ALT)
        self.assertNotIn("hippopotamus", self.sheet.transcript.cues[row].text)
        self.assertEqual(self.sheet.transcript.cues[row].words[place].text, right.split()[place])
        self.assertIn("All differences are reviewed.", self.shown())
        self.key(KEY.Key_Z, CTRL)
        self.assertIn("hippopotamus", " ".join(c.text for c in self.sheet.transcript.cues))

    def test_leaving_changes_nothing_and_typing_settles_a_difference_too(self):
        self.write(2, 4, "hippopotamus")
        self.write(3, 2, "crocodile")
        self.sheet.caret.set((2, 0))
        self.sheet.caret.set((3, 3), keep_anchor=True)
        self.hear()
        before = self.sheet.transcript
        while "crocodile" not in self.shown():
            self.key(KEY.Key_L, ALT)
        self.assertEqual(self.sheet.transcript, before)
        self.assertIn("crocodile", self.shown())
        self.write(3, 2, "alligator")
        self.assertNotIn("crocodile", self.shown())

    def test_every_recogniser_that_hears_the_language_is_another_ear(self):
        make_model(self.folder / "moor tongues")
        own_shelf().add(self.folder / "moor tongues")
        by_name = {
            words.removeprefix("Another recogniser: "): way(HearingOptions()).recogniser
            for words, way in ways_for(HearingOptions()).items()
            if words not in WAYS
        }
        self.assertEqual(by_name["moor tongues"], str(self.folder / "moor tongues"))
        self.assertEqual(by_name["the multilingual one"], "many")
        self.assertIn("by dictionary, less accurate", by_name)
        welsh = [words for words in ways_for(HearingOptions("cy")) if words not in WAYS]
        self.assertEqual(welsh, ["Another recogniser: moor tongues"])
        english = ways_for(HearingOptions(recogniser="many"))
        self.assertIn("Another recogniser: the built-in one", english)

    def test_a_way_that_cannot_be_is_told_in_a_sentence_and_the_text_stays(self):
        before = self.sheet.transcript
        recording = self.session.shown_recording()
        recording.path.unlink()
        self.again.way.setCurrentText("Thorough, noise reduction")
        # It is known at once, before a worker is asked.
        self.key(KEY.Key_A, ALT)
        self.wait(lambda: any("is no longer there" in text for text in self.shown()), 20)
        self.assertNotIn("Cancel", self.shown())
        self.assertEqual(self.sheet.transcript, before)

    def test_another_recording_ends_the_wait(self):
        self.key(KEY.Key_A, ALT)
        self.session.show(self.named("Site memo, north drain"))
        self.assertNotIn("Cancel", self.shown())
        self.assertIn("Start", self.shown())

    def test_empty_cues_get_what_is_heard_in_their_time(self):
        key = self.named("Warden interview")
        whole = self.session.texts.transcript(key)
        spans = [(cue.start, cue.end) for cue in whole.cues[:4]]
        bare = with_empty_cues(whole, spans, 0, keep=False)
        self.session.texts.edit(key, "empty cues", bare)
        self.sheet.caret.set((0, 0))
        self.sheet.caret.set((3, 0), keep_anchor=True)
        self.hear()
        heard = self.session.texts.transcript(key)
        self.assertEqual([(c.start, c.end) for c in heard.cues[:4]], spans)
        for cue, before in zip(heard.cues[:4], whole.cues, strict=False):
            alike = {w.text for w in cue.words} & {w.text for w in before.words}
            self.assertGreater(len(alike), len(before.words) * 0.4)
        self.assertIsNotNone(heard.cues[0].words[0].confidence)
        self.session.texts.undo()
        self.assertEqual(self.session.texts.transcript(key), bare)
