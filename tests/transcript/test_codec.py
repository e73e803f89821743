"""Every field of a cue and a word is kept wherever texts are kept."""

import unittest
from dataclasses import MISSING, fields, replace

from tamarind.batch.bookmarks import HearingState, read, written
from tamarind.formats.data import everything
from tamarind.job.change import Change
from tamarind.job.cuedata import cue_of, draft_cue_of, draft_row_of, row_of
from tamarind.job.document import Document
from tamarind.job.store import JobStore
from tamarind.speech.activity import Activity
from tamarind.speech.bookmark import Bookmark
from tamarind.transcript.fields import OF_A_CUE, OF_A_WORD
from tamarind.transcript.model import Cue, Speaker, Transcript, Word
from tests.support import FolderTest

UNUSUAL_WORD = Word("Moor,", 1_000, 1_400, 0.5, ("more", "mower"), ("i", "c.loud"), True)
UNUSUAL = Cue(
    7, 900, 2_400, (UNUSUAL_WORD, Word("once", 1_500, 2_000)), 2, True, True, (1,), True,
    "line:0", "a remark", "es", True, "Old drains", "torch",
)  # fmt: skip
"""A cue none of whose fields is as usual; a field that is new in the model must be given here."""


class EveryField(FolderTest):
    def test_the_sample_has_no_field_as_usual(self):
        for thing in (UNUSUAL, UNUSUAL_WORD):
            plain = type(thing)(*(getattr(thing, one.name) for one in fields(thing)[:3]))
            for one in fields(thing)[3:]:
                self.assertNotEqual(getattr(thing, one.name), getattr(plain, one.name), one.name)

    def test_the_tables_know_all_with_their_defaults(self):
        for kind, table in ((Cue, OF_A_CUE), (Word, OF_A_WORD)):
            self.assertEqual([one.name for one in table], [one.name for one in fields(kind)])
            for known, one in zip(table, fields(kind), strict=True):
                if one.default is not MISSING:
                    self.assertEqual(known.default, one.default, one.name)

    def test_in_rows_and_in_drafts(self):
        self.assertEqual(cue_of(row_of(UNUSUAL)), UNUSUAL)
        self.assertEqual(draft_cue_of((7, *draft_row_of(UNUSUAL))), UNUSUAL)

    def test_in_a_job_with_its_draft(self):
        text = Transcript("en", (UNUSUAL,), (Speaker(2, "Warden"),))
        store = JobStore(self.folder / "job.tamarind")
        key = store.add_recording(self.folder / "a.wav").id
        store.save_document(key, store.document(key), Document(text))
        store.save_draft(key, text.cues)
        store.close()
        store = JobStore(self.folder / "job.tamarind")
        self.addCleanup(store.close)
        self.assertEqual(store.document(key).transcript, text)
        self.assertEqual(store.draft(key), (replace(UNUSUAL, id=1),))

    def test_in_undo(self):
        change = Change(0, (UNUSUAL,), (replace(UNUSUAL, note=""),))
        self.assertEqual(Change.unpacked(change.packed()), change)

    def test_in_json(self):
        text = Transcript("en", (replace(UNUSUAL, id=1, speaker=1),), (Speaker(1, "Warden"),))
        self.assertEqual(everything.read(everything.write(text, "a", 3_000), "en"), text)

    def test_in_bookmarks(self):
        import numpy as np

        nothing = np.zeros(0, np.float32)
        sound = Bookmark(0, (nothing, nothing, nothing), 0, Activity(nothing, nothing), 40_000)
        place = HearingState(sound, ((UNUSUAL_WORD, 2, "es"),), 8, 900, (UNUSUAL_WORD, None))
        found = read(written(place))
        self.assertEqual((found.waiting, found.last), (place.waiting, place.last))


if __name__ == "__main__":
    unittest.main()
