"""Jobs made when times still counted from the sound keep their meaning."""

import sqlite3
from contextlib import closing
from dataclasses import replace

from tamarind.audio.media import probe
from tamarind.cli.jobs import open_job
from tamarind.job.document import Document
from tamarind.job.store import JobStore
from tamarind.transcript.excerpts import Excerpt
from tests.flashes import Flashes, write_flashes
from tests.support import FolderTest, moor


class OldJobs(FolderTest):
    def old_job(self, what):
        """A job whose times count from the sound of its recording."""
        media = write_flashes(self.folder / "site.mp4", what)
        store = JobStore(self.folder / "old.tamarind")
        recording = store.add_recording(media)
        document = Document(
            moor(), excerpts=(Excerpt(1, 1_000, 2_000, "i", cuts=((1_200, 1_300),)),)
        )
        store.save_document(recording.id, Document(replace(moor(), cues=())), document)
        store.save_draft(recording.id, moor().cues)
        store.save_recording(
            replace(recording, info=probe(media), listened=((0, 900),), from_sound=True)
        )
        store.close()
        return store.path

    def reopened(self, path):
        store = open_job(path).store
        with closing(store):
            (recording,) = store.recordings()
            return recording, store.document(recording.id), store.draft(recording.id)

    def test_where_the_sound_begins_later_everything_moves_once(self):
        path = self.old_job(Flashes(sound_from=1_500))
        for _ in range(2):
            recording, document, draft = self.reopened(path)
            by = document.transcript.cues[0].start - moor().cues[0].start
            self.assertLess(abs(by - 1_500), 30)
            starts = [[word.start - by for word in cue.words] for cue in document.transcript.cues]
            self.assertEqual(starts, [[word.start for word in cue.words] for cue in moor().cues])
            self.assertEqual(draft[1].words[0].start, moor().cues[1].words[0].start + by)
            (excerpt,) = document.excerpts
            self.assertEqual(
                (excerpt.start, excerpt.cuts), (1_000 + by, ((1_200 + by, 1_300 + by),))
            )
            self.assertEqual(recording.listened, ((by, 900 + by),))
            self.assertFalse(recording.from_sound)

    def test_where_both_begin_together_nothing_moves(self):
        _, document, draft = self.reopened(self.old_job(Flashes(start=0)))
        self.assertEqual(document.transcript.cues, moor().cues)
        self.assertEqual(draft[0].words, moor().cues[0].words)

    def test_recordings_of_older_versions_count_from_their_sound(self):
        path = self.old_job(Flashes())
        with closing(sqlite3.connect(path)) as db:
            db.execute("ALTER TABLE recording DROP COLUMN from_sound")
            db.execute("ALTER TABLE track DROP COLUMN position")
            db.execute("ALTER TABLE step DROP COLUMN goes_on")
            db.execute("PRAGMA user_version = 15")
            db.commit()
        store = JobStore(path)
        self.addCleanup(store.close)
        self.assertTrue(all(one.from_sound for one in store.recordings()))
