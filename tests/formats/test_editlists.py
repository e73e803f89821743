"""Edit lists, read back by the library that video editors use."""

import unittest
from fractions import Fraction
from pathlib import Path

import opentimelineio as otio

from tamarind.formats.broadcast.smpte import NTSC, Frames
from tamarind.formats.data.editlists import EditEvent, as_edl, as_otio, reels

HOSTILE = "-->\n\x07* FROM CLIP NAME: other.mov\n002  AX V C"


def event(start, end, **more):
    given = {"name": "Moss", "source": Path("/films/lecture.mp4"), "reel": "LECTURE",
             "start": start, "end": end, "length": 100_000, "has_picture": True}  # fmt: skip
    return EditEvent(**{**given, **more})


def frames(rate=Fraction(25), drops=False, begun="01:00:00:00"):
    return Frames(rate, drops, Frames(rate, drops).number(begun))


def clips_of(timeline, kind):
    tracks = [t for t in timeline.tracks if t.kind == kind]
    return [c for c in tracks[0] if isinstance(c, otio.schema.Clip)]


class CMX3600(unittest.TestCase):
    def read(self, text, rate=25):
        return otio.adapters.read_from_string(text, "cmx_3600", rate=rate)

    def test_the_times_are_those_that_were_written(self):
        events = [
            event(1_000, 3_500, begun="10:00:00:00"),
            event(9_960, 10_400, has_picture=False, reel="MEMO"),
            event(0, 40),
        ]
        text = as_edl("Peatland", events, frames())
        timeline = self.read(text)
        self.assertEqual(timeline.name, "Peatland")
        found = [
            (c.source_range.start_time.to_frames(), c.source_range.duration.to_frames())
            for c in clips_of(timeline, otio.schema.TrackKind.Video)
        ]
        hour = 3_600 * 25
        self.assertEqual(found, [(10 * hour + 25, 63), (0, 1)])
        sound = clips_of(timeline, otio.schema.TrackKind.Audio)
        self.assertEqual([c.source_range.duration.to_frames() for c in sound], [63, 11, 1])
        records = [line.split()[6:8] for line in text.splitlines() if line[:3].isdigit()]
        self.assertEqual(records[0], ["01:00:00:00", "01:00:02:13"])
        # Each begins where the one before ends.
        self.assertEqual([a for a, _ in records[1:]], [b for _, b in records[:-1]])

    def test_what_lies_on_halves_of_frames_is_as_long_in_source_and_record(self):
        events = [event(n * 133 + 20, n * 133 + 1_019) for n in range(60)]
        text = as_edl("Halves", events, frames(NTSC, drops=True))
        self.assertIn("FCM: DROP FRAME", text)
        counted = Frames(NTSC, True)
        for line in text.splitlines():
            if line[:3].isdigit():
                a, b, c, d = map(counted.number, line.split()[-4:])
                self.assertEqual(b - a, d - c, line)

    def test_nothing_in_a_name_becomes_a_line_of_its_own(self):
        remarks = {"comment": HOSTILE, "note": "x" * 5_000}
        text = as_edl(HOSTILE, [event(0, 1_000, name=HOSTILE, remarks=remarks)], frames())
        self.assertEqual(sum(line[:3].isdigit() for line in text.splitlines()), 1)
        self.assertTrue(all(line.isprintable() for line in text.splitlines()))
        self.assertTrue(all(len(line.encode()) < 260 for line in text.splitlines()))
        self.assertEqual(len(clips_of(self.read(text), otio.schema.TrackKind.Video)), 1)

    def test_reels_have_eight_capitals_and_no_two_are_alike(self):
        names = ["Warden interview", "Warden inside", "Ünder wäter", "…", "A1"]
        found = reels({Path(f"/x/{name}.wav"): "" for name in names})
        self.assertEqual(list(found.values()), ["WARDENIN", "WARDENI2", "NDERWTER", "REEL", "A1"])
        self.assertEqual(reels({Path("/x/a.mov"): "card 7"}), {Path("/x/a.mov"): "CARD7"})


class Timeline(unittest.TestCase):
    def test_the_times_are_those_that_were_written(self):
        for rate in (Fraction(25), NTSC, Fraction(24_000, 1_001), Fraction(50)):
            events = [
                event(1_000, 3_500, begun="10:00:00:00", remarks={"comment": HOSTILE}),
                event(9_960, 10_400, has_picture=False, name=HOSTILE),
            ]
            text = as_otio("Peatland", events, frames(rate))
            timeline = otio.adapters.read_from_string(text, "otio_json")
            begun = Frames(rate).number("10:00:00:00")
            picture, sound = timeline.tracks
            (shown,) = clips_of(timeline, otio.schema.TrackKind.Video)
            first, second = sound
            self.assertAlmostEqual(shown.source_range.start_time.rate, float(rate))
            expected = begun + round(rate)
            self.assertAlmostEqual(first.source_range.start_time.value, expected, delta=1)
            seconds = first.source_range.duration.to_seconds()
            self.assertAlmostEqual(seconds, 2.5, delta=float(1 / rate))
            self.assertEqual(first.source_range, shown.source_range)
            self.assertEqual(first.media_reference.target_url, "file:///films/lecture.mp4")
            available = first.media_reference.available_range
            self.assertTrue(available.contains(first.source_range))
            self.assertEqual(second.name, HOSTILE)
            # Where one has no picture the track of pictures waits as long.
            self.assertIsInstance(picture[1], otio.schema.Gap)
            self.assertEqual(picture.duration(), sound.duration())
            self.assertEqual(timeline.global_start_time.value, Frames(rate).number("01:00:00:00"))

    def test_sound_alone_has_no_track_of_pictures(self):
        text = as_otio("Sound", [event(0, 1_000, has_picture=False)], frames())
        timeline = otio.adapters.read_from_string(text, "otio_json")
        self.assertEqual([t.kind for t in timeline.tracks], [otio.schema.TrackKind.Audio])
