"""Convert texts of old jobs, whose times counted from the start of the sound, not of the file.

They count from where its file begins now (``audio/clock``), so where the sound begins later all of
them move by that.
"""

from __future__ import annotations

from dataclasses import replace

from tamarind.job.document import Document
from tamarind.job.recording import Recording
from tamarind.transcript.model import Cue
from tamarind.transcript.timing import moved_by

Span = tuple[int, int]


def later_by(recording: Recording) -> int:
    """Return by how much (ms) the times of a recording must be shifted; 0 if they count from the
    file, or the file has not been read."""
    if not recording.from_sound or recording.info is None:
        return 0
    starts = recording.info.sound_starts
    track = recording.how.source.track
    return starts[track] if track < len(starts) else 0


def document_later(document: Document, by: int) -> Document:
    """Return a document with all times shifted (ms)."""
    cues = cues_later(document.transcript.cues, by)
    moved = document.with_transcript(replace(document.transcript, cues=cues))
    excerpts = tuple(
        replace(one, start=one.start + by, end=one.end + by, cuts=_spans(one.cuts, by))
        for one in document.excerpts
    )
    described = tuple(replace(one, start=one.start + by) for one in document.descriptions)
    return replace(moved, excerpts=excerpts, descriptions=described)


def cues_later(cues: tuple[Cue, ...], by: int) -> tuple[Cue, ...]:
    """Return cues with all times shifted (ms)."""
    return tuple(moved_by(cue, by) for cue in cues)


def recording_later(recording: Recording, by: int) -> Recording:
    """Return a recording with its times shifted (ms) to its file's start."""
    start, end = recording.part
    return replace(
        recording,
        from_sound=False,
        part=(start + by if start else 0, None if end is None else end + by),
        heard_until=recording.heard_until + by if recording.heard_until else 0,
        duration=recording.duration + by if recording.duration else 0,
        unheard=_spans(recording.unheard, by),
        listened=_spans(recording.listened, by),
        at_once=_spans(recording.at_once, by),
    )


def _spans(spans: tuple[Span, ...], by: int) -> tuple[Span, ...]:
    return tuple((start + by, end + by) for start, end in spans)
