"""Check that everything said is in the text: each stretch of speech lies under words that fit it.

A network that writes a text as a whole may skip a sentence, most of all one like the sentence
before it; forced alignment then draws the next word out over what was skipped. Such a word is much
longer than its phones can be and fits what lies under it badly. A stretch of speech with such a
word, with no words, or with far fewer than anybody says in that time is heard again by itself. What
comes is taken where the sound speaks for it; where nothing better comes, the place is told.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.alignment import TimedWord
from tamarind.speech.consensus import bare
from tamarind.speech.inventions import looping
from tamarind.speech.recognisers.base import HeardWord, Hypothesis

Span = tuple[int, int]

PHONE_MS = 80
"""About what a phone lasts; of those who speak slowly, half as much again."""

STRETCHED_MS = 350
"""A word that is longer by this than slow speakers need holds something else."""

WORST_MS = 900
"""One that is longer by this does, however it fits."""

LESS_FIT = 1.8
"""It fits by so much less than words do in the same recording (log likelihood a step)."""

USUAL_FIT = -2.3
FEWEST_FITS = 20

WITHOUT_MS = 500
"""Speech of this length without any word is heard again."""

TOLD_MS = 900
"""What nobody hears in less is a breath, a laugh, or the tail of a word."""

PAUSE_MS = 240
"""Stretches of speech are apart by at least this."""

REST_MS, NEAR_MS, FAR_MS = 120, 1_500, 5_000
"""Words are apart by such a rest where a phrase ends. Those near to what is not covered may have
wrong times themselves; further away than that nothing need be heard."""

BESIDE_MS = 160
SHORTEST_MS = 300
LONGEST_MS = 25_000
LESS_NEEDS = 25.0
"""A text that says no more must fit better by this (log likelihood of all) to be taken."""

LEAST_SURE = 0.5
"""Words in place of none are believed from this confidence on, as a mean."""


@dataclass(frozen=True, slots=True)
class PlacedText:
    """A text in a segment: its words with times (ms from the segment's start)."""

    words: tuple[HeardWord, ...]
    times: tuple[TimedWord, ...]


@dataclass(frozen=True, slots=True)
class Uncovered:
    """A stretch of speech (ms) that its words [``first``, ``last``) do not cover; ``worst`` is the
    part that shows it. If that is ``suspect``, an ordinary word drawn out over something else, a
    recogniser that hears the same again is not believed."""

    span: Span
    first: int
    last: int
    worst: Span
    suspect: bool = False


def usual_fit(texts: Sequence[PlacedText]) -> float:
    """Return the median fit of the words of some segments."""
    fits = [time.fit for text in texts for time in text.times if time.fit is not None]
    return float(np.median(fits)) if len(fits) >= FEWEST_FITS else USUAL_FIT


def uncovered(text: PlacedText, speech: Sequence[Span], usual: float) -> list[Uncovered]:
    """Return the stretches of ``speech`` (ms from the segment's start) that the words do not
    cover."""
    found = []
    middles = [(time.start + time.end) / 2 for time in text.times]
    for start, end in _stretches(text, speech):
        if not SHORTEST_MS <= end - start <= LONGEST_MS:
            continue
        first = sum(middle < start for middle in middles)
        last = first + sum(start <= middle < end for middle in middles[first:])
        found_in = _worst(text, first, last, (start, end), usual)
        if found_in is not None:
            found.append(_narrowed(text, Uncovered((start, end), first, last, *found_in)))
    return found


def _narrowed(text: PlacedText, stretch: Uncovered) -> Uncovered:
    """Shorten a stretch to what can be recognised by itself: between rests around what is not
    covered, and not far from it."""
    (start, end), first, last, worst = stretch.span, stretch.first, stretch.last, stretch.worst
    times = text.times
    for at in range(last - 1, first, -1):
        if times[at].start <= worst[0]:
            rest = times[at].start - times[at - 1].end
            away = worst[0] - times[at].start
            if away >= NEAR_MS and (rest >= REST_MS or away >= FAR_MS):
                first, start = at, times[at].start - rest // 2
                break
    for at in range(first, last - 1):
        if times[at].end >= worst[1]:
            rest = times[at + 1].start - times[at].end
            away = times[at].end - worst[1]
            if away >= NEAR_MS and (rest >= REST_MS or away >= FAR_MS):
                last, end = at + 1, times[at].end + rest // 2
                break
    return replace(stretch, span=(start, end), first=first, last=last)


def _stretches(text: PlacedText, speech: Sequence[Span]) -> list[Span]:
    """Split speech at pauses, but never within a word."""
    ends = [(time.start, time.end) for time in text.times]
    joined: list[list[int]] = []
    for start, end in sorted([*speech, *ends]):
        if joined and start - joined[-1][1] < PAUSE_MS:
            joined[-1][1] = max(joined[-1][1], end)
        else:
            joined.append([start, end])
    return [(start, end) for start, end in joined]


def _worst(
    text: PlacedText, first: int, last: int, span: Span, usual: float
) -> tuple[Span, bool] | None:
    """Return the part of a stretch that shows best that its words do not cover it, if any, and
    whether it is an ordinary word that fits badly."""
    longest: tuple[int, Span, bool] | None = None
    own = text.times[first:last]
    words = text.words[first:last]
    ends = [*(time.start for time in own[1:]), *([span[1]] if own else [])]
    for word, time, end in zip(words, own, ends, strict=True):
        # Up to the next word: what is left out lies under a word, or behind it.
        too_long = end - time.start - 3 * PHONE_MS * time.phones // 2
        if time.fit is None or too_long < STRETCHED_MS:
            continue
        fits = time.fit > usual - LESS_FIT
        if (not fits or too_long >= WORST_MS) and (longest is None or too_long > longest[0]):
            worst = time.start, max(end, time.end)
            drawn_out = too_long - (end - time.end) >= STRETCHED_MS
            suspect = not fits and drawn_out and _is_ordinary(word.text)
            suspect = suspect and worst[1] - worst[0] >= TOLD_MS
            longest = too_long, worst, suspect
    if longest is not None:
        return longest[1:]
    edges = [span[0], *(t for time in text.times[first:last] for t in (time.start, time.end))]
    edges.append(span[1])
    gaps = [(b - a, (a, b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]
    length, gap = max(gaps)
    return (gap, False) if length >= WITHOUT_MS else None


def _is_ordinary(word: str) -> bool:
    """Whether a word's pronunciation is known; that of digits, initials and addresses is not."""
    plain = bare(word)
    return plain.isalpha() and not (word.strip(".,;:!?").isupper() or "." in word[:-1])


Hear = Callable[[Sequence[Samples]], Sequence[Hypothesis]]
Align = Callable[[Sequence[Samples], Sequence[Hypothesis]], Sequence[Sequence[TimedWord]]]
Fits = Callable[[Samples, Sequence[Sequence[str]]], Sequence[float]]


@dataclass(frozen=True, slots=True)
class Ears:
    """How a stretch is transcribed again: the recognisers to try until one finds more, how a text
    gets its times, and how well texts fit a sound."""

    hear: Sequence[Hear]
    align: Align
    fits: Fits


def covered(
    texts: Sequence[PlacedText],
    sounds: Sequence[Samples],
    speech: Sequence[Sequence[Span]],
    ears: Ears,
) -> tuple[list[PlacedText], list[list[Span]]]:
    """Return the texts of segments, with words added where they did not cover the speech, and for
    each the places (ms) where something may still be missing."""
    usual = usual_fit(texts)
    result = list(texts)
    told: list[list[Span]] = [[] for _ in texts]
    places = [
        (number, stretch)
        for number, text in enumerate(texts)
        for stretch in uncovered(text, speech[number], usual)
    ]
    for number_of_ear, hear in enumerate(ears.hear):
        if not places:
            break
        parts = [_sound(sounds[number], stretch.span) for number, stretch in places]
        heard = hear(parts)
        times = ears.align(parts, heard)
        left: list[tuple[int, Uncovered]] = []
        # From behind, so that places before stay where they are.
        for (number, stretch), part, text, when in reversed(
            list(zip(places, parts, heard, times, strict=True))
        ):
            old = result[number].words[stretch.first : stretch.last]
            doubted = stretch.suspect and number_of_ear == 0
            offset = max(stretch.span[0] - BESIDE_MS, 0)
            text, when = _within(text, when, offset, stretch.span)
            verdict = _judged(old, text, part, ears.fits, doubted)
            if verdict is None:
                left.append((number, stretch))
            elif verdict:
                result[number] = _replaced(result[number], stretch, text, when, offset)
                more = len(text.words) - len(old)
                # Those behind it in the same segment have moved.
                left = [
                    (n, replace(s, first=s.first + more, last=s.last + more) if n == number else s)
                    for n, s in left
                ]
        places = left[::-1]
    for number, stretch in places:
        if stretch.worst[1] - stretch.worst[0] >= TOLD_MS:
            told[number].append(stretch.worst)
    return result, told


def _sound(sound: Samples, span: Span) -> Samples:
    first, last = max(span[0] - BESIDE_MS, 0), span[1] + BESIDE_MS
    return sound[first * SAMPLE_RATE // 1000 : last * SAMPLE_RATE // 1000]


def _within(
    text: Hypothesis, times: Sequence[TimedWord], offset: int, span: Span
) -> tuple[Hypothesis, Sequence[TimedWord]]:
    """Return the words within a stretch; those at its edges may be its neighbours'."""
    kept = [
        place
        for place, time in enumerate(times)
        if span[0] <= (time.start + time.end) / 2 + offset < span[1]
    ]
    words = tuple(text.words[place] for place in kept)
    return replace(text, words=words), [times[place] for place in kept]


def _judged(
    old: Sequence[HeardWord], new: Hypothesis, sound: Samples, fits: Fits, doubted: bool
) -> bool | None:
    """Whether a text should replace the old one; None if neither can be believed, as where the old
    one is ``doubted`` and the new one says no more."""
    before, after = ([word.text for word in words] for words in (old, new.words))
    if _plain(before) == _plain(after):
        return False if before and not doubted else None
    if not after or any(looping(after)):
        return None
    sure = sum(word.confidence for word in new.words) / len(new.words)
    if sure < LEAST_SURE:
        return None
    if not before:
        return True
    was, now = fits(sound, [before, after])
    says_more = len(_plain(after)) > len(_plain(before))
    if now > was + (0 if says_more else LESS_NEEDS):
        return True
    return False if not doubted and len(_plain(after)) <= len(_plain(before)) else None


def _plain(words: Sequence[str]) -> list[str]:
    return [plain for word in words if (plain := bare(word))]


def _replaced(
    text: PlacedText, stretch: Uncovered, new: Hypothesis, times: Sequence[TimedWord], offset: int
) -> PlacedText:
    """Return a text with other words in a stretch; their times count from ``offset`` (ms)."""
    low = text.times[stretch.first - 1].end if stretch.first else 0
    high = text.times[stretch.last].start if stretch.last < len(text.times) else None
    moved = []
    for time in times:
        start = max(time.start + offset, low)
        end = max(time.end + offset, start + 1)
        moved.append(TimedWord(start, end, time.fit, time.phones))
        low = end
    if high is not None and moved and moved[-1].end > high:
        moved = [
            TimedWord(min(time.start, high - 1), min(time.end, high), time.fit, time.phones)
            for time in moved
        ]
    return PlacedText(
        (*text.words[: stretch.first], *new.words, *text.words[stretch.last :]),
        (*text.times[: stretch.first], *moved, *text.times[stretch.last :]),
    )
