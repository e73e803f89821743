"""Take a text back that was edited elsewhere: words keep their times, cues their borders."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tamarind.transcript.bounds import clean_text
from tamarind.transcript.edits import set_text_over, split_cue
from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.transcript.tokens import tokens_of


@dataclass(frozen=True, slots=True)
class Part:
    """A paragraph or cue of the edited text; ``speaker`` is None if none is named."""

    text: str
    speaker: str | None = None


def with_words(transcript: Transcript, parts: Sequence[Part]) -> Transcript:
    """Return the text with the words of the edited one, in its own cues.

    Raises ValueError where there is nothing to match: no text on one of the sides.
    """
    text = " ".join(part.text for part in parts)
    if not text.split() or not any(cue.words for cue in transcript.cues):
        raise ValueError("There are no words to be matched.")
    return set_text_over(transcript, 0, len(transcript.cues), text)


def with_parts(transcript: Transcript, parts: Sequence[Part], paragraphs: bool) -> Transcript:
    """Return a text that has the parts' words already with their speakers, and with their
    ``paragraphs`` if they are that; a part that begins within a cue splits it.

    A part in which nobody is named goes on in the mouth of whoever was named before, if the same
    person spoke in both so far; else who speaks there stays.
    """
    cues = list(transcript.cues)
    speakers = list(transcript.speakers)
    next_id = transcript.next_id()
    place = 0
    named: int | None = None
    spoke: int | None = None
    for part in parts:
        count = len(tokens_of(clean_text(part.text)))
        first = True
        while count and place < len(cues):
            cue = cues[place]
            if not cue.words:
                place += 1
                continue
            if len(cue.words) > count:
                begun, rest = split_cue(cue, count, next_id)
                next_id += 1
                cues[place : place + 1] = [begun, rest]
                cue = begun
            count -= len(cue.words)
            if first and part.speaker is not None:
                named, spoke = _id_of(part.speaker, speakers), cue.speaker
            goes_on = part.speaker is not None or (paragraphs and cue.speaker == spoke)
            speaker = named if goes_on else cue.speaker
            opens = cue.opens_paragraph
            begins = place == 0 or opens or speaker != cues[place - 1].speaker
            if paragraphs and begins != first:
                opens = first
            cues[place] = _changed(cue, speaker, opens)
            first = False
            place += 1
    return replace(transcript, cues=tuple(cues), speakers=tuple(speakers))


def _changed(cue: Cue, speaker: int | None, opens: bool) -> Cue:
    if (cue.speaker, cue.opens_paragraph) == (speaker, opens):
        return cue
    chosen = cue.paragraph_set or cue.opens_paragraph != opens
    return replace(cue, speaker=speaker, opens_paragraph=opens, paragraph_set=chosen)


def _id_of(name: str, speakers: list[Speaker]) -> int:
    known = next((s for s in speakers if s.label.casefold() == name.casefold()), None)
    if known is None:
        known = Speaker(max((s.id for s in speakers), default=0) + 1, name)
        speakers.append(known)
    return known.id
