"""``tamarind convert`` and ``tamarind translate``: one text file into another."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable
from pathlib import Path

from tamarind.captions.limits import ORDINARY
from tamarind.captions.lines import with_breaks
from tamarind.cli.main import DONE, SOME_FAILED, WRONG_USE
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.formats.safefile import write_whole
from tamarind.transcript.model import Transcript
from tamarind.translation.draft import draft
from tamarind.translation.engines.apertium import Apertium
from tamarind.translation.engines.base import TranslationError
from tamarind.translation.tracks import Track, as_transcript, with_texts


def convert(options: argparse.Namespace) -> int:
    """Read one format and write another; returns the exit status."""
    return _through(options, lambda transcript: transcript)


def translate(options: argparse.Namespace) -> int:
    """Write a text in another language, cue by cue; returns the exit status."""

    def translated(transcript: Transcript) -> Transcript:
        cues = [cue for cue in transcript.cues if cue.words]
        texts = draft(cues, Apertium(), transcript.language, options.to)
        return as_transcript(with_texts(Track(options.to), cues, texts), transcript)

    return _through(options, translated)


def _through(options: argparse.Namespace, change: Callable[[Transcript], Transcript]) -> int:
    try:
        for path in (options.input, options.output):
            documents.suffix_of(path)
    except FormatError as error:
        return _told(error, WRONG_USE)
    try:
        transcript, source = documents.read(options.input, options.language)
        changed = with_breaks(change(transcript), ORDINARY)
        text = documents.write(documents.suffix_of(options.output), changed, source)
        write_whole(Path(options.output), text.encode())
    except (FormatError, TranslationError) as error:
        return _told(error, SOME_FAILED)
    except OSError as error:
        return _told(f"{options.output}: could not be written: {error.strerror}.", SOME_FAILED)
    return DONE


def _told(message: object, status: int) -> int:
    print(f"tamarind: {message}", file=sys.stderr)
    return status
