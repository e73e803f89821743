"""What speech has and a clean transcript has not: fillers, repeats, and false starts.

The classes are those of the study of disfluencies (Shriberg, "Preliminaries to a Theory of Speech
Disfluencies", 1994); only those that can be told from the words alone are found.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import letters_of

LONGEST_REPEAT = 3
"""A run of so many words that is said twice is a repeat."""

MEANT_TWICE = frozenset(
    "that had very no yes really so bye ha well there now more again please never many far".split()
)
"""Words that are often said twice and meant so."""

_ENDS = ".?!…"
_CUT_OFF = ("-", "–", "—")


class Kind(StrEnum):
    """What a stretch of words is that a clean transcript leaves out."""

    FILLER = "filler"
    REPEAT = "repeated"
    FALSE_START = "false start"


@dataclass(frozen=True, slots=True)
class Disfluency:
    """The words from place ``first`` up to, not with, ``last``."""

    first: int
    last: int
    kind: Kind


def disfluencies(words: Sequence[str], fillers: Collection[str]) -> list[Disfluency]:
    """What could be left out of a run of words, in order, not overlapping."""
    bare = [letters_of(word) for word in words]
    known = {letters_of(filler) for filler in fillers}
    found: list[Disfluency] = []
    place = 0
    while place < len(words):
        repeat = repeated_at(words, bare, place)
        if bare[place] in known and bare[place]:
            found.append(Disfluency(place, place + 1, Kind.FILLER))
            place += 1
        elif repeat:
            found.append(Disfluency(place, place + repeat, Kind.REPEAT))
            place += repeat
        elif _is_cut_off(words, bare, place):
            found.append(Disfluency(place, place + 1, Kind.FALSE_START))
            place += 1
        else:
            place += 1
    return found


def repeated_at(words: Sequence[str], bare: Sequence[str], place: int) -> int:
    """How many words from ``place`` on are said again right after, 0 for none.

    ``bare`` are the words without marks; a mark that ends a sentence between the two parts them.
    """
    for length in range(LONGEST_REPEAT, 0, -1):
        middle, last = place + length, place + 2 * length
        if (
            last > len(words)
            or bare[place:middle] != bare[middle:last]
            or not all(bare[place:last])
        ):
            continue
        if words[middle - 1][-1:] in (_ENDS if length == 1 else _ENDS + ",;:"):
            continue
        if length == 1 and (bare[place] in MEANT_TWICE or bare[place].isdigit()):
            continue
        return length
    return 0


def _is_cut_off(words: Sequence[str], bare: Sequence[str], place: int) -> bool:
    """A word broken off ("wat-"), with another to follow; a dash of its own is none."""
    return words[place].endswith(_CUT_OFF) and bool(bare[place]) and place + 1 < len(words)


def cleaned(transcript: Transcript, fillers: Collection[str]) -> Transcript:
    """The text without disfluencies. A cue that keeps no word goes.

    A mark that ended a sentence moves to the word before, and the next word takes over a capital.
    """
    flat = [word for cue in transcript.cues for word in cue.words]
    gone = {
        place
        for one in disfluencies([word.text for word in flat], fillers)
        for place in range(one.first, one.last)
    }
    if not gone:
        return transcript
    texts: list[str | None] = [None if n in gone else word.text for n, word in enumerate(flat)]
    last: int | None = None
    capital = False
    for place, word in enumerate(flat):
        if place in gone:
            starts = last is None or (texts[last] or "")[-1:] in _ENDS
            capital = capital or (starts and word.text[:1].isupper())
            if word.text[-1:] in _ENDS and last is not None:
                kept = (texts[last] or "").rstrip(",;:–—-")
                texts[last] = kept if kept[-1:] in _ENDS else kept + word.text[-1]
            continue
        text = texts[place] or ""
        if capital and text[:1].islower():
            texts[place] = text[0].upper() + text[1:]
        capital, last = False, place
    cues = []
    at = 0
    opens = False
    for cue in transcript.cues:
        own = texts[at : at + len(cue.words)]
        at += len(cue.words)
        kept_cue = _with(cue, own)
        opens = opens or cue.opens_paragraph
        if cue.words and not kept_cue.words:
            continue
        cues.append(replace(kept_cue, opens_paragraph=True) if opens else kept_cue)
        opens = False
    return replace(transcript, cues=tuple(cues))


def _with(cue: Cue, texts: Sequence[str | None]) -> Cue:
    """A cue with other texts of its words, None for those that go."""
    if list(texts) == [word.text for word in cue.words]:
        return cue
    words: list[Word] = []
    breaks: set[int] = set()
    for place, (word, text) in enumerate(zip(cue.words, texts, strict=True)):
        if place in (cue.breaks or ()) and words:
            breaks.add(len(words))
        if text is not None:
            words.append(word if text == word.text else replace(word, text=text))
    breaks.discard(len(words))
    lines = None if cue.breaks is None else tuple(sorted(breaks))
    return replace(cue, words=tuple(words), breaks=lines)
