"""``tamarind chapters``: chapters from the headings of a text or a job, as a list, as WebVTT, or as
marks in a recording."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path

from tamarind.audio.media import probe
from tamarind.cli.jobs import open_job
from tamarind.cli.output import tell, told
from tamarind.cli.statuses import DONE, SOME_FAILED, WRONG_USE
from tamarind.formats import documents
from tamarind.formats.data.chapters import Chapter, as_list, as_webvtt, chapters_of
from tamarind.job.jobfile import SUFFIX, JobError
from tamarind.language.headings import proposals
from tamarind.system.errors import ToldError
from tamarind.system.files import write_whole
from tamarind.transcript.edits import set_heading
from tamarind.transcript.model import Transcript

WRITERS = {"txt": as_list, "vtt": as_webvtt}


@dataclass(frozen=True, slots=True)
class _Text:
    """A text with its name, and how long its recording is (ms)."""

    name: str
    transcript: Transcript
    duration: int


def chapters(options: argparse.Namespace) -> int:
    """Print or write the chapters of each text; return the exit status."""
    several = options.path.suffix == SUFFIX
    if options.into is not None and (several or options.output is None):
        return told("--into takes one text, and -o with what to write.", WRONG_USE)
    if several and options.output is not None:
        options.output.mkdir(parents=True, exist_ok=True)
    status = DONE
    try:
        for text in _texts(options.path, options.language):
            if options.into is not None:
                duration = probe(options.into).duration
                text = replace(text, duration=max(text.duration, duration))
            found = _chapters(text)
            if options.into is not None:
                from tamarind.picture.chaptermarks import add_chapters  # slow to import

                marks = [(one.start, one.end, one.title) for one in found]
                add_chapters(options.into, options.output, marks)
            elif options.output is None:
                sys.stdout.write(f"{text.name}\n" * several + WRITERS[options.format](found))
            else:
                suffix = f"chapters.{options.format}"
                name = options.output / f"{text.name}.{suffix}" if several else options.output
                write_whole(name, WRITERS[options.format](found).encode())
    except ToldError as error:
        status = told(error, SOME_FAILED)
    except OSError as error:
        status = told(f"{options.output or options.path}: {error.strerror}.", SOME_FAILED)
    return status


def _chapters(text: _Text) -> list[Chapter]:
    """Return the chapters of a text from its headings, or from proposed ones."""
    transcript = text.transcript
    if not any(cue.heading for cue in transcript.cues):
        proposed = proposals(transcript)
        for one in proposed:
            transcript = set_heading(transcript, one.place, one.wordings[0])
        if proposed:
            tell(f"{text.name}: it has no headings; these are proposed.")
    return chapters_of(transcript, text.name, text.duration)


def _texts(path: Path, language: str | None) -> Iterator[_Text]:
    if path.suffix != SUFFIX:
        read = documents.read(path, language)
        yield _Text(path.stem, read.transcript, read.source.duration)
        return
    if not path.exists():
        raise JobError(f"“{path}” is no job: there is no such file.")
    opened = open_job(path)
    try:
        for recording in opened.store.recordings():
            text = opened.store.document(recording.id).transcript
            if any(cue.words for cue in text.cues):
                yield _Text(recording.name, text, recording.duration)
    finally:
        opened.store.close()
