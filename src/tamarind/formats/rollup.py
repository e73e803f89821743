"""Roll-up captions: each new line appears when it is said and pushes the last one up."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import pairwise

from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import held

CLEARED_AFTER_MS = 2_500
"""Lines are taken away when nothing has been said for so long."""


@dataclass(frozen=True, slots=True)
class RollLine:
    """A line of a cue with the start of its first word, and that of the next line."""

    cue: Cue
    words: tuple[Word, ...]
    start: int
    end: int


def rolled_up(transcript: Transcript, rows: int = 2) -> Transcript:
    """Return a text with a cue for each line, which shows up to ``rows`` lines, the new one last.

    Line breaks must be set in the cues. A change of speaker begins with a clear picture.
    """
    lines = list(lines_of(transcript))
    cues: list[Cue] = []
    shown: list[RollLine] = []
    for place, line in enumerate(lines):
        following = lines[place + 1] if place + 1 < len(lines) else None
        goes_on = shown and line.start - shown[-1].end <= CLEARED_AFTER_MS
        if not goes_on or shown[-1].cue.speaker != line.cue.speaker:
            shown = []
        shown = [*shown, line][-rows:]
        end = line.end
        if following and following.start - line.end <= CLEARED_AFTER_MS:
            end = following.start
        words = [word for each in shown for word in each.words]
        end = max(end, line.start + len(words))
        breaks, count = [], 0
        for each in shown[:-1]:
            count += len(each.words)
            breaks.append(count)
        cues.append(
            replace(
                line.cue,
                id=place + 1,
                start=line.start,
                end=end,
                words=held(words, line.start, end),
                breaks=tuple(breaks),
                note=line.cue.note if line.words[0] is line.cue.words[0] else "",
            )
        )
    return replace(transcript, cues=tuple(cues))


def lines_of(transcript: Transcript) -> Iterator[RollLine]:
    """Return every line of every cue, with the time from its first word to the next line."""
    for cue in transcript.cues:
        edges = [0, *(cue.breaks or ()), len(cue.words)]
        starts = [cue.start, *(cue.words[place].start for place in edges[1:-1]), cue.end]
        for (first, last), (start, end) in zip(pairwise(edges), pairwise(starts), strict=True):
            if first < last:
                yield RollLine(cue, cue.words[first:last], start, end)
