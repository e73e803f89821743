"""Every edit of a text, as a function from the old transcript to the new one.

``place`` is a cue's index. Undo is the older value, so nothing here keeps a record.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.transcript.reconcile import in_order, letters_of, retext, spread


def with_cues(transcript: Transcript, first: int, last: int, *cues: Cue) -> Transcript:
    """The transcript with ``cues`` in place of those from ``first`` up to, not with, ``last``."""
    return replace(transcript, cues=transcript.cues[:first] + cues + transcript.cues[last:])


def set_text(transcript: Transcript, place: int, text: str) -> Transcript:
    """Give a cue another text; its words keep their times as far as they can be matched."""
    cue = transcript.cues[place]
    new = retext(cue, text)
    return transcript if new == cue else with_cues(transcript, place, place + 1, new)


def split(transcript: Transcript, place: int, word: int) -> Transcript:
    """Cut a cue in two before a word; the time of the cut comes from the words.

    At either end of the cue there is nothing to cut and the transcript comes back as it is.
    """
    cue = transcript.cues[place]
    if not 0 < word < len(cue.words):
        return transcript
    before, after = cue.words[word - 1].end, cue.words[word].start
    border = (before + after) // 2
    breaks = cue.breaks or ()
    first = replace(
        cue,
        end=border,
        words=cue.words[:word],
        breaks=None if cue.breaks is None else tuple(b for b in breaks if b < word),
    )
    second = replace(
        cue,
        id=transcript.next_id(),
        start=border,
        words=cue.words[word:],
        opens_paragraph=False,
        breaks=None if cue.breaks is None else tuple(b - word for b in breaks if b > word),
    )
    return with_cues(transcript, place, place + 1, first, second)


def join(transcript: Transcript, place: int) -> Transcript:
    """Make one cue of a cue and the next; lines are laid out anew."""
    if place + 1 >= len(transcript.cues):
        return transcript
    first, second = transcript.cues[place : place + 2]
    words = in_order(first.words + second.words)
    joined = replace(
        first,
        end=max([first.end, second.end, *(word.end for word in words[-1:])]),
        words=words,
        settled=first.settled and second.settled,
        speaker=first.speaker if first.words else second.speaker,
        breaks=None,
    )
    return with_cues(transcript, place, place + 2, joined)


def delete(transcript: Transcript, place: int) -> Transcript:
    """Take a cue out."""
    return with_cues(transcript, place, place + 1)


def set_speaker(transcript: Transcript, first: int, last: int, speaker: int | None) -> Transcript:
    """Give the cues from ``first`` up to, not with, ``last`` to a speaker."""
    cues = [replace(cue, speaker=speaker) for cue in transcript.cues[first:last]]
    if cues:
        previous = transcript.cues[first - 1].speaker if first else None
        if speaker != previous:
            cues[0] = replace(cues[0], opens_paragraph=True)
    return with_cues(transcript, first, last, *cues)


def turn_of(transcript: Transcript, place: int) -> tuple[int, int]:
    """The turn a cue is in: first and one after the last of the cues under the same speaker."""
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
    """Name a voice once for all its turns."""
    speakers = tuple(Speaker(s.id, name) if s.id == speaker_id else s for s in transcript.speakers)
    return replace(transcript, speakers=speakers)


def add_speaker(transcript: Transcript, name: str = "") -> tuple[Transcript, Speaker]:
    """A new speaker at the end of the list."""
    speaker = Speaker(max((s.id for s in transcript.speakers), default=0) + 1, name)
    return replace(transcript, speakers=(*transcript.speakers, speaker)), speaker


def with_voices(transcript: Transcript) -> Transcript:
    """The same text, with a speaker yet unnamed for each voice that its cues tell of."""
    known = {speaker.id for speaker in transcript.speakers}
    new = sorted({cue.speaker for cue in transcript.cues if cue.speaker is not None} - known)
    speakers = (*transcript.speakers, *(Speaker(voice, "") for voice in new))
    return replace(transcript, speakers=speakers) if new else transcript


def set_paragraph(transcript: Transcript, place: int, opens: bool) -> Transcript:
    """Open a paragraph with a cue, or close that border."""
    cue = replace(transcript.cues[place], opens_paragraph=opens)
    return with_cues(transcript, place, place + 1, cue)


def settle_word(
    transcript: Transcript, place: int, word: int, text: str | None = None
) -> Transcript:
    """A person has judged a word: as heard, or written otherwise, in no word, one or several.

    What they chose is theirs from now on. A cue that keeps no word goes.
    """
    cue = transcript.cues[place]
    old = cue.words[word]
    new = spread((old.text if text is None else text).split(), old.start, old.end)
    words = in_order((*cue.words[:word], *new, *cue.words[word + 1 :]))
    if not words:
        return delete(transcript, place)
    more = len(new) - 1
    moved = {at if at <= word else at + more for at in cue.breaks or ()}
    breaks = None if cue.breaks is None else tuple(sorted(moved & set(range(1, len(words)))))
    end = max(cue.end, words[-1].end)
    new_cue = replace(cue, end=end, words=words, breaks=breaks)
    return with_cues(transcript, place, place + 1, new_cue)


def settle(transcript: Transcript, first: int, last: int, settled: bool = True) -> Transcript:
    """Mark the cues from ``first`` up to, not with, ``last`` as proofed, or not."""
    cues = [
        cue if cue.settled == settled else replace(cue, settled=settled)
        for cue in transcript.cues[first:last]
    ]
    return with_cues(transcript, first, last, *cues)


def with_empty_cues(
    transcript: Transcript, spans: Sequence[tuple[int, int]], start: int, keep: bool
) -> Transcript:
    """Cues without words for typing into, one for each span (from, to, in ms).

    Cues from ``start`` on are replaced, or with ``keep`` all stay and only spans that touch none
    of them become cues.
    """
    kept = [cue for cue in transcript.cues if keep or cue.end <= start]
    free = [
        span for span in spans if all(cue.end <= span[0] or cue.start >= span[1] for cue in kept)
    ]
    first = transcript.next_id()
    new = [Cue(first + place, *span, ()) for place, span in enumerate(free)]
    cues = tuple(sorted([*kept, *new], key=lambda cue: cue.start))
    return replace(transcript, cues=cues)


def keep_spelling(transcript: Transcript, text: str) -> tuple[Transcript, int]:
    """All doubts that were heard as this word are right, and how many there were.

    Marks and capitals do not count.
    """
    letters = letters_of(text)
    count = 0
    for place, cue in enumerate(transcript.cues):
        for number, word in enumerate(cue.words):
            if word.is_doubt() and letters_of(word.text) == letters:
                transcript = settle_word(transcript, place, number)
                count += 1
    return transcript, count
