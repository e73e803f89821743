"""Ends of sentences that a recogniser has left out."""

import unittest

from tamarind.speech.sentence_ends import with_ends
from tamarind.transcript.model import Word


def said(text, rests=(), voices=None, language="en", is_last=False, splices=False):
    """The text after ends were found; 300 ms a word, ``rests`` (ms) before the words at places."""
    rests, words, at = dict(rests), [], 0
    for place, token in enumerate(text.split()):
        at += rests.get(place, 0)
        words.append(Word(token, at, at + 300, 0.9))
        at += 300
    voices = voices or [None] * len(words)
    found = with_ends(words, voices, [language] * len(words), is_last, splices)
    assert [(w.start, w.end, w.confidence) for w in found] == [
        (w.start, w.end, w.confidence) for w in words
    ]
    return " ".join(word.text for word in found)


class Ends(unittest.TestCase):
    def test_before_a_question_that_only_begins_so(self):
        self.assertEqual(
            said("thanks for making the time when did you join the team?"),
            "thanks for making the time. When did you join the team?",
        )
        self.assertEqual(
            said("for thirty years, Martin, what did the moor look like?"),
            "for thirty years. Martin, what did the moor look like?",
        )
        for whole in (
            "I know when you did it", "He asked what the moor was", "That is where we dug",
            "and when did you go", "Say what, did you go", "and so how do we measure it",
        ):  # fmt: skip
            self.assertEqual(said(whole), whole)

    def test_a_question_has_its_mark(self):
        self.assertEqual(said("So how do we do it. By hand."), "So how do we do it? By hand.")
        self.assertEqual(said("How it was. I know."), "How it was. I know.")

    def test_where_another_person_begins_after_a_pause_or_a_comma(self):
        two = [1, 1, 1, 2, 2]
        self.assertEqual(said("it was dry, and then", voices=two), "it was dry. And then")
        self.assertEqual(said("it was dry yes then", {3: 300}, two), "it was dry. Yes then")
        # A voice that is told apart wrongly in the middle of what somebody says ends nothing.
        self.assertEqual(said("it was dry and then", voices=two), "it was dry and then")

    def test_at_a_long_rest_after_what_can_end(self):
        self.assertEqual(said("the water, stayed", {2: 900}), "the water. Stayed")
        self.assertEqual(said("the water stayed", {2: 700}), "the water stayed")
        self.assertEqual(said("the water stayed", {2: 1000}), "the water. Stayed")
        for goes_on in ("it was the water", "the water and the peat", "um the water"):
            self.assertEqual(said(goes_on, {1: 1000, 2: 1000, 3: 1000}), goes_on)
        self.assertEqual(said("el agua estaba", {2: 1000}, language="es"), "el agua estaba")
        self.assertEqual(said("el agua estaba", {2: 2000}, language="es"), "el agua. Estaba")

    def test_a_full_stop_after_what_is_never_last_is_none(self):
        self.assertEqual(
            said("there are more than. ten of them"), "there are more than ten of them"
        )

    def test_a_rest_within_a_list_is_no_end(self):
        listed = "we saw sundew, bog bean, cotton grass, and moss"
        self.assertEqual(said(listed, {5: 1200}), listed)
        self.assertEqual(said("we saw it, bog bean grew there", {3: 1200}),
                         "we saw it. Bog bean grew there")  # fmt: skip
        self.assertEqual(said("the water, stayed", {2: 300}), "the water, stayed")

    def test_at_a_comma_between_two_sentences_of_a_recogniser_that_joins_them(self):
        joined = (
            "The estate had paid for every mile of ditch on the open moor in the fifties, the"
            " drains had been dug by hand."
        )
        apart = joined.replace("fifties, the", "fifties. The")
        self.assertEqual(said(joined, splices=True), apart)
        self.assertEqual(said(joined), joined)
        self.assertEqual(said(joined, splices=True, language="es"), joined)
        for whole in (
            "When the drains were dug by hand, the water ran off in a week.",
            "In the first dry winter, we counted the pools again.",
            "We had two spades, a barrow and a map.", "Well, we had.",
        ):  # fmt: skip
            self.assertEqual(said(whole, splices=True), whole)

    def test_a_text_without_any_mark_stays(self):
        for text in ("", "peat", "peat and moss", "peat,", "peat, moss,"):
            self.assertEqual(said(text, splices=True), text)

    def test_with_the_recording(self):
        self.assertEqual(said("mind the step", is_last=True), "mind the step.")
        self.assertEqual(said('he said "mind,"', is_last=True), 'he said "mind."')
        self.assertEqual(said("mind it!", is_last=True), "mind it!")
        self.assertEqual(said("mind it"), "mind it")
        self.assertEqual(with_ends([], [], [], True), ())

    def test_scripts_without_such_marks_stay(self):
        self.assertEqual(said("湿原は 乾いた", is_last=True, language="ja"), "湿原は 乾いた")
        self.assertEqual(said("agua, cuando", {1: 900}, language="es"), "agua. Cuando")
