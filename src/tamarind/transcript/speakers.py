"""Set the speakers of many words at once: after telling speakers apart again, and joining two."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

from tamarind.transcript.edits import split_cue, with_cues, with_voices
from tamarind.transcript.model import Cue, Speaker, Transcript

LEAST_SHARED = 0.1
"""Of what a speaker says, so much at least must be a new one's for them to be the same person."""


def speakers_of(transcript: Transcript, first: int, last: int) -> list[int | None]:
    """Return the speaker of each word of these cues."""
    return [cue.speaker for cue in transcript.cues[first:last] for _word in cue.words]


def known_as(
    transcript: Transcript, first: int, last: int, told: Sequence[int | None]
) -> dict[int, int]:
    """Match new speakers with a text's own, one to one, by how long both have the same words, named
    ones first; the others get new numbers."""
    words = [word for cue in transcript.cues[first:last] for word in cue.words]
    shared: dict[tuple[int, int], int] = {}
    spoken: dict[int, int] = {}
    for word, before, now in zip(words, speakers_of(transcript, first, last), told, strict=True):
        if before is not None and now is not None:
            length = word.end - word.start
            shared[now, before] = shared.get((now, before), 0) + length
            spoken[before] = spoken.get(before, 0) + length
    named = {speaker.id for speaker in transcript.speakers if speaker.name}
    best = sorted(shared, key=lambda pair: (pair[1] in named, shared[pair]), reverse=True)
    known: dict[int, int] = {}
    for now, before in best:
        enough = shared[now, before] >= LEAST_SHARED * spoken[before]
        if enough and now not in known and before not in known.values():
            known[now] = before
    ids = {speaker.id for speaker in transcript.speakers}
    ids |= {cue.speaker for cue in transcript.cues if cue.speaker is not None}
    new = max(ids, default=0)
    for one in dict.fromkeys(told):
        if one is not None and one not in known:
            new += 1
            known[one] = new
    return known


def with_speakers(
    transcript: Transcript, first: int, last: int, speakers: Sequence[int | None]
) -> Transcript:
    """Give each word of the cues [``first``, ``last``) a speaker.

    A cue in which another person begins to speak is cut there; one without words stays as it is.
    A speaker without a name who says nothing any more is no longer in the list.
    """
    new_id = transcript.next_id()
    cues: list[Cue] = []
    at = 0
    for cue in transcript.cues[first:last]:
        own = _without_gaps(speakers[at : at + len(cue.words)])
        at += len(cue.words)
        borders = [word for word in range(1, len(own)) if own[word] != own[word - 1]]
        for begin, end in pairwise([0, *borders, len(own)]):
            if end == len(own):
                rest = cue
            else:
                # A machine's border, which laying out anew may move.
                part, rest = (
                    replace(one, locked=cue.locked) for one in split_cue(cue, end - begin, new_id)
                )
                new_id += 1
                cues.append(_said_by(part, own[begin]))
            cue = rest
        cues.append(_said_by(cue, own[-1]) if own else cue)
    changed = with_cues(transcript, first, last, *_paragraphs(transcript, first, last, cues))
    return _without_silent(with_voices(changed), {s.id for s in transcript.speakers})


def as_known(told: Sequence[int | None], known: Mapping[int, int]) -> tuple[int | None, ...]:
    """Return the new speakers in the text's numbers."""
    return tuple(None if one is None else known[one] for one in told)


def join_speakers(transcript: Transcript, one: int, into: int) -> Transcript:
    """Give all words of a speaker to another, and remove the first from the list."""
    cues = list(transcript.cues)
    joined = [replace(cue, speaker=into) if cue.speaker == one else cue for cue in cues]
    speakers = tuple(speaker for speaker in transcript.speakers if speaker.id != one)
    return replace(transcript, cues=tuple(joined), speakers=speakers)


def _said_by(cue: Cue, speaker: int | None) -> Cue:
    return cue if cue.speaker == speaker else replace(cue, speaker=speaker)


def _without_gaps(speakers: Sequence[int | None]) -> list[int | None]:
    """Give a word without speaker between two of one speaker to that one."""
    filled = list(speakers)
    for place, speaker in enumerate(filled):
        if speaker is None and place:
            filled[place] = filled[place - 1]
    known = next((one for one in filled if one is not None), None)
    return [known if one is None else one for one in filled]


def _paragraphs(transcript: Transcript, first: int, last: int, cues: Sequence[Cue]) -> list[Cue]:
    """Open a paragraph where a speaker begins; where none begins any more, only borders that a
    person made stay."""
    near = transcript.cues[max(first - 1, 0) : last]
    began = {cue.id for old, cue in pairwise(near) if old.speaker != cue.speaker}
    before = transcript.cues[first - 1].speaker if first else None
    result: list[Cue] = []
    for cue in cues:
        opens = cue.opens_paragraph
        if cue.speaker != before:
            opens = True
        elif cue.id in began and not cue.paragraph_set and not cue.heading:
            opens = False
        result.append(cue if opens == cue.opens_paragraph else replace(cue, opens_paragraph=opens))
        before = cue.speaker
    return result


def _without_silent(transcript: Transcript, were: set[int]) -> Transcript:
    said = {cue.speaker for cue in transcript.cues}
    kept: tuple[Speaker, ...] = tuple(
        speaker
        for speaker in transcript.speakers
        if speaker.name or speaker.id in said or speaker.id not in were
    )
    return transcript if kept == transcript.speakers else replace(transcript, speakers=kept)
