"""What is not sure is heard again: where, by whom, and that nothing else changes."""

import unittest
from unittest import mock

import numpy as np

from tamarind.audio import soundcache
from tamarind.speech.alignment import Aligner, TimedWord
from tamarind.speech.coverage import PlacedText
from tamarind.speech.hearing import Tools, hear
from tamarind.speech.hearingoptions import Care, HearingOptions
from tamarind.speech.recognisers import catalogue
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tamarind.speech.recognisers.catalogue import best_for, both_for, heard_by, more_for, second_for
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.known import multilingual
from tamarind.speech.recognisers.known.english import ENGLISH
from tamarind.speech.recognisers.known.multilingual import MANY
from tamarind.speech.secondopinion import LONGEST_MS, SecondListener, SecondOpinion, passages
from tamarind.transcript.model import DOUBTFUL_BELOW
from tests.speech.spoken import BECKETT
from tests.support import human_recording

SURE, UNSURE = 0.97, 0.4


def phrases(*lengths, rest=400, word=500):
    """Times of words in phrases of so many words, with a rest after each phrase."""
    times, at = [], 200
    for length in lengths:
        for _ in range(length):
            times.append(TimedWord(at, at + word - 50, -2.0, 4))
            at += word
        at += rest
    return times


class Passages(unittest.TestCase):
    def found(self, times, unsure, length=60_000):
        sure = [UNSURE if place in unsure else SURE for place in range(len(times))]
        return passages(times, sure, length)

    def test_it_is_the_phrase_of_a_doubtful_word_and_no_more(self):
        times = phrases(5, 6, 5)
        (one,) = self.found(times, {7})
        self.assertEqual((one.first, one.last), (5, 11))
        self.assertTrue(times[4].end < one.start < times[5].start)
        self.assertTrue(times[10].end < one.end < times[11].start)
        self.assertEqual(self.found(times, ()), [])

    def test_a_short_phrase_takes_its_nearer_neighbour_along(self):
        times = phrases(5, 2, rest=400) + [
            TimedWord(time.start + 5_000, time.end + 5_000, -2.0, 4) for time in phrases(5)
        ]
        (one,) = self.found(times, {6})
        self.assertEqual((one.first, one.last), (0, 7))

    def test_doubts_near_one_another_are_one_passage_and_all_are_apart(self):
        chance = np.random.default_rng(3)
        for _ in range(200):
            times = phrases(*chance.integers(1, 8, 9), word=int(chance.integers(150, 600)))
            unsure = set(chance.choice(len(times), 4).tolist())
            found = self.found(times, unsure)
            covered = [place for one in found for place in range(one.first, one.last)]
            self.assertEqual(covered, sorted(set(covered)))
            self.assertLessEqual(unsure, set(covered))
            spans = [moment for one in found for moment in (one.start, one.end)]
            self.assertEqual(spans, sorted(spans))

    def test_speech_without_a_rest_is_left_as_it_is(self):
        times = phrases(LONGEST_MS // 500 + 3)
        self.assertEqual(self.found(times, {9}), [])


class Recogniser:
    """Says what it is told, whatever it hears, and remembers what it was asked."""

    languages = ()

    def __init__(self, *texts, confidence=0.95, **own):
        self.texts, self.confidence, self.own = texts, confidence, own
        self.asked = []

    def hear(self, segments, how):
        self.asked.append((how.care, [len(segment) / 16_000 for segment in segments]))
        return [[self.said(text)] for text, _ in zip(self.texts, segments, strict=False)]

    def said(self, text):
        words = text.split()
        sure = [self.own.get(word.strip(".,").lower(), self.confidence) for word in words]
        return Hypothesis(tuple(map(HeardWord, words, sure)), -1.0)


class WhereUnsure(unittest.TestCase):
    def setUp(self):
        self.first = Recogniser("One two three four five. The Pete is wet here now.", pete=UNSURE)
        (text,) = self.first.hear([np.zeros(16_000)], HearingOptions())[0]
        times = [TimedWord(at * 400, at * 400 + 350, -2.0, 3) for at in range(5)]
        times += [TimedWord(2_600 + at * 400, 2_950 + at * 400, -2.0, 3) for at in range(6)]
        self.text = PlacedText(text.words, tuple(times))
        self.sure = [[word.confidence for word in text.words]]
        self.sound = np.zeros(6 * 16_000, np.float32)

    def again(self, *texts):
        second = Recogniser(*texts)
        aligner = mock.Mock()
        aligner.fits = lambda sound, texts, said_by: [0.0] * len(texts)
        aligner.align = lambda sounds, texts, speech, said_by: [
            [TimedWord(300 + at * 300, 580 + at * 300, -2.0, 3) for at in range(len(words))]
            for words in texts
        ]
        opinion = SecondOpinion(SecondListener(second, Care.QUICK), aligner, HearingOptions())
        (found,) = opinion.where_unsure([self.sound], [self.text], self.sure)
        return found, second

    def test_only_the_doubtful_phrase_is_heard_again_and_what_came_is_put_in(self):
        found, second = self.again("The peat is wet here now.")
        ((care, lengths),) = second.asked
        self.assertEqual(care, Care.QUICK)
        self.assertEqual(len(lengths), 1)
        self.assertLess(lengths[0], 3.2)
        text = " ".join(word.text for word in found.words)
        self.assertEqual(text, "One two three four five. The peat is wet here now.")
        self.assertIn("Pete", found.words[6].others)
        self.assertLess(found.words[6].confidence, DOUBTFUL_BELOW)
        self.assertEqual(found.times[:5], self.text.times[:5])
        starts = [time.start for time in found.times]
        self.assertEqual(starts, sorted(starts))

    def test_a_long_run_without_the_end_of_a_sentence_is_heard_again(self):
        words = [HeardWord(word, SURE) for word in ("peat is wet " * 10).split()]
        times = [TimedWord(at * 180, at * 180 + 150, -2.0, 3) for at in range(len(words))]
        for end in ("", "."):
            words[14] = HeardWord(f"wet{end}", SURE)
            self.text, self.sure = PlacedText(tuple(words), tuple(times)), [[SURE] * len(words)]
            _, second = self.again("peat is wet.")
            ((_, lengths),) = second.asked
            self.assertEqual(len(lengths), 0 if end else 1)

    def test_what_both_say_keeps_its_times_and_is_surer(self):
        found, _ = self.again("the Pete is wet here now")
        self.assertEqual(found.times, self.text.times)
        self.assertGreater(found.words[6].confidence, UNSURE)

    def test_nothing_is_lost_where_the_second_hears_nothing(self):
        found, _ = self.again("")
        self.assertEqual(len(found.words), 11)
        self.assertEqual(len(found.times), 11)


class ByCare(unittest.TestCase):
    def test_more_care_hears_more_again(self):
        sound = soundcache.fetch(human_recording("beckett.wav")).samples()
        shares = []
        for care in Care:
            first, second = Recogniser(BECKETT, matter=UNSURE), Recogniser("No matter.")
            second_for_care = SecondListener(second, Care.QUICK) if care is not Care.QUICK else None
            tools = Tools(first, Aligner(), None, second=lambda how, who=second_for_care: who)
            list(hear(sound, tools, HearingOptions(care=care), (0, len(sound) // 16)))
            self.assertEqual({care for care, _ in first.asked}, {Care.QUICK})
            shares.append(sum(sum(lengths) for _, lengths in second.asked))
        self.assertEqual(shares[0], 0)
        self.assertGreater(shares[1], 0)
        self.assertGreaterEqual(shares[2], shares[1])


class FurtherEars(unittest.TestCase):
    def test_with_two_opinions_they_are_asked_where_these_differ_and_most_decide(self):
        sound = soundcache.fetch(human_recording("beckett.wav")).samples()
        first = Recogniser(BECKETT, matter=UNSURE)
        for said, asked in ((BECKETT, 0), (BECKETT.replace("matter", "mattress"), 1)):
            second, third = Recogniser(said), Recogniser(BECKETT)
            tools = Tools(
                first, Aligner(), None,
                second=lambda how, who=second: SecondListener(who, Care.QUICK),
                more=lambda how, who=third: [who],
            )  # fmt: skip
            how = HearingOptions(care=Care.DOUBLE)
            (stretch, *_) = hear(sound, tools, how, (0, len(sound) // 16))
            self.assertEqual(sum(bool(lengths) for _, lengths in third.asked), asked)
            self.assertIn("matter.", " ".join(word.text for word in stretch.words))


class Who(unittest.TestCase):
    def test_the_two_that_come_along_hear_english_and_one_hears_others_in_another_way(self):
        with mock.patch.object(catalogue, "folders_here", return_value=[]):
            for care in (Care.THOROUGH, Care.DOUBLE):
                how = HearingOptions(care=care)
                with mock.patch.object(
                    multilingual, "languages_of_many", return_value=("en", "fr")
                ):
                    self.assertEqual(both_for(how), (ENGLISH, MANY))
                    self.assertEqual(heard_by(how), (ENGLISH, MANY))
                    self.assertEqual(best_for(HearingOptions("fr", care)), MANY)
                    self.assertEqual(second_for(HearingOptions("fr", care)), MANY)
                    self.assertEqual(second_for(HearingOptions("und", care)), "")
                    self.assertEqual(second_for(HearingOptions("fr", care, into_english=True)), "")
                    many = HearingOptions("en", care, recogniser=MANY)
                    self.assertEqual((best_for(many), second_for(many)), (MANY, ENGLISH))
                with mock.patch.object(multilingual, "languages_of_many", return_value=()):
                    self.assertEqual(second_for(how), "builtin")
                self.assertEqual(more_for(how), [])
            self.assertEqual(second_for(HearingOptions()), "")

    def test_two_opinions_need_two(self):
        with mock.patch.object(catalogue, "folders_here", return_value=[]):
            with (
                mock.patch.object(multilingual, "languages_of_many", return_value=("en", "fr")),
                self.assertRaisesRegex(RecogniserError, "that knows French"),
            ):
                catalogue.check(HearingOptions("fr", Care.DOUBLE))
            with (
                mock.patch.object(multilingual, "languages_of_many", return_value=()),
                self.assertRaisesRegex(RecogniserError, "not installed"),
            ):
                both_for(HearingOptions(care=Care.DOUBLE))
