"""A recording with what is seen read over it."""

import unittest
from unittest.mock import patch

import av
import numpy as np

from tamarind.audio.media import MediaError
from tamarind.audio.splice import Form
from tamarind.job.describedfile import LOWERED, MARK, DescribedOrder, mixed
from tamarind.speech import aloud as reading
from tamarind.speech import espeak
from tamarind.transcript.descriptions import Description
from tests.support import DEMO, FolderTest

LECTURE = DEMO / "media" / "Water table lecture.mp4"


class Mixed(unittest.TestCase):
    def test_the_sound_gives_way_to_the_voice_and_comes_back(self):
        blocks = [np.full((2, 8_000), 0.5, np.float32) for _ in range(6)]
        voice = np.zeros(16_000, np.float32)
        voice[8_000] = 0.1
        made = np.concatenate(list(mixed(iter(blocks), [(1_000, voice)], Form(16_000, 2))), axis=1)
        self.assertEqual(made.shape, (2, 48_000))
        self.assertTrue(np.allclose(made[:, :13_000], 0.5))
        self.assertTrue(np.allclose(made[:, 17_000:20_000], 0.5 * LOWERED, atol=1e-3))
        self.assertGreater(made[0, 24_000], 0.9)
        self.assertTrue(np.allclose(made[:, 36_000:], 0.5))


@unittest.skipUnless(espeak.program(), "no synthesiser is installed here")
class Files(FolderTest):
    def order(self, name, **more):
        seen = (Description(1, 20_400, "A cut through peat."), Description(2, 31_000, "Water."))
        given = {"descriptions": seen, "language": "en", "length": 98_752, "media": LECTURE}
        return DescribedOrder(target=self.folder / name, **{**given, **more})

    def test_the_picture_stays_as_it_is_and_the_file_says_what_it_has(self):
        self.order("described.mp4").fill()
        with av.open(str(self.folder / "described.mp4")) as made, av.open(str(LECTURE)) as source:
            self.assertEqual(made.metadata["comment"], MARK)
            packets = [[bytes(p) for p in read.demux(video=0) if p.dts is not None]
                       for read in (made, source)]  # fmt: skip
            self.assertEqual(*packets)
        self.order("described.opus").fill()
        with av.open(str(self.folder / "described.opus")) as made:
            self.assertAlmostEqual(made.duration / 1e6, 98.75, delta=0.1)

    def test_what_cannot_be_made_is_told(self):
        sound = DEMO / "media" / "Warden interview.m4a"
        wrong = {"a.mp4": {"language": "tlh"}, "a.xyz": {}, "b.mp4": {"descriptions": ()},
                 "c.mp4": {"media": sound}}  # fmt: skip
        for name, more in wrong.items():
            with self.assertRaises(MediaError, msg=name):
                self.order(name, **more).fill()
            self.assertFalse((self.folder / name).exists())
        with self.assertRaisesRegex(MediaError, "itself"):
            DescribedOrder(LECTURE, LECTURE, self.order("d.mp4").descriptions, "en", 1_000).fill()

    def test_a_voice_is_found_by_language_and_its_length_is_known(self):
        short, long = (
            reading.length_of(text, "en-GB") for text in ("Peat.", "Peat and water. " * 5)
        )
        self.assertTrue(200 < short < 1_500 < long)
        self.assertIsNone(reading.aloud("x", "tlh"))
        with patch.object(espeak, "program", lambda: None):
            self.assertFalse(reading.can_speak("en"))
