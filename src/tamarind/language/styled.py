"""A text as a style wants it: wording and marks for the documents that are read, numbers and
quantities from the draft on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tamarind.language.clean import cleaned
from tamarind.language.housestyle import Wording
from tamarind.language.numbers import changes
from tamarind.language.typography import restyled
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import carried_breaks, retext, shared_spans, spread
from tamarind.transcript.tokens import tokens_of


def as_style_wants(transcript: Transcript, wording: Wording) -> Transcript:
    """The text without what a clean one leaves out, and with the style's quotes and dashes, for a
    document; what is kept in a job stays as it is."""
    if wording.clean:
        transcript = cleaned(transcript, wording.fillers)
    usual = transcript.language
    cues = tuple(_marked(cue, wording, cue.language or usual) for cue in transcript.cues)
    return replace(transcript, cues=cues)


def as_style_writes(transcript: Transcript, wording: Wording) -> Transcript:
    """A draft with its numbers, dates, times, amounts, measures and letters as the style wants
    them. Those with a doubtful word stay as they were heard, with their readings."""
    usual = transcript.language
    cues = tuple(_in_figures(cue, wording, cue.language or usual) for cue in transcript.cues)
    return transcript if cues == transcript.cues else replace(transcript, cues=cues)


def _in_figures(cue: Cue, wording: Wording, language: str) -> Cue:
    words = list(cue.words)
    for change in reversed(changes([word.text for word in words], wording, language)):
        said = words[change.first : change.last]
        if not any(word.is_doubt() or word.missing for word in said):
            words[change.first : change.last] = _said_as(said, change.new)
    if len(words) == len(cue.words) and tuple(words) == cue.words:
        return cue
    return replace(cue, words=tuple(words), breaks=carried_breaks(cue, tuple(words)))


def _said_as(said: Sequence[Word], new: str) -> list[Word]:
    """Other words for what was heard, in its time and with its least certainty."""
    known = [word.confidence for word in said if word.confidence is not None]
    tokens = tokens_of(new)
    written = spread(tokens, said[0].start, said[-1].end, shared_spans(said))
    return [replace(word, confidence=min(known, default=None)) for word in written]


def _marked(cue: Cue, wording: Wording, language: str) -> Cue:
    text = restyled(cue.text, wording, language)
    return cue if text == cue.text else retext(cue, text)
