"""Stretches of sound, cut to the sample."""

from contextlib import closing

import av
import numpy as np

from tamarind.audio.media import MediaError
from tamarind.audio.soundfile import write_sound
from tamarind.audio.splice import FADE_MS, Cutting, Form, Splice, form_of
from tests.support import DEMO, FolderTest, tone, write_wav

RATE = 16_000


def samples_of(path):
    with av.open(str(path)) as read:
        stream = read.streams.audio[0]
        frames = [frame.to_ndarray().reshape(-1) for frame in read.decode(stream)]
        return np.concatenate(frames), stream.codec_context.sample_rate


class Spliced(FolderTest):
    def cut(self, suffix, *cuttings):
        target = self.folder / f"made{suffix}"
        write_sound(target, target, cuttings)
        return samples_of(target)

    def test_one_stretch_is_the_very_samples(self):
        source = DEMO / "media" / "Volunteers round table.wav"
        whole, rate = samples_of(source)
        for suffix in (".wav", ".flac"):
            made, _ = self.cut(suffix, Cutting(source, ((1_234, 5_678),)))
            expected = whole[1_234 * rate // 1000 : 5_678 * rate // 1000]
            self.assertTrue(np.array_equal(made, expected), suffix)

    def test_of_a_compressed_file_they_are_those_that_were_heard(self):
        """Counted from its first sample, as all times of words are."""
        source = DEMO / "media" / "Warden interview.m4a"
        form = form_of([Cutting(source, ())])
        with closing(Splice([Cutting(source, ((0, 20_000),))], form)) as splice:
            splice.read()
            whole = np.concatenate(list(splice.blocks()), axis=1)
        with closing(Splice([Cutting(source, ((7_001, 9_999),))], form)) as splice:
            splice.read()
            part = np.concatenate(list(splice.blocks()), axis=1)
        first, last = form.samples(7_001), form.samples(9_999)
        self.assertTrue(np.array_equal(part, whole[:, first:last]))

    def test_where_two_meet_one_fades_into_the_other_and_nothing_gets_longer(self):
        one = write_wav(self.folder / "one.wav", np.full(3 * RATE, 0.5, np.float32))
        other = write_wav(self.folder / "other.wav", tone(3.0))
        cuttings = [Cutting(other, ((500, 1_500),)), Cutting(one, ((1_000, 1_700), (2_000, 2_300)))]
        with closing(Splice(cuttings, Form(RATE, 1))) as splice:
            splice.read()
            made = np.concatenate(list(splice.blocks()), axis=1)[0]
        self.assertEqual(len(made), 2_000 * RATE // 1000)
        sine = tone(3.0)
        self.assertTrue(np.allclose(made[: RATE - 200], sine[RATE // 2 :][: RATE - 200], atol=1e-3))
        # Only so much around the join is neither the one nor the other.
        half = FADE_MS * RATE // 2000
        self.assertTrue(np.allclose(made[RATE + half : RATE + 5_000], 0.5, atol=1e-3))
        middle = made[RATE - half : RATE + half]
        self.assertLess(np.abs(np.diff(middle)).max(), 0.12)
        self.assertLess(abs(made[RATE - half] - sine[RATE + RATE // 2 - half]), 0.05)

    def test_different_rates_and_channels_become_one_form_and_every_kind_is_as_long(self):
        mono = write_wav(self.folder / "mono.wav", tone(2.0))
        stereo = self.folder / "stereo.wav"
        with av.open(str(stereo), "w") as out:
            stream = out.add_stream("pcm_s16le", rate=44_100)
            stream.layout = "stereo"
            frame = av.AudioFrame.from_ndarray(
                np.zeros((1, 2 * 88_200), np.int16), format="s16", layout="stereo"
            )
            frame.sample_rate = 44_100
            out.mux(stream.encode(frame))
            out.mux(stream.encode(None))
        cuttings = [Cutting(mono, ((0, 900),)), Cutting(stereo, ((100, 800),))]
        self.assertEqual(form_of(cuttings), Form(44_100, 2))
        for suffix in (".wav", ".mp3", ".m4a", ".opus"):
            target = self.folder / f"joined{suffix}"
            write_sound(target, target, cuttings)
            with av.open(str(target)) as read:
                count = sum(frame.samples for frame in read.decode(audio=0))
                seconds = count / read.streams.audio[0].codec_context.sample_rate
            self.assertAlmostEqual(seconds, 1.6, delta=0.06, msg=suffix)

    def test_what_is_no_recording_is_told(self):
        path = self.folder / "none.wav"
        path.write_bytes(b"nothing")
        with self.assertRaises(MediaError):
            self.cut(".wav", Cutting(path, ((0, 100),)))
        good = write_wav(self.folder / "good.wav", tone(0.5))
        with self.assertRaises(MediaError):
            self.cut(".wav", Cutting(good, ((0, 100),), track=3))
