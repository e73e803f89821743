"""Detect text that nobody said: looping phrases, words in silence, words too fast to say.

Such text is what sequence models write when the sound tells them nothing (Koenecke et al. 2024,
"Careless Whisper", describe it). It is marked, not silently dropped: a person decides.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from tamarind.speech.alignment import TimedWord
from tamarind.speech.consensus import bare

INVENTED_CONFIDENCE = 0.25
"""The confidence that is left to a word that was probably invented."""

LONGEST_PHRASE = 24
REPEATS = {1: 5, 2: 4}
FEWEST_REPEATS = 3
"""How often a phrase stands in a row to be a loop: single words may be said over and over."""

ECHO = 3
"""A phrase of so many words that is said twice in a row may be an echo of the network's own."""

_STUTTER = re.compile(r"(?=.{14})(.{1,6}?)\1{6,}")
"""Laughter is shorter."""

SPOKEN_SHARE = 0.1
NEAR_SPEECH_MS = 200
FASTEST_LETTERS = 40.0
FAST_WORDS = 8


def invented(
    words: Sequence[str], times: Sequence[TimedWord], speech: Sequence[tuple[int, int]]
) -> list[bool]:
    """Return for each word of a segment whether it was probably invented.

    ``speech`` is where somebody speaks, as (start, end) in ms like the ``times``.
    """
    marked = looping(words)
    for place, time in enumerate(times):
        spoken = sum(
            max(0, min(time.end, end + NEAR_SPEECH_MS) - max(time.start, start - NEAR_SPEECH_MS))
            for start, end in speech
        )
        if spoken < SPOKEN_SHARE * (time.end - time.start):
            marked[place] = True
    for first in range(len(words) - FAST_WORDS + 1):
        run = range(first, first + FAST_WORDS)
        length = max(times[run[-1]].end - times[first].start, 1)
        if sum(len(words[place]) for place in run) > FASTEST_LETTERS * length / 1000:
            for place in run:
                marked[place] = True
    return marked


def echoed(words: Sequence[str]) -> list[bool]:
    """Return the words that repeat what was just said, in a loop or once more as a phrase; only the
    sound can tell whether they were said."""
    plain = [bare(word) for word in words]
    marked = looping(words)
    for length in range(ECHO, min(LONGEST_PHRASE, len(plain) // 2) + 1):
        same = 0
        for place in range(length, len(plain)):
            same = same + 1 if plain[place] and plain[place] == plain[place - length] else 0
            if same >= length:
                for index in range(place - length + 1, place + 1):
                    marked[index] = True
    return marked


def looping(words: Sequence[str]) -> list[bool]:
    """Return the words that repeat a phrase over and over, after its first time, and long words of
    the same few letters repeated."""
    plain = [bare(word) for word in words]
    marked = [_STUTTER.search(word) is not None for word in plain]
    for length in range(1, LONGEST_PHRASE + 1):
        needed = REPEATS.get(length, FEWEST_REPEATS)
        same = 0
        for place in range(length, len(plain)):
            same = same + 1 if plain[place] == plain[place - length] else 0
            if same >= length * (needed - 1):
                for index in range(place - same + 1, place + 1):
                    marked[index] = True
    return marked
