"""Where the lines of a cue break."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tamarind.captions.limits import Limits
from tamarind.transcript.model import Cue, Transcript

CLINGING = frozenset(
    "a an the my your his her its our their this that these those of to in on at by for from with "
    "and or but as if than so into onto over under about after before between through without "
    "is are was were be been am have has had will would can could should may might must do does "
    "did not no very more most mr mrs ms dr st i we you he she they it who which".split()
)
"""Words that lean on the next one; a line does not end with them if it can be helped."""

_CLAUSE_ENDS = (",", ";", ":", "–", "—")
_SENTENCE_ENDS = (".", "?", "!", "…")
_CLOSERS = "\"'”’)]»"


def ends_sentence(word: str) -> bool:
    """Whether a word carries a full stop, question or exclamation mark."""
    return word.rstrip(_CLOSERS).endswith(_SENTENCE_ENDS)


def ends_clause(word: str) -> bool:
    """Whether a word carries a mark at which a reader breathes."""
    return word.rstrip(_CLOSERS).endswith(_CLAUSE_ENDS)


def border_cost(left: str, right: str) -> float:
    """How much a line or cue suffers from ending between two words, 0 to about 3."""
    if ends_sentence(left):
        return 0.0
    if ends_clause(left):
        return 0.3
    bare = left.casefold().strip("\"'“”‘’([")
    if bare in CLINGING:
        return 3.0
    if left[:1].isupper() and right[:1].isupper():
        return 2.0
    if right.casefold() in CLINGING:
        return 0.8
    return 1.4


def break_lines(words: Sequence[str], limits: Limits) -> tuple[int, ...]:
    """The places of the words that begin a new line.

    The fewest lines that hold the text, then the least sum of border costs and squared unevenness,
    by dynamic programming over break points (after Knuth and Plass, 1981). A single word longer
    than a line stands alone on one that is too long.
    """
    count = len(words)
    if sum(map(len, words)) + count - 1 <= limits.line_length or count < 2:
        return ()
    lengths = [0]
    for word in words:
        lengths.append(lengths[-1] + len(word) + 1)
    best: list[tuple[int, float]] = [(0, 0.0)]
    origin = [0] * (count + 1)
    for end in range(1, count + 1):
        options: list[tuple[int, float, int]] = []
        for start in range(end - 1, -1, -1):
            length = lengths[end] - lengths[start] - 1
            if length > limits.line_length and start < end - 1:
                break
            uneven = ((limits.line_length - length) / limits.line_length) ** 2
            border = border_cost(words[end - 1], words[end]) if end < count else 0.0
            lines, cost = best[start]
            options.append((lines + 1, cost + 2 * uneven + border, start))
        lines, cost, start = min(options)
        best.append((lines, cost))
        origin[end] = start
    breaks: list[int] = []
    place = origin[count]
    while place > 0:
        breaks.append(place)
        place = origin[place]
    return tuple(breaks[::-1])


def fits(words: Sequence[str], limits: Limits) -> bool:
    """Whether the words go into the lines that a cue may have."""
    if sum(map(len, words)) + len(words) - 1 > (limits.line_length + 1) * limits.lines:
        return False
    return len(break_lines(words, limits)) < limits.lines


def with_breaks(transcript: Transcript, limits: Limits) -> Transcript:
    """The transcript with line breaks in every cue that has none of its own."""
    return replace(transcript, cues=tuple(_broken(cue, limits) for cue in transcript.cues))


def _broken(cue: Cue, limits: Limits) -> Cue:
    if cue.breaks is not None:
        return cue
    return replace(cue, breaks=break_lines([word.text for word in cue.words], limits))
