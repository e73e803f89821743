"""Detect which language is spoken in a recording, from several places.

A network that hears many languages tells first of all which one it hears (Radford et al. 2022,
"Robust Speech Recognition via Large-Scale Weak Supervision", section 2.3). What it says of several
stretches of speech is put together as the product of experts (Hinton 2002): a language that one of
them rules out is not spoken.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Protocol, runtime_checkable

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.activity import speech_of
from tamarind.speech.languageguess import Guess
from tamarind.transcript.languages import base_of

PLACES = 3
STRETCH_S, ENOUGH_S, WINDOW_S = 10, 3, 30
"""How many places are listened at; how much speech is taken at each, from how much sound."""

UNSAYABLE = frozenset({"la", "sa", "nn"})
"""What the network says of a voice that it cannot make out; nobody brings recordings of these."""

NOT_NIL = 1e-6

CHANGE = -2.0
"""The natural log of how likely it is that the next segment is in another language."""


@runtime_checkable
class LanguageIdentifier(Protocol):
    """Recognises languages."""

    def languages_heard(self, sound: Samples) -> Mapping[str, float]:
        """Return the probability of each language in a sound of some seconds; the sum is 1."""


def identify(
    samples: Samples, part: tuple[int, int], identifier: LanguageIdentifier
) -> tuple[Guess, ...]:
    """Return the likeliest languages of a part (from, to, in ms) of a recording, likeliest first.

    Nothing where nobody speaks.
    """
    start, end = (min(time * SAMPLE_RATE // 1000, len(samples)) for time in part)
    said = [
        identifier.languages_heard(stretch) for stretch in stretches_of_speech(samples[start:end])
    ]
    if not said:
        return ()
    languages = list(said[0])
    logs = np.log([[max(one[tag], NOT_NIL) for tag in languages] for one in said]).mean(axis=0)
    shares = np.exp(logs - logs.max())
    shares /= shares.sum()
    best = [int(place) for place in np.argsort(-shares)]
    found = [Guess(languages[place], float(shares[place])) for place in best]
    return tuple(guess for guess in found if guess.language not in UNSAYABLE)[:3]


def languages_in(
    segments: Sequence[Samples], languages: Sequence[str], identifier: LanguageIdentifier
) -> list[str]:
    """Return which of some languages is spoken in each of successive segments.

    A change costs so much that a short segment that could be either goes with its neighbours: the
    likeliest way through all of them is found (Viterbi 1967).
    """
    if not segments:
        return []
    logs = np.zeros((len(segments), len(languages)))
    for place, segment in enumerate(segments):
        heard = identifier.languages_heard(segment[: STRETCH_S * SAMPLE_RATE])
        shares = np.array([max(heard.get(base_of(tag), 0.0), NOT_NIL) for tag in languages])
        logs[place] = np.log(shares / shares.sum())
    change = CHANGE * (1 - np.eye(len(languages)))
    best, origins = logs[0], []
    for own in logs[1:]:
        ways = best[:, None] + change
        origins.append(ways.argmax(axis=0))
        best = ways.max(axis=0) + own
    at = int(best.argmax())
    found = [at]
    for origin in reversed(origins):
        at = int(origin[at])
        found.append(at)
    return [languages[place] for place in reversed(found)]


def stretches_of_speech(samples: Samples) -> Iterator[Samples]:
    """Return speech without pauses from the middle of each of so many parts; from anywhere if
    nobody speaks there."""
    window = WINDOW_S * SAMPLE_RATE
    size = len(samples) // PLACES
    found = False
    for number in range(PLACES):
        middle = number * size + size // 2
        first = max(min(middle - window // 2, len(samples) - window), 0)
        speech = _speech(samples[first : first + window])
        if len(speech) >= ENOUGH_S * SAMPLE_RATE:
            found = True
            yield speech
    if not found:
        everywhere = (_speech(samples[at : at + window]) for at in range(0, len(samples), window))
        speech = next((one for one in everywhere if len(one)), np.zeros(0, np.float32))
        if len(speech):
            yield speech


def _speech(sound: Samples) -> Samples:
    """Return where somebody speaks in a sound, up to as much as is needed."""
    step = SAMPLE_RATE // 1000
    parts = [sound[start * step : end * step] for start, end in speech_of(sound)]
    return np.concatenate([*parts, np.zeros(0, np.float32)])[: STRETCH_S * SAMPLE_RATE]
