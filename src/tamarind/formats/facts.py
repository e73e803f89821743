"""The facts at the head of a document: duration, number of words, speakers."""

from __future__ import annotations

from dataclasses import dataclass

from tamarind.formats.captionfile import names_of
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Transcript
from tamarind.transcript.survey import words_of


@dataclass(frozen=True, slots=True)
class Facts:
    """``duration`` of the recording (ms), words, cues with text, and speakers in order of
    appearance."""

    duration: int
    words: int
    cues: int
    speakers: tuple[str, ...]


def in_words(facts: Facts, words: str = "{n} words") -> str:
    """Return the line below a document's title; ``words`` says in its language how many there
    are."""
    people = f" · {', '.join(facts.speakers)}" if facts.speakers else ""
    return f"{clock(facts.duration, 0)} · {words.format(n=facts.words)}{people}"


def facts_of(transcript: Transcript, duration: int) -> Facts:
    """Count a text."""
    names = names_of(transcript)
    spoken = [cue for cue in transcript.cues if cue.words]
    speakers = dict.fromkeys(filter(None, (names.get(cue.speaker) for cue in spoken)))
    return Facts(duration, sum(map(words_of, spoken)), len(spoken), tuple(speakers))
