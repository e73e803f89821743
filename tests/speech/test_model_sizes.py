"""Networks of the sizes and kinds that people fetch, narrow and with random weights, against the
library's engine on the same weights: what the ear gives, every token, every score."""

import tempfile
import unittest
from pathlib import Path
from unittest import mock

import ctranslate2
import numpy as np

from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.recognisers import network
from tamarind.speech.recognisers.multilingual.mel import log_mel
from tamarind.speech.recognisers.multilingual.network import MultilingualNetwork
from tamarind.speech.search import search
from tests.speech.tinymodel import Size, make_model

SIZES = {
    "as small": (Size(12, 12, 64, 2, 80, 0.08), 27),
    "as large": (Size(32, 32, 64, 2, 128, 0.06), 23),
    "four layers that write": (Size(32, 4, 64, 2, 128, 0.06), 23),
}
"""And seeds of weights with which no text ends early."""
KINDS = (None, "int8", "int8_float16", "float16")
TOKENS = 12


class AgainstTheLibrary(unittest.TestCase):
    def setUp(self):
        self.sound = np.random.default_rng(3).normal(0, 0.1, 480_000).astype(np.float32)

    def test_every_token_and_score_is_the_librarys(self):
        for name, (size, seed) in SIZES.items():
            for kind in KINDS if name == "four layers that write" else KINDS[1:2]:
                with self.subTest(name, kind=kind), tempfile.TemporaryDirectory() as kept:
                    make_model(Path(kept) / "m", seed=seed, size=size, kept_as=kind)
                    self.compare(Path(kept) / "m", size)

    def compare(self, folder, size):
        # A network as narrow as this one is another once it is rounded.
        with mock.patch.object(network, "multiplies_bytes", lambda: False):
            ours = MultilingualNetwork(folder)
        library = ctranslate2.models.Whisper(str(folder), compute_type="float32")
        hidden = ours.listen(self.sound)
        mel = np.ascontiguousarray(log_mel(self.sound, size.bands)[None, :, :3000], np.float32)
        theirs = np.array(library.encode(ctranslate2.StorageView.from_array(mel)))[0]
        np.testing.assert_allclose(hidden, theirs, atol=1e-4)

        how = HearingOptions("es")
        prompt = ours.vocabulary.prompt("es")
        state = ours.begin([hidden], 1, how)
        text = search(state, np.array([TOKENS]), 1, ours.first, ours.end)[0][0]
        # It counts half of what it is given as the longest text.
        (found,) = library.generate(
            ctranslate2.StorageView.from_array(hidden[None]), [prompt],
            beam_size=1, max_length=2 * TOKENS, length_penalty=0, return_scores=True,
            suppress_blank=False, suppress_tokens=ours.vocabulary.barred,
        )  # fmt: skip
        tokens = found.sequences_ids[0]
        self.assertEqual(list(text.tokens), tokens)
        self.assertGreater(len(set(tokens)), 3)
        self.assertEqual(len(tokens), TOKENS)
        self.assertAlmostEqual(found.scores[0], sum(text.log_probabilities), delta=0.02)


if __name__ == "__main__":
    unittest.main()
