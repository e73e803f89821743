"""Short stretches are played to the sample, whatever the file."""

import unittest
from unittest import mock

import av
import numpy as np

from tamarind.audio import soundcache
from tamarind.audio.fingerprint import fingerprint
from tamarind.audio.snippet import FADE_MS, snippet
from tamarind.desktop import exact_sound
from tamarind.desktop.app import make_application
from tests.desktop.test_proof import ALT, KEY, ProofTest
from tests.support import FolderTest

RATE = 16_000
EDGE = FADE_MS * RATE // 1000


def noise(seconds):
    """Every stretch of it is like no other, some loud and some faint, as bit rates vary by."""
    chance = np.random.default_rng(3)
    level = np.repeat(chance.uniform(0.02, 0.4, seconds * 2), RATE // 2)
    return (chance.uniform(-1, 1, seconds * RATE) * level).astype(np.float32)


class ASnippet(unittest.TestCase):
    def test_it_has_just_the_samples_between_two_times(self):
        sound = noise(4)
        part = snippet(sound, 1_234, 2_345, 1.0, RATE)
        first, last = 1_234 * 16, 2_345 * 16
        self.assertEqual(len(part), last - first)
        np.testing.assert_array_equal(part[EDGE:-EDGE], sound[first + EDGE : last - EDGE])
        self.assertEqual(part[0], 0)
        self.assertEqual(len(snippet(sound, 3_900, 9_000, 1.0, RATE)), 1_600)
        self.assertEqual(len(snippet(sound, 9_000, 9_500, 0.7, 48_000)), 0)

    def test_slower_and_faster_keep_the_pitch(self):
        tone = 0.4 * np.sin(2 * np.pi * 300 * np.arange(5 * RATE) / RATE).astype(np.float32)
        for speed in (0.5, 0.8, 1.5, 2.0):
            part = snippet(tone, 1_000, 4_000, speed, 48_000)
            self.assertAlmostEqual(len(part) / 48_000 * speed, 3.0, delta=0.06)
            loudest = np.argmax(np.abs(np.fft.rfft(part))) * 48_000 / len(part)
            self.assertAlmostEqual(loudest, 300, delta=4)


class VariableBitRate(FolderTest):
    def test_times_of_the_decoded_sound_are_those_that_are_played(self):
        sound = noise(40)
        path = self.folder / "memo.mp3"
        with av.open(str(path), "w") as out:
            stream = out.add_stream("libmp3lame", rate=RATE, layout="mono")
            stream.codec_context.options = {"flags": "+qscale", "global_quality": "600"}
            for at in range(0, len(sound), RATE):
                frame = av.AudioFrame.from_ndarray(
                    sound[None, at : at + RATE], format="fltp", layout="mono"
                )
                frame.sample_rate, frame.pts = RATE, at
                out.mux(stream.encode(frame))
            out.mux(stream.encode(None))
        for _ in soundcache.coming(path):
            pass
        decoded = soundcache.find(fingerprint(path)).samples()
        for start in (1_003, 17_777, 36_210):
            part = snippet(decoded, start, start + 700, 1.0, RATE)
            around = sound[(start - 500) * 16 : (start + 1_200) * 16]
            fit = np.correlate(around, part, "valid")
            self.assertAlmostEqual(int(np.argmax(fit)), 500 * 16, delta=16)


class WithoutADevice(ProofTest):
    def test_it_keeps_time_and_ends_where_it_was_asked_to(self):
        self.wait(lambda: self.session.sounds.has(self.session.shown))
        self.window.playback.give_samples()
        player = self.window.player
        cue = self.text.cues[4]
        with mock.patch.object(exact_sound, "snippet", wraps=snippet) as asked:
            self.sheet.cue_caret.go_to((4, 0))
            self.key(KEY.Key_F6)
        (_, start, end, speed, _), _ = asked.call_args
        self.assertEqual((start, end, speed), (cue.start - 150, cue.end, 1.0))
        self.assertTrue(player.is_playing)
        self.wait(lambda: player.position > cue.start + 200)
        self.assertEqual(self.sheet.following.heard[0], 4)
        player.set_speed(2.0)
        self.wait(lambda: not player.is_playing)
        self.assertEqual(player.position, cue.end)

    def test_a_stop_and_a_seek_in_the_midst(self):
        self.wait(lambda: self.session.sounds.has(self.session.shown))
        self.window.playback.give_samples()
        player = self.window.player
        player.play(5_000, 9_000)
        player.seek(8_000)
        self.assertTrue(player.is_playing)
        before = player.position
        self.key(KEY.Key_Left, ALT)
        self.assertLess(player.position, before - 500)
        self.assertTrue(player.is_playing)
        player.stop()
        self.assertFalse(player.is_playing)
        self.assertLess(player.position, 9_000)

    def test_a_device_gets_the_samples_at_its_rate(self):
        make_application()
        device = mock.Mock()
        device.isNull.return_value = True
        form = exact_sound.format_for(device)
        self.assertEqual((form.sampleRate(), form.channelCount()), (RATE, 1))
        sound = np.array([0.0, 0.5, -2.0], np.float32)
        whole = np.frombuffer(exact_sound.as_bytes(sound, form), "<i2")
        self.assertEqual(whole.tolist(), [0, 16383, -32767])
