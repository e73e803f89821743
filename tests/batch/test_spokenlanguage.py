"""A worker finds the language out, tries the likeliest when it is not clear, and notices a wrong
choice."""

from pathlib import Path
from types import SimpleNamespace
from typing import ClassVar
from unittest.mock import patch

import numpy as np

from tamarind.batch import spokenlanguage, transcribing
from tamarind.batch.messages import Done, Hear, HearAgain, Heard, LanguageHeard
from tamarind.batch.work import do
from tamarind.speech.hearing import Stretch
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.languageguess import Guess
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.known import multilingual
from tamarind.speech.recognisers.known.multilingual import MANY
from tamarind.transcript.languages import UNDETERMINED
from tests.batch.test_bookmarks import place
from tests.support import FolderTest, tone, words_of, write_wav


class Identifier:
    languages = ("en", "es", "it")

    def languages_heard(self, sound):
        raise AssertionError("the guesses are given")


class Ear(Identifier):
    def __init__(self, hear):
        self.hear = hear


class SpokenLanguages(FolderTest):
    many_is_broken, languages = False, ("en",)
    certain: ClassVar = {}
    """How certain the words are that are heard for trying, by language."""

    def heard_as(self, name):
        def hear(sounds, how):
            certain = self.certain.get(how.language, 0.3)
            words = tuple(HeardWord(text, certain) for text in ("so",) * 25)
            return [[Hypothesis(words, 0.0)] for _ in sounds]

        return hear

    def events(self, how, guesses, confidence=0.9, by=None):
        """What a worker tells of a recording that sounds like ``guesses``; heard ``by`` name."""
        path = write_wav(self.folder / "a.wav", tone(4))
        words = words_of("the water was cold " * 8, confidence=confidence)
        stretch = Stretch(
            words, (None,) * len(words), 4_000, is_last=True, unheard=(), bookmark=place().sound
        )
        self.heard_with = []

        def tools_for(name):
            if name == MANY and self.many_is_broken:
                raise RecogniserError("a half is missing")
            own = SimpleNamespace(languages=self.languages, hear=self.heard_as(name))
            return SimpleNamespace(recogniser=Ear(self.heard_as(name)) if name == MANY else own)

        def hear(_samples, _tools, how, *_):
            self.heard_with.append(how)
            return iter([stretch])

        with (
            patch.object(transcribing, "hear", hear),
            patch.object(transcribing, "finder_for", lambda *_: None),
            patch.object(transcribing, "tools", tools_for),
            patch.object(spokenlanguage, "identify", lambda *_: guesses),
            patch.object(spokenlanguage, "stretches_of_speech", lambda _: iter([np.zeros(9)])),
            patch.object(transcribing, "best_for", lambda how: by or "builtin"),
        ):
            return list(do(Hear(1, Path(path), how)))

    def test_what_nobody_has_said_is_found_out_and_heard(self):
        found = (Guess("es", 0.97), Guess("it", 0.02))
        events = self.events(HearingOptions(UNDETERMINED), found)
        self.assertIn(LanguageHeard(1, found), events)
        self.assertEqual(self.heard_with[0].language, "es")
        self.assertIsInstance(events[-1], Done)

    def test_where_it_is_not_clear_the_words_of_the_likeliest_decide(self):
        unsure = (Guess("sv", 0.5), Guess("no", 0.4), Guess("da", 0.01))
        for self.certain, right in (({"no": 0.8}, "no"), ({"sv": 0.7, "no": 0.5}, "sv")):
            events = self.events(HearingOptions(UNDETERMINED), unsure)
            (told,) = [event for event in events if isinstance(event, LanguageHeard)]
            self.assertEqual(told.guesses[0].language, right)
            self.assertEqual(set(told.guesses), set(unsure))
            self.assertEqual(self.heard_with[0].language, right)
            self.assertIsInstance(events[-1], Done)

    def test_clear_english_is_told_by_the_network_that_hears_it(self):
        self.certain, self.many_is_broken = {"en": 0.95}, True
        events = self.events(HearingOptions(UNDETERMINED), ())
        self.assertIn(LanguageHeard(1, (Guess("en", 0.95),)), events)
        self.assertEqual(self.heard_with[0].language, "en")

    def test_where_one_language_alone_is_heard_nothing_is_found_out(self):
        with patch.object(multilingual, "languages_of_many", lambda: ()):
            events = self.events(HearingOptions(UNDETERMINED), (Guess("es", 0.9),))
        self.assertFalse(any(isinstance(event, LanguageHeard) for event in events))
        self.assertEqual(self.heard_with[0].language, "en")

    def test_where_nobody_speaks_nothing_is_asked(self):
        events = self.events(HearingOptions(UNDETERMINED), ())
        self.assertIsInstance(events[-1], Done)

    def test_words_that_sound_like_nothing_are_told_to_be_of_another_language(self):
        other = (Guess("es", 0.97),)
        events = self.events(HearingOptions("en"), other, confidence=0.3)
        self.assertIn(LanguageHeard(1, other), events)
        self.assertTrue(any(isinstance(event, Heard) for event in events))

    def test_where_nothing_can_tell_hearing_goes_on(self):
        self.many_is_broken = True
        events = self.events(HearingOptions("en"), (Guess("es", 0.97),), confidence=0.3)
        self.assertFalse(any(isinstance(event, LanguageHeard) for event in events))
        self.assertIsInstance(events[-1], Done)

    def test_a_recogniser_that_knows_no_language_is_not_doubted(self):
        self.languages = ()
        events = self.events(HearingOptions("en"), (Guess("es", 0.97),), confidence=0.3)
        self.assertFalse(any(isinstance(event, LanguageHeard) for event in events))

    def test_words_that_sound_well_are_not_doubted(self):
        events = self.events(HearingOptions("en"), (Guess("es", 0.97),), confidence=0.9)
        self.assertFalse(any(isinstance(event, LanguageHeard) for event in events))

    def test_a_recogniser_of_many_languages_tells_at_once_and_once_only(self):
        other = (Guess("es", 0.97),)
        events = self.events(HearingOptions("it"), other, confidence=0.3, by=MANY)
        told = [event for event in events if isinstance(event, LanguageHeard)]
        self.assertEqual(told, [LanguageHeard(1, other)])
        self.assertLess(events.index(told[0]), next(
            place for place, event in enumerate(events) if isinstance(event, Heard)
        ))  # fmt: skip
        right = self.events(HearingOptions("es-MX"), other, by=MANY)
        self.assertFalse(any(isinstance(event, LanguageHeard) for event in right))

    def test_a_passage_is_heard_again_in_the_language_that_is_found_where_none_is_known(self):
        self.certain = {"en": 0.95}
        path = write_wav(self.folder / "a.wav", tone(4))
        tools = SimpleNamespace(recogniser=Ear(self.heard_as("builtin")))
        asked = []

        def hear(_sound, _tools, how, _part):
            asked.append(how.language)
            return iter(())

        with (
            patch.object(transcribing, "hear", hear),
            patch.object(spokenlanguage, "stretches_of_speech", lambda _: iter([np.zeros(9)])),
        ):
            task = HearAgain(1, Path(path), HearingOptions(UNDETERMINED), (0, 4_000))
            transcribing.hear_again(task, lambda _name: tools)
        self.assertEqual(asked, ["en"])
