"""Chapters: from headings, written as text and as marks in a recording."""

import unittest
from dataclasses import replace

import av
import numpy as np

from tamarind.audio.media import MediaError
from tamarind.formats import documents
from tamarind.formats.captions import vtt
from tamarind.formats.data.chapters import as_list, as_webvtt, chapters_of
from tamarind.formats.format import Origin
from tamarind.picture.chaptermarks import add_chapters
from tamarind.transcript.edits import set_heading
from tests.picture.made import make_video, packets_of
from tests.support import FolderTest, moor, tone

MARKS = [(0, 400, "The moor"), (400, 1_500, "Dry: <years> & “dams”"), (1_500, 2_000, "Воды")]


class FromHeadings(unittest.TestCase):
    def text(self, *headings):
        text = moor()
        for place, heading in headings:
            text = set_heading(text, place, heading)
        return text

    def test_each_heading_begins_one_and_all_of_the_recording_is_in_one(self):
        found = chapters_of(self.text((1, "Dry years"), (2, "Winter")), "Moor talk", 12_500)
        self.assertEqual(
            [(one.start, one.end, one.title) for one in found],
            [(0, 4_000, "Moor talk"), (4_000, 8_000, "Dry years"), (8_000, 12_500, "Winter")],
        )
        first = chapters_of(self.text((0, "A question"), (2, "Winter")), "Moor talk", 12_500)
        self.assertEqual([(one.start, one.title) for one in first],
                         [(0, "A question"), (8_000, "Winter")])  # fmt: skip
        (whole,) = chapters_of(moor(), "Moor talk", 12_500)
        self.assertEqual((whole.start, whole.end, whole.title), (0, 12_500, "Moor talk"))

    def test_they_are_webvtt_or_a_list_to_paste(self):
        found = chapters_of(self.text((1, "Dry --> & <b>")), "Moor", 12_500)
        (_, dry) = vtt.read(as_webvtt(found), "en").cues
        self.assertEqual((dry.start, dry.end, dry.text), (4_000, 12_500, "Dry → & <b>"))
        self.assertEqual(as_list(found), "0:00 Moor\n0:04 Dry --> & <b>\n")
        late = [replace(one, start=one.start + 3_600_000) for one in found]
        self.assertEqual(as_list(late).splitlines()[0], "1:00:00 Moor")
        source = Origin("moor.wav", 12_500)
        written = documents.write("chapters.txt", self.text((1, "Dry")), source).decode()
        self.assertEqual(written, "0:00 moor\n0:04 Dry\n")


class Marks(FolderTest):
    def sound(self, name, codec, rate=48_000):
        path = self.folder / name
        with av.open(str(path), "w") as out:
            stream = out.add_stream(codec, rate=rate, layout="mono")
            samples = np.resize(tone(2), 2 * rate)[None].astype(np.float32)
            frame = av.AudioFrame.from_ndarray(samples, "fltp", "mono")
            frame.sample_rate = rate
            whole = av.AudioResampler(stream.codec_context.format, "mono", rate)
            for one in whole.resample(frame):
                one.pts = None
                out.mux(stream.encode(one))
            out.mux(stream.encode(None))
        return path

    def test_they_are_read_in_every_container_and_streams_stay(self):
        video = make_video(self.folder / "a.mp4", frames=20)
        for source, target in (
            (video, "b.mp4"), (video, "b.mkv"), (self.sound("a.mp3", "libmp3lame"), "b.mp3"),
            (self.sound("a.m4a", "aac"), "b.m4a"), (self.sound("a.ogg", "libopus"), "b.ogg"),
        ):  # fmt: skip
            out = self.folder / target
            add_chapters(source, out, MARKS)
            with av.open(str(out)) as read:
                found = [
                    (round(float(one["start"] * one["time_base"]) * 1_000),
                     one["metadata"].get("title")) for one in read.chapters()
                ]  # fmt: skip
            self.assertEqual(found, [(start, title) for start, _, title in MARKS], target)
            self.assertEqual(packets_of(out, "audio"), packets_of(source, "audio"), target)
            add_chapters(out, self.folder / f"again{out.suffix}", MARKS[:1])
            with av.open(str(self.folder / f"again{out.suffix}")) as read:
                self.assertEqual(len(read.chapters()), 1)

    def test_what_cannot_be_is_told_and_leaves_nothing(self):
        sound = self.sound("a.mp3", "libmp3lame")
        for target in ("b.wav", "a.mp3"):
            before = sorted(path.name for path in self.folder.iterdir())
            with self.assertRaises(MediaError):
                add_chapters(sound, self.folder / target, MARKS)
            self.assertEqual(sorted(path.name for path in self.folder.iterdir()), before)
