"""One clock: every part of the program counts from where a player shows 0 for a file."""

import tempfile
from pathlib import Path

import av
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tamarind.audio.clock import origin_of, sound_starts
from tamarind.audio.decode import decode
from tamarind.audio.media import SAMPLE_RATE, probe
from tamarind.audio.splice import Cutting, Form, Splice
from tamarind.picture.caption import Caption, SaidWord
from tamarind.picture.shots import find_shots
from tamarind.picture.splice import splice_video
from tamarind.picture.stills import stills
from tamarind.picture.switchable import CaptionTrack, add_tracks
from tamarind.picture.video import burn
from tests.doses import dose
from tests.flashes import EACH_MS, HOLDS_START, KINDS, RATE, Flashes, write_flashes
from tests.support import FolderTest

FRAME = 1000 // RATE
NEAR = FRAME + 20
"""A frame and 20 ms."""

HOLDS_GAP = ("mp4", "mkv", "webm", "ts", "mpg", "m4a")
PICTURED = [kind for kind, (_, video, _) in KINDS.items() if video]


def rises(times, on, apart=450):
    """When something begins that was not there for a while."""
    found, last = [], None
    for time, is_on in zip(times, on, strict=True):
        if is_on:
            if last is None or time - last > apart:
                found.append(time)
            last = time
    return found


def decoded(path):
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for _ in decode(path, folder / "samples", folder / "peaks.npy", folder / "levels.npy"):
            pass
        return np.fromfile(folder / "samples", np.float32)


def beeps(samples, rate=SAMPLE_RATE):
    """When the beeps begin (ms)."""
    step = rate // 500
    loud = np.abs(samples[: len(samples) // step * step]).reshape(-1, step).max(axis=1) > 0.2
    return rises(np.arange(len(loud)) * 2, loud)


def flashes(path):
    """When the flashes begin (ms), as a player shows them."""
    origin = origin_of(path)
    with av.open(str(path)) as read:
        frames = [
            (float((one.pts * one.time_base - origin) * 1000), one.to_ndarray()[:64].mean() > 120)
            for one in read.decode(video=0)
        ]
    return rises(*zip(*frames, strict=True))


def captions_in(path):
    """When the captions of a track begin (ms), as a player shows them."""
    origin = origin_of(path)
    with av.open(str(path)) as read:
        track = read.streams.subtitles[0]
        packets = [one for one in read.demux(track) if one.pts is not None and one.size > 2]
        return [float((one.pts * one.time_base - origin) * 1000) for one in packets]


def captions(what):
    return [Caption(at, at + EACH_MS, ((SaidWord("now", at, at + EACH_MS),),)) for at in what.at]


class OneClock(FolderTest):
    def near(self, found, wanted, within=NEAR):
        self.assertEqual(len(found), len(wanted), (found, wanted))
        for one, other in zip(found, wanted, strict=True):
            self.assertLessEqual(abs(one - other), within, (found, wanted))

    def all_agree(self, kind, what):
        """Decoded sound, picture, stills, shots, burnt in, tracks, excerpts."""
        path = write_flashes(self.folder / f"in.{kind}", what)
        sound = decoded(path)
        self.near(beeps(sound), what.at)
        self.near([len(sound) * 1000 / SAMPLE_RATE], [what.length], 120)
        self.near([probe(path).duration], [what.length], 200)
        cutting = Cutting(
            path, ((what.at[0] - 400, what.at[0] + 600), (what.at[1] - 100, what.at[1] + 500))
        )
        splice = Splice([cutting], Form(SAMPLE_RATE, 1))
        splice.read()
        kept = np.concatenate(list(splice.blocks()), axis=1)[0]
        splice.close()
        self.near(beeps(kept), [400, 1_100])
        if kind not in PICTURED:
            return
        self.near(flashes(path), what.at)
        self.near(find_shots(path), what.at)
        seen = [
            one.to_ndarray()[:700].mean() > 120
            for one in stills(path, [at + NEAR for at in what.at])
        ]
        self.assertEqual(seen, [True] * len(what.at))
        for name, part, wanted in (
            ("whole.mp4", (0, None), what.at),
            (
                "part.mkv",
                (what.at[0] - 1_000, what.at[1] + 1_000),
                (1_000, what.at[1] - what.at[0] + 1_000),
            ),
        ):
            target = self.folder / name
            burn(path, target, None, part=part)
            self.near(flashes(target), wanted)
            self.near(beeps(decoded(target)), wanted)
        target = self.folder / "tracks.mkv"
        add_tracks(path, target, [CaptionTrack("en", "English", captions(what))])
        self.near(flashes(target), what.at)
        self.near(beeps(decoded(target)), what.at)
        self.near(captions_in(target), what.at)
        target = self.folder / "excerpts.mp4"
        splice_video(target, target, [cutting])
        self.near(flashes(target), [400, 1_100])
        self.near(beeps(decoded(target)), [400, 1_100])

    def test_all_containers(self):
        for kind in KINDS:
            with self.subTest(kind):
                self.all_agree(kind, Flashes())

    def test_sound_or_picture_later_and_files_that_do_not_begin_at_0(self):
        for kind in sorted(HOLDS_START):
            for what in (
                Flashes(sound_from=1_900),
                Flashes(start=36_000_000, picture_from=1_400),
            ):
                with self.subTest(kind, what=what):
                    self.all_agree(kind, what)

    def test_a_gap_in_the_sound_stays_silent_and_keeps_its_length(self):
        for kind in HOLDS_GAP:
            with self.subTest(kind):
                what = Flashes(gap=(2_300, 3_000))
                self.all_agree(kind, what)
                sound = decoded(self.folder / f"in.{kind}")
                self.assertLess(np.abs(sound[2_450 * 16 : 2_850 * 16]).max(), 0.01)

    def test_frames_at_uneven_times(self):
        for kind in ("mp4", "mkv"):
            with self.subTest(kind):
                self.all_agree(kind, Flashes(uneven=True, sound_from=700))

    @settings(max_examples=dose(3, 200), deadline=None)
    @given(
        kind=st.sampled_from(sorted(HOLDS_START)),
        sound_from=st.integers(0, 1_900),
        picture_from=st.integers(0, 1_900),
        start=st.integers(0, 90_000_000),
    )
    def test_whatever_begins_when(self, kind, sound_from, picture_from, start):
        earliest = min(sound_from, picture_from)
        what = Flashes(
            sound_from=sound_from - earliest,
            picture_from=(picture_from - earliest) // FRAME * FRAME,
            start=start,
        )
        self.all_agree(kind, what)

    def test_how_much_later_a_sound_begins(self):
        late = write_flashes(self.folder / "late.mp4", Flashes(sound_from=2_900))
        self.near(sound_starts(late), [2_900], 30)
        self.assertEqual(
            sound_starts(write_flashes(self.folder / "a.ts", Flashes(start=1_400))), (0,)
        )
        self.assertEqual(sound_starts(write_flashes(self.folder / "a.webm", Flashes())), (0,))
