"""Text and sound held against each other: text where nobody speaks, speech that has no text."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence

from tamarind.checks.finding import Finding
from tamarind.transcript.model import Cue, Transcript

Span = tuple[int, int]

LEAST_SPOKEN = 0.15
"""A cue in less of which somebody speaks is text without speech."""

BESIDE_MS = 150
LONGEST_UNHEARD_MS = 1_200
"""Speech of so long without text is told."""


def silent_text(cue: Cue, speech: Sequence[Span]) -> Finding | None:
    """A cue during whose words hardly anybody speaks; ``speech`` (from, to; ms) in order."""
    start, end = cue.words[0].start, cue.words[-1].end
    spoken = 0
    at = max(bisect_right(speech, (start, -1)) - 1, 0)
    while at < len(speech) and speech[at][0] < end:
        first, last = speech[at]
        spoken += max(min(last, end) - max(first, start), 0)
        at += 1
    if spoken >= LEAST_SPOKEN * (end - start):
        return None
    return Finding("silent-text", cue.id, cue.start, "nobody speaks here", cue.text)


def unheard(transcript: Transcript, speech: Sequence[Span]) -> Iterator[Finding]:
    """Speech between words for which there is no text, told at the cue before it."""
    cues = [cue for cue in transcript.cues if cue.words]
    # A word is where its cue is shown, too: text typed by hand has no times of its own.
    taken = [(min(c.start, c.words[0].start), max(c.end, c.words[-1].end)) for c in cues]
    starts = [start for start, _ in taken]
    for first, last in speech:
        at = first
        place = max(bisect_right(starts, first) - 1, 0)
        while place < len(taken) and taken[place][0] < last:
            start, end = taken[place]
            place += 1
            if start - BESIDE_MS - at >= LONGEST_UNHEARD_MS:
                yield _told(cues, starts, at, start)
            at = max(at, end + BESIDE_MS)
        if last - at >= LONGEST_UNHEARD_MS:
            yield _told(cues, starts, at, last)


def at_once(transcript: Transcript, spans: Sequence[Span]) -> Iterator[Finding]:
    """Cues during which two people speak at the same time and that nobody has proofed: what one of
    them says is easily missing."""
    cues = [cue for cue in transcript.cues if cue.words]
    starts = [cue.start for cue in cues]
    for first, last in spans:
        place = max(bisect_right(starts, first) - 1, 0)
        if cues and not cues[place].settled and cues[place].end > first:
            cue = cues[place]
            reason = f"two speak at once for {(last - first) / 1000:.1f} s"
            yield Finding("at-once", cue.id, first, reason, cue.text)


def _told(cues: Sequence[Cue], starts: Sequence[int], start: int, end: int) -> Finding:
    place = max(bisect_right(starts, start) - 1, 0)
    cue = cues[place].id if cues else 0
    return Finding("unheard", cue, start, f"{(end - start) / 1000:.1f} s of speech without text")
