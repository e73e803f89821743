"""A copy of a video whose sound is covered in places."""

import av
import numpy as np

from tamarind.audio import soundcache
from tamarind.picture.covering import Cover, covered_name, merged, write_covered
from tests.support import DEMO, FolderTest

VIDEO = DEMO / "media" / "Water table lecture.mp4"


class Videos(FolderTest):
    def test_the_picture_stays_and_the_words_are_silent(self):
        target = self.folder / f"copy{covered_name(VIDEO)}"
        told = []
        write_covered(VIDEO, target, [(10_000, 12_000), (30_000, 30_500)], Cover.SILENCE, 0,
                      told.append)  # fmt: skip
        self.assertLessEqual(max(told), 1.0)
        before, after = (
            np.asarray(soundcache.fetch(path).samples(), float) for path in (VIDEO, target)
        )
        loudest = np.abs(before).max()
        for start, end in ((10_100, 11_900), (30_100, 30_400)):
            self.assertLess(np.abs(after[start * 16 : end * 16]).max(), loudest / 300)
        rest = slice(40_000 * 16, 60_000 * 16)
        alike = np.corrcoef(before[rest], after[rest])[0, 1]
        self.assertGreater(alike, 0.99)
        with av.open(str(VIDEO)) as one, av.open(str(target)) as other:
            self.assertEqual(len(other.streams.audio), 1)
            counts = [
                sum(packet.size > 0 for packet in file.demux(file.streams.video[0]))
                for file in (one, other)
            ]
        self.assertEqual(*counts)

    def test_spans_that_touch_are_one(self):
        self.assertEqual(merged([(5, 9), (0, 3), (8, 12), (3, 4)]), [(0, 4), (5, 12)])
