"""Split, join or retime the cues of a text; what a person has shaped stays unless they ask."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import count

from tamarind.captions.layout import lay_out
from tamarind.captions.limits import Limits
from tamarind.captions.lines import fits
from tamarind.captions.phrases import in_phrases
from tamarind.captions.timing import retimed
from tamarind.transcript.carrying import carried
from tamarind.transcript.edits import begins_by_itself, replace_cues, with_cues
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import adjoining
from tamarind.transcript.timing import stretch

BRIDGED_MS = 600
"""A flash is joined with a neighbour over no longer a pause."""

FLASH_LETTERS = 12

Span = tuple[int, int]


class Reshaping(StrEnum):
    """What can be done to cues, one kind at a time."""

    LAY_OUT = "lay out again"
    MERGE = "join flashes"
    SPLIT = "split long ones"
    EXTEND = "extend into silence"
    SNAP = "snap to speech"


COMFORTABLE = 0.85
"""Share of the highest reading speed at which a text without a sound is laid out."""


def reshape(
    transcript: Transcript,
    first: int,
    last: int,
    act: Reshaping,
    limits: Limits,
    also_locked: bool = False,
    shots: Sequence[int] = (),
    speech: Sequence[Span] = (),
) -> Transcript:
    """Apply one kind of change to the cues [``first``, ``last``).

    ``shots`` are when the picture changes, ``speech`` where somebody speaks (from, to; ms), if
    that is known; without it the times of the words say so.
    """
    if act is Reshaping.LAY_OUT:
        return relay(transcript, first, last, limits, also_locked, shots)
    if act is Reshaping.MERGE:
        return merge_flashes(transcript, first, last, limits, also_locked)
    if act is Reshaping.SPLIT:
        return split_long(transcript, first, last, limits, also_locked)
    if act is Reshaping.EXTEND:
        return extend(transcript, first, last, limits, also_locked)
    return snap(transcript, first, last, limits, also_locked, speech)


def relay(
    transcript: Transcript,
    first: int,
    last: int,
    limits: Limits,
    also_locked: bool = False,
    shots: Sequence[int] = (),
) -> Transcript:
    """Lay out runs of cues anew, between those that stay. A cue that begins with the same word as
    one before keeps its id; speakers, paragraphs and words stay."""
    ids = count(transcript.next_id())
    for start, stop in reversed(list(_runs(transcript.cues, first, last, also_locked))):
        new = _relaid(transcript, start, stop, limits, ids, shots)
        if _alike(new, transcript.cues[start:stop]):
            continue
        transcript = with_cues(transcript, start, stop, *new)
    return transcript


def from_script(script: Transcript, words: Sequence[Word], limits: Limits) -> Transcript:
    """Return a text with the words of a script, now timed, in cues by the limits; each of the
    script's cues opens a paragraph. Speakers stay."""
    opening, voices, languages = set(), [], []
    at = 0
    for cue in script.cues:
        opening.add(at)
        voices += [cue.speaker] * len(cue.words)
        languages += [cue.language] * len(cue.words)
        at += len(cue.words)
    cues = lay_out(
        words,
        limits,
        voices=voices,
        language=script.language,
        opening=opening - {at},
        languages=languages,
    )
    return replace(script, cues=tuple(cues))


@dataclass(frozen=True, slots=True)
class Regrouped:
    """The cues [``old``, ``old_last``) of one text say in other cuts or times what those from
    ``new`` up to ``new_last`` say in another."""

    old: int
    old_last: int
    new: int
    new_last: int


def at_reading_speed(text: Transcript, limits: Limits) -> Transcript:
    """Lay out a text whose times are only guessed from its length as captions that can be read
    within the limits."""
    if not text.cues:
        return text
    end = max(cue.end for cue in text.cues)
    speed = limits.speed("".join(cue.text for cue in text.cues), 0, end)
    slower = max(speed / (limits.reading_speed * COMFORTABLE), 1.0)
    if slower > 1:
        text = stretch(text, 0, len(text.cues), text.cues[0].start, round(end * slower))
    return relay(text, 0, len(text.cues), limits, also_locked=True)


def regrouped(before: Transcript, after: Transcript) -> list[Regrouped]:
    """Return where two texts of the same words have other cues, in runs as short as possible."""
    found: list[Regrouped] = []
    olds, news = before.cues, after.cues
    i = j = 0
    while i < len(olds) and j < len(news):
        first, second = i, j
        said, written = len(olds[i].words), len(news[j].words)
        i, j = i + 1, j + 1
        while said != written and (i < len(olds) or j < len(news)):
            if (said < written or j == len(news)) and i < len(olds):
                said, i = said + len(olds[i].words), i + 1
            else:
                written, j = written + len(news[j].words), j + 1
        if not _alike(news[second:j], olds[first:i]):
            found.append(Regrouped(first, i, second, j))
    return found


def taken(before: Transcript, after: Transcript, chosen: Sequence[Regrouped]) -> Transcript:
    """Return the first text with the chosen runs as the second has them."""
    cues = list(before.cues)
    for group in sorted(chosen, key=lambda group: -group.old):
        cues[group.old : group.old_last] = after.cues[group.new : group.new_last]
    return replace(before, cues=tuple(cues))


def merge_flashes(
    transcript: Transcript, first: int, last: int, limits: Limits, also_locked: bool = False
) -> Transcript:
    """Join cues too short to be read with a neighbour of the same speaker, where both fit one
    cue."""
    place = max(first, 0)
    while place < min(last, len(transcript.cues)):
        cue = transcript.cues[place]
        joined = None
        if _is_flash(cue, limits) and not _stays(cue, also_locked):
            sides = [side for side in (place - 1, place) if first <= side < last - 1]
            options = [(side, _joined(transcript, side, limits, also_locked)) for side in sides]
            fit = [(_pause(transcript, side), side, new) for side, new in options if new]
            joined = min(fit, key=lambda one: one[:2]) if fit else None
        if joined is None:
            place += 1
            continue
        _, side, new = joined
        transcript = replace_cues(transcript, side, side + 2, new)
        last -= 1
        place = side
    return transcript


def split_long(
    transcript: Transcript, first: int, last: int, limits: Limits, also_locked: bool = False
) -> Transcript:
    """Split the cues that have too many characters or stand too long; the others stay."""
    ids = count(transcript.next_id())
    for place in range(min(last, len(transcript.cues)) - 1, first - 1, -1):
        cue = transcript.cues[place]
        if _stays(cue, also_locked) or not is_too_long(cue, limits):
            continue
        new = _relaid(transcript, place, place + 1, limits, ids, ())
        if len(new) > 1:
            transcript = with_cues(transcript, place, place + 1, *new)
    return transcript


def extend(
    transcript: Transcript, first: int, last: int, limits: Limits, also_locked: bool = False
) -> Transcript:
    """Lengthen cues that are too short for their text, as far as nobody speaks."""
    cues = list(transcript.cues)
    for place in range(first, min(last, len(cues))):
        cue = cues[place]
        if not cue.words or _stays(cue, also_locked):
            continue
        wanted = cue.start + max(limits.shortest, limits.reading_time(cue.text))
        wanted = max(wanted, cue.words[-1].end + limits.lead_out)
        end = min(wanted, cue.start + limits.longest)
        if place + 1 < len(cues):
            end = min(end, cues[place + 1].start - limits.gap)
        if end > cue.end:
            cues[place] = replace(cue, end=end)
    return replace(transcript, cues=tuple(cues))


def snap(
    transcript: Transcript,
    first: int,
    last: int,
    limits: Limits,
    also_locked: bool = False,
    speech: Sequence[Span] = (),
) -> Transcript:
    """Move the starts and ends of cues to their words, or to the sound where it says that the words
    begin and end elsewhere."""
    cues = list(transcript.cues)
    for start, stop in _runs(transcript.cues, first, last, also_locked):
        heard = [_on_speech(cue, speech) for cue in cues[start:stop]]
        before, behind = _beside(transcript, start, stop)
        for place, cue in enumerate(retimed(heard, limits, before, behind), start):
            if (cue.start, cue.end) != (cues[place].start, cues[place].end):
                cues[place] = cue
    return replace(transcript, cues=tuple(cues))


def is_too_long(cue: Cue, limits: Limits) -> bool:
    """Whether a cue's text does not fit, or stands longer than it may."""
    texts = [word.text for word in cue.words]
    return not fits(texts, limits) or cue.end - cue.start > limits.longest


def _runs(cues: Sequence[Cue], first: int, last: int, also_locked: bool) -> Iterator[Span]:
    """Yield runs of cues that may be changed."""
    begun: int | None = None
    last = min(last, len(cues))
    for place in range(first, last + 1):
        if place == last or _stays(cues[place], also_locked):
            if begun is not None:
                yield begun, place
            begun = None
        elif begun is None:
            begun = place


def _stays(cue: Cue, also_locked: bool) -> bool:
    return not cue.words or (not also_locked and (cue.locked or cue.breaks is not None))


def _openings(owners: Sequence[Cue]) -> set[int]:
    """Return the indices of words that open a paragraph; each is in the cue ``owners`` has
    there."""
    return {
        place
        for place, owner in enumerate(owners)
        if (owner.opens_paragraph or owner.heading)
        and (not place or owners[place - 1] is not owner)
    }


def _relaid(
    transcript: Transcript,
    first: int,
    last: int,
    limits: Limits,
    ids: Iterator[int],
    shots: Sequence[int],
) -> list[Cue]:
    cues = transcript.cues[first:last]
    words: list[Word] = []
    owners: list[Cue] = []
    for cue in cues:
        own = adjoining(words, in_phrases(cue.words))
        words += own
        owners += [cue] * len(own)
    opening = _openings(owners)
    after, until = _beside(transcript, first, last)
    voices = [owner.speaker for owner in owners]
    said = [word for cue in transcript.cues[max(first - 1, 0) : first] for word in cue.words]
    before = (said[-1], None) if said else None
    laid = lay_out(
        words, limits, 1, after, voices, transcript.language, until, opening, shots, before,
        [owner.language for owner in owners],
    )  # fmt: skip
    result = []
    at = 0
    taken: set[int] = set()
    for cue in laid:
        held_by = owners[at : at + len(cue.words)]
        number = held_by[0].id
        if number in taken:
            number = next(ids)
        taken.add(number)
        begun = [
            one
            for place, one in enumerate(held_by, at)
            if not place or owners[place - 1] is not one
        ]
        # Who speaks, in which language, and where paragraphs open has been laid out.
        kept = carried(held_by, begun) | {
            "speaker": cue.speaker,
            "language": cue.language,
            "opens_paragraph": cue.opens_paragraph,
        }
        result.append(replace(cue, id=number, **kept))
        at += len(cue.words)
    return result


def _beside(transcript: Transcript, first: int, last: int) -> tuple[int | None, int | None]:
    """Return when the cue before ends and the next one starts."""
    before = transcript.cues[first - 1].end if first else None
    behind = transcript.cues[last].start if last < len(transcript.cues) else None
    return before, behind


def _alike(new: Sequence[Cue], old: Sequence[Cue]) -> bool:
    return len(new) == len(old) and all(
        (one.start, one.end, one.words, one.breaks)
        == (other.start, other.end, other.words, other.breaks)
        for one, other in zip(new, old, strict=True)
    )


def _is_flash(cue: Cue, limits: Limits) -> bool:
    return bool(cue.words) and (
        cue.end - cue.start < limits.shortest or len(cue.text) <= FLASH_LETTERS
    )


def _pause(transcript: Transcript, place: int) -> int:
    return transcript.cues[place + 1].start - transcript.cues[place].end


def _joined(transcript: Transcript, place: int, limits: Limits, also_locked: bool) -> Cue | None:
    """Return a cue joined with the next, or None if they do not belong together."""
    one, other = transcript.cues[place : place + 2]
    if _stays(one, also_locked) or _stays(other, also_locked):
        return None
    if other.opens_paragraph or begins_by_itself(one, other):
        return None
    both = (one, other)
    end, words = max(one.end, other.end), one.words + other.words
    joined = Cue(one.id, one.start, end, words, locked=one.locked, **carried(both, both))
    if _pause(transcript, place) > BRIDGED_MS or is_too_long(joined, limits):
        return None
    return joined


def _on_speech(cue: Cue, speech: Sequence[Span]) -> Cue:
    """Move a cue's first and last word to where the sound has them.

    Only edges move, by no more than half of the cue; words inside are where they were.
    """
    length = cue.end - cue.start
    near = [(a, b) for a, b in speech if a < cue.end and b > cue.start and b - a >= 60]
    if not near:
        return cue
    start = max(near[0][0], cue.start - length // 2)
    end = min(near[-1][1], cue.end + length // 2)
    words: list[Word] = list(cue.words)
    if cue.start < start < words[0].end - 20:
        words[0] = replace(words[0], start=start)
    if words[-1].start + 20 < end < cue.end:
        words[-1] = replace(words[-1], end=end)
    return replace(cue, words=tuple(words))
