import itertools
import os
import sqlite3
import subprocess
import sys
import textwrap
from array import array
from contextlib import closing
from dataclasses import replace
from pathlib import Path
from threading import Thread

from tamarind.audio.media import MediaInfo
from tamarind.job.document import Document
from tamarind.job.jobfile import JobError
from tamarind.job.opening import open_job
from tamarind.job.recording import State
from tamarind.job.store import JobStore
from tamarind.speech.hearingoptions import Care, HearingOptions, Voices
from tamarind.transcript import edits
from tamarind.transcript.languages import UNDETERMINED
from tamarind.transcript.model import Transcript
from tamarind.translation.tracks import Track, with_texts
from tests.support import FolderTest, database, moor

EMPTY = Document(Transcript("en"))


class Keeping(FolderTest):
    def setUp(self):
        super().setUp()
        self.path = self.folder / "work.tamarind"
        self.store = JobStore(self.path)
        self.addCleanup(lambda: self.store.close())

    def reopen(self):
        self.store.close()
        self.store = JobStore(self.path)

    def test_all_comes_back(self):
        recording = self.store.add_recording(self.folder / "media" / "moor.wav")
        info = MediaInfo(
            "moor.wav",
            9000,
            "wav",
            codec="pcm",
            channels=2,
            sample_rate=48_000,
            sound_tracks=1,
            picture=(640, 360),
        )
        recording = replace(
            recording, info=info, duration=9000, state=State.DRAFT, part=(500, None), problem="…"
        )
        self.store.save_recording(recording)
        track = with_texts(Track("es"), moor().cues[:2], ("uno", "dos"))
        document = Document(moor(), (track, Track("ca")))
        self.store.save_document(recording.id, EMPTY, document)
        self.store.set_setting("step", "proof")
        self.reopen()
        self.assertEqual(self.store.recordings(), [recording])
        again = self.store.document(recording.id)
        self.assertEqual(again.transcript, document.transcript)
        self.assertEqual(again.track("es"), track)
        self.assertEqual({t.language for t in again.tracks}, {"es", "ca"})
        self.assertEqual(self.store.setting("step"), "proof")

    def test_any_edit_leaves_on_disk_what_is_in_memory(self):
        recording = self.store.add_recording(self.folder / "moor.wav")
        versions = [EMPTY, Document(moor())]
        for change in (
            lambda t: edits.split(t, 1, 3),
            lambda t: edits.set_text(t, 0, "Something else was said."),
            lambda t: edits.join(t, 2),
            lambda t: edits.name_speaker(t, 2, "Martin"),
            lambda t: edits.delete(t, 1),
            lambda t: edits.settle(t, 0, 1),
        ):
            versions.append(versions[-1].with_transcript(change(versions[-1].transcript)))
        for before, after in itertools.pairwise(versions):
            self.store.save_document(recording.id, before, after)
            self.assertEqual(self.store.document(recording.id), after)
        for after, before in zip(versions[:0:-1], versions[-2::-1], strict=False):
            self.store.save_document(recording.id, after, before)
            self.assertEqual(
                self.store.document(recording.id).transcript.cues, before.transcript.cues
            )

    def test_what_is_written_before_it_is_asked_for_is_what_is_given(self):
        key = self.store.add_recording(self.folder / "moor.wav").id
        self.store.save_document(key, EMPTY, Document(moor()))
        self.reopen()
        changed = Document(edits.set_text(moor(), 0, "Another text."))
        self.store.save_document(key, Document(moor()), changed)
        self.assertEqual(self.store.document(key).transcript, changed.transcript)
        self.reopen()
        track = with_texts(Track("es"), moor().cues[:1], ("uno",))
        self.store.save_document(key, changed, changed.with_track(track))
        self.assertEqual(self.store.document(key).track("es"), track)

    def test_files_below_the_jobs_folder_move_with_it(self):
        self.store.add_recording(self.folder / "media" / "a.wav")
        self.store.add_recording(Path("/elsewhere/b.wav"))
        self.store.close()
        moved = self.folder / "moved"
        moved.mkdir()
        self.path.rename(moved / "work.tamarind")
        self.store = JobStore(moved / "work.tamarind")
        paths = [recording.path for recording in self.store.recordings()]
        self.assertEqual(paths, [moved / "media" / "a.wav", Path("/elsewhere/b.wav")])

    def test_a_second_window_is_told(self):
        with self.assertRaisesRegex(JobError, "open in another window"):
            JobStore(self.path)
        self.reopen()

    def test_killed_in_the_middle_of_writing_it_opens_with_the_last_edit(self):
        program = textwrap.dedent(
            """
            import sys
            from pathlib import Path
            from tamarind.job.document import Document
            from tamarind.job.store import JobStore
            from tamarind.transcript import edits
            from tamarind.transcript.model import Transcript
            from tests.support import moor
            store = JobStore(Path(sys.argv[1]))
            key = store.add_recording(Path("a.wav")).id
            old, new = Document(Transcript("en")), Document(moor())
            for number in range(100_000):
                store.save_document(key, old, new)
                print(number, flush=True)
                text = edits.set_text(new.transcript, 0, f"keystroke {number + 1}")
                old, new = new, new.with_transcript(text)
            """
        )
        path = self.folder / "killed.tamarind"
        process = subprocess.Popen(
            [sys.executable, "-c", program, str(path)],
            stdout=subprocess.PIPE,
            text=True,
            cwd=Path(__file__).parent.parent.parent,
            env=os.environ,
        )
        last = 0
        for line in process.stdout:
            last = int(line)
            if last == 150:
                process.kill()
        process.wait()
        process.stdout.close()
        store = JobStore(path)
        self.addCleanup(store.close)
        word = store.document(store.recordings()[0].id).transcript.cues[0].words[-1].text
        self.assertIn(int(word), (last, last + 1))


class TheLog(FolderTest):
    def test_it_is_moved_into_the_file_while_writing_goes_on(self):
        path = self.folder / "a.tamarind"
        store = JobStore(path)
        key = store.add_recording(self.folder / "a.wav").id
        store.save_document(key, EMPTY, Document(moor()))
        tidying = Thread(target=store.tidy)
        tidying.start()
        for number in range(50):
            store.set_setting("n", str(number))
        tidying.join()
        store.tidy()
        log = path.with_name(f"{path.name}-wal").stat().st_size
        # What was moved is written over by what comes next, so the log hardly grows.
        for number in range(50):
            store.set_setting("n", str(number))
        grown = path.with_name(f"{path.name}-wal").stat().st_size - log
        self.assertLess(grown, 25 * 4096)
        copy = self.folder / "copy.tamarind"
        copy.write_bytes(path.read_bytes())
        with sqlite3.connect(copy) as db:
            self.assertEqual(db.execute("SELECT count(*) FROM cue").fetchone(), (3,))
        db.close()
        store.close()


class NotAJob(FolderTest):
    def refused(self, path, words):
        before = path.read_bytes() if path.is_file() else None
        with self.assertRaisesRegex(JobError, words):
            JobStore(path)
        if before is not None:
            self.assertEqual(path.read_bytes(), before)

    def test_each_is_refused_in_a_sentence_and_left_as_it_was(self):
        text = self.folder / "letter.tamarind"
        text.write_text("Dear warden, " * 30)
        self.refused(text, "not a Tamarind job")
        self.refused(self.folder, "is a folder")
        self.refused(self.folder / "no" / "x.tamarind", "does not exist")
        other = self.folder / "other.tamarind"
        with sqlite3.connect(other) as db:
            db.execute("CREATE TABLE t (x)")
            db.execute("PRAGMA user_version = 3")
        db.close()
        self.refused(other, "not a Tamarind job")

    def test_nothing_that_was_there_before_becomes_a_job(self):
        notes = self.folder / "notes.txt"
        notes.touch()
        self.refused(notes, "not a Tamarind job")
        fresh = self.folder / "fresh.sqlite"
        sqlite3.connect(fresh).execute("CREATE TABLE t (x)").connection.close()
        self.refused(fresh, "not a Tamarind job")
        os.mkfifo(self.folder / "pipe.tamarind")
        self.refused(self.folder / "pipe.tamarind", "a pipe or a device")
        self.refused(Path("/dev/null"), "a pipe or a device")
        link = self.folder / "link.tamarind"
        link.symlink_to(self.folder / "nowhere")
        self.refused(link, "not there")
        self.assertFalse((self.folder / "nowhere").exists())

    def test_a_database_that_acts_by_itself_is_refused(self):
        for number, part in enumerate((
            "CREATE TRIGGER t AFTER UPDATE ON cue BEGIN DELETE FROM cue; END",
            "CREATE VIEW v AS SELECT * FROM cue",
        )):  # fmt: skip
            path = self.folder / f"{number}.tamarind"
            JobStore(path).close()
            with closing(sqlite3.connect(path)) as db:
                db.execute(part)
            self.refused(path, "parts that no Tamarind job has")

    def test_an_order_that_does_not_fit_the_cues_is_put_right(self):
        path = self.folder / "order.tamarind"
        store = JobStore(path)
        key = store.add_recording(self.folder / "a.wav").id
        store.save_document(key, EMPTY, Document(moor()))
        store.close()
        for order in (array("q", [2]), array("q", [2, 2, 1, 3]), array("q")):
            with closing(sqlite3.connect(path)) as db:
                db.execute("UPDATE recording SET cue_order = ?", (order.tobytes(),))
                db.commit()
            store = JobStore(path)
            ids = [cue.id for cue in store.document(key).transcript.cues]
            self.assertEqual(sorted(ids), [1, 2, 3])
            store.close()
        self.assertEqual(ids, [1, 2, 3])

    def test_what_is_whole_of_a_damaged_job_goes_on_in_a_copy(self):
        path = self.folder / "work.tamarind"
        store = JobStore(path)
        for name in ("a.wav", "b.wav"):
            key = store.add_recording(self.folder / name).id
            store.save_document(key, EMPTY, Document(moor()))
            store.save_draft(key, moor().cues)
        store.set_setting("glossary", "Titwell")
        store.close()
        with closing(sqlite3.connect(path)) as db:
            db.execute(
                "UPDATE cue SET words = ? WHERE recording = 1 AND id = 2",
                ('[["Dry.",NaN,2,0.5],["You",4300,4600,7]]',),
            )
            db.execute("UPDATE cue SET breaks = '[99999999]' WHERE recording = 2 AND id = 1")
            db.execute("UPDATE cue SET words = 'x' WHERE recording = 2 AND id = 3")
            db.commit()
        before = path.read_bytes()
        opened = open_job(path)
        self.assertEqual(path.read_bytes(), before)
        self.assertEqual(opened.store.path.name, "work (saved).tamarind")
        self.assertIn("The damaged file was left as it is", opened.told[0])
        first = opened.store.document(1).transcript
        self.assertEqual([c.text for c in first.cues],
                         [moor().cues[0].text, "Dry. You", moor().cues[2].text])  # fmt: skip
        second = opened.store.document(2).transcript
        self.assertEqual([c.text for c in second.cues], [c.text for c in moor().cues[:2]])
        self.assertEqual(opened.store.draft(2), moor().cues)
        self.assertEqual(opened.store.setting("glossary"), "Titwell")
        self.assertTrue(any("could not be read" in sentence for sentence in opened.told))
        opened.store.close()
        # The copy is a job like any other.
        self.assertEqual(open_job(opened.store.path).told, ())

    def test_a_job_of_the_first_version_is_brought_up_to_date(self):
        path = self.folder / "old.tamarind"
        store = JobStore(path)
        store.add_recording(self.folder / "a.wav")
        store.close()
        with sqlite3.connect(path) as db:
            for column in ("how", "unheard", "style", "bookmark", "listened", "preamble",
                           "guesses", "voices", "at_once", "excerpts",
                           "descriptions", "from_sound"):  # fmt: skip
                db.execute(f"ALTER TABLE recording DROP COLUMN {column}")
            for column in ("shaped", "placement", "note", "mark", "more"):
                db.execute(f"ALTER TABLE cue DROP COLUMN {column}")
            for column in ("mark", "comment"):
                db.execute(f"ALTER TABLE translated DROP COLUMN {column}")
            db.execute("ALTER TABLE track DROP COLUMN position")
            for table in ("draft", "step"):
                db.execute(f"DROP TABLE {table}")
            db.execute("PRAGMA user_version = 1")
        db.close()
        how = HearingOptions("en-GB", Care.THOROUGH, Voices.read("2"))
        for before in (HearingOptions(UNDETERMINED), how):
            store = JobStore(path)
            (recording,) = store.recordings()
            self.assertEqual(recording.how, before)
            self.assertEqual(recording.unheard, ((100, 2300),) if before is how else ())
            store.save_recording(replace(recording, how=how, unheard=((100, 2300),)))
            store.close()

    def test_heard_text_and_the_bookmark_are_written_both_or_neither(self):
        store = JobStore(self.folder / "heard.tamarind")
        recording = store.add_recording(self.folder / "a.wav")
        database(store).execute(
            "CREATE TRIGGER stop BEFORE INSERT ON cue BEGIN SELECT RAISE(ABORT, 'full'); END"
        )
        heard = replace(recording, bookmark="{}", heard_until=500)
        with self.assertRaises(JobError):
            store.save_heard(heard, EMPTY, Document(moor()))
        self.assertEqual(store.recordings(), [recording])
        database(store).execute("DROP TRIGGER stop")
        store.save_heard(heard, EMPTY, Document(moor()))
        self.assertEqual(store.recordings(), [heard])
        self.assertEqual(store.document(recording.id).transcript.cues, moor().cues)
        store.close()

    def test_recordings_keep_the_order_they_are_given(self):
        store = JobStore(self.folder / "order.tamarind")
        with store.together():
            keys = [store.add_recording(self.folder / f"{n}.wav").id for n in range(3)]
        store.set_order([keys[2], keys[0], keys[1]])
        self.assertEqual([r.id for r in store.recordings()], [keys[2], keys[0], keys[1]])
        later = store.add_recording(self.folder / "late.wav", HearingOptions("cy"), "phone")
        self.assertEqual(store.recordings()[-1], later)
        store.close()

    def test_a_newer_job(self):
        path = self.folder / "newer.tamarind"
        JobStore(path).close()
        with sqlite3.connect(path) as db:
            db.execute("PRAGMA user_version = 99")
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        db.close()
        self.refused(path, "newer Tamarind")

    def test_a_damaged_job(self):
        path = self.folder / "damaged.tamarind"
        store = JobStore(path)
        key = store.add_recording(self.folder / "a.wav").id
        store.save_document(key, EMPTY, Document(moor()))
        store.close()
        data = bytearray(path.read_bytes())
        data[4096:] = os.urandom(len(data) - 4096)
        path.write_bytes(data)
        with self.assertRaisesRegex(JobError, "damaged"):
            JobStore(path)
