"""What an export will write: the files, and the very text of each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tamarind.captions.limits import limits_of
from tamarind.captions.lines import with_breaks
from tamarind.formats import documents
from tamarind.formats.plaintext import TextOptions
from tamarind.job.document import Document
from tamarind.job.recording import Recording
from tamarind.translation.tracks import as_transcript


@dataclass(frozen=True, slots=True)
class Planned:
    """One file to write; ``language`` None means the source."""

    name: str
    recording_id: int
    suffix: str
    language: str | None


def plan(
    recordings: Sequence[tuple[Recording, Document]],
    suffixes: Sequence[str],
    languages: Sequence[str | None],
) -> list[Planned]:
    """The files for these recordings, documents and languages; what has no text is left out."""
    files: list[Planned] = []
    taken: set[str] = set()
    for recording, document in recordings:
        if not document.transcript.cues:
            continue
        tracks = {track.language for track in document.tracks}
        stem = _free_stem(recording, taken)
        for language in languages:
            if language is not None and language not in tracks:
                continue
            inner = f".{language}" if language else ""
            files += [
                Planned(f"{stem}{inner}.{suffix}", recording.id, suffix, language)
                for suffix in suffixes
            ]
    return files


def text_of(
    planned: Planned, recording: Recording, document: Document, options: TextOptions
) -> str:
    """The very text that will be in a file."""
    transcript = document.transcript
    translations = {}
    if planned.language is not None:
        transcript = as_transcript(document.track(planned.language), transcript)
    else:
        translations = {
            track.language: [track.text(cue.id) or None for cue in transcript.cues]
            for track in document.tracks
        }
    source = documents.Source(recording.path.name, recording.duration, translations)
    broken = with_breaks(transcript, limits_of(recording.style))
    return documents.write(planned.suffix, broken, source, options)


def _free_stem(recording: Recording, taken: set[str]) -> str:
    """Two recordings of one name do not write over each other."""
    stem, number = recording.name, 2
    while stem in taken:
        stem, number = f"{recording.name}-{number}", number + 1
    taken.add(stem)
    return stem
