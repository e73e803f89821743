"""Match a written script with the sound: every word of it gets a time.

The sound is heard first. Where heard words and script agree, the script has the times of what was
heard; what lies between two such places is aligned with the sound between them (``alignment``). So
a script may leave things out, put things in and word things otherwise, and only there times are
less sure. This is the anchored alignment of long audio by Moreno, Joerg, Van Thong and Glickman
("A Recursive Algorithm for the Forced Alignment of Very Long Audio Segments", 1998), with one
hearing instead of several.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import exp

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.alignment import Aligner, TimedWord
from tamarind.transcript.model import Word
from tamarind.transcript.reconcile import in_order, letters_of, runs, shares

LONGEST_MS = 40_000
"""No longer stretch of sound is aligned at once; words of a longer one share its time."""

SHORTEST_MS = 20
MARGIN_MS = 60

_MIDDLE, _STEEP = -3.0, 1.6
"""Of the logistic curve that makes a confidence of a fit; see ``benchmarks/aside.py``."""


def timed_script(
    tokens: Sequence[str],
    heard: Sequence[Word],
    sound: Samples,
    aligner: Aligner,
    start: int = 0,
) -> list[Word]:
    """Return the words of a script with times in ms, in order, none shorter than 1 ms.

    ``heard`` is what was recognised in ``sound`` (16 kHz, mono) from ``start`` (ms) on, where the
    script begins too. A word that was also heard is certain (None); another is as sure as it fits
    the sound, so that what is not said at all becomes a doubt.
    """
    result: list[Word] = []
    waiting: list[str] = []
    end = len(sound) * 1000 // SAMPLE_RATE
    for old, new in runs(heard, list(tokens)):
        same = len(old) == len(new) == 1 and letters_of(old[0].text) == letters_of(new[0])
        if not same:
            waiting += new
            continue
        word = Word(new[0], old[0].start, old[0].end)
        low = result[-1].end if result else start
        result += _between(waiting, low, max(word.start, low), sound, aligner)
        waiting = []
        result.append(word)
    low = result[-1].end if result else start
    result += _between(waiting, low, max(end, low), sound, aligner)
    return list(in_order(result))


def _between(
    tokens: Sequence[str], low: int, high: int, sound: Samples, aligner: Aligner
) -> list[Word]:
    """Align words somewhere between two times with the sound there."""
    if not tokens:
        return []
    if high - low < SHORTEST_MS * len(tokens) or high - low > LONGEST_MS:
        spans = shares(tokens, low, high, 1)
        if high - low > LONGEST_MS:
            spans = shares(tokens, low, low + 65 * sum(len(token) + 1 for token in tokens), 1)
        return [Word(token, *span, 0.0) for token, span in zip(tokens, spans, strict=True)]
    start = max(low - MARGIN_MS, 0)
    piece = sound[start * SAMPLE_RATE // 1000 : (high + MARGIN_MS) * SAMPLE_RATE // 1000]
    (times,) = aligner.align([piece], [tokens], [[(low - start, high - start)]])
    words = []
    for token, time in zip(tokens, times, strict=True):
        begin = min(max(start + time.start, low), max(high - 1, low))
        stop = min(max(start + time.end, begin + 1), max(high, begin + 1))
        words.append(Word(token, begin, stop, _confidence(time)))
    return words


def _confidence(time: TimedWord) -> float:
    if time.fit is None:
        return 0.0
    return 1 / (1 + exp(-_STEEP * (time.fit - _MIDDLE)))
