"""A correction in other places and in the glossary, the draft, and another editor."""

from dataclasses import replace
from unittest import mock

from PySide6.QtCore import Qt

from tamarind.desktop.proof import draft_dialog
from tamarind.desktop.proof.draft_dialog import DraftDialog
from tamarind.desktop.widgets import changes_dialog
from tamarind.speech.glossary import read_glossary
from tamarind.transcript.corrections import Correction, bare, corrections
from tamarind.transcript.edits import opens_paragraph
from tamarind.transcript.model import Word
from tamarind.transcript.takeback import Part, with_parts, with_words
from tests.desktop.test_proof import ALT, CTRL, KEY, SHIFT, ProofTest
from tests.support import words_of


class WhatWasCorrected(ProofTest):
    def test_words_for_words_without_their_marks(self):
        before = words_of("The mirror was her over more, they said.")
        for text, found in (
            ("The moor was her over more, they said.", [Correction("mirror", "moor")]),
            (
                "The mirror was Harrow Moor, they said.",
                [Correction("her over more", "Harrow Moor")],
            ),
            ("the mirror was her over more; they said", []),
            ("The mirror was her over more, they all said.", []),
        ):
            after = tuple(Word(token, 0, 1) for token in text.split())
            self.assertEqual(corrections(before, after), found, text)
        self.assertEqual(bare("“(Moor),”"), "Moor")


class Everywhere(ProofTest):
    def setUp(self):
        super().setUp()
        self.session.show(self.named("Water table lecture"))
        self.sheet.setFocus()
        wrong = [replace(c) for c in self.text.cues]
        for place, text in ((2, "A fogum bog is wet."), (6, "Fogum, they say."), (9, "the foggum")):
            words = words_of(text, wrong[place].start, 200, 0.5)
            wrong[place] = replace(wrong[place], words=words, breaks=None)
        self.session.texts.edit(self.session.shown, "x", replace(self.text, cues=tuple(wrong)))
        self.sheet.cue_caret.go_to_word(2, 1)
        for _ in range(5):
            self.key(KEY.Key_Delete)
        self.type("sphagnum")
        self.sheet.cue_caret.go_to((3, 0))

    def test_the_correction_is_offered_and_counted(self):
        self.assertEqual(self.window.proof.fixing.elsewhere.last, Correction("fogum", "sphagnum"))
        self.wait(lambda: self.window.proof.fixing.elsewhere.others == 1)
        self.assertTrue(self.window.proof.desk.isVisible())

    def test_other_places_are_listed_same_ones_ticked_and_put_right(self):
        shown = []

        def run(dialog):
            shown.append(dialog)
            return 1

        with mock.patch.object(changes_dialog.ChangesDialog, "exec", run):
            self.key(KEY.Key_O, ALT)
            self.wait(lambda: shown)
        rows = shown[0].rows
        ticked = [
            rows.topLevelItem(n).checkState(0) is Qt.CheckState.Checked
            for n in range(rows.topLevelItemCount())
        ]
        self.assertEqual(ticked[:2], [True, False])
        told = [rows.topLevelItem(n).text(1) for n in range(rows.topLevelItemCount())]
        self.assertIn("the sphagnum", told)
        self.assertNotIn("A sphagnum bog is wet.", told)
        self.assertEqual(self.text.cues[6].text, "Sphagnum, they say.")
        self.assertEqual(self.text.cues[9].text, "the foggum")
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text.cues[6].text, "Fogum, they say.")

    def test_it_goes_into_the_glossary_with_how_it_sounded(self):
        self.key(KEY.Key_O, ALT, SHIFT)
        terms = read_glossary(self.session.store.setting("glossary")).terms
        self.assertIn(("sphagnum", ("fogum",)), [(t.text, t.sounds_like) for t in terms])


class TheDraft(ProofTest):
    def test_what_was_changed_is_listed_with_the_error_rate(self):
        shown = self.session.shown
        dialog = DraftDialog("x", self.session.texts.draft(shown), self.text.cues)
        self.assertIn("word error rate", dialog.sentence)
        draft = " ".join(c.text for c in self.session.texts.draft(shown))
        first = dialog.list.topLevelItem(0)
        self.assertIn(first.text(1), draft)
        place = dialog.changes[0].place
        self.assertIn(first.text(2), self.text.cues[place].text)

    def test_a_passage_goes_back_as_it_was_heard(self):
        before = self.text
        draft = self.session.texts.draft(self.session.shown)
        changes = DraftDialog("x", draft, before.cues).changes
        place = changes[0].place
        self.sheet.cue_caret.go_to((place, 0))
        self.key(KEY.Key_D, ALT, SHIFT)
        heard = [w for c in draft for w in c.words]
        self.assertTrue(set(self.text.cues[place].words) <= set(heard))
        self.assertFalse(self.text.cues[place].settled)
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text, before)

    def test_the_list_leads_to_its_place(self):
        def run(dialog):
            dialog.go(False)
            return 1

        with mock.patch.object(draft_dialog.DraftDialog, "exec", run):
            self.key(KEY.Key_D, ALT)
        draft = self.session.texts.draft(self.session.shown)
        first = DraftDialog("x", draft, self.text.cues).changes[0]
        self.assertEqual(self.sheet.cue_caret.place(), first.place)

    def test_a_recording_without_a_draft_says_so(self):
        told = []
        self.session.told.connect(told.append)
        self.session.store.save_draft(self.session.shown, ())
        self.key(KEY.Key_D, ALT)
        self.assertEqual(told, ["There is no draft of this recording."])


class AnotherEditor(ProofTest):
    def setUp(self):
        super().setUp()
        self.before = self.text
        self.asked = []

    def take(self, path, answer=1):
        def run(dialog):
            self.asked.append(dialog)
            return answer

        with mock.patch.object(changes_dialog.ChangesDialog, "exec", run):
            self.window.proof.exchange.take_back(self.session.shown, path)

    def test_written_and_taken_back_it_is_just_the_same(self):
        told = []
        self.session.told.connect(told.append)
        for name in ("a.txt", "a.vtt", "a.srt", "a.docx", "a.odt"):
            path = self.folder / name
            self.window.proof.exchange.write(self.session.shown, path)
            self.take(path)
            self.assertEqual(told[-1], "The file has no changes.", name)
        self.assertEqual(self.text, self.before)

    def test_words_speakers_and_paragraphs_come_back_with_their_times(self):
        path = self.folder / "a.txt"
        self.window.proof.exchange.write(self.session.shown, path)
        text = path.read_text()
        name = self.text.speakers[1].name
        sentence = self.text.cues[4].text
        half = sentence.split()
        cut = " ".join(half[:3]) + "\n\nVolunteer: " + " ".join(half[3:])
        self.assertIn(sentence, text)
        text = text.replace(sentence, cut).replace(f"{name}:", "Martin Hale:")
        path.write_text(text)
        self.take(path)
        cues = self.text.cues
        speakers = {s.id: s.name for s in self.text.speakers}
        self.assertEqual(
            [w for c in cues for w in c.words], [w for c in self.before.cues for w in c.words]
        )
        said = next(c for c in cues if c.text == " ".join(half[3:]))
        self.assertEqual(speakers[said.speaker], "Volunteer")
        self.assertTrue(opens_paragraph(cues, cues.index(said)))
        self.assertIn("Martin Hale", speakers.values())
        self.key(KEY.Key_Z, CTRL)
        self.assertEqual(self.text, self.before)

    def test_single_changes_are_left_out(self):
        path = self.folder / "a.vtt"
        self.window.proof.exchange.write(self.session.shown, path)
        first, second = self.text.cues[2], self.text.cues[4]
        text = path.read_text()
        for cue in (first, second):
            text = text.replace(cue.words[-1].text, "Tarn!", 1)
        path.write_text(text)

        def run(dialog):
            dialog.rows.topLevelItem(0).setCheckState(0, Qt.CheckState.Unchecked)
            return 1

        with mock.patch.object(changes_dialog.ChangesDialog, "exec", run):
            self.window.proof.exchange.take_back(self.session.shown, path)
        changed = [
            n
            for n, (a, b) in enumerate(zip(self.before.cues, self.text.cues, strict=True))
            if a != b
        ]
        self.assertEqual(len(changed), 1)

    def test_a_bad_file_changes_nothing_and_says_so(self):
        trouble = []
        self.session.trouble.connect(trouble.append)
        empty = self.folder / "empty.txt"
        empty.write_text("  \n")
        for path in (empty, self.folder / "gone.txt", self.folder / "a.doc"):
            self.take(path)
        self.window.proof.exchange.write(self.session.shown, self.folder / "no" / "a.txt")
        self.assertEqual(len(trouble), 4)
        self.assertEqual(self.text, self.before)

    def test_parts_that_say_the_same_change_nothing(self):
        parts = [Part(c.text) for c in self.before.cues]
        self.assertIs(with_words(self.before, parts), self.before)
        self.assertEqual(with_parts(self.before, parts, False), self.before)
