import itertools
import json
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

import numpy as np
import onnxruntime

from tamarind.audio import soundcache
from tamarind.audio.source import Channel, Source
from tamarind.batch.transcribing import tools
from tamarind.speech.confidence import WordEvidence, builtin_confidence, many_confidence
from tamarind.speech.consensus import Support as Backing
from tamarind.speech.consensus import support, together
from tamarind.speech.glossary import GlossaryError, read_glossary, write_glossary
from tamarind.speech.hearingoptions import Care, HearingOptions, Voices
from tamarind.speech.pronouncing import is_listed
from tamarind.speech.recognisers.base import HeardWord
from tamarind.speech.recognisers.bias import TermBias
from tamarind.speech.recognisers.builtin import model_folder
from tamarind.speech.recognisers.decoder import BuiltinDecoder
from tamarind.speech.recognisers.encoder import BuiltinEncoder
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.missing import insertions, with_missing
from tamarind.speech.recognisers.modelfile import ModelFile, ModelFileError
from tamarind.speech.recognisers.neighbours import neighbours, swaps
from tamarind.speech.recognisers.searching import SearchingRecogniser
from tamarind.speech.recognisers.tokens import BEGIN, END, BuiltinVocabulary
from tamarind.speech.search import TokenHypothesis, search
from tamarind.transcript.model import DOUBTFUL_BELOW, Word
from tests.support import DEMO, FolderTest, human_recording


class Script:
    """A decoder that favours given texts: ``texts[sound]`` maps a prefix to its next tokens."""

    def __init__(self, texts, beams, vocabulary=50):
        self.texts = texts
        self.beams = beams
        self.vocabulary = vocabulary
        self.sounds = list(range(len(texts)))
        self.said = [[] for _ in range(len(texts) * beams)]
        self.batches = []

    def step(self, tokens):
        self.batches.append(len(self.sounds))
        self.said = [[*old, int(new)] for old, new in zip(self.said, tokens, strict=True)]
        logits = np.full((len(self.said), self.vocabulary), -20, np.float32)
        for row, said in enumerate(self.said):
            following = self.texts[self.sounds[row // self.beams]].get(tuple(said[1:]), {END: 1.0})
            for token, probability in following.items():
                logits[row, token] = np.log(probability)
        return logits

    def follow(self, parents):
        self.said = [self.said[parent] for parent in parents]

    def keep_sounds(self, sounds):
        self.sounds = [self.sounds[sound] for sound in sounds]
        self.said = [self.said[s * self.beams + b] for s in sounds for b in range(self.beams)]


def chain(*tokens):
    """One text, said with confidence."""
    return {tokens[:place]: {token: 1.0} for place, token in enumerate(tokens)}


FORKED = {
    (): {7: 0.6, 8: 0.4},
    (7,): {10: 0.3, 11: 0.3, END: 0.4},
    (8,): {12: 0.95, END: 0.05},
    (8, 12): {END: 1.0},
}


class Search(unittest.TestCase):
    def run_search(self, texts, limits, beams, bias=None, **more):
        self.script = Script(texts, beams)
        return search(self.script, np.array(limits), beams, BEGIN, END, bias, **more)

    def test_a_network_that_ends_early_is_ranked_by_length_or_kept_from_ending(self):
        hasty = {
            (): {7: 1.0}, (7,): {END: 0.48, 8: 0.52}, (7, 8): {9: 0.9, 10: 0.1},
            (7, 8, 9): {END: 1.0},
        }  # fmt: skip
        ((first, *_),) = self.run_search([hasty], [9], 2)
        self.assertEqual(first.tokens, (7,))
        ((first, *others),) = self.run_search([hasty], [9], 2, by_length=True)
        self.assertEqual(first.tokens, (7, 8, 9))
        self.assertAlmostEqual(first.score, np.log(0.468), places=3)
        self.assertAlmostEqual(others[0].score, 2 * np.log(0.48), places=3)
        ((first, *_),) = self.run_search([hasty], [9], 2, least=2)
        self.assertEqual(first.tokens, (7, 8, 9))

    def test_sounds_end_each_in_its_own_time_and_leave_the_batch(self):
        found = self.run_search([chain(7, 8, 9), {}, chain(5)], [20, 20, 20], 1)
        self.assertEqual([texts[0].tokens for texts in found], [(7, 8, 9), (), (5,)])
        self.assertTrue(all(texts[0].ended for texts in found))
        self.assertEqual(self.script.batches, [3, 2, 1, 1])

    def test_a_loop_is_cut_off_at_its_sounds_limit_and_says_so(self):
        found = self.run_search([chain(*[4] * 100), chain(6, 7)], [12, 30], 1)
        self.assertEqual((len(found[0][0].tokens), found[0][0].ended), (12, False))
        self.assertEqual((found[1][0].tokens, found[1][0].ended), ((6, 7), True))

    def test_a_wider_search_finds_the_text_that_begins_less_well(self):
        (narrow,) = self.run_search([FORKED], [9], 1)
        self.assertEqual(narrow[0].tokens[0], 7)
        (wide,) = self.run_search([FORKED], [9], 3)
        self.assertEqual(wide[0].tokens, (8, 12))
        self.assertAlmostEqual(wide[0].score, np.log(0.4 * 0.95), places=4)
        self.assertEqual(len({text.tokens for text in wide}), len(wide))
        self.assertEqual(wide, sorted(wide, key=lambda text: -text.score))

    def test_log_probabilities_and_margins_are_those_of_the_softmax(self):
        ((best, *_),) = self.run_search([FORKED], [9], 3)
        np.testing.assert_allclose(best.log_probabilities, np.log([0.4, 0.95]), atol=1e-4)
        np.testing.assert_allclose(
            best.margins, [np.log(0.4 / 0.6), np.log(0.95 / 0.05)], atol=1e-3
        )

    def test_several_sounds_are_searched_as_each_alone(self):
        together = self.run_search([FORKED, chain(5, 6), FORKED], [9, 9, 9], 3)
        for texts, alone in zip(together, (FORKED, chain(5, 6), FORKED), strict=True):
            (expected,) = self.run_search([alone], [9], 3)
            self.assertEqual(texts[0], expected[0])


class GoesRound:
    """A network that falls into a loop over long sounds."""

    languages, vocabulary, first, end = (), None, BEGIN, END
    ends_early, at_once = True, 8

    def most_tokens(self, seconds):
        return 60

    def listen(self, sound):
        return np.zeros((len(sound) // 1_600, 1), np.float32)

    def rest(self):
        pass

    def begin(self, hidden, beams, how):
        texts = [chain(*[3, 4] * 50) if len(h) > 100 else chain(*range(3, 15)) for h in hidden]
        for text in texts:
            for following in text.values():
                following[END] = 1e-30
        return Script(texts, beams)


class Believing:
    """An aligner for which whatever is written was said."""

    def fits(self, sound, texts, pronouncer):
        return [float(len(text)) for text in texts]


class Loops(unittest.TestCase):
    def test_a_sound_that_is_heard_in_a_loop_is_heard_in_halves(self):
        network = GoesRound()
        network.vocabulary = Words().vocabulary(*(f"▁{letter}" for letter in "abcdefghijkl"))
        sound = np.random.default_rng(1).normal(0, 0.1, 14 * 16_000).astype(np.float32)
        recogniser = SearchingRecogniser(network, Believing(), threads=1)
        ((best, *_), (short, *_)) = recogniser.hear([sound, sound[:32_000]], HearingOptions("cy"))
        self.assertEqual(best.text, "a b c d e f g h i j k l a b c d e f g h i j k l")
        self.assertEqual(short.text, "a b c d e f g h i j k l")


class Words(unittest.TestCase):
    def vocabulary(self, *pieces):
        data = b""
        for piece in ["<unk>", "<s>", "</s>", *pieces]:
            raw = piece if isinstance(piece, bytes) else piece.encode()
            if len(raw) < 128:
                data += bytes([len(raw)])
            else:
                data += bytes([len(raw) % 128 + 128, len(raw) // 128])
            data += raw
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "tokenizer.bin"
            path.write_bytes(data)
            return BuiltinVocabulary(path)

    def test_an_empty_text_has_no_words(self):
        self.assertEqual(self.vocabulary("▁peat").words([]), [])

    def test_tokens_join_to_words_with_the_places_they_came_from(self):
        words = self.vocabulary("▁sphag", "num", ",", "▁peat").words([3, 4, 5, 6])
        self.assertEqual([text for text, _ in words], ["sphagnum,", "peat"])
        self.assertEqual([list(places) for _, places in words], [[0, 1, 2], [3]])

    def test_a_letter_in_several_byte_tokens_comes_out_whole(self):
        vocabulary = self.vocabulary("▁na", "ve", b"\xc3", b"\xaf")
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
        vocabulary = BuiltinVocabulary(model_folder() / "tokenizer.bin")
        self.assertEqual(len(vocabulary), 32_768)
        self.assertEqual((vocabulary.piece(BEGIN), vocabulary.piece(END)), (b"", b""))


class Terms(unittest.TestCase):
    def setUp(self):
        self.vocabulary = BuiltinVocabulary(model_folder() / "tokenizer.bin")

    def spoken(self, bias, text):
        """What a text earns by the time it is whole."""
        state, total = np.array([bias.start()]), 0.0
        for token in [*self.vocabulary.encode(text), END]:
            states, earned = bias.moves(state, np.array([[5, token]]))
            state, total = states[:, 1], total + float(earned[0, 1])
        return total

    def test_tokens_are_those_that_the_model_itself_writes(self):
        for text in (" times", " foolishness,", " It was the best of times"):
            tokens = self.vocabulary.encode(text)
            self.assertEqual(b"".join(map(self.vocabulary.piece, tokens)).decode(), text)
        self.assertEqual(len(self.vocabulary.encode(" It was the best of times")), 6)

    def test_a_whole_term_is_favoured_and_a_begun_one_is_not(self):
        bias = TermBias(read_glossary("bog asphodel"), self.vocabulary)
        self.assertGreater(self.spoken(bias, " the bog asphodel is"), 3)
        self.assertAlmostEqual(self.spoken(bias, " the bog is wet"), 0)
        self.assertAlmostEqual(self.spoken(bias, " nothing of the kind"), 0)
        self.assertGreater(self.spoken(bias, " Bog asphodel is"), 3)

    def test_the_search_takes_a_term_that_is_nearly_as_likely_and_no_other(self):
        tokens = self.vocabulary.encode(" coir")
        bias = TermBias(read_glossary("coir"), self.vocabulary)
        size = len(self.vocabulary)
        for likely, expected in ((0.2, True), (1e-7, False)):
            texts = {(): {99: 1 - likely, tokens[0]: likely}, **{
                tuple(tokens[:n]): {t: 1.0} for n, t in enumerate(tokens) if n
            }}  # fmt: skip
            (found,) = search(Script([texts], 2, size), np.array([9]), 2, BEGIN, END, bias)
            self.assertEqual(found[0].tokens == tuple(tokens), expected)


class Networks(FolderTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.encoder = BuiltinEncoder(model_folder() / "encoder_model.ort")
        cls.decoder = BuiltinDecoder(model_folder() / "decoder_model_merged.ort")

    def sound(self):
        return soundcache.fetch(human_recording("two_cities.wav")).samples()

    def test_the_decoder_says_what_the_networks_own_engine_says(self):
        """The engine rounds each activation to 8 bits, so its logits are a little off."""
        hidden = self.encoder.hidden(self.sound()[: 16_000 * 12])
        state = self.decoder.begin([hidden], 1)
        tokens, ours = [BEGIN], []
        for _ in range(40):
            ours.append(state.step(np.array(tokens[-1:]))[0])
            tokens.append(int(ours[-1].argmax()))
        session = onnxruntime.InferenceSession(model_folder() / "decoder_model_merged.ort")
        feed = {
            "input_ids": np.array([tokens[:-1]]),
            "encoder_hidden_states": hidden[None],
            "encoder_attention_mask": np.ones((1, 16_000 * 12), np.int64),
            "use_cache_branch": np.array([False]),
        }
        for cache in session.get_inputs():
            if cache.name.startswith("past_key_values."):
                width = int(".encoder." in cache.name)
                feed[cache.name] = np.zeros((1, 8, width, 36), np.float32)
        theirs = session.run(["logits"], feed)[0][0]
        theirs -= np.log(np.exp(theirs).sum(axis=1, keepdims=True))
        agreed = np.mean(theirs.argmax(axis=1) == tokens[1:])
        self.assertGreaterEqual(agreed, 0.95)
        likely = theirs > -5
        self.assertLess(np.abs(np.array(ours) - theirs)[likely].mean(), 0.5)

    def test_the_encoder_says_what_the_networks_own_engine_says(self):
        sound = self.sound()[: 16_000 * 12]
        session = onnxruntime.InferenceSession(model_folder() / "encoder_model.ort")
        mask = np.ones((1, len(sound)), np.int64)
        feed = {"input_values": sound[None], "attention_mask": mask}
        theirs = session.run(None, feed)[0][0]
        ours = self.encoder.hidden(sound)
        self.assertEqual(ours.shape, theirs.shape)
        self.assertLess(np.abs(ours - theirs).mean(), 0.1 * np.abs(theirs).mean())

    def test_whole_texts_score_what_their_steps_add_up_to(self):
        hidden = self.encoder.hidden(self.sound()[: 16_000 * 4])
        texts = [[BEGIN, 739, 471, 278, END], [BEGIN, 5, END]]
        scores = self.decoder.score(hidden, texts)
        for text, score in zip(texts, scores, strict=True):
            state = self.decoder.begin([hidden], 1)
            total = 0.0
            for token, following in itertools.pairwise(text):
                total += float(state.step(np.array([token]))[0, following])
            self.assertAlmostEqual(score, total, delta=0.01)

    def test_texts_of_many_sounds_and_beams_do_not_disturb_each_other(self):
        hidden = [self.encoder.hidden(self.sound()[: 16_000 * s]) for s in (3, 7)]
        words = np.array([5, 6, 7, 8])
        state = self.decoder.begin(hidden, 2)
        state.step(np.full(4, BEGIN))
        state.step(words)
        state.follow(np.array([1, 0, 3, 3]))
        last = state.step(np.array([9, 9, 9, 9]))
        for row, (sound, word) in enumerate(((0, 6), (0, 5), (1, 8), (1, 8))):
            alone = self.decoder.begin([hidden[sound]], 1)
            for token in (BEGIN, word):
                alone.step(np.array([token]))
            np.testing.assert_allclose(alone.step(np.array([9]))[0], last[row], atol=2e-3)
        state.keep_sounds(np.array([1]))
        alone.step(np.array([11]))
        rest = state.step(np.array([11, 12]))
        np.testing.assert_allclose(alone.step(np.array([13]))[0], state.step(np.array([13, 13]))[0],
                                   atol=2e-3)  # fmt: skip
        self.assertEqual(len(rest), 2)

    def test_a_file_that_is_no_network_is_named(self):
        path = self.folder / "decoder.ort"
        for content in (b"", b"no network at all" * 99):
            path.write_bytes(content)
            with self.assertRaisesRegex(ModelFileError, "decoder.ort"):
                ModelFile(path)


class Hearing(FolderTest):
    def test_a_segment_reads_alike_alone_and_in_a_batch_of_other_lengths(self):
        samples = soundcache.fetch(human_recording("two_cities.wav")).samples()
        segments = [
            samples[: 16_000 * 13],
            samples[16_000 * 21 : 16_000 * 28],
            samples[: 16_000 * 3],
        ]
        together = tools().recogniser.hear(segments, HearingOptions())
        for segment, (best, *_others) in zip(segments, together, strict=True):
            ((alone, *_rest),) = tools().recogniser.hear([segment], HearingOptions())
            self.assertEqual(alone.text, best.text)

    def test_a_short_sound_is_not_echoed_and_what_is_said_twice_stays(self):
        """Cut exactly at its words it was heard four times over."""
        whole = soundcache.fetch(DEMO / "media" / "Warden interview.m4a").samples()
        short = np.array(whole[34_392 * 16 : 36_012 * 16])
        how = HearingOptions(care=Care.THOROUGH)
        segments = [short, np.concatenate([short, short])]
        once, twice = (found[0].text for found in tools().recogniser.hear(segments, how))
        self.assertEqual(once, "So where did you begin?")
        self.assertEqual(twice.lower().count("where did you begin"), 2)

    def test_loudness_does_not_matter(self):
        samples = soundcache.fetch(human_recording("beckett.wav")).samples()
        texts = {
            tools().recogniser.hear([samples * np.float32(gain)], HearingOptions())[0][0].text
            for gain in (0.01, 0.3, 1)
        }
        self.assertEqual(len(texts), 1)

    def test_a_thorough_hearing_gives_other_readings_of_unsure_words(self):
        samples = soundcache.fetch(human_recording("two_cities.wav")).samples()[: 16_000 * 13]
        noise = np.random.default_rng(3).standard_normal(len(samples)).astype(np.float32)
        how = HearingOptions(care=Care.THOROUGH)
        ((best, *others),) = tools().recogniser.hear([samples + 0.1 * noise], how)
        self.assertGreaterEqual(len(others), 1)
        self.assertTrue(all(best.score >= other.score for other in others))
        offered = [word for word in best.words if word.others]
        self.assertTrue(offered)
        self.assertTrue(all(word.text not in word.others for word in offered))

    def test_very_short_sound_and_no_segments_are_no_trouble(self):
        recogniser = tools().recogniser
        self.assertEqual(recogniser.hear([], HearingOptions()), [])
        ((reading, *_),) = recogniser.hear([np.zeros(10, np.float32)], HearingOptions("en-GB"))
        self.assertLess(len(reading.words), 4)

    def test_a_language_it_does_not_hear_is_refused(self):
        with self.assertRaisesRegex(RecogniserError, "English only"):
            tools().recogniser.hear([], HearingOptions("fr"))


class Neighbours(unittest.TestCase):
    """What nearly stood in a word's place, as far as it makes a word."""

    @classmethod
    def setUpClass(cls):
        cls.vocabulary = BuiltinVocabulary(model_folder() / "tokenizer.bin")

    def of(self, word, near, following=()):
        """Readings of a word whose tokens had ``near`` beside them: (text, probability) each."""
        text, count = self.text(word, near, following)
        return neighbours(text, range(count), self.vocabulary, is_listed)

    def text(self, word, near, following=()):
        """The word and one more, and how many tokens the first has."""
        tokens = self.vocabulary.encode(f" {word}")
        beside = [[(self.vocabulary.encode(t)[0], np.log(p)) for t, p in place] for place in near]
        beside += [[] for _ in tokens[len(beside) :]]
        more = self.vocabulary.encode(" dam")[:1]
        beside.append([(self.vocabulary.encode(t)[0], np.log(p)) for t, p in following])
        count = len(tokens) + 1
        text = TokenHypothesis(
            (*tokens, *more),
            (0.0,) * count,
            (0.0,) * count,
            near=tuple(map(tuple, beside)),
            end_log_probability=0.0,
            score=0.0,
            ended=True,
        )
        return text, len(tokens)

    def test_without_a_dictionary_the_last_token_of_a_word_may_be_another(self):
        text, _ = self.text("there,", [[(" their", 0.3), (" 5", 0.3), ("re", 0.3), (" the", 0.01)]])
        words = self.vocabulary.words(text.tokens)
        (swap,) = swaps(text, words, self.vocabulary)
        self.assertEqual((swap.index, swap.word), (0, "their,"))
        again = [word for word, _ in self.vocabulary.words(swap.tokens)]
        self.assertEqual(again, ["their,", *(word for word, _ in words[1:])])

    def test_another_word_in_its_place_keeps_the_marks(self):
        found = self.of("there,", [[(" their", 0.3), (" their", 0.3), (" the", 0.001)]])
        self.assertEqual(list(found), ["their,"])
        self.assertAlmostEqual(found["their,"], 0.3)

    def test_an_ending_more_or_less(self):
        self.assertIn("walks", self.of("walk", [], [("s", 0.2), (" is", 0.4)]))
        self.assertEqual(list(self.of("ditches", [[], [], [(" is", 0.2)]])), ["ditch"])

    def test_what_is_no_word_is_no_reading(self):
        near = [(" pe", 0.4), (" p", 0.3), (" st", 0.3), (" Pe", 0.3)]
        self.assertEqual(self.of("peat", [near]), {})


class Support(unittest.TestCase):
    def test_words_are_backed_by_the_texts_that_have_them_too(self):
        texts = [["The", "peat", "dam."], ["the", "Pete", "dam"], ["The", "peat", "dams."]]
        found = support(texts, np.log([0.5, 0.3, 0.2]))
        np.testing.assert_allclose([word.share for word in found], [1.0, 0.7, 0.8])
        self.assertEqual([list(word.others) for word in found], [[], ["Pete"], ["dams."]])

    def test_a_word_left_out_elsewhere_has_an_empty_rival(self):
        found = support([["a", "wet", "bog"], ["a", "bog"]], np.log([0.6, 0.4]))
        self.assertEqual(list(found[1].others), [""])

    def test_phrases_of_other_lengths_are_shared_out_by_their_sound(self):
        backing = support(
            ["when did this fog come back".split(), "when did the sphagnum come".split()],
            [0.0, -0.5],
        )
        self.assertEqual([list(word.others) for word in backing[2:]],
                         [["the"], ["sphagnum"], [], [""]])  # fmt: skip
        backing = support(["on the moor".split(), "on them more or less".split()], [0.0, -0.5])
        self.assertEqual([list(word.others) for word in backing[1:]], [["them"], ["more or less"]])

    def test_readings_come_together_the_likeliest_first_and_once(self):
        backing = Backing(0.5, {"dams": 0.2, "": 0.01})
        near = {"Dams,": 0.3, "damn": 0.25}
        self.assertEqual(together(backing, near), ("dams", "damn", ""))

    def test_confidence_falls_with_what_speaks_against_a_word(self):
        good = WordEvidence(
            -0.02, -0.01, 6.0, share=1.0, likelihood=-5.0, entropies=(0.1, 0.1, 0.1), segment=-0.1
        )
        for confidence in (builtin_confidence, many_confidence):
            for worse in (
                replace(good, log_probability=-2.0, least=-1.0),
                replace(good, margin=0.1),
                replace(good, share=0.4),
                replace(good, likelihood=-15.0),
                replace(good, entropies=(0.1, 1.5, 0.1)),
                replace(good, segment=-0.8),
                replace(good, is_listed=False),
            ):
                self.assertLess(confidence(worse, "peat"), confidence(good, "peat"))
            self.assertTrue(0.9 < confidence(good, "peat") < 1)

    def test_what_may_be_missing_is_the_first_reading_of_the_word_after_it(self):
        vocabulary = Pieces({1: b" the", 2: b" moor", 3: b" old", 4: b"s", 5: b" 8", 6: b" low"})
        near = (
            ((1, -0.1), (5, -1.0), (4, -1.2)),
            ((2, -0.2), (3, -1.5), (4, -2.0), (6, -6.0)),
        )
        text = TokenHypothesis(
            (1, 2),
            (-0.1, -0.2),
            (1.0, 1.0),
            near=near,
            end_log_probability=-0.1,
            score=-0.4,
            ended=True,
        )
        words = [("the", range(1)), ("moor", range(1, 2))]
        (found,) = insertions(text, words, vocabulary)
        self.assertEqual((found.index, found.word, found.tokens), (1, "old", (1, 3, 2)))
        heard = [HeardWord("the", 0.99), HeardWord("moor", 0.99, ("more",))]
        likely, not_so = with_missing(heard, [(found, -0.5)]), with_missing(heard, [(found, -4.0)])
        self.assertEqual(likely[1].others, ("old moor", "more"))
        self.assertLess(likely[1].at_most, DOUBTFUL_BELOW)
        self.assertEqual(not_so, heard)
        self.assertEqual(Word("moor", 0, 1, 0.5, likely[1].others).missing, "old")
        self.assertEqual(Word("moor", 0, 1, 0.5, ("more",)).missing, "")


class Pieces:
    """Tokens of a few words."""

    def __init__(self, pieces):
        self.piece = pieces.__getitem__


class Lists(unittest.TestCase):
    def test_a_glossary_keeps_terms_in_order_with_their_sounds(self):
        text = "\ufeff# names\nHarrow  Creek\n\ncoir = koyer, coya\nharrow creek\n"
        glossary = read_glossary(text)
        self.assertEqual([term.text for term in glossary.terms], ["Harrow Creek", "coir"])
        self.assertEqual(glossary.terms[1].sounds_like, ("koyer", "coya"))
        self.assertEqual(read_glossary(write_glossary(glossary)), glossary)

    def test_a_sound_without_a_term_is_told_with_its_line(self):
        with self.assertRaisesRegex(GlossaryError, "Line 2"):
            read_glossary("peat\n= koyer")

    def test_how_to_hear_comes_back_from_what_is_kept(self):
        how = HearingOptions(
            "en-GB", Care.THOROUGH, Voices.read("3"), source=Source(1, Channel.LEFT, True)
        )
        self.assertEqual(HearingOptions.from_data(json.loads(json.dumps(how.data()))), how)
        self.assertEqual(HearingOptions.from_data({}), HearingOptions())
        for wrong in ("some", "0", "99", "-1"):
            with self.assertRaises(ValueError):
                Voices.read(wrong)
