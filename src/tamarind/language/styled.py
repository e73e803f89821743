"""Rewrite a text in a style: wording and punctuation for documents, numbers and quantities from the
draft on."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from tamarind.language.clean import without
from tamarind.language.housestyle import Verbatim, Wording
from tamarind.language.numbers import changes
from tamarind.language.regional import spelled
from tamarind.language.typography import restyled
from tamarind.language.verbatim import left_out, without_stutter
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import carried_breaks, retext, shared_spans, spread
from tamarind.transcript.tokens import tokens_of


def as_style_wants(transcript: Transcript, wording: Wording) -> Transcript:
    """Return the text for a document without what a clean one leaves out, and with the style's
    quotes and dashes; the text in the job stays."""
    transcript = as_verbatim(transcript, wording)
    usual = transcript.language
    cues = tuple(_marked(cue, wording, cue.language or usual) for cue in transcript.cues)
    return replace(transcript, cues=cues)


def as_verbatim(transcript: Transcript, wording: Wording) -> Transcript:
    """Return the text without what the style's degree of verbatim leaves out."""
    if wording.verbatim is Verbatim.FULL:
        return transcript
    return without(transcript, left_out(transcript, wording), without_stutter)


def as_style_writes(transcript: Transcript, wording: Wording) -> Transcript:
    """Return a draft with numbers, dates, times, amounts, measures and letters in the style's form,
    in its region's spelling. Doubts stay doubts and keep their alternatives."""
    usual = transcript.language
    cues = tuple(_written(cue, wording, cue.language or usual) for cue in transcript.cues)
    return transcript if cues == transcript.cues else replace(transcript, cues=cues)


def _written(cue: Cue, wording: Wording, language: str) -> Cue:
    def rewritten(texts: Sequence[str]) -> list[str]:
        new = list(texts)
        for change in reversed(changes(texts, wording, language)):
            new[change.first : change.last] = tokens_of(change.new)
        return new

    words = list(cue.words)
    for change in reversed(changes([word.text for word in words], wording, language)):
        said = words[change.first : change.last]
        words[change.first : change.last] = _said_as(said, tokens_of(change.new), rewritten)
    words = [_spelled(word, language, wording.spelling) for word in words]
    if len(words) == len(cue.words) and tuple(words) == cue.words:
        return cue
    return replace(cue, words=tuple(words), breaks=carried_breaks(cue, tuple(words)))


def _spelled(word: Word, language: str, region: str) -> Word:
    text = spelled(word.text, language, region)
    return word if text == word.text else replace(word, text=text)


def _said_as(
    said: Sequence[Word], tokens: Sequence[str], rewritten: Callable[[Sequence[str]], list[str]]
) -> list[Word]:
    """Return other words for what was recognised, with their alternatives written in the same way.

    As many words as there were keep their times and certainty, each its own; else they share the
    time and have the least certainty, and one word alone has the readings of all.
    """
    texts = [word.text for word in said]

    def with_reading(place: int, reading: str) -> list[str]:
        # Behind a word, since the first of a sentence is written otherwise.
        whole = ["said", *texts[:place], *tokens_of(reading), *texts[place + 1 :]]
        return rewritten(whole)[1:]

    if len(tokens) == len(said):
        return [
            replace(
                word, text=str(token), alternatives=_own_readings(word, place, token, with_reading)
            )
            for place, (word, token) in enumerate(zip(said, tokens, strict=True))
        ]
    known = [word.confidence for word in said if word.confidence is not None]
    written = spread(tokens, said[0].start, said[-1].end, shared_spans(said))
    written = [replace(word, confidence=min(known, default=None)) for word in written]
    if len(written) == 1:
        whole = [
            " ".join(with_reading(place, reading))
            for place, word in enumerate(said)
            for reading in word.alternatives
        ]
        readings = tuple(dict.fromkeys(one for one in whole if one != tokens[0]))
        written = [replace(written[0], alternatives=readings)]
    return written


def _own_readings(
    word: Word, place: int, token: str, with_reading: Callable[[int, str], list[str]]
) -> tuple[str, ...]:
    """Return a word's alternatives as they would be written among the others."""
    if not word.alternatives:
        return ()
    readings = []
    for reading in word.alternatives:
        if word.missing and reading == word.alternatives[0]:
            readings.append(f"{word.missing} {token}")
            continue
        new = with_reading(place, reading)
        readings.append(new[place] if " " not in reading and place < len(new) else reading)
    return tuple(dict.fromkeys(one for one in readings if one != token))


def _marked(cue: Cue, wording: Wording, language: str) -> Cue:
    text = restyled(cue.text, wording, language)
    return cue if text == cue.text else retext(cue, text)
