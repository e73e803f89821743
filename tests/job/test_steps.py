import random
import sqlite3
from dataclasses import replace

from tamarind.job.change import Change, ChangeError, between
from tamarind.job.document import Document
from tamarind.job.store import JobStore
from tamarind.job.undostack import UndoStack
from tamarind.transcript import edits
from tamarind.transcript.model import Speaker, Transcript
from tamarind.translation.tracks import Track, with_edit, with_some
from tests.chance import edit
from tests.support import FolderTest, cue, moor


class AChange(FolderTest):
    def documents(self):
        text = moor()
        named = edits.name_speaker(edits.set_text(text, 1, "Wet. Nobody walked."), 1, "Ann")
        track = with_edit(Track("es"), text.cues[0], "¿Cómo era?")
        return Document(text), Document(named, (track,))

    def test_there_and_back_also_from_its_bytes(self):
        before, after = self.documents()
        change = Change.unpacked(between(before, after).packed())
        self.assertEqual(change.made_in(before), after)
        self.assertEqual(change.turned().made_in(after), before)

    def test_what_was_heard_meanwhile_stays(self):
        before, after = self.documents()
        late = cue(9, "Heard later.", 20_000)
        text = replace(
            after.transcript,
            cues=(*after.transcript.cues, late),
            speakers=(*after.transcript.speakers, Speaker(7, "")),
        )
        back = between(before, after).turned().made_in(Document(text, after.tracks))
        self.assertEqual(back.transcript.cues, (*before.transcript.cues, late))
        self.assertEqual(back.transcript.speakers[0].name, "Interviewer")
        self.assertEqual(back.transcript.speakers[-1].id, 7)

    def test_two_become_one_only_where_the_second_changes_what_the_first_wrote(self):
        chance, joined = random.Random(8), 0
        first = Document(moor())
        while joined < 60:
            second = Document(edit(self, first.transcript, moor(), chance))
            third = Document(edit(self, second.transcript, moor(), chance))
            one = between(first, second).joined(between(second, third))
            if one is not None:
                joined += 1
                self.assertEqual(one.made_in(first), third)
                self.assertEqual(one.turned().made_in(third), first)
        tracked = Document(third.transcript, (with_edit(Track("es"), moor().cues[0], "Sí."),))
        self.assertIsNone(between(first, third).joined(between(third, tracked)))

    def test_it_is_not_made_in_another_text(self):
        before, after = self.documents()
        with self.assertRaises(ChangeError):
            between(before, after).made_in(after)
        with self.assertRaises(ChangeError):
            Change.unpacked(b"nonsense")


class UndoOfAJob(FolderTest):
    """As a session would use it: every step in one transaction with the text."""

    def setUp(self):
        super().setUp()
        self.store = JobStore(self.folder / "a.tamarind")
        self.addCleanup(lambda: self.store.close())
        self.key = self.store.add_recording(self.folder / "a.wav").id
        self.now = Document(moor())
        self.store.save_document(self.key, self.store.document(self.key), self.now)
        self.steps = UndoStack(self.store)

    def keep(self, new):
        with self.store.together():
            self.store.save_document(self.key, self.now, new)
            self.steps.save()
        self.steps.saved()
        self.now = new

    def do(self, text, label="typing", group=None):
        new = self.now.with_transcript(text)
        self.steps.add(self.key, label, self.now, new, group)
        self.keep(new)

    def turn(self, found):
        key, changes = found
        self.assertEqual(key, self.key)
        text = self.now
        for change in changes:
            text = change.made_in(text)
        self.keep(text)

    def reopen(self):
        self.store.close()
        self.store = JobStore(self.folder / "a.tamarind")
        self.assertEqual(self.store.document(self.key), self.now)
        self.steps = UndoStack(self.store)

    def test_typing_is_one_step_until_its_group_is_closed(self):
        for text in ("W", "We", "Wet"):
            self.do(edits.set_text(self.now.transcript, 0, text), group="typing 1")
        self.steps.close_group()
        self.do(edits.set_text(self.now.transcript, 0, "Wet and"), group="typing 1")
        self.turn(self.steps.undo())
        self.assertEqual(self.now.transcript.cues[0].text, "Wet")
        self.turn(self.steps.undo())
        self.assertEqual(self.now.transcript, moor())
        self.assertIsNone(self.steps.undo())

    def test_a_long_step_is_kept_in_parts_and_undone_and_made_again_as_one(self):
        cues = tuple(replace(moor().cues[0], id=n + 1) for n in range(400))
        self.do(Transcript("en", cues), "take")
        written = []
        self.steps.close_group()
        for first in range(0, 400, 20):
            texts = {cue.id: f"es {cue.id}" for cue in cues[first : first + 20]}
            new = self.now.with_track(with_some(self.now.track("es"), cues, texts))
            self.steps.add(self.key, "translate", self.now, new, "translate es")
            self.keep(new)
            written.append(
                max(len(self.store.step_change(one.number)) for one in self.store.steps()[1:])
            )
        self.assertLess(max(written), 3 * written[0], "what is written grows with every part")
        whole = self.now
        for reopens in (False, True):
            if reopens:
                self.reopen()
            self.turn(self.steps.undo())
            self.assertEqual(self.now.tracks, ())
            self.assertEqual(self.steps.undo_label, "take")
            self.turn(self.steps.redo())
            self.assertEqual(self.now, whole)

    def test_it_goes_on_after_a_restart_both_ways(self):
        values = [self.now]
        for place in (0, 1):
            self.do(edits.split(self.now.transcript, place, 2), f"split {place}")
            values.append(self.now)
        self.turn(self.steps.undo())
        self.reopen()
        self.assertEqual((self.steps.undo_label, self.steps.redo_label), ("split 0", "split 1"))
        self.turn(self.steps.redo())
        self.assertEqual(self.now, values[2])
        self.reopen()
        for value in (values[1], values[0]):
            self.turn(self.steps.undo())
            self.assertEqual(self.now, value)

    def test_a_new_step_forgets_what_was_undone(self):
        self.do(edits.split(self.now.transcript, 0, 2), "split")
        self.turn(self.steps.undo())
        self.do(edits.join(self.now.transcript, 0), "join")
        self.assertIsNone(self.steps.redo())
        self.reopen()
        self.assertIsNone(self.steps.redo())
        self.assertEqual(self.steps.undo_label, "join")

    def test_a_step_that_cannot_be_read_is_told_and_forgotten(self):
        self.do(edits.split(self.now.transcript, 0, 2))
        self.store.close()
        with sqlite3.connect(self.folder / "a.tamarind") as db:
            db.execute("UPDATE step SET change = x'00'")
        db.close()
        self.reopen()
        with self.assertRaises(ChangeError):
            self.steps.undo()
        self.assertIsNone(self.steps.undo())

    def test_a_thousand_edits_of_chance_and_all_the_way_back(self):
        chance, draft = random.Random(5), moor()
        values = []
        while len(values) < 1000:
            text = edit(self, self.now.transcript, draft, chance)
            if text is self.now.transcript:
                continue
            values.append(self.now)
            self.do(text)
            if len(values) % 250 == 0:
                self.reopen()
        for value in reversed(values):
            self.turn(self.steps.undo())
            self.assertEqual(self.now, value)
        self.assertIsNone(self.steps.undo())
        self.assertEqual(self.store.document(self.key), Document(moor()))
        for _ in values:
            self.turn(self.steps.redo())
        self.assertEqual(self.store.document(self.key), self.now)


class TheDraft(FolderTest):
    def test_it_grows_with_what_is_heard_and_begins_afresh(self):
        store = JobStore(self.folder / "a.tamarind")
        recording = store.add_recording(self.folder / "a.wav")
        empty = store.document(recording.id)
        one, two, three = moor().cues
        store.save_heard(recording, empty, empty, (one, two), afresh=True)
        store.save_heard(recording, empty, empty, (three,))
        words = [each.words for each in store.draft(recording.id)]
        self.assertEqual(words, [one.words, two.words, three.words])
        store.save_heard(recording, empty, empty, (three,), afresh=True)
        self.assertEqual([each.start for each in store.draft(recording.id)], [three.start])
        store.close()
