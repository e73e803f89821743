"""Mapped sound does not stay in memory once it has been worked through."""

import re
from pathlib import Path

import numpy as np

from tamarind.memory import forget, trim
from tests.support import FolderTest


def mapped_mb():
    status = Path("/proc/self/status").read_text()
    return int(re.search(r"RssFile:\s+(\d+)", status)[1]) / 1024


class Mapped(FolderTest):
    def test_pages_that_were_read_are_given_back_and_read_again_when_needed(self):
        path = self.folder / "samples.f32"
        np.arange(16 << 20, dtype=np.float32).tofile(path)
        samples = np.memmap(path, np.float32, "r")
        before = mapped_mb()
        total = float(samples[:: 1 << 10].sum())
        self.assertGreater(mapped_mb() - before, 50)
        part = samples[1000:]
        forget(part)
        self.assertLess(mapped_mb() - before, 10)
        self.assertEqual(float(samples[:: 1 << 10].sum()), total)

    def test_other_arrays_are_left_alone(self):
        array = np.ones(1000, np.float32)
        forget(array)
        trim()
        self.assertTrue((array == 1).all())
