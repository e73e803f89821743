"""The result of telling speakers apart again, and a text with it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tamarind.speech.diarisation.voiceprint import Voiceprint
from tamarind.transcript.model import Transcript
from tamarind.transcript.speakers import as_known, known_as


@dataclass(frozen=True, slots=True)
class Told:
    """The speaker of each word (None: unknown), and the speakers' voiceprints."""

    speakers: tuple[int | None, ...]
    voices: tuple[Voiceprint, ...]


def in_own_numbers(told: Told, text: Transcript, first: int, last: int) -> Told:
    """Return the result in the numbers of the text's speakers, where these are the same people in
    the cues [``first``, ``last``); others get new numbers."""
    known = known_as(text, first, last, told.speakers)
    voices = tuple(replace(voice, speaker=known[voice.speaker]) for voice in told.voices)
    return Told(as_known(told.speakers, known), voices)


def with_voices_of(before: Sequence[Voiceprint], told: Told) -> tuple[Voiceprint, ...]:
    """Return the voiceprints of all speakers of a recording, updated by the result."""
    new = {voice.speaker for voice in told.voices}
    return (*(voice for voice in before if voice.speaker not in new), *told.voices)
