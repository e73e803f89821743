import unittest

from tamarind.translation.draft import Brief
from tamarind.translation.memory import TranslationMemory
from tamarind.translation.routes import Router
from tamarind.translation.shorter import left_out, without
from tamarind.translation.versions import versions
from tests.translation.engines import Marking
from tests.translation.test_sentences import cues


class Shorter(unittest.TestCase):
    def shortened(self, text, language="en"):
        (cue,) = cues(text)
        places = left_out(cue.words, language)
        return without(cue, places).text if places else None

    def test_what_says_nothing_is_left_out_and_the_sentence_stays_one(self):
        found = self.shortened("Well, the northern dam of ours is, you know, really full of water.")
        self.assertEqual(found, "The northern dam of ours is, full of water.")
        self.assertEqual(self.shortened("The the drain is dry."), "The drain is dry.")
        found = self.shortened("Na verdade a vala está muito seca.", "pt-BR")
        self.assertEqual(found, "A vala está seca.")

    def test_where_little_would_be_left_or_nothing_goes_it_stays(self):
        for text in ("Well, really, of course.", "The dam holds."):
            self.assertIsNone(self.shortened(text), text)
        self.assertIsNone(self.shortened("Well, the dam holds it.", "xx"))


class SeveralWays(Marking):
    def alternatives(self, text, source, target):
        return [f"{way}: {text}" for way in ("assim", "ou assim")]


class Versions(unittest.TestCase):
    def test_an_engine_that_knows_several_ways_is_asked_for_them(self):
        over = Router([SeveralWays(change=lambda text, _: f"assim: {text}")])
        text = cues("The north dam", "is full.")
        brief = Brief("en", "pt", over.route("en", "pt"))
        found = [version.text for version in versions(text, text[0], brief, over)]
        self.assertEqual(found, ["assim: The north dam", "ou assim: The north dam"])

    def test_they_come_from_what_was_translated_routes_and_fewer_words(self):
        one = Marking("one", (("en", "pt"),), lambda text, _: f"um: {text}")
        two = Marking("two", (("en", "es"), ("es", "pt")), lambda text, _: f"dois: {text}")
        over = Router([one, two])
        text = cues("Well, the north dam is really full.", "It is dry.")
        known = TranslationMemory(
            {"Well, the south dam is really full.": "A barragem um: south está cheia."}
        )
        brief = Brief("en", "pt", over.route("en", "pt"), known=known)
        found = {version.how: version.text for version in versions(text, text[0], brief, over)}
        repairs = "adapted from “Well, the south dam is really full.”"
        self.assertEqual(found[repairs], "A barragem um: North está cheia.")
        self.assertEqual(found["directly, by one"], "um: Well, the north dam is really full.")
        self.assertIn("by way of Spanish", " ".join(found))
        self.assertEqual(found["shorter, without “Well really”"], "um: The north dam is full.")
