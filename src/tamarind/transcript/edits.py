"""Every edit of a text, as a function from the old transcript to the new one.

``place`` is a cue's index. Undo is the older value, so nothing here keeps a record.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import accumulate, pairwise

from tamarind.transcript.bounds import clean_text, is_clean
from tamarind.transcript.carrying import carried
from tamarind.transcript.changed import has_changed
from tamarind.transcript.model import DOUBTFUL_BELOW, Cue, Speaker, Transcript, Word, text_of
from tamarind.transcript.reconcile import (
    adjoining,
    carried_breaks,
    held,
    in_order,
    letters_of,
    reconcile,
    retext,
    spread,
    tokens_after,
)
from tamarind.transcript.tokens import joined, tokens_of


def with_cues(transcript: Transcript, first: int, last: int, *cues: Cue) -> Transcript:
    """Return the transcript with ``cues`` in place of those [``first``, ``last``)."""
    new = tuple(map(_orderly, cues))
    whole = transcript.cues[:first] + new + transcript.cues[last:]
    last = min(max(last, first), len(transcript.cues))
    has_changed(transcript.cues, whole, (first, last, first + len(new)))
    return replace(transcript, cues=whole)


def _orderly(cue: Cue) -> Cue:
    """Return a cue in its stored form.

    Its words follow each other in time and lie in it, which those of captions that overlapped, put
    together, do not of themselves; and none has letters that are none.
    """
    words = cue.words
    if not is_clean("".join([cue.note, cue.heading, *(word.text for word in words)])):
        cue = _cleaned(cue)
        words = cue.words
    if not words:
        return cue
    if any(one.end > other.start for one, other in pairwise(words)):
        words = in_order(words)
    start, end = min(cue.start, words[0].start), max(cue.end, words[-1].end)
    if words is cue.words and (start, end) == (cue.start, cue.end):
        return cue
    return replace(cue, start=start, end=end, words=words)


def _cleaned(cue: Cue) -> Cue:
    """Return a cue with valid texts; empty words are removed."""
    words = tuple(
        replace(word, text=clean_text(word.text)) for word in cue.words if clean_text(word.text)
    )
    breaks = cue.breaks if len(words) == len(cue.words) else None
    note, heading = clean_text(cue.note), " ".join(clean_text(cue.heading).split())
    return replace(cue, words=words, breaks=breaks, note=note, heading=heading)


def replace_cues(transcript: Transcript, first: int, last: int, *cues: Cue) -> Transcript:
    """As ``with_cues`` for cues whose words have changed: where these need more time, neighbours
    that did not overlap before are trimmed, and at worst pushed."""
    old = transcript.cues[first:last]
    new = list(cues)
    before = transcript.cues[first - 1 : first] if first else ()
    if before and new and new[0].start < before[0].end <= old[0].start:
        new[0] = _begun_at(new[0], before[0].end)
    if any(one.end > other.start for one, other in pairwise(old)):
        return with_cues(transcript, first, last, *new)
    place = 0
    while place < len(new):
        if place + 1 == len(new):
            following = transcript.cues[last : last + 1]
            if not following or new[place].end <= following[0].start:
                break
            if old and old[-1].end > following[0].start:
                break
            old = following
            new.append(following[0])
            last += 1
        if new[place].end > new[place + 1].start:
            new[place], new[place + 1] = _apart(new[place], new[place + 1])
        place += 1
    return with_cues(transcript, first, last, *new)


def _apart(one: Cue, other: Cue) -> tuple[Cue, Cue]:
    """Return two cues that no longer overlap: the second begins later, as far as its words allow,
    and the first's words are compressed for the rest; no word gets shorter than 1 ms."""
    limit = other.words[0].start if other.words else other.end - 1
    end = max(min(one.end, limit), one.start + max(len(one.words), 1))
    words = held(one.words, one.start, end)
    return replace(one, end=end, words=words), _begun_at(other, max(other.start, end))


def _begun_at(cue: Cue, start: int) -> Cue:
    """Return a cue that begins no earlier than a time, with its words compressed if needed."""
    end = max(cue.end, start + max(len(cue.words), 1))
    return replace(cue, start=start, end=end, words=held(cue.words, start, end))


def set_text(transcript: Transcript, place: int, text: str) -> Transcript:
    """Set a cue's text; words keep their times as far as they can be matched."""
    cue = transcript.cues[place]
    new = retext(cue, text)
    return transcript if new == cue else replace_cues(transcript, place, place + 1, new)


def set_texts(transcript: Transcript, texts: Mapping[int, str]) -> Transcript:
    """Set the texts of cues by index, as ``set_text`` one after the other; those that keep their
    times are replaced all at once."""
    kept: dict[int, Cue] = {}
    for place, text in sorted(texts.items()):
        cue = transcript.cues[place]
        new = retext(cue, text)
        if (new.start, new.end) == (cue.start, cue.end):
            if new != cue:
                kept[place] = new
        else:
            transcript = replace_cues(_put_in(transcript, kept), place, place + 1, new)
            kept = {}
    return _put_in(transcript, kept)


def _put_in(transcript: Transcript, new: Mapping[int, Cue]) -> Transcript:
    """Replace cues by index."""
    if not new:
        return transcript
    cues = list(transcript.cues)
    for place, cue in new.items():
        cues[place] = _orderly(cue)
    whole = tuple(cues)
    last = max(new) + 1
    has_changed(transcript.cues, whole, (min(new), last, last))
    return replace(transcript, cues=whole)


def split(transcript: Transcript, place: int, word: int) -> Transcript:
    """Split a cue before a word; the time of the cut comes from the words.

    At either end of the cue there is nothing to cut and the transcript comes back as it is.
    """
    cue = transcript.cues[place]
    if not 0 < word < len(cue.words):
        return transcript
    pair = split_cue(cue, word, transcript.next_id())
    return with_cues(transcript, place, place + 1, *pair)


def split_cue(cue: Cue, word: int, new_id: int) -> tuple[Cue, Cue]:
    """Return the two cues of a split before a word; the second gets the new id."""
    border = (cue.words[word - 1].end + cue.words[word].start) // 2
    breaks = cue.breaks or ()
    first = replace(
        cue,
        end=border,
        words=cue.words[:word],
        locked=True,
        breaks=None if cue.breaks is None else tuple(b for b in breaks if b < word),
    )
    second = Cue(
        new_id,
        border,
        cue.end,
        cue.words[word:],
        locked=True,
        breaks=None if cue.breaks is None else tuple(b - word for b in breaks if b > word),
        **carried([cue], []),
    )
    return first, second


def join(transcript: Transcript, place: int) -> Transcript:
    """Join a cue and the next; line breaks are laid out again."""
    if place + 1 >= len(transcript.cues):
        return transcript
    first, second = transcript.cues[place : place + 2]
    words = in_order((*first.words, *adjoining(first.words, second.words)))
    end = max([first.end, second.end, *(word.end for word in words[-1:])])
    both = (first, second)
    joined = Cue(first.id, first.start, end, words, locked=True, **carried(both, both))
    return replace_cues(transcript, place, place + 2, joined)


def delete(transcript: Transcript, place: int) -> Transcript:
    """Delete a cue; its heading goes to the next."""
    heading = transcript.cues[place].heading
    if heading and place + 1 < len(transcript.cues) and not transcript.cues[place + 1].heading:
        transcript = set_heading(transcript, place + 1, heading)
    return with_cues(transcript, place, place + 1)


def set_speaker(transcript: Transcript, first: int, last: int, speaker: int | None) -> Transcript:
    """Set the speaker of the cues [``first``, ``last``)."""
    cues = [replace(cue, speaker=speaker) for cue in transcript.cues[first:last]]
    if cues:
        previous = transcript.cues[first - 1].speaker if first else None
        if speaker != previous:
            cues[0] = replace(cues[0], opens_paragraph=True)
    return with_cues(transcript, first, last, *cues)


def turn_of(transcript: Transcript, place: int) -> tuple[int, int]:
    """Return the turn of a cue: the cues [first, last) of the same speaker."""
    speaker = transcript.cues[place].speaker
    first, last = place, place + 1
    while first > 0 and transcript.cues[first - 1].speaker == speaker:
        if speaker is None and transcript.cues[first].opens_paragraph:
            break
        first -= 1
    while last < len(transcript.cues) and transcript.cues[last].speaker == speaker:
        if speaker is None and transcript.cues[last].opens_paragraph:
            break
        last += 1
    return first, last


def name_speaker(transcript: Transcript, speaker_id: int, name: str) -> Transcript:
    """Name a speaker in all turns."""
    name = " ".join(clean_text(name).split())
    speakers = tuple(Speaker(s.id, name) if s.id == speaker_id else s for s in transcript.speakers)
    return replace(transcript, speakers=speakers)


def add_speaker(transcript: Transcript, name: str = "") -> tuple[Transcript, Speaker]:
    """Add a speaker at the end of the list."""
    name = " ".join(clean_text(name).split())
    speaker = Speaker(max((s.id for s in transcript.speakers), default=0) + 1, name)
    return replace(transcript, speakers=(*transcript.speakers, speaker)), speaker


def with_voices(transcript: Transcript) -> Transcript:
    """Add an unnamed speaker for each voice that the cues mention."""
    known = {speaker.id for speaker in transcript.speakers}
    new = sorted({cue.speaker for cue in transcript.cues if cue.speaker is not None} - known)
    speakers = (*transcript.speakers, *(Speaker(voice, "") for voice in new))
    return replace(transcript, speakers=speakers) if new else transcript


def set_paragraph(transcript: Transcript, place: int, opens: bool) -> Transcript:
    """Open a paragraph with a cue, or close it; as a person's choice it stays."""
    cue = replace(transcript.cues[place], opens_paragraph=opens, paragraph_set=True)
    return with_cues(transcript, place, place + 1, cue if opens else replace(cue, heading=""))


def set_look(transcript: Transcript, first: int, last: int, look: str) -> Transcript:
    """Set the caption style of the cues [``first``, ``last``) by key; "" for that of the
    recording."""
    new = [replace(cue, look=look) for cue in transcript.cues[first:last]]
    return with_cues(transcript, first, last, *new)


def set_heading(transcript: Transcript, place: int, heading: str) -> Transcript:
    """Set the heading before a cue, which then opens a paragraph; "" removes it."""
    heading = " ".join(clean_text(heading).split())
    cue = replace(transcript.cues[place], heading=heading)
    if heading:
        cue = replace(cue, opens_paragraph=True, paragraph_set=True)
    return with_cues(transcript, place, place + 1, cue)


def settle_word(
    transcript: Transcript, place: int, word: int, text: str | None = None
) -> Transcript:
    """Settle a word as a person judged it: as it is, or replaced by none, one or several words.

    What they chose is theirs from now on. A cue that keeps no word goes.
    """
    cue = transcript.cues[place]
    old = cue.words[word]
    new = spread(tokens_of(clean_text(old.text if text is None else text)), old.start, old.end)
    if new:
        new[0] = replace(new[0], glued=old.glued or new[0].glued)
    words = in_order((*cue.words[:word], *new, *cue.words[word + 1 :]))
    if not words:
        return delete(transcript, place)
    more = len(new) - 1
    moved = {at if at <= word else at + more for at in cue.breaks or ()}
    breaks = None if cue.breaks is None else tuple(sorted(moved & set(range(1, len(words)))))
    end = max(cue.end, words[-1].end)
    new_cue = replace(cue, end=end, words=words, breaks=breaks)
    return replace_cues(transcript, place, place + 1, new_cue)


def settle(transcript: Transcript, first: int, last: int, settled: bool = True) -> Transcript:
    """Mark the cues [``first``, ``last``) as proofed, or not."""
    cues = [
        cue if cue.settled == settled else replace(cue, settled=settled)
        for cue in transcript.cues[first:last]
    ]
    return with_cues(transcript, first, last, *cues)


def with_empty_cues(
    transcript: Transcript, spans: Sequence[tuple[int, int]], start: int, keep: bool
) -> Transcript:
    """Add cues without words for typing into, one for each span (from, to, in ms).

    Cues from ``start`` on are replaced, or with ``keep`` all stay and only spans that touch none
    of them become cues.
    """
    kept = [cue for cue in transcript.cues if keep or cue.end <= start]
    in_order = sorted(kept, key=lambda cue: cue.start)
    starts = [cue.start for cue in in_order]
    ends = list(accumulate((cue.end for cue in in_order), max, initial=0))
    free = [span for span in spans if ends[bisect_left(starts, span[1])] <= span[0]]
    first = transcript.next_id()
    new = [Cue(first + place, *span, ()) for place, span in enumerate(free)]
    cues = tuple(sorted([*kept, *new], key=lambda cue: cue.start))
    return replace(transcript, cues=cues)


def insert_cue(transcript: Transcript, start: int, end: int, text: str) -> Transcript:
    """Insert a cue between two times (ms), as far as nothing is said there."""
    place = sum(cue.start < start for cue in transcript.cues)
    before = transcript.cues[place - 1] if place else None
    after = transcript.cues[place] if place < len(transcript.cues) else None
    said = max((word.end for word in before.words), default=before.start) if before else 0
    start = max(start, said)
    end = min(end, after.start) if after is not None else end
    end = max(end, start + 1)
    words = tuple(spread(tokens_of(clean_text(text)), start, end))
    new = Cue(transcript.next_id(), start, end, words, settled=True)
    if before is not None and before.end > start:
        # It stood on after what is said in it.
        return with_cues(transcript, place - 1, place, replace(before, end=start), new)
    return with_cues(transcript, place, place, new)


def keep_spelling(
    transcript: Transcript, text: str, threshold: float = DOUBTFUL_BELOW
) -> tuple[Transcript, int]:
    """Settle all doubts spelled like this word; return the text and how many there were.

    Marks and capitals do not count.
    """
    letters = letters_of(text)
    count = 0
    for place, cue in enumerate(transcript.cues):
        for number, word in enumerate(cue.words):
            if word.is_doubt(threshold) and letters_of(word.text) == letters:
                transcript = settle_word(transcript, place, number)
                count += 1
    return transcript, count


def set_text_over(transcript: Transcript, first: int, last: int, text: str) -> Transcript:
    """Set the text of the cues [``first``, ``last``) as a whole.

    The borders between them stay where they are: words go to the cue in whose time they are said.
    A cue that keeps no word goes, but one of them always stays.
    """
    cues = transcript.cues[first:last]
    old = [word for cue in cues for word in cue.words]
    tokens = tokens_after(old, clean_text(text))
    if tokens == [word.text for word in old] and text_of(old) == joined(tokens):
        return transcript
    words = reconcile(old, tokens, cues[0].start, max(cue.end for cue in cues))
    borders = [middle_between(before, after) for before, after in pairwise(cues)]
    shared: list[list[Word]] = [[] for _ in cues]
    for word in words:
        shared[bisect_right(borders, (word.start + word.end) / 2)].append(word)
    new: list[Cue] = []
    begun: list[Cue] = []
    for cue, own in zip(cues, shared, strict=True):
        begun.append(cue)
        if own:
            # What begins with cues that go begins with the next that stays.
            kept = cue if len(begun) == 1 else replace(cue, **carried([cue], begun))
            new.append(_with_words(kept, tuple(own)))
            begun = []
    new = new or [_with_words(cues[0], ())]
    return replace_cues(transcript, first, last, *new)


def middle_between(before: Cue, after: Cue) -> float:
    """Return the time between the last word of a cue and the first of the next."""
    end = before.words[-1].end if before.words else before.end
    start = after.words[0].start if after.words else after.start
    return (end + start) / 2


def _with_words(cue: Cue, words: tuple[Word, ...]) -> Cue:
    """Return a cue with other words, extended if they need time; its lines begin with the same
    words."""
    if words == cue.words:
        return cue
    start = min(cue.start, words[0].start) if words else cue.start
    end = max(cue.end, words[-1].end) if words else cue.end
    return replace(cue, start=start, end=end, words=words, breaks=carried_breaks(cue, words))


def paragraph_of(transcript: Transcript, place: int) -> tuple[int, int]:
    """Return the paragraph of a cue as [first, last)."""
    first, last = place, place + 1
    while not opens_paragraph(transcript.cues, first):
        first -= 1
    while last < len(transcript.cues) and not opens_paragraph(transcript.cues, last):
        last += 1
    return first, last


def opens_paragraph(cues: Sequence[Cue], place: int) -> bool:
    """Whether a paragraph begins with a cue: by its own flag, or a change of speaker."""
    cue = cues[place]
    return place == 0 or cue.opens_paragraph or begins_by_itself(cues[place - 1], cue)


def begins_by_itself(before: Cue, cue: Cue) -> bool:
    """Whether a paragraph must begin with a cue: another speaker, or a heading."""
    return cue.speaker != before.speaker or bool(cue.heading)


def join_paragraph(transcript: Transcript, place: int) -> Transcript:
    """Join the paragraph that begins with a cue to the one before, giving it that one's speaker."""
    if place == 0 or not opens_paragraph(transcript.cues, place):
        return transcript
    _, last = paragraph_of(transcript, place)
    speaker = transcript.cues[place - 1].speaker
    cues = [replace(cue, speaker=speaker) for cue in transcript.cues[place:last]]
    cues[0] = replace(cues[0], opens_paragraph=False, paragraph_set=True, heading="")
    return with_cues(transcript, place, last, *cues)


def toggle_span(transcript: Transcript, words: Sequence[tuple[int, int]], span: str) -> Transcript:
    """Put words, each by its cue's index and its own, into a span such as "i", or take them out if
    all are in one."""
    chosen: dict[int, set[int]] = {}
    for place, word in words:
        chosen.setdefault(place, set()).add(word)

    def others(word: Word) -> tuple[str, ...]:
        return tuple(one for one in word.spans if one.partition(".")[0] != span)

    said = [transcript.cues[place].words[word] for place, word in words]
    every = all(others(word) != word.spans for word in said)
    cues = list(transcript.cues)
    for place, numbers in chosen.items():
        new = list(cues[place].words)
        for number in numbers:
            bare = others(new[number])
            new[number] = replace(new[number], spans=bare if every else (*bare, span))
        cues[place] = replace(cues[place], words=tuple(new))
    return replace(transcript, cues=tuple(cues)) if chosen else transcript


def toggle_line(transcript: Transcript, place: int, word: int, shown: Sequence[int]) -> Transcript:
    """Begin a line with a word of a cue, or no longer; ``shown`` are its current lines."""
    cue = transcript.cues[place]
    if not 0 < word < len(cue.words):
        return transcript
    breaks = tuple(sorted(set(shown) ^ {word}))
    return with_cues(transcript, place, place + 1, replace(cue, breaks=breaks, locked=True))
