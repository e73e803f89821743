"""Edits of chance on a text, and what must hold after any of them."""

from __future__ import annotations

import random
import unittest
from dataclasses import replace
from itertools import pairwise

from tamarind.transcript import edits, timing
from tamarind.transcript.corrections import Occurrence, put
from tamarind.transcript.draft import restore
from tamarind.transcript.find import Wanted, replace_all
from tamarind.transcript.model import Transcript
from tamarind.transcript.takeback import Part, with_parts, with_words

WORDS = "a drain was dug peat moor 1962 – 'tis sphagnum, improvement. Every".split()


def check(test: unittest.TestCase, text: Transcript) -> None:
    """Words in order within their cue, nothing negative, empty or overlapping, ids apart."""
    for each in text.cues:
        test.assertLessEqual(0, each.start, each)
        test.assertLess(each.start, each.end, each)
        low = each.start
        for word in each.words:
            test.assertLessEqual(low, word.start, each)
            test.assertLess(word.start, word.end, each)
            low = word.end
        test.assertLessEqual(low, each.end, each)
        if each.breaks:
            test.assertEqual(list(each.breaks), sorted(set(each.breaks)))
            test.assertTrue(each.breaks[0] > 0 and each.breaks[-1] < len(each.words), each)
    for before, after in pairwise(text.cues):
        test.assertLessEqual(before.end, after.start, (before, after))
    test.assertEqual(len({each.id for each in text.cues}), len(text.cues))


def edit(
    test: unittest.TestCase, text: Transcript, draft: Transcript, chance: random.Random
) -> Transcript:
    """One edit of any kind at any place; what it must do to the text is checked."""
    count = len(text.cues)
    if not count:
        return timing.insert_empty(text, 1_000, 9_000)[0]
    place = chance.randrange(count)
    last = min(place + chance.randrange(1, 4), count)
    each = text.cues[place]
    some = " ".join(chance.choices(WORDS, k=chance.randrange(1, 9)))
    number = chance.randrange(max(len(each.words), 1))
    act = chance.randrange(20)
    if act == 0:
        new = edits.set_text(text, place, some)
        test.assertEqual(new.cues[place].text, some)
        return new
    if act == 1:
        return edits.split(text, place, chance.randrange(0, len(each.words) + 1))
    if act == 2:
        return edits.join(text, place)
    if act == 3:
        start = each.start + chance.randrange(-800, 800)
        return timing.set_times(text, place, start, start + chance.randrange(20, 5_000))
    if act == 4:
        return timing.shift(text, place, last, chance.randrange(-2_000, 2_000))
    if act == 5:
        return timing.close_gaps(text, place, last, 2_000, 40)
    if act == 6:
        return timing.move_word(text, place, chance.random() < 0.5)
    if act == 7 and each.words:
        start = each.start + chance.randrange(-500, 2_000)
        return timing.set_word_times(text, place, number, start, start + 300)
    if act == 8 and number and each.words[number - 1].end == each.words[number].start:
        return timing.set_border(text, place, number, each.start + chance.randrange(3_000))
    if act == 9:
        return replace_all(text, Wanted("drain|peat", pattern=True), "very wet moor")[0]
    if act == 10:
        before = " ".join(cue.text for cue in text.cues[place:last]).split()
        cut = chance.randrange(len(before) + 1)
        whole = " ".join([*before[:cut], *some.split(), *before[cut + 2 :]])
        new = edits.set_text_over(text, place, last, whole)
        behind = len(text.cues) - last
        stands = " ".join(cue.text for cue in new.cues[place : len(new.cues) - behind]).split()
        test.assertEqual(stands, whole.split())
        return new
    if act == 11:
        return edits.join_paragraph(text, place)
    if act == 12:
        speaker = chance.choice((None, 1, 2))
        return edits.set_speaker(text, place, last, speaker)
    if act == 13 and each.words:
        return edits.settle_word(text, place, number, chance.choice((None, "", some)))
    if act == 14:
        return restore(text, draft.cues, place, last)
    if act == 15 and each.words:
        spot = Occurrence(
            1, place, number, last=min(number + 2, len(each.words)), text="", unlike=0.0
        )
        return put(text, spot, some)
    if act == 16:
        return edits.toggle_line(text, place, number, each.breaks or ())
    if act == 17 and count > 2:
        return edits.delete(text, place)
    if act == 18 and any(cue.words for cue in text.cues):
        parts = [Part(cue.text, chance.choice((None, "Warden"))) for cue in text.cues]
        parts[place] = Part(some, "Somebody")
        new = with_parts(with_words(text, parts), parts, chance.random() < 0.5)
        told = " ".join(part.text for part in parts).split()
        test.assertEqual([w.text for cue in new.cues for w in cue.words], told)
        return new
    try:
        if act == 19:
            start = max(each.start + chance.randrange(-300, 300), 0)
            end = text.cues[last - 1].end + chance.randrange(-300, 900)
            return timing.stretch(text, place, last, start, end)
        start = chance.randrange(0, 20_000)
        return timing.insert_empty(text, start, start + 2_000)[0]
    except ValueError:
        return replace(text)
