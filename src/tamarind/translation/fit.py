"""Propose help for a translation too long for its cue: more time, or words moved to a neighbour.

Each is offered with what it comes to, and none is done by itself.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from tamarind.captions.limits import Limits
from tamarind.captions.syntax import border_costs
from tamarind.transcript.model import Cue
from tamarind.transcript.sentences import ends_sentence
from tamarind.transcript.tokens import joined, tokens_of
from tamarind.translation.states import letters_over
from tamarind.translation.tracks import Track

MOST_WORDS = 5
"""No more words are moved over a border."""

WORST_CUT = 4.0
"""Where a border costs more, grammar does not let go of a word."""

LEAST_MORE_MS = 100


@dataclass(frozen=True, slots=True)
class Help:
    """What would be done: texts by cue id, or another end of the cue (ms)."""

    label: str
    texts: Mapping[int, str] = field(default_factory=dict)
    end: int | None = None


def helps(track: Track, cues: Sequence[Cue], place: int, limits: Limits) -> list[Help]:
    """Return what makes the cue at ``place`` fit, best first; nothing where its text fits."""
    cue = cues[place]
    text = track.text(cue.id)
    if letters_over(text, cue, limits) == 0:
        return []
    return [*_more_time(text, cues, place, limits), *_fewer_words(track, cues, place, limits)]


def _more_time(text: str, cues: Sequence[Cue], place: int, limits: Limits) -> Iterator[Help]:
    cue = cues[place]
    wanted = cue.start + limits.reading_time(text)
    room = cue.start + limits.longest
    if place + 1 < len(cues):
        room = min(room, cues[place + 1].start - limits.gap)
    end = min(wanted, room)
    if end - cue.end < LEAST_MORE_MS:
        return
    left = letters_over(text, _until(cue, end), limits)
    more = f"{(end - cue.end) / 1000:.1f} s more from the silence behind it"
    yield Help(f"{more}, still {left} too long" if left else more, end=end)


def _until(cue: Cue, end: int) -> Cue:
    return Cue(cue.id, cue.start, end)


def _fewer_words(track: Track, cues: Sequence[Cue], place: int, limits: Limits) -> Iterator[Help]:
    """Return how to move words to the next cue or the previous one so that both fit: at the best
    grammatical place, then the fewest."""
    cue = cues[place]
    words = tokens_of(track.text(cue.id))
    costs = border_costs(words, track.language)
    for beside, where in ((place + 1, "the next cue"), (place - 1, "the cue before")):
        if not 0 <= beside < len(cues) or cues[beside].speaker != cue.speaker:
            continue
        other = cues[beside]
        theirs = tokens_of(track.text(other.id))
        # A sentence is not given the beginning of the next, nor the end of the one before.
        ends = words[-1] if beside > place else theirs[-1] if theirs else ""
        if ends_sentence(ends):
            continue
        found: list[tuple[float, int, Help]] = []
        for count in range(1, min(MOST_WORDS, len(words) - 1) + 1 if theirs else 1):
            cut = len(words) - count if beside > place else count
            first, second = words[:cut], words[cut:]
            moved = second if beside > place else first
            rest = first if beside > place else second
            both = [*moved, *theirs] if beside > place else [*theirs, *moved]
            texts = {cue.id: joined(rest), other.id: joined(both)}
            if costs[cut] >= WORST_CUT or any(
                letters_over(texts[one.id], one, limits) for one in (cue, other)
            ):
                continue
            found.append((costs[cut], count, Help(f"“{joined(moved)}” to {where}", texts)))
        if found:
            yield min(found, key=lambda one: one[:2])[2]
