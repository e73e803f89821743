"""Plain transcripts (.txt): paragraphs, with or without speakers and times."""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass

from tamarind.formats.captionfile import FormatError, RawCue, names_of, transcript_of
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Transcript
from tamarind.transcript.takeback import Part

_MS_A_LETTER = 65
_STAMP = re.compile(r"^\[\d+(?::\d\d){1,2}(?:[.,]\d+)?\]\s*")
_LABEL = re.compile(r"^([^:\[\]]{1,60}):\s+")
_MOST_WORDS_OF_A_NAME = 4


@dataclass(frozen=True, slots=True)
class TextOptions:
    """What a plain transcript shows besides the words."""

    speakers: bool = True
    times: bool = False


PLAIN = TextOptions()


def write(transcript: Transcript, options: TextOptions = PLAIN) -> str:
    """Paragraphs apart by a blank line; a speaker's name stands once, at each change."""
    names = names_of(transcript)
    paragraphs: list[str] = []
    previous: int | None = None
    words: list[str] = []
    for cue in transcript.cues:
        if not cue.words:
            continue
        changed = cue.speaker != previous
        if not words or cue.opens_paragraph or changed:
            if words:
                paragraphs.append(" ".join(words))
            words = []
            if options.times:
                words.append(f"[{clock(cue.start, 0)}]")
            name = names.get(cue.speaker)
            if options.speakers and name and (changed or options.times):
                words.append(f"{name}:")
        words.append(cue.text)
        previous = cue.speaker
    if words:
        paragraphs.append(" ".join(words))
    return "\n\n".join(paragraphs) + ("\n" if paragraphs else "")


def read(text: str, language: str) -> Transcript:
    """One cue a paragraph, with times by length, for text that has no times of its own."""
    paragraphs = [" ".join(part.split()) for part in re.split(r"\n\s*\n", text)]
    raw: list[RawCue] = []
    at = 0
    for paragraph in filter(None, paragraphs):
        end = at + (len(paragraph) + 1) * _MS_A_LETTER
        raw.append(RawCue(at, end, (paragraph,)))
        at = end
    if not raw:
        raise FormatError("The file holds no text.")
    return transcript_of(raw, language)


def read_parts(text: str, names: Collection[str]) -> list[Part]:
    """The paragraphs of a transcript that was written with speakers, perhaps edited since.

    ``names`` are the speakers that are known; another label counts as a name where there are any
    and all its words begin with a capital.
    """
    known = {name.casefold() for name in names}
    parts: list[Part] = []
    for paragraph in re.split(r"\n\s*\n", text):
        line = _STAMP.sub("", " ".join(paragraph.split()))
        label = _LABEL.match(line)
        if label and _is_name(label[1], known):
            parts.append(Part(line[label.end() :], label[1]))
        elif line:
            parts.append(Part(line))
    return parts


def _is_name(label: str, known: Collection[str]) -> bool:
    if label.casefold() in known:
        return True
    words = label.split()
    few = 0 < len(words) <= _MOST_WORDS_OF_A_NAME
    return bool(known) and few and all(word[:1].isupper() for word in words)
