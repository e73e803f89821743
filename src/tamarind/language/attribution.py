"""Show who speaks in captions, as a house style asks: by dashes, names, or colours.

What is kept in the job stays as it is: this is for the files that are written.
"""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

from tamarind.captions.limits import Limits, SpeakerMarks
from tamarind.captions.lines import break_lines, fits, with_breaks
from tamarind.captions.relayout import relay
from tamarind.formats.colours import colour_of, colour_span
from tamarind.transcript.capitals import capitals
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import held

PALETTE = ("white", "yellow", "cyan", "lime", "magenta")
"""Speakers' colours in the order in which they first speak, as television has them; the later ones
begin anew."""

DASH = "-"
NEAR_MS = 500
SHORT_MS = 2_000
"""Two that speak in turn share a cue if they follow each other this soon, and one of them has no
longer than this."""


def with_speakers(transcript: Transcript, limits: Limits) -> Transcript:
    """Return the text with speakers shown in its captions; lines and cues keep within the
    limits."""
    if limits.speakers is SpeakerMarks.DASHES:
        return _dashed(with_breaks(transcript, limits), limits)
    if limits.speakers is SpeakerMarks.COLOURS:
        return _coloured(transcript)
    if limits.speakers in (SpeakerMarks.NAME, SpeakerMarks.BRACKETS):
        return _labelled(transcript, limits)
    return transcript


def _labelled(transcript: Transcript, limits: Limits) -> Transcript:
    """Put a name before the first words of each speaker's turn."""
    labels = {
        speaker.id: _label(speaker.label, limits, transcript.language)
        for speaker in transcript.speakers
    }
    cues: list[Cue] = []
    grown: list[int] = []
    speaking: int | None = None
    for cue in transcript.cues:
        if cue.words and cue.speaker is not None and cue.speaker != speaking:
            cue = _with_label(cue, labels[cue.speaker], limits, transcript.language)
            if not fits([word.text for word in cue.words], limits):
                grown.append(len(cues))
        speaking = cue.speaker if cue.words else speaking
        cues.append(cue)
    text = replace(transcript, cues=tuple(cues))
    for place in reversed(grown):
        text = relay(text, place, place + 1, limits, also_locked=True)
    return with_breaks(text, limits)


def _label(name: str, limits: Limits, language: str) -> tuple[str, ...]:
    in_brackets = limits.speakers is SpeakerMarks.BRACKETS
    said = f"[{name}]" if in_brackets else f"{capitals(name, language)}:"
    return tuple(said.split())


def _with_label(cue: Cue, label: tuple[str, ...], limits: Limits, language: str) -> Cue:
    """Return a cue with a label before its words; its lines stay if the first one has room."""
    start = cue.words[0].start
    marks = [Word(part, start, start + 1, spans=cue.words[0].spans) for part in label]
    words = held([*marks, *cue.words], cue.start, max(cue.end, cue.start + len(cue.words) + 9))
    breaks = cue.breaks
    if breaks is not None:
        breaks = tuple(place + len(label) for place in breaks)
        lines = replace(cue, words=words, breaks=breaks).lines
        if (
            any(limits.width(line) > limits.line_length for line in lines)
            or len(lines) > limits.lines
        ):
            breaks = break_lines([word.token for word in words], limits, language)
    return replace(cue, words=words, breaks=breaks)


def _coloured(transcript: Transcript) -> Transcript:
    """Colour each speaker's words, except words that have a colour."""
    order: dict[int, str | None] = {}
    cues = []
    for cue in transcript.cues:
        if cue.words and cue.speaker is not None:
            name = PALETTE[len(order) % len(PALETTE)]
            span = order.setdefault(cue.speaker, None if name == "white" else colour_span(name))
            if span:
                cue = replace(cue, words=tuple(_in_colour(word, span) for word in cue.words))
        cues.append(cue)
    return replace(transcript, cues=tuple(cues))


def _in_colour(word: Word, span: str) -> Word:
    return word if any(map(colour_of, word.spans)) else replace(word, spans=(span, *word.spans))


def _dashed(transcript: Transcript, limits: Limits) -> Transcript:
    """Join two speakers in quick turn in one cue, each in a line with a dash."""
    cues = list(transcript.cues)
    joined = {
        place for place, (one, other) in enumerate(pairwise(cues)) if _shares(one, other, limits)
    }
    result: list[Cue] = []
    place = 0
    while place < len(cues):
        # Of three in a row the first two share a cue.
        if place in joined:
            result.append(_both(cues[place], cues[place + 1]))
            place += 2
        else:
            result.append(cues[place])
            place += 1
    return replace(transcript, cues=tuple(result))


def _shares(one: Cue, other: Cue, limits: Limits) -> bool:
    """Whether two cues are better shown together."""
    if not one.words or not other.words or limits.lines < 2:
        return False
    if None in (one.speaker, other.speaker) or one.speaker == other.speaker:
        return False
    if one.placement != other.placement or not 0 <= other.start - one.end <= NEAR_MS:
        return False
    if min(one.end - one.start, other.end - other.start) >= SHORT_MS:
        return False
    texts = [f"{DASH} {cue.text}" for cue in (one, other)]
    return (
        max(map(limits.width, texts)) <= limits.line_length
        and other.end - one.start <= limits.longest
        and not limits.is_too_fast(" ".join(texts), one.start, other.end)
    )


def _both(one: Cue, other: Cue) -> Cue:
    marked = []
    for cue in (one, other):
        first = cue.words[0]
        marked += [Word(DASH, first.start, first.start + 1), *cue.words]
    words = held(marked, one.start, max(other.end, one.start + len(marked)))
    breaks = (len(one.words) + 1,)
    notes = "\n\n".join(filter(None, (one.note, other.note)))
    return replace(one, end=other.end, words=words, breaks=breaks, speaker=None, note=notes)
