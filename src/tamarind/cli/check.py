"""``tamarind check``: what in a text, or in the texts of a job, breaks a house style."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from tamarind.audio import soundcache
from tamarind.audio.media import MediaError
from tamarind.audio.source import WHOLE, Source
from tamarind.checks.checker import Checker, Matter
from tamarind.checks.finding import Told
from tamarind.checks.rules import RULES
from tamarind.cli.main import BREACHES, DONE, SOME_FAILED, WRONG_USE
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError, decoded
from tamarind.formats.encoding import ENCODINGS
from tamarind.formats.timecode import clock
from tamarind.job.store import SUFFIX, JobError, JobStore
from tamarind.job.styles import job_styles, style_of
from tamarind.language.housestyle import HouseStyle, Level, StyleError
from tamarind.language.stylebook import ORDINARY_STYLE, find
from tamarind.speech.activity import speech_of
from tamarind.speech.glossary import GlossaryError, read_glossary
from tamarind.transcript.model import Transcript


@dataclass(frozen=True, slots=True)
class _Text:
    """A text to be checked, and with what."""

    name: str
    transcript: Transcript
    matter: Matter


def check(options: argparse.Namespace) -> int:
    """Print every finding; returns the exit status."""
    if options.encoding not in ENCODINGS:
        return _wrong(f"there is no encoding “{options.encoding}” here: {', '.join(ENCODINGS)}.")
    try:
        style = find(options.style) if options.style else None
        terms = _terms(options.glossary)
    except (StyleError, GlossaryError, ValueError) as error:
        return _wrong(str(error))
    checker = Checker()
    told: list[tuple[str, Told]] = []
    try:
        for text in _texts(options, style, terms):
            found = checker.check(text.transcript, text.matter)
            told += [(text.name, one) for one in found]
            if not options.json:
                _print(text.name, text.transcript, found)
    except (FormatError, JobError, MediaError) as error:
        print(f"tamarind: {error}", file=sys.stderr)
        return SOME_FAILED
    if options.json:
        print(json.dumps([_data(name, one) for name, one in told], ensure_ascii=False, indent=1))
    return BREACHES if any(one.level is Level.MUST for _, one in told) else DONE


def _texts(
    options: argparse.Namespace, style: HouseStyle | None, terms: tuple[str, ...]
) -> Iterator[_Text]:
    matter = Matter(style or find(ORDINARY_STYLE), terms=terms, encoding=options.encoding)
    if options.input.suffix == SUFFIX:
        yield from _texts_of_job(options, matter, style)
        return
    read = documents.read(options.input, options.language)
    for sentence in read.mended:
        print(f"tamarind: {options.input}: {sentence}", file=sys.stderr)
    if options.sound is not None:
        if not options.sound.name:
            raise FormatError("--sound needs a file here.")
        matter = replace(matter, speech=_speech(options.sound, WHOLE))
    captions = options.input.suffix.lower() != ".txt"
    yield _Text(options.input.name, read.transcript, replace(matter, captions=captions))


def _texts_of_job(
    options: argparse.Namespace, matter: Matter, style: HouseStyle | None
) -> Iterator[_Text]:
    if not options.input.is_file():
        raise JobError(f"“{options.input}” is no job: there is no such file.")
    store = JobStore(options.input)
    try:
        own = job_styles(store)
        known = (*matter.terms, *(t.text for t in read_glossary(store.setting("glossary")).terms))
        for recording in store.recordings():
            document = store.document(recording.id)
            if not document.transcript.cues:
                continue
            speech = None
            if options.sound is not None:
                speech = _speech(recording.path, recording.how.source)
            yield _Text(
                recording.name,
                document.transcript,
                replace(
                    matter,
                    style=style or style_of(recording, own),
                    tracks=document.tracks,
                    terms=known,
                    speech=speech,
                    unheard=recording.unheard,
                ),
            )
    finally:
        store.close()


def _speech(path: Path, source: Source) -> tuple[tuple[int, int], ...]:
    """Where somebody speaks in a recording (ms)."""
    return tuple(speech_of(soundcache.fetch(path, source).samples()))


def _terms(path: Path | None) -> tuple[str, ...]:
    if path is None:
        return ()
    try:
        return tuple(term.text for term in read_glossary(decoded(path.read_bytes())).terms)
    except OSError as error:
        raise ValueError(f"{path}: {error.strerror}.") from None


def _print(name: str, transcript: Transcript, found: list[Told]) -> None:
    for told in found:
        finding = told.finding
        title = RULES[finding.rule].title
        excerpt = f" – {finding.excerpt}" if finding.excerpt else ""
        where = f"{clock(finding.start)}  {told.level.value:<4}"
        print(f"{where}  {title}: {finding.reason}{excerpt}")
    musts = sum(told.level is Level.MUST for told in found)
    cues = sum(bool(cue.words) for cue in transcript.cues)
    print(f"{name}: {cues} cues, {musts} that must be mended, {len(found) - musts} hints")


def _data(name: str, told: Told) -> dict[str, Any]:
    finding = told.finding
    return {
        "text": name,
        "rule": finding.rule,
        "level": told.level.value,
        "cue": told.place + 1,
        "time": finding.start / 1000,
        "reason": finding.reason,
        "excerpt": finding.excerpt,
        "fixable": bool(finding.fixes),
    }


def _wrong(message: str) -> int:
    print(f"tamarind: {message}", file=sys.stderr)
    return WRONG_USE
