"""Restore the words of the draft in a passage, in the current cues."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from tamarind.transcript.edits import middle_between, replace_cues
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import in_order


def restore(transcript: Transcript, draft: Sequence[Cue], first: int, last: int) -> Transcript:
    """Give the cues [``first``, ``last``) the draft's words of their time; return the same
    transcript if nothing differs.

    They are doubts again where they were, and no longer proofed.
    """
    cues = transcript.cues[first:last]
    low = middle_between(transcript.cues[first - 1], cues[0]) if first else float("-inf")
    behind = transcript.cues[last : last + 1]
    high = middle_between(cues[-1], behind[0]) if behind else float("inf")
    heard = [w for cue in draft for w in cue.words if low <= (w.start + w.end) / 2 < high]
    borders = [middle_between(before, after) for before, after in pairwise(cues)]
    shared: list[list[Word]] = [[] for _ in cues]
    for word in in_order(heard):
        shared[bisect_right(borders, (word.start + word.end) / 2)].append(word)
    if all(cue.words == tuple(words) for cue, words in zip(cues, shared, strict=True)):
        return transcript
    new = [_as_heard(cue, tuple(words)) for cue, words in zip(cues, shared, strict=True)]
    return replace_cues(transcript, first, last, *new)


def _as_heard(cue: Cue, words: tuple[Word, ...]) -> Cue:
    if cue.words == words:
        return cue
    start = min(cue.start, words[0].start) if words else cue.start
    end = max(cue.end, words[-1].end) if words else cue.end
    return replace(cue, start=start, end=end, words=words, settled=False, breaks=None)
