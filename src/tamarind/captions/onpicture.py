"""Lay out cues as captions on a picture, in the lines that caption style and house style ask
for."""

from __future__ import annotations

import re
from dataclasses import replace
from itertools import pairwise

from tamarind.captions.limits import Limits
from tamarind.captions.lines import with_breaks
from tamarind.captions.relayout import relay
from tamarind.picture.caption import Caption, Line, SaidWord
from tamarind.picture.looks import Look, Place
from tamarind.transcript.model import Cue, Transcript, Word

SHORTEST_MS = 300
"""Where a look wants shorter lines than the house style, cues may be as short as this."""

_LINE = re.compile(r"\bline:(-?\d+(?:\.\d+)?)(%?)")
UPPER_HALF = 50
ITALIC = "i"


def captions_of(
    text: Transcript, limits: Limits, look: Look, second: Transcript | None = None
) -> list[Caption]:
    """Return the captions of all cues with words, in order. ``second`` is the text in another
    language, with the same cue numbers; a style that cuts cues anew for its shorter lines cannot
    show it."""
    fit = look.fit
    if fit.line_length or fit.lines:
        limits = replace(
            limits,
            line_length=min(fit.line_length or limits.line_length, limits.line_length),
            wide_line_length=min(
                (fit.line_length + 1) // 2 or limits.wide_line_length, limits.wide_line_length
            ),
            lines=min(fit.lines or limits.lines, limits.lines),
            shortest=min(limits.shortest, SHORTEST_MS),
        )
        text = replace(text, cues=tuple(replace(cue, breaks=None) for cue in text.cues))
        text = relay(text, 0, len(text.cues), limits, also_locked=True)
        second = None
    text = with_breaks(text, limits)
    others: dict[int, Cue] = {}
    if second is not None:
        others = {cue.id: cue for cue in with_breaks(second, limits).cues if cue.words}
    voices = {speaker.id: place for place, speaker in enumerate(text.speakers)}
    found: list[Caption] = []
    before: int | None = None
    for cue in text.cues:
        if not cue.words:
            continue
        speaker = text.speaker(cue.speaker)
        other = others.get(cue.id)
        found.append(
            Caption(
                cue.start,
                cue.end,
                _lines(cue),
                voice=voices.get(cue.speaker) if cue.speaker is not None else None,
                speaker=speaker.label if speaker is not None else "",
                changes=cue.speaker is not None and cue.speaker != before,
                second=_lines(other) if other is not None else (),
                place=_place(cue.placement),
                look=cue.look,
            )
        )
        before = cue.speaker if cue.speaker is not None else before
    return found


def _lines(cue: Cue) -> tuple[Line, ...]:
    edges = [0, *(cue.breaks or ()), len(cue.words)]
    lines = (cue.words[a:b] for a, b in pairwise(edges))
    return tuple(tuple(_said(word) for word in line) for line in lines if line)


def _said(word: Word) -> SaidWord:
    return SaidWord(word.text, word.start, word.end, ITALIC in word.spans, word.glued)


def _place(placement: str) -> Place | None:
    """Return where a cue stands: at the top if its own settings name a line of the upper half."""
    found = _LINE.search(placement)
    if found is None:
        return None
    line = float(found[1])
    is_above = line < UPPER_HALF if found[2] else 0 <= line < UPPER_HALF / 10
    return Place.TOP if is_above else Place.BOTTOM
