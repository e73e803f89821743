"""Find words in other places of a job that sound like a mistake or like its correction."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import lru_cache

from tamarind.speech.pronouncing import Phones, phones_of, starts_alike, unlikeness
from tamarind.transcript.corrections import Correction, Occurrence
from tamarind.transcript.model import Transcript, Word
from tamarind.transcript.reconcile import letters_of

UNLIKE_AT_MOST = 0.3
"""What sounds less alike than this is not thought of; see ``pronouncing`` for the measure."""

LEAST_UNLIKE = 0.01
"""For what sounds just the same but is written otherwise."""

CERTAIN_FROM = 0.97
"""Words heard with this confidence are another word that sounds alike."""


def sounding_alike(
    texts: Iterable[tuple[int, Transcript]], correction: Correction
) -> Iterator[Occurrence]:
    """Return places that sound like the mistake or the right words but are written as neither.

    ``texts`` are the job's recordings by their ids.
    """
    forms = {_phones(correction.wrong), _phones(correction.right)} - {()}
    written = {letters_of(correction.wrong), letters_of(correction.right)}
    most = max(len(correction.wrong.split()), len(correction.right.split())) + 1
    for recording, text in texts:
        for place, cue in enumerate(text.cues):
            yield from _in_cue(recording, place, cue.words, forms, written, most)


def _in_cue(
    recording: int,
    place: int,
    words: tuple[Word, ...],
    forms: set[Phones],
    written: set[str],
    most: int,
) -> Iterator[Occurrence]:
    found: list[Occurrence] = []
    for first in range(len(words)):
        for last in range(first + 1, min(first + most, len(words)) + 1):
            span = words[first:last]
            if letters_of(span[-1].text) in written:
                break
            if min(_sure(word) for word in span) >= CERTAIN_FROM:
                continue
            text = " ".join(word.text for word in span)
            unlike = min((_unlike(form, text) for form in forms), default=1.0)
            if unlike <= UNLIKE_AT_MOST and letters_of(text) not in written:
                unlike = max(unlike, LEAST_UNLIKE)
                found.append(
                    Occurrence(recording, place, first, last=last, text=text, unlike=unlike)
                )
    taken: set[int] = set()
    for spot in sorted(found, key=lambda spot: (spot.unlike, spot.last - spot.first)):
        if taken.isdisjoint(range(spot.first, spot.last)):
            taken.update(range(spot.first, spot.last))
            yield spot


def _sure(word: Word) -> float:
    return 1.0 if word.confidence is None else word.confidence


def _unlike(form: Phones, text: str) -> float:
    heard = _phones(text)
    if not heard or abs(len(heard) - len(form)) > 2 + len(form) // 3:
        return 1.0
    return unlikeness(heard, form) if starts_alike(heard, form) else 1.0


@lru_cache(maxsize=20_000)
def _phones(text: str) -> Phones:
    return tuple(phone for word in text.split() for phone in phones_of(word))
