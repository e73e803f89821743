"""A model that does not fit the memory says so, before it is fetched and when it is used."""

import unittest
from pathlib import Path
from unittest.mock import patch

from tamarind import memory
from tamarind.speech.alignment import Aligner
from tamarind.speech.recognisers import room
from tamarind.speech.recognisers.catalogue import load
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.room import memory_for, memory_in_words
from tests.speech.tinymodel import make_model
from tests.support import FolderTest


class Room(FolderTest):
    def with_memory(self, total, free):
        file = self.folder / "meminfo"
        file.write_text(f"MemTotal: {total} kB\nMemFree: 1 kB\nMemAvailable: {free} kB\n")
        return patch.object(memory, "MEMINFO", file)

    def test_what_a_model_needs_is_told_and_whether_it_is_too_much(self):
        for bytes_are_quick, least, most in ((True, 3e9, 4e9), (False, 6.5e9, 8e9)):
            with patch.object(room, "multiplies_bytes", lambda q=bytes_are_quick: q):
                self.assertTrue(least < memory_for(769) < most)
        with self.with_memory(16_000_000, 9_000_000):
            self.assertNotIn("more than", memory_in_words(769))
        with self.with_memory(2_000_000, 1_000_000):
            self.assertIn("more than the 2.0 GB of this computer", memory_in_words(769))

    def test_one_that_does_not_fit_now_is_refused_with_a_sentence(self):
        make_model(self.folder / "m")
        with self.with_memory(8_000_000, 100_000), self.assertRaises(RecogniserError) as refused:
            load(str(self.folder / "m"), Aligner())
        self.assertIn("“m” needs", str(refused.exception))
        self.assertIn("close other programs", str(refused.exception))

    def test_where_nobody_can_tell_the_system_is_asked(self):
        with patch.object(memory, "MEMINFO", Path("/nowhere")):
            self.assertGreater(memory.memory_here(), 1e8)


if __name__ == "__main__":
    unittest.main()
