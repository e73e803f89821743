"""Compare a new transcription of a passage with its text: differences to take or leave."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from tamarind.transcript.edits import replace_cues
from tamarind.transcript.model import Cue, Transcript, Word, text_of
from tamarind.transcript.reconcile import letters_of, runs

FURTHEST_MS = 300
"""How much sound beside a passage is heard with it, if nothing is said there."""

CONTEXT_MS = 12_000
LONGEST_GAP_MS = 1_000
"""Cues are heard together with their neighbours up to this length, but not over a longer pause."""


@dataclass(frozen=True, slots=True)
class Difference:
    """Words transcribed otherwise: ``old`` from index ``first`` of the cue with id ``cue``.

    ``old`` is empty for words that were not there before, ``new`` for words that nobody said.
    """

    cue: int
    first: int
    old: tuple[str, ...]
    new: tuple[Word, ...]

    @property
    def last(self) -> int:
        """One after the index of the last old word."""
        return self.first + len(self.old)

    @property
    def new_text(self) -> str:
        """The new words on one line."""
        return text_of(self.new)


def in_context(transcript: Transcript, first: int, last: int) -> tuple[int, int]:
    """Return the cues [``first``, ``last``) with enough cues around them to transcribe well.

    A recogniser that hears a few words on their own hears them worse than in their sentence.
    """
    cues = transcript.cues
    while cues[last - 1].end - cues[first].start < CONTEXT_MS:
        before = cues[first].start - cues[first - 1].end if first else None
        after = cues[last].start - cues[last - 1].end if last < len(cues) else None
        gaps = [gap for gap in (before, after) if gap is not None and gap <= LONGEST_GAP_MS]
        if not gaps:
            break
        if before is not None and before == min(gaps):
            first -= 1
        else:
            last += 1
    return first, last


def passage(transcript: Transcript, first: int, last: int) -> tuple[int, int]:
    """Return the times (ms) to transcribe for the cues [first, last)."""
    start, end = transcript.cues[first].start, transcript.cues[last - 1].end
    before = transcript.cues[first - 1].end if first else 0
    after = transcript.cues[last].start if last < len(transcript.cues) else end + FURTHEST_MS
    return (
        max(start - FURTHEST_MS, min((before + start) // 2, start), 0),
        min(end + FURTHEST_MS, max((after + end) // 2, end)),
    )


def differences(
    transcript: Transcript, first: int, last: int, heard: Sequence[Word]
) -> tuple[Difference, ...]:
    """Return where ``heard`` differs from the cues [``first``, ``last``).

    Marks and capitals make no difference. One that goes over a border of cues is cut there. A cue
    that is still empty gets what was heard in its time.
    """
    cues = transcript.cues[first:last]
    empty = [cue for cue in cues if not cue.words]
    if empty:
        filled, heard = _in_empty_cues(empty, heard)
        return (*filled, *differences(_without(transcript, empty), first, last - len(empty), heard))
    flat = [(cue, place) for cue in cues for place in range(len(cue.words))]
    found: list[Difference] = []
    old_at = new_at = 0
    for old, new in runs([cue.words[place] for cue, place in flat], [w.text for w in heard]):
        if [letters_of(word.text) for word in old] != [letters_of(text) for text in new]:
            places = range(old_at, old_at + len(old))
            found += _by_cue(flat, places, heard[new_at : new_at + len(new)])
        old_at, new_at = old_at + len(old), new_at + len(new)
    return tuple(found)


def _in_empty_cues(
    empty: Sequence[Cue], heard: Sequence[Word]
) -> tuple[list[Difference], list[Word]]:
    """Return what was transcribed within empty cues, and the rest."""
    found: dict[int, list[Word]] = {cue.id: [] for cue in empty}
    rest: list[Word] = []
    for word in heard:
        middle = (word.start + word.end) / 2
        cue = next((cue for cue in empty if cue.start <= middle <= cue.end), None)
        (rest if cue is None else found[cue.id]).append(word)
    return [Difference(key, 0, (), tuple(words)) for key, words in found.items() if words], rest


def _without(transcript: Transcript, cues: Sequence[Cue]) -> Transcript:
    gone = {cue.id for cue in cues}
    return replace(transcript, cues=tuple(cue for cue in transcript.cues if cue.id not in gone))


def fill_empty(
    transcript: Transcript, found: Sequence[Difference]
) -> tuple[Transcript, tuple[Difference, ...]]:
    """Fill empty cues with what was transcribed in them, with its confidence; return the text and
    the differences left for a person."""
    heard = {d.cue: d.new for d in found if not d.old and d.first == 0}
    cues = tuple(
        replace(cue, words=tuple(heard[cue.id])) if not cue.words and cue.id in heard else cue
        for cue in transcript.cues
    )
    filled = {old.id for old, new in zip(transcript.cues, cues, strict=True) if old is not new}
    left = tuple(difference for difference in found if difference.cue not in filled)
    return replace(transcript, cues=cues), left


def is_open(transcript: Transcript, difference: Difference) -> bool:
    """Whether the words of a difference still stand where they stood."""
    cue = next((cue for cue in transcript.cues if cue.id == difference.cue), None)
    if cue is None or difference.first > len(cue.words):
        return False
    there = tuple(word.text for word in cue.words[difference.first : difference.last])
    return there == difference.old


def take(
    transcript: Transcript, difference: Difference, others: Sequence[Difference] = ()
) -> tuple[Transcript, tuple[Difference, ...]]:
    """Replace the old words by the new ones; return the text and the other differences, moved
    along.

    Raises KeyError if the difference is not open.
    """
    if not is_open(transcript, difference):
        raise KeyError(difference.cue)
    place = transcript.place_of(difference.cue)
    cue = transcript.cues[place]
    low = cue.words[difference.first - 1].end if difference.first else cue.start
    behind = cue.words[difference.last :]
    high = behind[0].start if behind else max(cue.end, low + len(difference.new))
    words = cue.words[: difference.first] + _within(difference.new, low, high) + behind
    grown = len(difference.new) - len(difference.old)
    breaks = cue.breaks and tuple(
        b if b <= difference.first else max(b + grown, difference.first)
        for b in cue.breaks
        if b <= difference.first or b >= difference.last
    )
    new = replace(cue, words=words, breaks=breaks)
    moved = tuple(
        replace(other, first=other.first + grown)
        if other.cue == difference.cue and other.first >= difference.last
        else other
        for other in others
        if other != difference
    )
    return replace_cues(transcript, place, place + 1, new), moved


def _by_cue(
    flat: Sequence[tuple[Cue, int]],
    places: range,
    new: Sequence[Word],
) -> Iterator[Difference]:
    """Split old words and their replacement at the borders of cues."""
    own = [flat[place] for place in places]
    if not own:
        if places.start and (
            places.start == len(flat) or flat[places.start - 1][0].end >= new[0].end
        ):
            cue, before = flat[places.start - 1]
            yield Difference(cue.id, before + 1, (), tuple(new))
        elif flat:
            cue, at = flat[places.start]
            yield Difference(cue.id, at, (), tuple(new))
        return
    rest = list(new)
    concerned = list(dict.fromkeys(cue.id for cue, _ in own))
    for number, key in enumerate(concerned):
        places_there = [place for cue, place in own if cue.id == key]
        cue = next(cue for cue, _ in own if cue.id == key)
        is_last = number + 1 == len(concerned)
        mine = [w for w in rest if is_last or (w.start + w.end) / 2 < cue.end]
        rest = rest[len(mine) :]
        old = tuple(cue.words[place].text for place in places_there)
        if old != tuple(word.text for word in mine):
            yield Difference(key, places_there[0], old, tuple(mine))


def _within(words: Sequence[Word], low: int, high: int) -> tuple[Word, ...]:
    """Return the words as a person's choice, with times between two others', at least 1 ms long."""
    result: list[Word] = []
    for number, word in enumerate(words):
        left = len(words) - number - 1
        start = min(max(word.start, low), max(high - 1 - left, low))
        end = min(max(word.end, start + 1), max(high - left, start + 1))
        result.append(Word(word.text, start, end))
        low = end
    return tuple(result)
