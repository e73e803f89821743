"""Pages to publish: what is put where, for recordings of every kind."""

import base64
import re
from fractions import Fraction

import av

from tamarind.audio.media import MediaError
from tamarind.job.pages import PageOrder
from tamarind.language.stylebook import ORDINARY_STYLE, SHIPPED
from tamarind.transcript.model import Transcript
from tests.support import DEMO, FolderTest, cue, moor

STYLE = SHIPPED[ORDINARY_STYLE]
MEDIA = DEMO / "media"
SPANISH = Transcript("es", (cue(1, "¿Cómo era el páramo?", 1_000),))


class Pages(FolderTest):
    def order(self, media, **more):
        given = {"texts": [moor(), SPANISH], "style": STYLE, "title": "Moor"}
        return PageOrder(media, self.folder / "page", **{**given, **more})

    def make(self, media, **more):
        order = self.order(media, **more)
        told = []
        order.fill(told.append)
        self.assertEqual((told, told[-1]), (sorted(told), 1.0))
        names = sorted(path.name for path in order.folder.iterdir())
        return order, names, order.page.read_text()

    def test_what_every_browser_plays_is_copied(self):
        kinds = {"Water table lecture.mp4": "video/mp4", "Warden interview.m4a": "audio/mp4",
                 "Site memo, north drain.ogg": "audio/ogg"}  # fmt: skip
        for name, kind in kinds.items():
            source = MEDIA / name
            order, names, page = self.make(source)
            media = f"media{source.suffix}"
            self.assertEqual(names, ["captions.en.vtt", "captions.es.vtt", "index.html", media])
            self.assertEqual((order.folder / media).read_bytes(), source.read_bytes())
            self.assertIn(f'<source src="{media}" type="{kind}">', page)
            self.assertEqual(sorted(path.name for path in order.targets), names)
            for path in order.folder.iterdir():
                path.unlink()

    def test_what_they_do_not_play_is_written_anew(self):
        source = self.folder / "Moor.avi"
        lecture = str(MEDIA / "Water table lecture.mp4")
        with av.open(lecture) as read, av.open(str(source), "w") as out:
            picture = out.add_stream("mpeg4", rate=5)
            picture.width, picture.height, picture.pix_fmt = 320, 180, "yuv420p"
            sound = out.add_stream("pcm_s16le", rate=16_000)
            sound.layout = "mono"
            resampler = av.AudioResampler("s16", "mono", 16_000)
            number = 0
            for frame in read.decode(video=0, audio=0):
                if frame.time is not None and frame.time > 2:
                    break
                if isinstance(frame, av.VideoFrame):
                    frame = frame.reformat(320, 180)
                    frame.pts, number = number, number + 1
                    frame.time_base = Fraction(1, 5)
                    out.mux(picture.encode(frame))
                else:
                    for piece in resampler.resample(frame):
                        out.mux(sound.encode(piece))
            out.mux(picture.encode(None))
        order, names, page = self.make(source)
        self.assertIn("media.mp4", names)
        with av.open(str(order.folder / "media.mp4")) as made:
            kinds = [stream.codec_context.name for stream in made.streams]
        self.assertEqual(kinds, ["h264", "aac"])
        _, names, page = self.make(MEDIA / "Volunteers round table.wav")
        self.assertIn("media.m4a", names)
        self.assertIn("audio/mp4", page)

    def test_sound_may_lie_within_one_file(self):
        _, names, page = self.make(MEDIA / "Warden interview.m4a", single=True)
        self.assertEqual(names, ["Moor.html"])
        (packed,) = re.findall(r'<source src="data:audio/mp4;base64,([^"]+)"', page)
        self.assertEqual(base64.b64decode(packed), (MEDIA / "Warden interview.m4a").read_bytes())
        with self.assertRaisesRegex(MediaError, "folder"):
            self.order(MEDIA / "Water table lecture.mp4", single=True).fill()

    def test_headings_become_chapters_and_captions_their_paragraphs(self):
        _, _, page = self.make(MEDIA / "Warden interview.m4a", texts=[Transcript("en", (
            cue(1, "What did the moor look like?", 1_000, heading="The moor"),
            cue(2, "Dry.", 9_000, heading="The water"),
        ))])  # fmt: skip
        self.assertIn('kind="chapters"', page)
        self.assertEqual(page.count("<li"), 2 + 1)
        self.assertNotIn("<select", page)

    def test_a_recording_is_never_written_over(self):
        source = self.folder / "page" / "media.m4a"
        source.parent.mkdir()
        source.write_bytes((MEDIA / "Warden interview.m4a").read_bytes())
        before = source.read_bytes()
        with self.assertRaisesRegex(MediaError, "the recording itself"):
            self.order(source).fill()
        self.assertEqual(source.read_bytes(), before)
        with self.assertRaises(MediaError):
            self.order(self.folder / "none.wav").fill()
