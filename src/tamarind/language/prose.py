"""Captions as something to be read: sentences in paragraphs, with who speaks where the captions say
so by a name and a colon, or by a dash."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import replace

from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.transcript.sentences import ends_sentence

PAUSE_MS = 2_500
"""After a sentence and so long a pause another paragraph begins."""

LONG_WORDS = 90
"""A paragraph of so many words ends with its sentence."""

_DASHES = frozenset("-–—‐‑")
_LABEL = re.compile(r"([^\s:\[\]][^:\[\]]{0,59}):")
_MOST_WORDS_OF_A_NAME = 4


def as_prose(transcript: Transcript) -> Transcript:
    """The text with paragraphs where a reader wants them; every word stays but for the names that
    become speakers."""
    names = set() if transcript.speakers else _names_in(transcript)
    speakers: dict[str, Speaker] = {}
    cues: list[Cue] = []
    speaking: int | None = None
    words = 0
    for cue, after_pause in _with_pauses(transcript.cues):
        for part, is_marked in _parts(cue, names):
            opens = is_marked or cue.opens_paragraph
            label = _label_of(part, names)
            if label:
                name, count = label
                known = speakers.setdefault(name.casefold(), Speaker(len(speakers) + 1, name))
                speaking = known.id
                part = replace(part, words=part.words[count:])
            elif is_marked:
                speaking = None
            if not part.words:
                continue
            said = cues[-1].words[-1].text if cues else ""
            ended = ends_sentence(said) if cues else True
            dashed = bool(cues) and _has_dash(cues[-1])
            opens |= ended and (after_pause or words >= LONG_WORDS or dashed)
            speaker = speaking if speakers else part.speaker
            opens |= bool(cues) and speaker != cues[-1].speaker
            words = len(part.words) if opens else words + len(part.words)
            cues.append(
                replace(part, id=len(cues) + 1, speaker=speaker, opens_paragraph=opens or not cues)
            )
            after_pause = False
    known_speakers = tuple(speakers.values()) or transcript.speakers
    return replace(transcript, cues=tuple(cues), speakers=known_speakers)


def _with_pauses(cues: Sequence[Cue]) -> Iterator[tuple[Cue, bool]]:
    """Cues with words, and whether a pause is before them."""
    end: int | None = None
    for cue in cues:
        if cue.words:
            yield (
                replace(cue, opens_paragraph=False),
                end is not None and cue.start - end >= PAUSE_MS,
            )
            end = cue.end


def _parts(cue: Cue, names: set[str]) -> Iterator[tuple[Cue, bool]]:
    """A cue parted before lines that begin with a dash or a name, and whether they do."""
    starts = [0, *(cue.breaks or ())]
    edges = [start for start in starts if start == 0 or _marks(cue, start, names)]
    for first, last in zip(edges, [*edges[1:], len(cue.words)], strict=True):
        own = cue.words[first:last]
        if own:
            breaks = tuple(place - first for place in cue.breaks or () if first < place < last)
            part = replace(cue, words=own, start=own[0].start, end=own[-1].end, breaks=breaks)
            yield part, _marks(cue, first, names)


def _marks(cue: Cue, place: int, names: set[str]) -> bool:
    """Whether somebody begins to speak with the word at a place."""
    if _is_dash(cue.words[place].text):
        return True
    return _label_of(replace(cue, words=cue.words[place:]), names) is not None


def _is_dash(word: str) -> bool:
    """A dash by itself, or before a word ("-Who")."""
    return word[:1] in _DASHES and (len(word) == 1 or word[1].isalpha())


def _has_dash(cue: Cue) -> bool:
    return _is_dash(cue.words[0].text)


def _label_of(cue: Cue, names: set[str]) -> tuple[str, int] | None:
    """The name at the start of a cue, and how many words it has."""
    for count in range(1, min(_MOST_WORDS_OF_A_NAME, len(cue.words)) + 1):
        text = " ".join(word.text for word in cue.words[:count])
        if text.endswith(":"):
            name = text[:-1]
            return (name, count) if name.casefold() in names else None
    return None


def _names_in(transcript: Transcript) -> set[str]:
    """Names with a colon at the start of lines: in capitals, or said twice."""
    found: Counter[str] = Counter()
    shouted: set[str] = set()
    for cue in transcript.cues:
        for line in cue.lines if cue.words else ():
            match = _LABEL.match(line.lstrip("-–— "))
            words = match[1].split() if match else []
            if not match or not 0 < len(words) <= _MOST_WORDS_OF_A_NAME:
                continue
            if match[1].isupper():
                shouted.add(match[1].casefold())
            if all(word[:1].isupper() or word[:1].isdigit() for word in words):
                found[match[1].casefold()] += 1
    return {name for name, count in found.items() if count > 1} | shouted
