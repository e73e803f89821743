"""Paragraphs found from words, pauses and length; headings proposed for topics."""

import random
import unittest
from dataclasses import replace
from itertools import pairwise

import numpy as np

from tamarind.language.headings import proposals, wordings_at
from tamarind.language.paragraphing import Paragraphing, mean_length, pause_evidence
from tamarind.transcript import edits
from tamarind.transcript.model import Cue, Transcript, Word

DRAINS = (
    "The estate cut the drains by hand.", "A drain takes the water off the moor in a week.",
    "Each drain was a spade deep and two spades wide.", "The drains are blocked with peat now.",
    "A blocked drain fills within one winter.", "Water stands in every drain we have blocked.",
)  # fmt: skip
BIRDS = (
    "So let us come to the curlews.", "A curlew nests on the ground in long grass.",
    "Curlews want the sedge at the edge of the pools.", "Nine pairs of curlews nested last spring.",
    "The chicks of a curlew leave the nest at once.", "Foxes take more curlew chicks than crows.",
)  # fmt: skip


def spoken(sentences, rests=(), voices=(), usual=600):
    """One cue a sentence, 300 ms a word; ``rests`` are the pauses (ms) before some sentences."""
    rests, cues, at = dict(rests), [], 0
    for place, sentence in enumerate(sentences):
        at += rests.get(place, usual) if place else 0
        words = []
        for text in sentence.split():
            words.append(Word(text, at, at + 300, 0.9))
            at += 300
        voice = voices[place] if voices else None
        cues.append(Cue(place + 1, words[0].start, at, tuple(words), voice, not place))
    return Transcript("en", tuple(cues))


def opened(text):
    return [place for place, cue in enumerate(text.cues) if cue.opens_paragraph]


class Paragraphs(unittest.TestCase):
    def test_another_topic_opens_one_without_any_longer_pause(self):
        text = spoken(DRAINS + BIRDS)
        self.assertEqual(opened(Paragraphing(text).parted(60)), [0, 6])

    def test_a_pause_counts_against_the_others_of_the_recording(self):
        same = [f"The moor is {word} in May." for word in "wet dry red green brown cold".split()]
        quick = spoken(same * 4, {12: 1_200}, usual=400)
        slow = spoken(same * 4, {12: 1_200}, usual=1_200)
        self.assertIn(12, opened(Paragraphing(quick).parted(70)))
        evidence = [pause_evidence(np.array([u] * 11 + [1_200])) for u in (400, 1_200)]
        self.assertGreater(evidence[0][-1], 1.5)
        self.assertLess(evidence[1][-1], 0.5)
        self.assertEqual(len(slow.cues), len(quick.cues))

    def test_none_is_longer_than_the_style_allows_whatever_the_words_say(self):
        unmarked = spoken([" ".join(["peat"] * 9)] * 30)
        for text in (spoken(DRAINS * 6), unmarked):
            for most in (40, 80):
                parted = Paragraphing(text).parted(300, most)
                starts = [*opened(parted), len(parted.cues)]
                for first, last in pairwise(starts):
                    self.assertLessEqual(sum(len(c.words) for c in parted.cues[first:last]), most)

    def test_more_are_asked_for_more_are_found(self):
        text = spoken(DRAINS * 3 + BIRDS * 3)
        lengths = [mean_length(Paragraphing(text).parted(words)) for words in (600, 90, 25)]
        self.assertGreater(lengths[0], lengths[1])
        self.assertGreater(lengths[1], lengths[2])

    def test_what_a_person_set_stays(self):
        text = edits.set_paragraph(spoken(DRAINS + BIRDS), 6, False)
        text = edits.set_paragraph(text, 3, True)
        for words in (15, 45, 300):
            parted = Paragraphing(text).parted(words)
            self.assertIn(3, opened(parted))
            self.assertNotIn(6, opened(parted))

    def test_another_person_and_a_heading_open_one(self):
        text = spoken(DRAINS, voices=(1, 1, 2, 2, 2, 2))
        text = edits.set_heading(text, 4, "  Blocked\ndrains ")
        self.assertEqual(text.cues[4].heading, "Blocked drains")
        self.assertEqual(opened(Paragraphing(text).parted(400)), [0, 2, 4])

    def test_nothing_breaks_it(self):
        chance = random.Random(3)
        for count in (0, 1, 2, 40):
            sentences = [
                chance.choice(("…", "a", "湿原は乾いている。", "Wet?", "so")) for _ in range(count)
            ]
            text = spoken(sentences, voices=[chance.choice((None, 1)) for _ in sentences])
            hollow = replace(text, cues=tuple(replace(c, words=()) for c in text.cues))
            for each in (text, hollow):
                parted = Paragraphing(each).parted(chance.randint(1, 300), chance.choice((0, 1)))
                self.assertEqual([c.words for c in parted.cues], [c.words for c in each.cues])
                proposals(parted)


class Headings(unittest.TestCase):
    def test_topics_of_a_longer_text_get_words_of_their_own(self):
        text = Paragraphing(spoken(DRAINS * 6 + BIRDS * 6)).parted(60)
        found = proposals(text)
        self.assertEqual(found[0].place, 0)
        self.assertIn("rain", found[0].wordings[0])
        second = next(one for one in found if one.place)
        self.assertEqual(second.place, 36)
        self.assertIn("urlew", second.wordings[0])
        said = text.cues[36:]
        for words in second.wordings:
            for word in words.replace(",", "").casefold().split():
                self.assertIn(word, " ".join(c.text for c in said).casefold())

    def test_short_texts_get_none_unasked_and_what_stands_is_not_proposed_again(self):
        self.assertEqual(proposals(spoken(DRAINS)), [])
        self.assertTrue(wordings_at(spoken(DRAINS + BIRDS), 6))
        text = Paragraphing(spoken(DRAINS * 6 + BIRDS * 6)).parted(60)
        text = edits.set_heading(text, 36, "Birds")
        self.assertNotIn(36, [one.place for one in proposals(text)])

    def test_a_heading_follows_its_paragraph_through_edits(self):
        text = edits.set_heading(spoken(DRAINS), 2, "Depth")
        parts = edits.split(text, 2, 4)
        self.assertEqual([c.heading for c in parts.cues[2:4]], ["Depth", ""])
        self.assertEqual(edits.join(text, 1).cues[1].heading, "Depth")
        self.assertEqual(edits.delete(text, 2).cues[2].heading, "Depth")
        self.assertEqual(edits.join_paragraph(text, 2).cues[2].heading, "")
        self.assertEqual(edits.set_heading(text, 2, "").cues[2].heading, "")
