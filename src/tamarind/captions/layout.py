"""Timed words become cues: by sentence, by pause, and within the limits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import groupby

from tamarind.captions.limits import Limits
from tamarind.captions.lines import border_cost, ends_sentence, fits
from tamarind.transcript.model import Cue, Word

STRETCH_PAUSE_MS = 1_200
"""A pause that ends a cue even within a sentence."""

PARAGRAPH_PAUSE_MS = 1_800
SHORT_LETTERS = 24
BRIDGED_PAUSE_MS = 600


def lay_out(
    words: Sequence[Word],
    limits: Limits,
    first_id: int = 1,
    after: int = 0,
    voices: Sequence[int | None] = (),
) -> list[Cue]:
    """Cues for a run of words, in order, numbered from ``first_id``, none before ``after`` (ms).

    ``voices`` may say for each word who speaks it; a cue has one speaker.
    """
    groups: list[tuple[list[Word], int | None]] = []
    spoken = zip(words, voices or [None] * len(words), strict=True)
    for voice, run in groupby(spoken, key=lambda pair: pair[1]):
        begun = len(groups)
        for sentence in _sentences([word for word, _ in run]):
            for piece in _divided(sentence, limits):
                if len(groups) > begun and _belong_together(groups[-1][0], piece, limits):
                    groups[-1] = (groups[-1][0] + piece, voice)
                else:
                    groups.append((piece, voice))
    cues = [
        Cue(first_id + place, group[0].start, group[-1].end, tuple(group), voice)
        for place, (group, voice) in enumerate(groups)
    ]
    return with_paragraphs(time_cues(cues, limits, after))


def time_cues(cues: Sequence[Cue], limits: Limits, after: int = 0) -> list[Cue]:
    """Give cues lead-in and lead-out and their shortest time, as far as neighbours leave room.

    ``after`` is the end of the cue before the first, in ms.
    """
    result: list[Cue] = []
    for place, cue in enumerate(cues):
        floor = result[-1].end + limits.gap if result else after
        following = cues[place + 1].words[0].start if place + 1 < len(cues) else None
        start = max(cue.words[0].start - limits.lead_in, floor if result else after, 0)
        start = min(start, cue.words[0].start)
        end = max(cue.words[-1].end + limits.lead_out, start + limits.shortest)
        if following is not None:
            end = min(end, following - limits.lead_in - limits.gap)
        end = max(end, cue.words[-1].end)
        if following is not None:
            end = min(end, max(following, start + 1))
        result.append(replace(cue, start=start, end=end))
    return result


def with_paragraphs(cues: Sequence[Cue]) -> list[Cue]:
    """Open a paragraph at the first cue, at a change of speaker, and after a long pause."""
    result: list[Cue] = []
    for cue in cues:
        previous = result[-1] if result else None
        opens = (
            previous is None
            or previous.speaker != cue.speaker
            or (
                cue.words[0].start - previous.words[-1].end >= PARAGRAPH_PAUSE_MS
                and ends_sentence(previous.words[-1].text)
            )
        )
        result.append(replace(cue, opens_paragraph=opens))
    return result


def _sentences(words: Sequence[Word]) -> list[list[Word]]:
    result: list[list[Word]] = []
    open_sentence = False
    for word in words:
        if open_sentence and word.start - result[-1][-1].end < STRETCH_PAUSE_MS:
            result[-1].append(word)
        else:
            result.append([word])
        open_sentence = not ends_sentence(word.text)
    return result


def _divided(words: list[Word], limits: Limits) -> list[list[Word]]:
    """Halve what does not fit one cue, at the best border near its middle."""
    long = words[-1].end - words[0].start > limits.longest
    if len(words) < 2 or (not long and fits([word.text for word in words], limits)):
        return [words]
    total = sum(len(word.text) + 1 for word in words)
    best, place = float("inf"), 1
    letters = 0
    for index in range(1, len(words)):
        letters += len(words[index - 1].text) + 1
        pause = words[index].start - words[index - 1].end
        cost = border_cost(words[index - 1].text, words[index].text)
        cost += 6 * (letters / total - 0.5) ** 2 - min(pause, 1000) / 400
        if cost < best:
            best, place = cost, index
    return _divided(words[:place], limits) + _divided(words[place:], limits)


def _belong_together(group: list[Word], piece: list[Word], limits: Limits) -> bool:
    """Whether a flash of a cue is better read with its neighbour."""
    if piece[0].start - group[-1].end > BRIDGED_PAUSE_MS:
        return False
    short = min(_letters(group), _letters(piece)) <= SHORT_LETTERS
    together = group + piece
    return (
        short
        and together[-1].end - together[0].start <= limits.longest
        and fits([word.text for word in together], limits)
    )


def _letters(words: Sequence[Word]) -> int:
    return sum(len(word.text) + 1 for word in words)
