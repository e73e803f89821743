"""Edit times: move, stretch, trim and close up cues; their words move along.

Nothing here lets a cue end before it starts or run into its neighbour, and no word ever leaves its
cue or loses its order. ``place`` is a cue's index, times are ms.
"""

from __future__ import annotations

from dataclasses import replace

from tamarind.transcript.edits import replace_cues, with_cues
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import held, in_order

SHORTEST_MS = 50
"""No cue is made shorter than this by hand."""


def set_times(
    transcript: Transcript, place: int, start: int, end: int, gap: int = 0, overlap: bool = False
) -> Transcript:
    """Set a cue's start and end, as near to what is asked as its neighbours leave room.

    ``gap`` is kept free on both sides; with ``overlap`` neighbours do not count.
    """
    cue = transcript.cues[place]
    low = 0 if overlap or place == 0 else transcript.cues[place - 1].end + gap
    following = transcript.cues[place + 1 : place + 2]
    high = float("inf") if overlap or not following else following[0].start - gap
    # A cue that already touches its neighbours may stay where it is.
    low, high = min(low, cue.start), max(high, cue.end)
    least = max(SHORTEST_MS, len(cue.words))
    start = max(start, low, 0)
    if end == cue.end:
        start = min(start, end - least)
    end = round(min(max(end, start + least), high))
    start = max(min(start, end - least), low, 0)
    if end - start < len(cue.words):
        return transcript
    if (start, end) == (cue.start, cue.end):
        return transcript
    words = held(cue.words, start, end)
    new = replace(cue, start=start, end=end, words=words, locked=True)
    return with_cues(transcript, place, place + 1, new)


def shift(transcript: Transcript, first: int, last: int, by: int) -> Transcript:
    """Move the cues [``first``, ``last``), as far as their neighbours allow."""
    cues = transcript.cues[first:last]
    if not cues or not by:
        return transcript
    low = transcript.cues[first - 1].end if first else 0
    by = max(by, min(low - cues[0].start, 0))
    if last < len(transcript.cues):
        by = min(by, max(transcript.cues[last].start - cues[-1].end, 0))
    return with_cues(transcript, first, last, *(_moved(cue, 1.0, 0, by) for cue in cues))


def moved_by(cue: Cue, by: int) -> Cue:
    """Return a cue with its words shifted (ms)."""
    return _moved(cue, 1.0, 0, by)


def stretch(transcript: Transcript, first: int, last: int, start: int, end: int) -> Transcript:
    """Stretch the cues [``first``, ``last``) to run from ``start`` to ``end``.

    All times between are moved in proportion, as for a text that was made at another speed.
    Raises ValueError when that would run into a neighbour, or leave no room.
    """
    cues = transcript.cues[first:last]
    old_start, old_end = cues[0].start, cues[-1].end
    if end - start < SHORTEST_MS * len(cues):
        raise ValueError("That is too short for so many cues.")
    if first and start < transcript.cues[first - 1].end:
        raise ValueError("The cue before is still there at that time.")
    if last < len(transcript.cues) and end > transcript.cues[last].start:
        raise ValueError("The next cue has begun by then.")
    rate = (end - start) / max(old_end - old_start, 1)
    moved = [_moved(cue, rate, old_start, start - old_start) for cue in cues]
    if any(cue.end - cue.start < len(cue.words) for cue in moved):
        raise ValueError("That is too short for so many words.")
    return with_cues(transcript, first, last, *moved)


def close_gaps(transcript: Transcript, first: int, last: int, longest: int, gap: int) -> Transcript:
    """Extend each cue to ``gap`` before the next one if no more than ``longest`` lies between.

    The last of the range reaches for the cue after it too.
    """
    cues = list(transcript.cues[first:last])
    following = [*cues[1:], *transcript.cues[last : last + 1]]
    for place, (cue, after) in enumerate(zip(cues, following, strict=False)):
        end = after.start - gap
        if cue.end < end <= cue.end + longest:
            cues[place] = replace(cue, end=end)
    return with_cues(transcript, first, last, *cues)


def move_word(transcript: Transcript, place: int, forward: bool) -> Transcript:
    """Move the last word of a cue to the next cue, or the first one to the cue before.

    The border between the two goes along. A cue that loses its only word stays, empty. Where times
    leave no room for that the transcript comes back as it is.
    """
    cues = transcript.cues
    cue = cues[place]
    other = place + 1 if forward else place - 1
    if not cue.words or not 0 <= other < len(cues):
        return transcript
    neighbour = cues[other]
    if forward:
        rest, word = cue.words[:-1], cue.words[-1]
        border = max(rest[-1].end if rest else cue.start + 1, cue.start + 1)
        end = min(cue.end, max(border, word.start))
        own = replace(cue, words=rest, end=end, breaks=None, locked=True)
        words = in_order((replace(word, start=max(word.start, own.end)), *neighbour.words))
        start = min(neighbour.start, words[0].start)
        pair = own, _filled(replace(neighbour, start=max(start, own.end)), words)
    else:
        rest, word = cue.words[1:], cue.words[0]
        grown = _filled(neighbour, in_order((*neighbour.words, word)))
        start = max(cue.start, grown.end)
        words = in_order(tuple(replace(w, start=max(w.start, start)) for w in rest))
        pair = grown, _filled(replace(cue, start=start), words)
    first = min(place, other)
    following = cues[first + 2 : first + 3]
    room = all(each.start < each.end for each in pair) and pair[0].end <= pair[1].start
    if not room or (following and pair[1].start > following[0].start):
        return transcript
    return replace_cues(transcript, first, first + 2, *pair)


def _filled(cue: Cue, words: tuple[Word, ...]) -> Cue:
    """Return a cue with other words, extended if they need time; its line breaks are laid out
    again."""
    end = max(cue.end, words[-1].end) if words else cue.end
    return replace(cue, words=words, end=end, breaks=None, locked=True)


def insert_empty(transcript: Transcript, start: int, end: int) -> tuple[Transcript, int]:
    """Insert an empty cue in the gap around ``start``; return the text and its index.

    It takes what there is of the wished time. Raises ValueError where there is no gap.
    """
    place = sum(cue.start <= start for cue in transcript.cues)
    low = transcript.cues[place - 1].end if place else 0
    high = transcript.cues[place].start if place < len(transcript.cues) else None
    start = max(start, low)
    end = end if high is None else min(end, high)
    if end - start < SHORTEST_MS:
        raise ValueError("There is no gap for a cue at this place.")
    speaker = transcript.cues[place - 1].speaker if place else None
    cue = Cue(transcript.next_id(), start, end, (), speaker, locked=True)
    return with_cues(transcript, place, place, cue), place


def set_word_times(
    transcript: Transcript, place: int, word: int, start: int, end: int
) -> Transcript:
    """Set one word's times, between its neighbours and within its cue."""
    cue = transcript.cues[place]
    words = cue.words
    low = words[word - 1].end if word else cue.start
    high = words[word + 1].start if word + 1 < len(words) else cue.end
    start = min(max(start, low), high - 1)
    end = min(max(end, start + 1), high)
    new = replace(words[word], start=start, end=end)
    changed = replace(cue, words=(*words[:word], new, *words[word + 1 :]))
    return with_cues(transcript, place, place + 1, changed)


def set_border(transcript: Transcript, place: int, word: int, time: int) -> Transcript:
    """Move the border between a word of a cue and the one before it."""
    cue = transcript.cues[place]
    before, after = cue.words[word - 1], cue.words[word]
    time = min(max(time, before.start + 1), after.end - 1)
    pair = replace(before, end=time), replace(after, start=time)
    new = replace(cue, words=(*cue.words[: word - 1], *pair, *cue.words[word + 1 :]))
    return with_cues(transcript, place, place + 1, new)


def _moved(cue: Cue, rate: float, origin: int, by: int) -> Cue:
    """Return a cue with all times turned into ``origin + (time - origin) * rate + by``."""

    def at(time: int) -> int:
        return round(origin + (time - origin) * rate) + by

    words = tuple(replace(word, start=at(word.start), end=at(word.end)) for word in cue.words)
    start, end = at(cue.start), max(at(cue.end), at(cue.start) + 1)
    return replace(cue, start=start, end=end, words=held(words, start, end))
