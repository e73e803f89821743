import tempfile
import unittest
from pathlib import Path

import numpy as np

from tamarind.audio import soundcache
from tamarind.batch.work import tools
from tamarind.speech.recognisers.builtin import model_folder
from tamarind.speech.recognisers.network import SpeechNetwork
from tamarind.speech.recognisers.tokens import BEGIN, END, Vocabulary
from tamarind.speech.search import greedy, log_probability
from tests.support import FolderTest, human_recording, word_error_rate


class Script:
    """A decoder that says given tokens, row by row, and counts what it is asked."""

    def __init__(self, *texts, vocabulary=50):
        self.texts = [list(text) for text in texts]
        self.rows = list(range(len(texts)))
        self.vocabulary = vocabulary
        self.at = 0
        self.seen = []

    def step(self, tokens):
        self.seen.append(tokens.tolist())
        logits = np.zeros((len(self.rows), self.vocabulary), np.float32)
        for place, row in enumerate(self.rows):
            text = [*self.texts[row], END]
            logits[place, text[min(self.at, len(text) - 1)]] = 5
        self.at += 1
        return logits

    def keep(self, rows):
        self.rows = [self.rows[row] for row in rows]


class Greedy(unittest.TestCase):
    def test_rows_end_each_in_its_own_time_and_leave_the_batch(self):
        state = Script([7, 8, 9], [], [5])
        found = greedy(state, np.array([20, 20, 20]), BEGIN, END)
        self.assertEqual([text.tokens for text in found], [(7, 8, 9), (), (5,)])
        self.assertTrue(all(text.ended for text in found))
        self.assertEqual([len(step) for step in state.seen], [3, 2, 1, 1])
        self.assertEqual(state.seen[0], [BEGIN] * 3)
        self.assertEqual(state.seen[1], [7, 5])

    def test_a_loop_is_cut_off_at_its_rows_limit_and_says_so(self):
        found = greedy(Script([4] * 100, [6, 7]), np.array([12, 30]), BEGIN, END)
        self.assertEqual(len(found[0].tokens), 12)
        self.assertFalse(found[0].ended)
        self.assertEqual(found[1].tokens, (6, 7))
        self.assertTrue(found[1].ended)

    def test_log_probabilities_are_those_of_the_softmax(self):
        logits = np.random.default_rng(1).standard_normal((4, 30)).astype(np.float32) * 9
        tokens = np.array([3, 0, 29, 7])
        share = np.exp(logits.astype(float))
        share /= share.sum(axis=1, keepdims=True)
        expected = np.log(share[np.arange(4), tokens])
        np.testing.assert_allclose(log_probability(logits, tokens), expected, atol=1e-4)


class Words(unittest.TestCase):
    def vocabulary(self, *pieces):
        data = b""
        for piece in ["<unk>", "<s>", "</s>", *pieces]:
            raw = piece.encode()
            if len(raw) < 128:
                data += bytes([len(raw)])
            else:
                data += bytes([len(raw) % 128 + 128, len(raw) // 128])
            data += raw
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "tokenizer.bin"
            path.write_bytes(data)
            return Vocabulary(path)

    def test_tokens_join_to_words_with_the_places_they_came_from(self):
        words = self.vocabulary("▁sphag", "num", ",", "▁peat").words([3, 4, 5, 6])
        self.assertEqual([text for text, _ in words], ["sphagnum,", "peat"])
        self.assertEqual([list(places) for _, places in words], [[0, 1, 2], [3]])

    def test_a_letter_in_several_byte_tokens_comes_out_whole(self):
        vocabulary = self.vocabulary("▁na", "ve")
        vocabulary._pieces += [b"\xc3", b"\xaf"]
        words = vocabulary.words([3, 5, 6, 4])
        self.assertEqual(words[0][0], "naïve")

    def test_doubled_marks_are_one_but_dots_may_stand(self):
        words = self.vocabulary("▁short", ",,", "▁well", "...").words([3, 4, 5, 6])
        self.assertEqual([text for text, _ in words], ["short,", "well..."])

    def test_long_pieces_are_read(self):
        long = "x" * 300
        vocabulary = self.vocabulary(long, "▁after")
        self.assertEqual(len(vocabulary), 5)
        self.assertEqual(vocabulary.words([3, 4])[1][0], "after")

    def test_the_models_own_vocabulary(self):
        vocabulary = Vocabulary(model_folder() / "tokenizer.bin")
        self.assertEqual(len(vocabulary), 32_768)
        self.assertEqual((vocabulary.piece(BEGIN), vocabulary.piece(END)), (b"", b""))


class Batches(FolderTest):
    def test_a_chunk_reads_alike_alone_and_in_a_batch_of_other_lengths(self):
        """Padding and masks work, also beyond the nine seconds where a wrong mask fails.

        The networks' activations are quantised by scales of the whole batch, so that a mark or a
        certainty may differ; a word may not.
        """
        samples = soundcache.fetch(human_recording("two_cities.wav")).samples()
        chunks = [samples[: 16_000 * 13], samples[16_000 * 21 : 16_000 * 28], samples[: 16_000 * 3]]
        together = tools().recogniser.hear(chunks, "en")
        for chunk, (best, *_others) in zip(chunks, together, strict=True):
            ((alone, *_rest),) = tools().recogniser.hear([chunk], "en")
            texts = [" ".join(word.text for word in r.words) for r in (alone, best)]
            # A word that the end of the chunk cuts through may come out either way.
            self.assertLess(word_error_rate(*texts), 0.1)

    def test_a_step_with_the_cache_says_what_a_step_without_does(self):
        samples = soundcache.fetch(human_recording("beckett.wav")).samples()[: 16_000 * 4]
        network = SpeechNetwork(model_folder(), threads=2)
        whole = network.begin([samples])
        first = whole.step(np.array([BEGIN]))
        second = whole.step(first.argmax(axis=1))
        pair = network.begin([samples, samples])
        pair.step(np.array([BEGIN, BEGIN]))
        pair.keep(np.array([1]))
        np.testing.assert_allclose(pair.step(first.argmax(axis=1)), second, atol=1e-3)

    def test_very_short_sound_and_no_chunks_are_no_trouble(self):
        recogniser = tools().recogniser
        self.assertEqual(recogniser.hear([], "en"), [])
        ((reading, *_),) = recogniser.hear([np.zeros(10, np.float32)], "en-GB")
        self.assertLess(len(reading.words), 4)
