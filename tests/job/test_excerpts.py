"""The excerpts of a job: kept, undone, found, and what is made of them."""

from dataclasses import replace
from fractions import Fraction
from unittest.mock import patch

import av

from tamarind.audio.media import MediaError, MediaInfo
from tamarind.audio.sourcetime import SourceTime, source_time
from tamarind.formats import documents
from tamarind.job import excerptfiles
from tamarind.job.change import Change, between
from tamarind.job.document import Document
from tamarind.job.dressing import Dressing
from tamarind.job.excerptfiles import ExcerptOptions, ExcerptsOrder, data_of, planned
from tamarind.job.excerpts import Chosen, fitting, in_order, tags_of
from tamarind.job.recording import Recording
from tamarind.job.store import JobStore
from tamarind.language.stylebook import ORDINARY_STYLE, SHIPPED
from tamarind.picture.lookbook import SHIPPED as LOOKS
from tamarind.picture.lookbook import USUAL_LOOK
from tamarind.transcript import edits
from tamarind.transcript.excerpts import Excerpt
from tamarind.transcript.model import Transcript
from tests.support import DEMO, FolderTest, database, moor

DRESSING = Dressing(SHIPPED[ORDINARY_STYLE], LOOKS[USUAL_LOOK])
LECTURE = DEMO / "media" / "Water table lecture.mp4"


def excerpt(number, start, end, place, **more):
    return Excerpt(number, start, end, place, **more)


class Kept(FolderTest):
    def setUp(self):
        super().setUp()
        self.path = self.folder / "work.tamarind"
        store = JobStore(self.path)
        recording = store.add_recording(self.folder / "a.wav")
        self.one = excerpt(1, 100, 900, "i", name="Moss", tags=("water",))
        self.two = excerpt(2, 1_000, 2_000, "r")
        self.document = Document(moor(), (), (self.one, self.two))
        store.save_document(recording.id, Document(Transcript("")), self.document)
        store.close()

    def test_they_come_back_with_the_job(self):
        store = JobStore(self.path)
        self.assertEqual(store.document(1), self.document)
        gone = replace(self.document, excerpts=(self.two,))
        store.save_document(1, self.document, gone)
        store.close()
        store = JobStore(self.path)
        self.assertEqual(store.document(1).excerpts, (self.two,))
        store.close()

    def test_what_is_damaged_of_them_is_left_out_and_told(self):
        store = JobStore(self.path)
        (kept,) = database(store).execute("SELECT excerpts FROM recording").fetchone()
        broken = kept.replace('"in": 100,', '"in": "x",')
        database(store).execute("UPDATE recording SET excerpts = ?", (broken,))
        store.close()
        from tamarind.job.opening import open_job

        opened = open_job(self.path)
        self.assertTrue(any("one of its excerpts" in told for told in opened.told), opened.told)
        self.assertEqual(opened.store.document(1).excerpts, (self.two,))
        opened.store.close()

    def test_undo_brings_them_back_packed_and_unpacked(self):
        after = replace(self.document, excerpts=(self.two,))
        change = between(self.document, after)
        self.assertTrue(change.is_of_excerpts)
        change = Change.unpacked(change.packed())
        self.assertEqual(change.made_in(self.document), after)
        self.assertEqual(change.turned().made_in(after), self.document)

    def test_an_edit_that_moves_them_is_undone_with_them(self):
        text = edits.delete(self.document.transcript, 0)
        after = self.document.with_transcript(text)
        change = between(self.document, after)
        self.assertFalse(change.is_of_excerpts)
        self.assertEqual(change.turned().made_in(after).excerpts, self.document.excerpts)


class Files(FolderTest):
    def setUp(self):
        super().setUp()
        info = MediaInfo(
            "Water table lecture.mp4",
            98_752,
            "mov",
            codec="aac",
            channels=1,
            sample_rate=48_000,
            sound_tracks=1,
            picture=(640, 360),
        )
        self.lecture = Recording(1, LECTURE, info=info, duration=98_752)
        self.memo = Recording(2, self.folder / "Memo.wav", duration=5_000)
        words = moor()
        begun, ended = words.cues[1].words[1].start - 40, words.cues[1].words[3].end + 20
        self.documents = [
            (self.lecture, Document(words, (), (
                excerpt(1, 100, 1_900, "r", tags=("water",)),
                excerpt(2, begun, ended, "c", name="Dry"),
            ))),
            (self.memo, Document(words, (), (excerpt(1, 0, 3_000, "i", note="use this"),))),
        ]  # fmt: skip
        self.chosen = in_order(self.documents)

    def test_they_are_found_by_tag_and_word_in_their_order(self):
        self.assertEqual([one.key for one in self.chosen], [(1, 2), (2, 1), (1, 1)])
        self.assertEqual(tags_of(self.chosen), ["water"])
        self.assertEqual([one.key for one in fitting(self.chosen, tags=["Water"])], [(1, 1)])
        self.assertEqual([one.key for one in fitting(self.chosen, "USE")], [(2, 1)])
        self.assertEqual(fitting(self.chosen, "use", ["water"]), [])

    def test_names_are_numbered_lawful_and_no_two_alike(self):
        kinds = ("wav", "mp4", "srt", "edl", "docx", "txt")
        names = [file.name for file in planned(self.chosen, ExcerptOptions(kinds, title="a/b"))]
        self.assertEqual(sum(name.endswith(".wav") for name in names), 3)
        # The memo has no picture.
        self.assertEqual(sum(name.endswith(".mp4") for name in names), 2)
        self.assertIn("01 Dry.wav", names)
        self.assertIn("a-b.edl", names)
        self.assertIn("a-b, quotations.docx", names)
        self.assertEqual(len(set(names)), len(names))
        joined = planned(self.chosen, ExcerptOptions(("wav", "mp4", "vtt"), joined=True, title="J"))
        self.assertEqual([file.name for file in joined], ["J.wav", "J.mp4", "J.vtt"])

    def test_captions_are_timed_from_the_beginning_of_the_file(self):
        (file,) = planned([self.chosen[0]], ExcerptOptions(("srt",)))
        path = self.folder / file.name
        path.write_bytes(data_of(file, ExcerptOptions(("srt",)), lambda _id: DRESSING))
        text = documents.read(path, "en").transcript
        self.assertEqual(text.cues[0].start, 40)
        self.assertEqual(text.cues[0].text, "You could walk")

    def test_edit_lists_count_from_the_timecode_of_the_file(self):
        known = SourceTime("10:00:00:00", None, Fraction(25), "CARD 7")
        (file,) = planned([self.chosen[0]], ExcerptOptions(("edl",)))
        with patch.object(excerptfiles, "source_time", lambda _path: known):
            text = data_of(file, ExcerptOptions(("edl",)), lambda _id: DRESSING).decode()
        self.assertRegex(
            text, r"001  CARD7    B +C +10:00:04:06 10:00:05:05 01:00:00:00 01:00:00:24"
        )
        odd = SourceTime("99:99", Fraction(3_600), None, "")
        with patch.object(excerptfiles, "source_time", lambda _path: odd):
            text = data_of(file, ExcerptOptions(("edl",)), lambda _id: DRESSING).decode()
        self.assertIn("00:00:04:06 00:00:05:05", text)
        recorder = SourceTime("", Fraction(3_600), None, "")
        with patch.object(excerptfiles, "source_time", lambda _path: recorder):
            text = data_of(file, ExcerptOptions(("edl",)), lambda _id: DRESSING).decode()
        self.assertIn("01:00:04:06 01:00:05:05", text)

    def test_a_file_says_its_timecode_and_reel(self):
        path = self.folder / "coded.mov"
        with av.open(str(path), "w") as out:
            picture = out.add_stream("mpeg4", rate=25)
            picture.width = picture.height = 64
            out.metadata["timecode"] = "10:11:12:13"
            out.metadata["reel_name"] = "A001"
            for number in range(5):
                frame = av.VideoFrame(64, 64, "yuv420p")
                frame.pts = number
                out.mux(picture.encode(frame))
            out.mux(picture.encode(None))
        found = source_time(path)
        self.assertEqual((found.code, found.rate), ("10:11:12:13", 25))
        self.assertEqual(source_time(LECTURE).code, "")

    def test_one_that_cannot_be_made_does_not_stop_the_others(self):
        options = ExcerptOptions(("wav", "txt"))
        out = self.folder / "out"
        out.mkdir()
        order = ExcerptsOrder(tuple(planned(self.chosen, options)), out, options,
                              {1: DRESSING, 2: DRESSING})  # fmt: skip
        told = []
        with self.assertRaisesRegex(MediaError, "no longer there"):
            order.fill(told.append)
        names = sorted(path.name for path in out.iterdir())
        self.assertEqual(len(names), 3, names)
        self.assertEqual(told, sorted(told))

    def test_a_recording_is_never_written_over(self):
        target = self.folder / "01 Dry.wav"
        target.write_bytes(b"the only one")
        one = Chosen(
            replace(self.lecture, path=target), *self.documents[0][1:], self.chosen[0].excerpt
        )
        options = ExcerptOptions(("wav",))
        (file,) = planned([one], options)
        with self.assertRaisesRegex(MediaError, "the recording itself"):
            excerptfiles.write(file, self.folder, options, lambda _id: DRESSING)
        self.assertEqual(target.read_bytes(), b"the only one")
