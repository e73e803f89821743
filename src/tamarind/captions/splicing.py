"""Captions of stretches that are cut out of recordings and joined."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import groupby

from tamarind.captions.limits import Limits
from tamarind.captions.relayout import extend, merge_flashes
from tamarind.transcript.excerpts import Span, words_between
from tamarind.transcript.model import Cue, Speaker, Transcript, Word


@dataclass(frozen=True, slots=True)
class Piece:
    """What is kept of a text: ``spans`` of its recording (ms), in order."""

    text: Transcript
    spans: tuple[Span, ...]

    @property
    def length(self) -> int:
        """Its length (ms)."""
        return sum(end - start for start, end in self.spans)


def spliced(pieces: Sequence[Piece], limits: Limits) -> Transcript:
    """Return the text of some pieces in a row, with its new times.

    Words keep their cues; what is said on both sides of a cut within a cue stays one, and what a
    cut left too short to be read goes to its neighbour of the same piece. Speakers of the same name
    are one, in whatever recording they speak.
    """
    cues: list[Cue] = []
    speakers: dict[str, Speaker] = {}
    begun = 0
    language = pieces[0].text.language if pieces else ""
    for number, piece in enumerate(pieces):
        own = [
            replace(
                cue,
                id=len(cues) + count,
                start=words[0].start,
                end=words[-1].end,
                words=words,
                speaker=_speaker(speakers, piece.text, cue.speaker, number),
                breaks=cue.breaks if len(words) == len(cue.words) else None,
            )
            for count, (cue, words) in enumerate(_cues(piece, begun), 1)
        ]
        text = Transcript(language, tuple(own), tuple(speakers.values()))
        cues += merge_flashes(text, 0, len(own), limits, also_locked=True).cues
        begun += piece.length
    text = Transcript(language, tuple(cues), tuple(speakers.values()))
    text = extend(text, 0, len(cues), limits, also_locked=True)
    return replace(text, cues=tuple(replace(c, end=min(c.end, begun)) for c in text.cues))


def _cues(piece: Piece, begun: int) -> Iterator[tuple[Cue, tuple[Word, ...]]]:
    """Return the cues of a piece with the words that are kept, at their new times."""
    found: list[tuple[Cue, Word]] = []
    for start, end in piece.spans:
        moved = begun - start
        for cue, word in words_between(piece.text, start, end):
            first, last = max(word.start, start) + moved, min(word.end, end) + moved
            found.append((cue, replace(word, start=first, end=max(last, first + 1))))
        begun += end - start
    for _, group in groupby(found, key=lambda one: one[0].id):
        cues, words = zip(*group, strict=True)
        yield cues[0], words


def _speaker(
    known: dict[str, Speaker], text: Transcript, speaker_id: int | None, piece: int
) -> int | None:
    """Return the number in the new text of a speaker of an old one."""
    speaker = text.speaker(speaker_id)
    if speaker is None:
        return None
    name = speaker.name or f"{piece} {speaker.label}"
    if name not in known:
        known[name] = Speaker(len(known) + 1, speaker.name)
    return known[name].id
