"""Find what a clean transcript leaves out: fillers, repetitions and false starts.

The classes are those of the study of disfluencies (Shriberg, "Preliminaries to a Theory of Speech
Disfluencies", 1994); only those that can be told from the words alone are found.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from tamarind.captions.functionwords import function_words
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import letters_of
from tamarind.transcript.sentences import CLOSERS, MARKS, OPENERS, bare

LONGEST_REPEAT = 3
"""A run of so many words that is said twice is a repeat."""

MEANT_TWICE = frozenset(
    "that had very no yes really so bye ha well there now more again please never many far".split()
)
"""Words that are often said twice and meant so."""

_ENDS = ".?!…"
_CUT_OFF = ("-", "–", "—")


class DisfluencyKind(StrEnum):
    """A kind of words that a clean transcript leaves out."""

    FILLER = "filler"
    REPEAT = "repeated"
    FALSE_START = "false start"
    PHRASE = "phrase"
    SOUND = "sound"
    OPENING = "opening word"
    LISTENING = "sign of listening"


@dataclass(frozen=True, slots=True)
class Disfluency:
    """The words [``first``, ``last``)."""

    first: int
    last: int
    kind: DisfluencyKind


def disfluencies(words: Sequence[str], fillers: Collection[str]) -> list[Disfluency]:
    """Return what could be left out of a run of words, in order, not overlapping."""
    bare = [letters_of(word) for word in words]
    known = {letters_of(filler) for filler in fillers}
    found: list[Disfluency] = []
    place = 0
    while place < len(words):
        repeat = repeated_at(words, bare, place)
        if bare[place] in known and bare[place]:
            found.append(Disfluency(place, place + 1, DisfluencyKind.FILLER))
            place += 1
        elif repeat:
            found.append(Disfluency(place, place + repeat, DisfluencyKind.REPEAT))
            place += repeat
        elif _is_cut_off(words, bare, place):
            found.append(Disfluency(place, place + 1, DisfluencyKind.FALSE_START))
            place += 1
        else:
            place += 1
    return found


def repeated_at(words: Sequence[str], bare: Sequence[str], place: int) -> int:
    """Return how many words from an index on are said again right after, or 0.

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
    """Whether a word is broken off ("wat-") with another to follow; a dash by itself is not."""
    return words[place].endswith(_CUT_OFF) and bool(bare[place]) and place + 1 < len(words)


def without(
    transcript: Transcript, found: Sequence[Disfluency], rewritten: Callable[[str], str]
) -> Transcript:
    """Return the text without what was found, whose places count through the words of all cues, and
    with every other word ``rewritten``; a cue left without words is removed.

    A mark that ended a sentence moves to the word before, and the next word takes over a capital.
    Quotes and brackets around what goes are those of its neighbours then.
    """
    words = [word for cue in transcript.cues for word in cue.words]
    said = [rewritten(word.text) for word in words]
    if not found and all(text == word.text for text, word in zip(said, words, strict=True)):
        return transcript
    texts = _left(said, found, function_words(transcript.language).conjunctions)
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


def _left(
    said: Sequence[str], found: Sequence[Disfluency], conjunctions: Collection[str]
) -> list[str | None]:
    """Return the words without what was found, None for those removed."""
    gone = {place: one.kind for one in found for place in range(one.first, one.last)}
    texts: list[str | None] = [None if place in gone else text for place, text in enumerate(said)]
    last: int | None = None
    capital = False
    opened = ""
    for place, text in enumerate(said):
        rest = text.lstrip(OPENERS)
        if place not in gone:
            if capital and rest[:1].islower():
                rest = rest[0].upper() + rest[1:]
            texts[place] = opened + text[: len(text) - len(text.lstrip(OPENERS))] + rest
            capital, last, opened = False, place, ""
            continue
        before = texts[last] if last is not None else None
        starts = before is None or before.rstrip(CLOSERS)[-1:] in _ENDS
        capital = capital or (starts and rest[:1].isupper())
        opened += text[: len(text) - len(rest)]
        behind = rest[len(rest.rstrip(CLOSERS + MARKS)) :]
        for mark in behind:
            if mark in CLOSERS and opened:
                opened = opened[:-1]
            elif before is not None and mark in CLOSERS:
                before += mark
            elif before is not None and mark in _ENDS:
                before = _ended(before, mark)
        if before is None or last is None:
            continue
        # Commas on both sides stood there for the filler, unless a clause begins after it.
        aside = gone[place] in (DisfluencyKind.FILLER, DisfluencyKind.PHRASE)
        paired = aside and behind == "," and before.endswith(",")
        follows = bare(said[place + 1]) if place + 1 < len(said) else ""
        texts[last] = before[:-1] if paired and follows not in conjunctions else before
    return texts


def _ended(text: str, mark: str) -> str:
    """Return a word with a mark that ends a sentence, if it has none of its own."""
    core = text.rstrip(CLOSERS)
    if core[-1:] in _ENDS:
        return text
    kept = core.rstrip(",;:–—-")
    return text + mark if kept == core else kept + mark + text[len(core) :]


def _with(cue: Cue, texts: Sequence[str | None]) -> Cue:
    """Return a cue with other texts of its words, None for those removed."""
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
