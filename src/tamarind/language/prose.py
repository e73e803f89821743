"""Turn captions into prose: sentences in paragraphs, with the speakers that captions name by a
colon or a dash."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import replace

from tamarind.language.paragraphing import USUAL_WORDS, Paragraphing
from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.transcript.sentences import ends_sentence

_DASHES = frozenset("-–—‐‑")
_LABEL = re.compile(r"([^\s:\[\]][^:\[\]]{0,59}):")
_MOST_WORDS_OF_A_NAME = 4


def as_prose(transcript: Transcript, words: int = USUAL_WORDS, most: int = 0) -> Transcript:
    """Return the text in paragraphs of about so many ``words`` and at ``most`` so many (0: as many
    as are likely); only the names that become speakers are removed."""
    names = set() if transcript.speakers else _names_in(transcript)
    speakers: dict[str, Speaker] = {}
    cues: list[Cue] = []
    speaking: int | None = None
    for cue in transcript.cues:
        for part, is_marked in _parts(cue, names):
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
            opens = is_marked or not cues or _ends_what_a_dash_began(cues[-1])
            speaker = speaking if speakers else part.speaker
            cues.append(
                replace(
                    part,
                    id=len(cues) + 1,
                    speaker=speaker,
                    opens_paragraph=opens,
                    paragraph_set=opens,
                )
            )
    known_speakers = tuple(speakers.values()) or transcript.speakers
    whole = replace(transcript, cues=tuple(cues), speakers=known_speakers)
    return Paragraphing(whole).parted(words, most)


def _ends_what_a_dash_began(cue: Cue) -> bool:
    return _is_dash(cue.words[0].text) and ends_sentence(cue.words[-1].text)


def _parts(cue: Cue, names: set[str]) -> Iterator[tuple[Cue, bool]]:
    """Split a cue before lines that begin with a dash or a name; return the parts and whether they
    do."""
    starts = [0, *(cue.breaks or ())]
    edges = [start for start in starts if start == 0 or _marks(cue, start, names)]
    for first, last in zip(edges, [*edges[1:], len(cue.words)], strict=True):
        own = cue.words[first:last]
        if own:
            breaks = tuple(place - first for place in cue.breaks or () if first < place < last)
            part = replace(cue, words=own, start=own[0].start, end=own[-1].end, breaks=breaks)
            yield part, _marks(cue, first, names)


def _marks(cue: Cue, place: int, names: set[str]) -> bool:
    """Whether a new speaker begins at the word of an index."""
    if _is_dash(cue.words[place].text):
        return True
    return _label_of(replace(cue, words=cue.words[place:]), names) is not None


def _is_dash(word: str) -> bool:
    """Whether a word is a dash, or begins with one ("-Who")."""
    return word[:1] in _DASHES and (len(word) == 1 or word[1].isalpha())


def _label_of(cue: Cue, names: set[str]) -> tuple[str, int] | None:
    """Return the name at the start of a cue, and its number of words."""
    for count in range(1, min(_MOST_WORDS_OF_A_NAME, len(cue.words)) + 1):
        text = " ".join(word.text for word in cue.words[:count])
        if text.endswith(":"):
            name = text[:-1]
            return (name, count) if name.casefold() in names else None
    return None


def _names_in(transcript: Transcript) -> set[str]:
    """Return names with a colon at the start of lines: in capitals, or used twice."""
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
